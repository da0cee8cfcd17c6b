"""The page of one student."""

from __future__ import annotations

from datetime import date, datetime

from pydantic import BaseModel

from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.core.trail import Direction
from jade_ladder.service.mastery import student_page as service
from jade_ladder.service.mastery.student_page import StudentPage
from jade_ladder.service.work.standing import TaskOfStudent
from jade_ladder.web.mastery.models import MasteryOut, SeenOtherwiseOut
from jade_ladder.web.mastery.wall import WallStudentOut, students_of
from jade_ladder.web.outcomes.scales import ScaleOut
from jade_ladder.web.outcomes.strands import StrandOut
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.work.tasks import StudentAtTaskOut

router = router_of("mastery", "/classes/{class_id:int}/mastery/{student_id:int}")


class StudentOutcomeOut(BaseModel):
    """An outcome as one student stands on it; not `expected`: lifted, and not counted."""

    id: int
    code: str
    title: str
    strand_id: int | None
    scale_id: int
    mastery: MasteryOut
    direction: Direction
    slipped: bool
    expected: bool
    seen: SeenOtherwiseOut | None


class StudentTaskOut(BaseModel):
    """A task, and where the student stands with it."""

    id: int
    title: str
    kind: TaskKind
    due_at: datetime | None
    practice: bool
    standing: StudentAtTaskOut

    @classmethod
    def of(cls, one: TaskOfStudent) -> StudentTaskOut:
        """Show a task of a student."""
        return cls(
            id=one.row.id,
            title=one.row.title,
            kind=one.row.kind,
            due_at=one.row.due_at,
            practice=one.row.practice,
            standing=StudentAtTaskOut.of(one.standing),
        )


class StudentPageOut(BaseModel):
    """A student in a class, as of a day: mastered so many of so many outcomes (`count`, none where
    they were in the class on no day), each outcome, each task.
    """

    id: int
    name: str
    as_of: date
    left_on: date | None
    count: WallStudentOut | None
    strands: list[StrandOut]
    scales: list[ScaleOut]
    outcomes: list[StudentOutcomeOut]
    tasks: list[StudentTaskOut]

    @classmethod
    def of(cls, page: StudentPage) -> StudentPageOut:
        """Show a student's page."""
        wall = page.wall
        used = {outcome.scale_id for outcome in wall.outcomes}
        # Who left on the day they came stands nowhere on any day.
        seen = zip(wall.outcomes, wall.cells[0], strict=True) if wall.cells else ()
        return cls(
            id=page.student.id,
            name=page.student.name,
            as_of=wall.as_of,
            left_on=page.student.until,
            count=next(iter(students_of(wall)), None),
            strands=[StrandOut.of(strand) for strand in wall.strands],
            scales=[ScaleOut.of(scale) for scale in wall.scales.values() if scale.id in used],
            outcomes=[
                StudentOutcomeOut(
                    id=outcome.id,
                    code=outcome.code,
                    title=outcome.title,
                    strand_id=outcome.strand_id,
                    scale_id=outcome.scale_id,
                    mastery=MasteryOut.of(cell.mastery),
                    direction=cell.direction,
                    slipped=cell.slipped,
                    expected=cell.expected,
                    seen=SeenOtherwiseOut.of(page.seen.get(outcome.id)),
                )
                for outcome, cell in seen
            ],
            tasks=[StudentTaskOut.of(one) for one in page.tasks],
        )


@router.get("")
def read_student_page(class_id: int, student_id: int, caller: AsTeacher) -> StudentPageOut:
    """Give the page of a student who is or was in the class."""
    return StudentPageOut.of(service.student_page(caller, class_id, student_id))
