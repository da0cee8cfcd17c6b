"""The marking pile and the marking desk."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel, Field

from jade_ladder.core.total import LineKind, Total
from jade_ladder.service.marking import desk as service
from jade_ladder.service.marking import pile as piles
from jade_ladder.service.marking import saving
from jade_ladder.service.marking.carried_marks import CountingUnder
from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.marking.moves import Move
from jade_ladder.service.marking.state import MarkState
from jade_ladder.web.mastery.models import MasteryOut
from jade_ladder.web.outcomes.scales import ScaleOut
from jade_ladder.web.rubrics.criteria import CriterionOut, OwnOutcomeOut
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Text, Whole, YesNo
from jade_ladder.web.shared.numbers import ShortNumber, Value
from jade_ladder.web.work.tasks import StudentAtTaskOut, TaskLineOut, TaskOut

router = router_of("marking")


class DeskOut(BaseModel):
    """What stands still while a set is marked."""

    task: TaskOut
    class_name: str
    criteria: list[CriterionOut]
    outcomes: list[OwnOutcomeOut]
    scales: list[ScaleOut]


class ChoiceOut(BaseModel):
    """What stands on a criterion."""

    criterion_id: int
    level_id: int | None
    half_way: bool
    not_assessed: bool


class RemarkOut(BaseModel):
    """A remark on a criterion, or (null) on the whole."""

    criterion_id: int | None
    text: str


class WorkPartOut(BaseModel):
    """A part of what was handed in."""

    text: str
    file_name: str | None
    words: int


class LineOut(BaseModel):
    """A line of a total."""

    kind: LineKind
    reason: str
    amount: Value


class TotalOut(BaseModel):
    """A total, or a total so far; `out_of` is then less than the task's points."""

    value: Value
    out_of: ShortNumber
    finished: bool
    lines: list[LineOut]

    @classmethod
    def of(cls, total: Total) -> TotalOut:
        """Show a total."""
        return cls(
            value=total.value,
            out_of=total.out_of,
            finished=total.finished,
            lines=[
                LineOut(kind=line.kind, reason=line.reason, amount=line.amount)
                for line in total.lines
            ],
        )


class MoveOut(BaseModel):
    """How the mark moves an outcome: without it, and with it."""

    outcome_id: int
    code: str
    scale_id: int
    before: MasteryOut
    after: MasteryOut

    @classmethod
    def of(cls, move: Move) -> MoveOut:
        """Show a move."""
        return cls(
            outcome_id=move.outcome.id,
            code=move.outcome.code,
            scale_id=move.outcome.scale_id,
            before=MasteryOut.of(move.before),
            after=MasteryOut.of(move.after),
        )


class CountedChoiceOut(BaseModel):
    """What was chosen on a criterion of an earlier revision; level null: not assessed."""

    criterion: str
    level: str | None
    half_way: bool


class CountingOut(BaseModel):
    """What counts of a mark for now: it was given under an earlier revision of the rubric."""

    revision: int
    choices: list[CountedChoiceOut]

    @classmethod
    def of(cls, counting: CountingUnder) -> CountingOut:
        """Show what counts."""
        return cls(
            revision=counting.revision,
            choices=[
                CountedChoiceOut(
                    criterion=stored.criterion.title,
                    level=None
                    if choice.level_id is None
                    else stored.criterion.levels[stored.level_ids.index(choice.level_id)].name,
                    half_way=choice.half_way,
                )
                for stored, choice in counting.choices
            ],
        )


class MarkOut(BaseModel):
    """The state of one student's mark: `attempt` is its number, `unmarked` are keys of criteria,
    `saved_at` is when the newest version was saved, `counting` is what counts meanwhile under an
    earlier revision; `to_mark_change` is by how much what was done just now changes how many wait
    for the teacher.
    """

    student: StudentAtTaskOut
    attempt: int
    version: int
    saved_at: datetime | None
    finished: bool
    choices: list[ChoiceOut]
    remarks: list[RemarkOut]
    unmarked: list[str]
    total: TotalOut | None
    moves: list[MoveOut]
    counting: CountingOut | None
    to_mark_change: int

    @classmethod
    def of(cls, mark: MarkState) -> MarkOut:
        """Show a mark."""
        return cls(
            student=StudentAtTaskOut.of(mark.student),
            attempt=mark.student.row.number or 1,
            version=mark.version,
            saved_at=mark.changed_at,
            finished=mark.finished,
            choices=[
                ChoiceOut(
                    criterion_id=number,
                    level_id=choice.level_id,
                    half_way=choice.half_way,
                    not_assessed=choice.not_assessed,
                )
                for number, choice in mark.choices.items()
            ],
            remarks=[
                RemarkOut(criterion_id=remark.criterion_id, text=remark.text)
                for remark in mark.remarks.values()
            ],
            unmarked=list(mark.unmarked),
            total=TotalOut.of(mark.total) if mark.total else None,
            moves=[MoveOut.of(move) for move in mark.moves],
            counting=CountingOut.of(mark.counting) if mark.counting else None,
            to_mark_change=mark.waits - mark.waited,
        )


