"""Handing back: what students see of their marks."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel

from jade_ladder.service.marking import handing_back as service
from jade_ladder.service.marking.handing_back import HandingBack
from jade_ladder.service.work import handing_in
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Moment, Text, Whole, YesNo
from jade_ladder.web.shared.models import Added, Removed

router = router_of("handing back", "/tasks/{task_id:int}")


class HandingBackOut(BaseModel):
    """What one student sees of their newest attempt: `seen_at` since when they see it, `coming_at`
    from when they will; `ready` where something finished was not handed back, `changed` where the
    mark was changed since.
    """

    student_id: int
    name: str
    attempt: int
    version: int
    finished: bool
    ready: bool
    changed: bool
    seen_at: datetime | None
    total_shown: bool | None
    coming_at: datetime | None
    taken_back_at: datetime | None
    read_at: datetime | None
    next_word: str | None
    wish: str | None
    granted: bool | None
    answer: str | None

    @classmethod
    def of(cls, one: HandingBack) -> HandingBackOut:
        """Show it."""
        row = one.row
        return cls(
            student_id=row.student_id,
            name=row.name,
            attempt=row.number,
            version=row.version,
            finished=row.finished_version is not None,
            ready=one.ready,
            changed=one.changed,
            seen_at=row.seen_at,
            total_shown=row.total_shown,
            coming_at=row.coming_at,
            taken_back_at=row.taken_back_at,
            read_at=row.read_at,
            next_word=row.next_word,
            wish=row.wish,
            granted=row.granted,
            answer=row.answer,
        )


class HandBackIn(BaseModel):
    """Which students get their marks back (null: all with something finished they have not seen),
    with the total or only levels, and from when they see it (null: now).
    """

    student_ids: list[Whole] | None
    total_shown: YesNo
    visible_at: Moment | None = None


class StudentsIn(BaseModel):
    """Some students."""

    student_ids: list[Whole]


class AnswerIn(BaseModel):
    """Whether another attempt is granted, and a word to the student."""

    granted: YesNo
    answer: Text = ""


class HandingInOut(BaseModel):
    """How far a student is with handing in: opened, begun to write, handed in so many times."""

    student_id: int
    opened_at: datetime | None
    drafted_at: datetime | None
    times: int


@router.get("/handing-back")
def read_handing_back(task_id: int, caller: AsTeacher) -> list[HandingBackOut]:
    """List what everybody sees whose newest attempt has a mark."""
    return [HandingBackOut.of(one) for one in service.handing_back(caller, task_id)]


@router.post("/handing-back", status_code=201)
def hand_back(task_id: int, body: HandBackIn, caller: AsTeacher) -> Added:
    """Hand finished marks back."""
    added = service.hand_back(caller, task_id, body.student_ids, body.total_shown, body.visible_at)
    return Added(added=added)


@router.post("/taken-back")
def take_back(task_id: int, body: StudentsIn, caller: AsTeacher) -> Removed:
    """Take back what was handed back to some students."""
    return Removed(removed=service.take_back(caller, task_id, body.student_ids))


@router.put("/students/{student_id:int}/wish", status_code=204)
def answer_wish(task_id: int, student_id: int, body: AnswerIn, caller: AsTeacher) -> None:
    """Grant another attempt, or decline it."""
    service.answer_wish(caller, task_id, student_id, body.granted, body.answer)


@router.get("/handing-in")
def read_handing_in(task_id: int, caller: AsTeacher) -> list[HandingInOut]:
    """List how far the students who opened a task are with handing in."""
    return [
        HandingInOut(
            student_id=one.student_id,
            opened_at=one.opened_at,
            drafted_at=one.drafted_at,
            times=one.times,
        )
        for one in handing_in.handing_in(caller, task_id)
    ]
