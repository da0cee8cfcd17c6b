"""What was handed back to a student."""

from __future__ import annotations

from datetime import datetime

from fastapi.responses import FileResponse
from pydantic import BaseModel

from jade_ladder.core.evidence import AttemptsRule
from jade_ladder.service.marking.feedback_files import feedback_file
from jade_ladder.service.student import results as service
from jade_ladder.service.student.results import Result
from jade_ladder.web.marking.feedback_files import FeedbackOut
from jade_ladder.web.marking.models import ChoiceOut, RemarkOut, TotalOut
from jade_ladder.web.marking.passages import PassageOut
from jade_ladder.web.mastery.models import MasteryOut
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsStudent, AsTeacher
from jade_ladder.web.shared.fields import Text
from jade_ladder.web.shared.numbers import Value
from jade_ladder.web.student.models import (
    CriterionForStudentOut,
    OwnTaskOut,
    ScaleForStudentOut,
)
from jade_ladder.web.work.parts import WorkPartOut, sent

router = router_of("results")


class WorkMoveOut(BaseModel):
    """An outcome that the work is evidence for: mastery without it, and with it, as its student saw
    it when it was handed back.
    """

    id: int
    title: str
    scale: ScaleForStudentOut
    before: MasteryOut
    after: MasteryOut


class WishOut(BaseModel):
    """That another attempt was asked for; `granted` null: not answered yet."""

    words: str
    made_at: datetime
    granted: bool | None
    answer: str | None


class ResultOut(BaseModel):
    """What a student gets back of one attempt; `attempts` are all that they see. No total: only the
    levels are shown; `over_attempts` is the task's over several attempts, by its `attempts_rule`
    (null: they do not see several, or the rule takes the newest alone). `word` is what
    came of it (null: nothing is said). `handed_in_at` and `handed_back_at` are of this attempt,
    while `task` is as it stands now, with whatever attempt is open.
    """

    task: OwnTaskOut
    attempt: int
    attempts: list[int]
    handed_in_at: datetime | None
    handed_back_at: datetime
    read_at: datetime | None
    next_word: str | None
    work: list[WorkPartOut]
    criteria: list[CriterionForStudentOut]
    choices: list[ChoiceOut]
    remarks: list[RemarkOut]
    passages: list[PassageOut]
    feedback: list[FeedbackOut]
    total: TotalOut | None
    over_attempts: Value | None
    attempts_rule: AttemptsRule
    word: str | None
    moved: list[WorkMoveOut]
    wish: WishOut | None

    @classmethod
    def of(cls, found: Result) -> ResultOut:
        """Show a result."""
        seen, wish = found.seen, found.wish
        return cls(
            task=OwnTaskOut.of(found.task),
            attempt=seen.number,
            attempts=list(found.attempts),
            handed_in_at=seen.handed_in_at,
            handed_back_at=seen.visible_at,
            read_at=seen.read_at,
            next_word=seen.next_word,
            work=[WorkPartOut.of(part) for part in found.parts],
            criteria=[
                CriterionForStudentOut.of(one, found.points_shown and seen.total_shown)
                for one in found.criteria
            ],
            choices=ChoiceOut.several(found.choices),
            remarks=[
                RemarkOut(criterion_id=one.criterion_id, text=one.text)
                for one in found.remarks.values()
            ],
            passages=[PassageOut.of(one) for one in found.passages],
            feedback=FeedbackOut.several(found.feedback, found.stored),
            total=TotalOut.of(found.total) if found.total else None,
            over_attempts=found.over_attempts,
            attempts_rule=found.task.row.attempts_rule,
            word=found.word and found.word.text,
            moved=[
                WorkMoveOut(
                    id=one.outcome_id,
                    title=one.title,
                    scale=ScaleForStudentOut.of(one.scale),
                    before=MasteryOut.of(one.before),
                    after=MasteryOut.of(one.after),
                )
                for one in found.moved
            ],
            wish=wish
            and WishOut(
                words=wish.words,
                made_at=wish.made_at,
                granted=wish.granted,
                answer=wish.answer,
            ),
        )


class ReadIn(BaseModel):
    """One's own word on what to do next."""

    next_word: Text = ""


class WishIn(BaseModel):
    """Why one would like another attempt."""

    words: Text = ""


@router.get("/my/tasks/{task_id:int}/results")
def read_newest_result(task_id: int, caller: AsStudent) -> ResultOut:
    """Give what was handed back of one's newest attempt that was."""
    return ResultOut.of(service.own_result(caller, task_id))


@router.get("/my/tasks/{task_id:int}/results/{attempt:int}")
def read_result(task_id: int, attempt: int, caller: AsStudent) -> ResultOut:
    """Give what was handed back of one attempt."""
    return ResultOut.of(service.own_result(caller, task_id, attempt))


@router.post("/my/tasks/{task_id:int}/results/{attempt:int}/read", status_code=204)
def say_read(task_id: int, attempt: int, body: ReadIn, caller: AsStudent) -> None:
    """Say that one has read what was handed back."""
    service.read_result(caller, task_id, attempt, body.next_word)


@router.post("/my/tasks/{task_id:int}/results/{attempt:int}/wish", status_code=204)
def ask_again(task_id: int, attempt: int, body: WishIn, caller: AsStudent) -> None:
    """Ask for another attempt."""
    service.ask_again(caller, task_id, attempt, body.words)


@router.get("/my/feedback/{feedback_id:int}/file", response_class=FileResponse)
def read_own_feedback_file(feedback_id: int, caller: AsStudent) -> FileResponse:
    """Give a recording or a file that was handed back to one."""
    return sent(feedback_file(caller, feedback_id))


@router.get("/tasks/{task_id:int}/students/{student_id:int}/result")
def read_result_of_student(task_id: int, student_id: int, caller: AsTeacher) -> ResultOut:
    """Give the page that a student gets of their newest marked attempt: as they see it where it is
    handed back and was not changed since, else as it would be, handed back now (then `moved` is
    empty, and `handed_back_at` the time of this answer).
    """
    return ResultOut.of(service.result_of_student(caller, task_id, student_id))