class WorkAtDeskOut(BaseModel):
    """One attempt of a student: the parts of the work in order, how late it was, and the mark."""

    parts: list[WorkPartOut]
    late_minutes: int
    mark: MarkOut


class ChoiceIn(BaseModel):
    """A choice on a criterion, with the version of the mark it was based on."""

    level_id: Whole | None
    half_way: YesNo = False
    not_assessed: YesNo = False
    version: Whole


class RemarkIn(BaseModel):
    """A remark, with the version of the mark it was based on."""

    text: Text = Field(json_schema_extra={"maxLength": saving.LONGEST_REMARK})
    version: Whole


@router.get("/classes/{class_id:int}/pile")
def read_pile(class_id: int, caller: AsTeacher) -> list[TaskLineOut]:
    """List the tasks in which something waits to be marked."""
    return [TaskLineOut.of(view) for view in piles.pile(caller, class_id)]


@router.get("/tasks/{task_id:int}/desk")
def read_desk(task_id: int, caller: AsTeacher) -> DeskOut:
    """Give what the desk needs to mark a set."""
    desk = service.desk(caller, task_id)
    return DeskOut(
        task=TaskOut.of(desk.task),
        class_name=desk.klass.name,
        criteria=[CriterionOut.of(stored) for stored in desk.criteria],
        outcomes=[OwnOutcomeOut.of(outcome) for outcome in desk.outcomes.values()],
        scales=[ScaleOut.of(stored) for stored in desk.scales.values()],
    )


ATTEMPT = "/tasks/{task_id:int}/students/{student_id:int}/attempts/{attempt:int}"


@router.get(ATTEMPT)
def read_work_at_desk(
    task_id: int, student_id: int, attempt: int, caller: AsTeacher
) -> WorkAtDeskOut:
    """Give one attempt of a student: the work and the mark."""
    found = service.work_at_desk(caller, task_id, student_id, attempt)
    return WorkAtDeskOut(
        parts=[
            WorkPartOut(text=part.text, file_name=part.file_name, words=len(part.text.split()))
            for part in found.parts
        ],
        late_minutes=found.late_minutes,
        mark=MarkOut.of(found.mark),
    )


@router.put(f"{ATTEMPT}/choices/{{criterion_id:int}}")
def choose(
    task_id: int,
    student_id: int,
    criterion_id: int,
    attempt: int,
    body: ChoiceIn,
    caller: AsTeacher,
) -> MarkOut:
    """Save a choice; sent twice, it is one."""
    choice = Choice(body.level_id, body.half_way, body.not_assessed)
    return MarkOut.of(
        saving.choose(caller, task_id, student_id, criterion_id, choice, body.version, attempt)
    )


@router.put(f"{ATTEMPT}/remarks/{{criterion_id:int}}")
def remark_on_criterion(
    task_id: int,
    student_id: int,
    criterion_id: int,
    attempt: int,
    body: RemarkIn,
    caller: AsTeacher,
) -> MarkOut:
    """Save a remark on a criterion; an empty one removes it."""
    return MarkOut.of(
        saving.remark(caller, task_id, student_id, criterion_id, body.text, body.version, attempt)
    )


@router.put(f"{ATTEMPT}/remark")
def remark_on_whole(
    task_id: int, student_id: int, attempt: int, body: RemarkIn, caller: AsTeacher
) -> MarkOut:
    """Save a remark on the whole; an empty one removes it."""
    return MarkOut.of(
        saving.remark(caller, task_id, student_id, None, body.text, body.version, attempt)
    )


@router.post(f"{ATTEMPT}/finish")
def finish(task_id: int, student_id: int, attempt: int, caller: AsTeacher) -> MarkOut:
    """Finish a mark: from now on this version counts."""
    return MarkOut.of(saving.finish(caller, task_id, student_id, attempt))
