"""A class on its outcomes and tasks, now and over the term."""

from __future__ import annotations

from datetime import date, datetime

from pydantic import BaseModel

from jade_ladder.core.rollup import ClassPicture
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.service.overview import class_outcomes, class_tasks
from jade_ladder.service.overview.class_outcomes import ClassOutcomes, OutcomeOverTerm
from jade_ladder.service.overview.class_tasks import TaskOverTerm
from jade_ladder.web.marking.spread import FallenOut
from jade_ladder.web.outcomes.scales import ScaleOut
from jade_ladder.web.outcomes.strands import StrandOut
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Day
from jade_ladder.web.shared.heavy import heavy
from jade_ladder.web.shared.numbers import ShortNumber, Value

router = router_of("overview", "/classes/{class_id:int}/over-term")


class SpreadOnDayOut(BaseModel):
    """Where the class stood on an outcome on a day: students at each level, the lowest first."""

    at_level: list[int]
    mastered: int
    needing: int
    without: int

    @classmethod
    def of(cls, picture: ClassPicture) -> SpreadOnDayOut:
        """Show a picture."""
        return cls(
            at_level=list(picture.at_level),
            mastered=picture.mastered,
            needing=picture.needing,
            without=picture.without,
        )


class MovedOut(BaseModel):
    """The students who moved on an outcome since a day, by number."""

    reached: list[int]
    slipped: list[int]
    up: list[int]
    down: list[int]


class UnevenOut(BaseModel):
    """A criterion that stands at the `low` end (or the high one) of so many wide swings."""

    key: str
    title: str
    low: bool
    swings: int


class OutcomeOverTermOut(BaseModel):
    """A class on one outcome: `over_term` has one for each of the days, null where the outcome was
    not taught.
    """

    id: int
    code: str
    title: str
    strand_id: int | None
    scale_id: int
    now: SpreadOnDayOut
    median: Value | None
    mean: Value | None
    over_term: list[SpreadOnDayOut | None]
    moved: MovedOut
    not_got: bool
    swings: int
    uneven: list[UnevenOut]

    @classmethod
    def of(cls, one: OutcomeOverTerm) -> OutcomeOverTermOut:
        """Show an outcome."""
        moved = one.moved
        return cls(
            id=one.outcome.id,
            code=one.outcome.code,
            title=one.outcome.title,
            strand_id=one.outcome.strand_id,
            scale_id=one.outcome.scale_id,
            now=SpreadOnDayOut.of(one.now),
            median=one.now.median,
            mean=one.now.mean,
            over_term=[
                None if picture is None else SpreadOnDayOut.of(picture) for picture in one.over_term
            ],
            moved=MovedOut(
                reached=list(moved.reached),
                slipped=list(moved.slipped),
                up=list(moved.up),
                down=list(moved.down),
            ),
            not_got=one.not_got,
            swings=one.swings,
            uneven=[
                UnevenOut(key=each.key, title=each.title, low=each.low, swings=each.swings)
                for each in one.uneven
            ],
        )


class NamedStudentOut(BaseModel):
    """A student by number and name."""

    id: int
    name: str
    sort_name: str


class OutcomesOverTermOut(BaseModel):
    """A class on its outcomes as of today and of each of `days`; who moved since `since`."""

    day: date
    first_day: date
    since: date
    days: list[date]
    students: list[NamedStudentOut]
    strands: list[StrandOut]
    scales: list[ScaleOut]
    outcomes: list[OutcomeOverTermOut]

    @classmethod
    def of(cls, found: ClassOutcomes) -> OutcomesOverTermOut:
        """Show a class."""
        scales = {one.scale.id: one.scale for one in found.outcomes}
        return cls(
            day=found.day,
            first_day=found.klass.first_day,
            since=found.since,
            days=list(found.days),
            students=[
                NamedStudentOut(id=one.id, name=one.name, sort_name=one.sort_name)
                for one in found.students
            ],
            strands=[StrandOut.of(strand) for strand in found.strands],
            scales=[ScaleOut.of(scale) for scale in scales.values()],
            outcomes=[OutcomeOverTermOut.of(one) for one in found.outcomes],
        )


class CriterionAtTaskOut(BaseModel):
    """How the levels of a criterion have fallen at a task; `key` is the same in every revision and
    copy of the rubric; the mean level counts the lowest as 1.
    """

    key: str
    title: str
    levels: list[str]
    fallen: FallenOut
    not_assessed: int
    mean: Value | None


class TaskOverTermOut(BaseModel):
    """A task with the totals that count of so many students: as shares of its points, in per cent,
    their mean, the top and the lowest.
    """

    id: int
    title: str
    kind: TaskKind
    due_at: datetime | None
    points: ShortNumber
    students: int
    mean: Value | None
    top: Value | None
    lowest: Value | None
    criteria: list[CriterionAtTaskOut]

    @classmethod
    def of(cls, one: TaskOverTerm) -> TaskOverTermOut:
        """Show a task."""
        return cls(
            id=one.row.id,
            title=one.row.title,
            kind=one.row.kind,
            due_at=one.row.due_at,
            points=one.points,
            students=one.students,
            mean=one.mean,
            top=one.top,
            lowest=one.lowest,
            criteria=[
                CriterionAtTaskOut(
                    key=each.stored.criterion.key,
                    title=each.stored.criterion.title,
                    levels=[level.name for level in each.stored.criterion.levels],
                    fallen=FallenOut.of(each.spread.all),
                    not_assessed=each.spread.not_assessed,
                    mean=each.mean,
                )
                for each in one.criteria
            ],
        )


@router.get("/outcomes")
@heavy
def read_class_outcomes(
    class_id: int, caller: AsTeacher, since: Day | None = None
) -> OutcomesOverTermOut:
    """Give a class on its outcomes, now and over the term."""
    return OutcomesOverTermOut.of(class_outcomes.class_outcomes(caller, class_id, since))


@router.get("/tasks")
@heavy
def read_class_tasks(class_id: int, caller: AsTeacher) -> list[TaskOverTermOut]:
    """Give the tasks of a class on which anything is marked, by due time, those without last."""
    found = class_tasks.class_tasks_over_term(caller, class_id)
    return [TaskOverTermOut.of(one) for one in found]
