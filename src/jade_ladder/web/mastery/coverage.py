"""What is assessed where: coverage of a class, and the page of one outcome."""

from __future__ import annotations

from datetime import date, datetime

from pydantic import BaseModel

from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.service.mastery import coverage as service
from jade_ladder.service.mastery import outcome_page
from jade_ladder.service.mastery.coverage import CoverageCell
from jade_ladder.service.mastery.outcome_page import PictureAfter
from jade_ladder.store.mastery.coverage import AlignedCriterion
from jade_ladder.store.work.tasks import TaskRow
from jade_ladder.web.outcomes.outcomes import OutcomeOut
from jade_ladder.web.outcomes.strands import StrandOut
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.heavy import heavy
from jade_ladder.web.shared.numbers import Value

router = router_of("coverage", "/classes/{class_id:int}")


class CoverageTaskOut(BaseModel):
    """A task along the term; `day` is when it is due, or was set if it is not due at all."""

    id: int
    title: str
    kind: TaskKind
    day: datetime
    practice: bool

    @classmethod
    def of(cls, row: TaskRow) -> CoverageTaskOut:
        """Show a task."""
        day = row.due_at or row.made_at
        return cls(id=row.id, title=row.title, kind=row.kind, day=day, practice=row.practice)


class CoverageCellOut(BaseModel):
    """A task that assesses an outcome: by so many criteria, with evidence for so many students."""

    outcome_id: int
    task_id: int
    criteria: int
    students: int

    @classmethod
    def of(cls, cell: CoverageCell) -> CoverageCellOut:
        """Show a cell."""
        return cls(
            outcome_id=cell.outcome_id,
            task_id=cell.task_id,
            criteria=cell.criteria,
            students=cell.students,
        )


class OutcomeCoverageOut(BaseModel):
    """An outcome: by how many tasks that count it is assessed, the next one due, and of how many
    students the evidence is thin, or there is none.
    """

    id: int
    code: str
    title: str
    strand_id: int | None
    tasks: int
    next_task_id: int | None
    thin: int
    without: int
    students: int


class CoverageOut(BaseModel):
    """Outcomes against tasks; `thin_below` is how many pieces from different tasks are enough."""

    strands: list[StrandOut]
    tasks: list[CoverageTaskOut]
    outcomes: list[OutcomeCoverageOut]
    cells: list[CoverageCellOut]
    thin_below: int


class AlignedCriterionOut(BaseModel):
    """A criterion of a rubric that is aligned to the outcome, up to which value."""

    rubric_id: int
    rubric: str
    final: bool
    tasks: int
    criterion: str
    highest: Value | None

    @classmethod
    def of(cls, one: AlignedCriterion) -> AlignedCriterionOut:
        """Show a criterion."""
        return cls(
            rubric_id=one.rubric_id,
            rubric=one.rubric_title,
            final=one.final,
            tasks=one.tasks,
            criterion=one.criterion,
            highest=one.highest,
        )


class AssessingTaskOut(CoverageTaskOut):
    """A task that assesses the outcome."""

    criteria: int
    students: int


class PictureOut(BaseModel):
    """Where the class stood after a task: students at each level, lowest first."""

    task: str
    day: date
    at_level: list[int]
    mastered: int
    counted: int
    needing: int
    without: int

    @classmethod
    def of(cls, one: PictureAfter) -> PictureOut:
        """Show a picture."""
        return cls(
            task=one.task,
            day=one.day,
            at_level=list(one.picture.at_level),
            mastered=one.picture.mastered,
            counted=one.picture.counted,
            needing=one.picture.needing,
            without=one.picture.without,
        )


class OutcomePageOut(BaseModel):
    """An outcome with where it is assessed, the class on it over time, and who else teaches it."""

    outcome: OutcomeOut
    criteria: list[AlignedCriterionOut]
    tasks: list[AssessingTaskOut]
    pictures: list[PictureOut]
    classes: list[str]


@router.get("/coverage")
@heavy
def read_coverage(class_id: int, caller: AsTeacher) -> CoverageOut:
    """Say what of a class's outcomes is assessed where, how often, and when next."""
    found = service.coverage(caller, class_id)
    return CoverageOut(
        strands=[StrandOut.of(strand) for strand in found.strands],
        tasks=[CoverageTaskOut.of(task) for task in found.tasks],
        outcomes=[
            OutcomeCoverageOut(
                id=one.outcome.id,
                code=one.outcome.code,
                title=one.outcome.title,
                strand_id=one.outcome.strand_id,
                tasks=one.tasks,
                next_task_id=one.next_task.id if one.next_task else None,
                thin=one.thin,
                without=one.without,
                students=one.students,
            )
            for one in found.outcomes
        ],
        cells=[CoverageCellOut.of(cell) for cell in found.cells],
        thin_below=found.thin_below,
    )


@router.get("/outcomes/{outcome_id:int}")
@heavy
def read_outcome(class_id: int, outcome_id: int, caller: AsTeacher) -> OutcomePageOut:
    """Give one outcome, where it is assessed, and the class on it over time."""
    page = outcome_page.outcome_page(caller, class_id, outcome_id)
    return OutcomePageOut(
        outcome=OutcomeOut.of(page.outcome),
        criteria=[AlignedCriterionOut.of(one) for one in page.criteria],
        tasks=[
            AssessingTaskOut(
                **dict(CoverageTaskOut.of(task)), criteria=cell.criteria, students=cell.students
            )
            for task, cell in page.tasks
        ],
        pictures=[PictureOut.of(one) for one in page.pictures],
        classes=list(page.classes),
    )
