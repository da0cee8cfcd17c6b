"""Attempts at tasks: work as text, entries of other evidence, when it was done, and excusing."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from fastapi import Form
from pydantic import BaseModel

from jade_ladder.service.work import attempts as service
from jade_ladder.web.shared.bodies import FILE_LIMIT, body_up_to, router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Moment, Text, Whole, YesNo

router = router_of("tasks")


class TimesIn(BaseModel):
    """When work was done, for these students; null: as it was dated by itself."""

    student_ids: list[Whole]
    done_at: Moment | None


class ExcuseIn(BaseModel):
    """Whether a student is excused."""

    excused: YesNo


@router.put("/tasks/{task_id:int}/students/{student_id:int}/work", status_code=204)
@body_up_to(FILE_LIMIT)
def enter_work(
    task_id: int,
    student_id: int,
    caller: AsTeacher,
    text: Annotated[Text, Form()] = "",
    done_at: Annotated[Moment | None, Form()] = None,
    entry: Annotated[int | None, Form(ge=1, le=1_000_000)] = None,
    replaces: Annotated[Text | None, Form()] = None,
) -> None:
    """Enter the text of a student's work, or replace it; without one there is none. Of other
    evidence, what was seen, in the entry of that number. 409 where another text than the one it
    `replaces` (a blank: none) was entered meanwhile.
    """
    service.enter_work(caller, task_id, student_id, text, None, done_at, entry, replaces)


class EntryOut(BaseModel):
    """An entry of other evidence: when it was seen, how it begins, and whether its mark is begun
    and finished as it stands.
    """

    student_id: int
    number: int
    done_at: datetime
    beginning: str
    begun: bool
    finished: bool


@router.get("/tasks/{task_id:int}/entries")
def read_entries(task_id: int, caller: AsTeacher) -> list[EntryOut]:
    """List the entries of a task of other evidence, student by student, by number."""
    return [
        EntryOut(
            student_id=one.student_id,
            number=one.number,
            done_at=one.done_at,
            beginning=one.beginning,
            begun=one.begun,
            finished=one.finished,
        )
        for one in service.entries(caller, task_id)
    ]


@router.delete(
    "/tasks/{task_id:int}/students/{student_id:int}/entries/{entry:int}", status_code=204
)
def delete_entry(task_id: int, student_id: int, entry: int, caller: AsTeacher) -> None:
    """Delete the newest entry of a student that nothing is marked on."""
    service.delete_entry(caller, task_id, student_id, entry)


@router.put("/tasks/{task_id:int}/times", status_code=204)
def correct_times(task_id: int, body: TimesIn, caller: AsTeacher) -> None:
    """Say when work was done, for one, several or all students; nothing is called late by it."""
    service.correct_times(caller, task_id, body.student_ids, body.done_at)


@router.put("/tasks/{task_id:int}/students/{student_id:int}/excused", status_code=204)
def excuse(task_id: int, student_id: int, body: ExcuseIn, caller: AsTeacher) -> None:
    """Excuse a student, or take that back."""
    service.excuse(caller, task_id, student_id, body.excused)
