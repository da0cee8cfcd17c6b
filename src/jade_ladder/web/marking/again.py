"""Another attempt: opening it for students, and withdrawing it."""

from __future__ import annotations

from pydantic import BaseModel

from jade_ladder.service.marking import again as service
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Moment, Text, Whole, YesNo
from jade_ladder.web.shared.models import Added

router = router_of("handing back", "/tasks/{task_id:int}")


class AnotherIn(BaseModel):
    """For whom another attempt is opened, a word on what to do, by when it is due (null: whenever),
    and whether what was met is carried over.
    """

    student_ids: list[Whole]
    words: Text = ""
    due_at: Moment | None = None
    carries: YesNo = True


class BelowMasteryOut(BaseModel):
    """An outcome of a task, and the students with a finished mark who are below mastery on it."""

    id: int
    code: str
    title: str
    student_ids: list[int]


class WhoAgainOut(BaseModel):
    """Who could do a task again, outcome by outcome; of those in `all_met` every criterion was met,
    so that nothing would be asked again.
    """

    below: list[BelowMasteryOut]
    all_met: list[int]


@router.get("/who-again")
def read_who_again(task_id: int, caller: AsTeacher) -> WhoAgainOut:
    """Say of each outcome of a task who is below mastery on it, and of whom nothing would be asked
    again.
    """
    found = service.who_again(caller, task_id)
    return WhoAgainOut(
        below=[
            BelowMasteryOut(
                id=one.outcome.id,
                code=one.outcome.code,
                title=one.outcome.title,
                student_ids=list(one.student_ids),
            )
            for one in found.below
        ],
        all_met=list(found.all_met),
    )


@router.post("/attempts", status_code=201)
def open_attempts(task_id: int, body: AnotherIn, caller: AsTeacher) -> Added:
    """Open another attempt for students whose mark is finished."""
    added = service.open_attempts(
        caller, task_id, body.student_ids, body.words, body.due_at, body.carries
    )
    return Added(added=added)


@router.delete("/students/{student_id:int}/opened-attempt", status_code=204)
def withdraw_attempt(task_id: int, student_id: int, caller: AsTeacher) -> None:
    """Withdraw an attempt that was opened and not begun."""
    service.withdraw_attempt(caller, task_id, student_id)
