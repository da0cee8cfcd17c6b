"""One outcome over all of one's classes."""

from __future__ import annotations

from datetime import date

from pydantic import BaseModel

from jade_ladder.core.mastery import State
from jade_ladder.core.trail import Direction
from jade_ladder.service.evidence.class_standing import WallCell
from jade_ladder.service.overview import all_classes as service
from jade_ladder.service.overview.all_classes import OutcomeInAllClasses
from jade_ladder.store.classes.students import StudentRow
from jade_ladder.web.outcomes.scales import ScaleOut
from jade_ladder.web.overview.class_over_term import OutcomeOverTermOut
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.heavy import heavy
from jade_ladder.web.shared.numbers import Value

router = router_of("overview", "/classes/{class_id:int}/over-term/outcomes")


class StudentOnOutcomeOut(BaseModel):
    """A student as the wall of their class shows them on the outcome."""

    id: int
    name: str
    sort_name: str
    expected: bool
    state: State
    value: Value | None
    level: int | None
    direction: Direction
    slipped: bool
    close: bool
    judged: bool

    @classmethod
    def of(cls, student: StudentRow, cell: WallCell) -> StudentOnOutcomeOut:
        """Show a student."""
        mastery = cell.mastery
        return cls(
            id=student.id,
            name=student.name,
            sort_name=student.sort_name,
            expected=cell.expected,
            state=mastery.state,
            value=mastery.value,
            level=mastery.level,
            direction=cell.direction,
            slipped=cell.slipped,
            close=cell.close,
            judged=mastery.judged,
        )


class OutcomeInClassOut(BaseModel):
    """A class on the outcome, as of each of its `days`, with its students."""

    class_id: int
    class_name: str
    method: str
    days: list[date]
    over_term: OutcomeOverTermOut
    students: list[StudentOnOutcomeOut]


class OutcomeInAllClassesOut(BaseModel):
    """An outcome over all of one's classes that teach it; who moved is told since `since`."""

    code: str
    title: str
    since: date
    scale: ScaleOut | None
    classes: list[OutcomeInClassOut]

    @classmethod
    def of(cls, found: OutcomeInAllClasses) -> OutcomeInAllClassesOut:
        """Show it."""
        scales = [one.over_term.scale for one in found.classes]
        return cls(
            code=found.outcome.code,
            title=found.outcome.title,
            since=found.since,
            scale=ScaleOut.of(scales[0]) if scales else None,
            classes=[
                OutcomeInClassOut(
                    class_id=one.klass.id,
                    class_name=one.klass.name,
                    method=one.method,
                    days=list(one.days),
                    over_term=OutcomeOverTermOut.of(one.over_term),
                    students=[
                        StudentOnOutcomeOut.of(student, cell) for student, cell in one.students
                    ],
                )
                for one in found.classes
            ],
        )


@router.get("/{outcome_id:int}/all-classes")
@heavy
def read_outcome_in_all_classes(
    class_id: int, outcome_id: int, caller: AsTeacher
) -> OutcomeInAllClassesOut:
    """Give an outcome over all of one's classes that teach it."""
    return OutcomeInAllClassesOut.of(service.outcome_in_all_classes(caller, class_id, outcome_id))
