"""The marking pile and the marking desk."""

from __future__ import annotations

from pydantic import BaseModel, Field

from jade_ladder.core.total import Adjustments, ByHand, Line, LineKind
from jade_ladder.service.marking import adjusting, saving, task_marks
from jade_ladder.service.marking import desk as service
from jade_ladder.service.marking import pile as piles
from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.marking.moves import CriterionNeeds
from jade_ladder.service.marking.task_marks import MarkTotal
from jade_ladder.web.marking.feedback_files import FeedbackOut
from jade_ladder.web.marking.models import ATTEMPT, MarkOut
from jade_ladder.web.marking.passages import PassageOut
from jade_ladder.web.outcomes.scales import ScaleOut
from jade_ladder.web.rubrics.criteria import CriterionOut, OwnOutcomeOut
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Text, Whole, YesNo
from jade_ladder.web.shared.heavy import heavy
from jade_ladder.web.shared.numbers import ShortNumber, Value, WrittenNumber
from jade_ladder.web.work.parts import WorkPartOut
from jade_ladder.web.work.tasks import StudentAtTaskOut, TaskLineOut, TaskOut

router = router_of("marking")


class DeskOut(BaseModel):
    """What stands still while a set is marked."""

    task: TaskOut
    class_name: str
    criteria: list[CriterionOut]
    outcomes: list[OwnOutcomeOut]
    scales: list[ScaleOut]


class CriterionNeedsOut(BaseModel):
    """What a criterion that is asked has to give so that an outcome is mastered, with what is
    carried over and at the time that the attempt has: its level (0 the lowest), or half-way up from
    it (null: no level of it does alone), and the smallest value in hundredths that does (null: none
    does). `followed` where there is evidence after the attempt, which may decide.
    """

    criterion_id: int
    code: str
    level: int | None
    half_way: bool
    smallest: Value | None
    followed: bool

    @classmethod
    def of(cls, found: CriterionNeeds) -> CriterionNeedsOut:
        """Show what is needed."""
        choice = found.choice
        return cls(
            criterion_id=found.criterion_id,
            code=found.outcome.code,
            level=None if choice is None else choice.level,
            half_way=choice is not None and choice.half_way,
            smallest=None if choice is None else choice.smallest,
            followed=found.followed,
        )


class WorkAtDeskOut(BaseModel):
    """One attempt of a student: the parts of the work in order, how late it was, the mark, the
    remarks on passages of the work, and the recordings and files that the mark is given back with;
    of a further attempt, what the criteria that it asks have to give (`needs`).
    """

    parts: list[WorkPartOut]
    late_minutes: int
    mark: MarkOut
    passages: list[PassageOut]
    feedback: list[FeedbackOut]
    needs: list[CriterionNeedsOut]


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


class AdjustmentLineIn(BaseModel):
    """Points more (2) or fewer (-2), and why; or a total by hand."""

    amount: WrittenNumber
    reason: Text


class AdjustmentsIn(BaseModel):
    """All that is said of a total, with the version of the mark it was based on."""

    lines: list[AdjustmentLineIn] = []
    waived: Text | None = None
    by_hand: AdjustmentLineIn | None = None
    version: Whole

    def said(self) -> Adjustments:
        """Give it as the core knows it."""
        lines = (Line(LineKind.ADJUSTMENT, one.reason.strip(), one.amount) for one in self.lines)
        by_hand = self.by_hand
        return Adjustments(
            tuple(lines),
            None if self.waived is None else self.waived.strip(),
            None if by_hand is None else ByHand(by_hand.amount, by_hand.reason.strip()),
        )


class WaitingTaskOut(TaskLineOut):
    """A task with something to mark, and the class it is of."""

    class_name: str


class WaitingStudentOut(BaseModel):
    """A student whose work waits, and where they stand with the task."""

    task_id: int
    student: StudentAtTaskOut


class PileOut(BaseModel):
    """All that waits for one: tasks by due time, and the students of each by name."""

    tasks: list[WaitingTaskOut]
    students: list[WaitingStudentOut]


@router.get("/pile")
def read_pile(caller: AsTeacher) -> PileOut:
    """Give all that waits to be marked in the classes one teaches."""
    found = piles.whole_pile(caller)
    return PileOut(
        tasks=[
            WaitingTaskOut(
                **TaskLineOut.of(one.line).model_dump(),
                class_name=one.class_name,
            )
            for one in found.tasks
        ],
        students=[
            WaitingStudentOut(task_id=one.task_id, student=StudentAtTaskOut.of(one.student))
            for one in found.students
        ],
    )


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


class MarkTotalOut(BaseModel):
    """What the mark of an attempt comes to as it stands (null: nothing to total); `out_of` is less
    than the task's points while it is not marked as a whole. `adjusted` where the teacher changed
    what it comes to. `word` is what came of its finished version, and shorter where several
    criteria are not met (null: nothing is said). `over_attempts` is the task's total over several
    finished attempts of the student (null: there are not several, or the task's rule takes the
    newest alone, whose total it is).
    """

    student_id: int
    attempt: int
    value: Value | None
    out_of: ShortNumber | None
    adjusted: bool
    word: str | None
    short_word: str | None
    over_attempts: Value | None

    @classmethod
    def of(cls, found: MarkTotal, over_attempts: int | None) -> MarkTotalOut:
        """Show what a mark comes to."""
        total = found.total
        said = total and (total.by_hand or total.waived)
        added = total and any(line.kind is LineKind.ADJUSTMENT for line in total.lines)
        return cls(
            student_id=found.mark.student_id,
            attempt=found.mark.number,
            value=total.value if total else None,
            out_of=total.out_of if total else None,
            adjusted=bool(added or said),
            word=found.word and found.word.text,
            short_word=found.word and found.word.short,
            over_attempts=over_attempts,
        )


@router.get("/tasks/{task_id:int}/totals")
@heavy
def read_totals(task_id: int, caller: AsTeacher) -> list[MarkTotalOut]:
    """Give what every mark of a task comes to, student by student, by attempt."""
    found = task_marks.totals_of_task(caller, task_id)
    return [
        MarkTotalOut.of(one, found.over_attempts.get(one.mark.student_id)) for one in found.marks
    ]


@router.get(ATTEMPT)
def read_work_at_desk(
    task_id: int, student_id: int, attempt: int, caller: AsTeacher
) -> WorkAtDeskOut:
    """Give one attempt of a student: the work and the mark."""
    found = service.work_at_desk(caller, task_id, student_id, attempt)
    return WorkAtDeskOut(
        parts=[WorkPartOut.of(part) for part in found.parts],
        late_minutes=found.late_minutes,
        mark=MarkOut.of(found.mark),
        passages=[PassageOut.of(one) for one in found.passages],
        feedback=FeedbackOut.several(found.feedback, found.criteria),
        needs=[CriterionNeedsOut.of(one) for one in found.needs],
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


@router.put(f"{ATTEMPT}/adjustments")
def adjust_total(
    task_id: int, student_id: int, attempt: int, body: AdjustmentsIn, caller: AsTeacher
) -> MarkOut:
    """Save what is said of the total; evidence is not touched by it."""
    return MarkOut.of(
        adjusting.adjust_total(caller, task_id, student_id, body.said(), body.version, attempt)
    )


@router.post(f"{ATTEMPT}/finish")
def finish(task_id: int, student_id: int, attempt: int, caller: AsTeacher) -> MarkOut:
    """Finish a mark: from now on this version counts."""
    return MarkOut.of(saving.finish(caller, task_id, student_id, attempt))
