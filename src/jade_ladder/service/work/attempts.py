"""Attempts: entering what was handed in, and when work was done."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.core.errors import NotFound, Refused, Stale
from jade_ladder.core.marking import time_on_paper
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.formats.plain_text import safe_file_name
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import check_day, in_utc, school_zone, time_of_evidence
from jade_ladder.service.shared.guards import check_begun, own_student, own_task
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.shared.log import LogSubject
from jade_ladder.store.work import attempts as store
from jade_ladder.store.work import parts as part_store
from jade_ladder.store.work import tasks as task_store
from jade_ladder.store.work.attempts import AttemptRow, Dating, EntryRow
from jade_ladder.store.work.parts import PartKind
from jade_ladder.store.work.tasks import TaskRow

LONGEST_WORK = 200_000


def enter_work(
    caller: Teacher,
    task_id: int,
    student_id: int,
    text: str,
    file_name: str | None = None,
    done_at: datetime | None = None,
    number: int | None = None,
    replaces: str | None = None,
) -> None:
    """Enter a student's work as text, or replace it; `done_at` is when it was handed in, by the
    school's clock where it has no zone. Without it, the work is dated as work on paper is. Without
    a text, there is none beside its files.

    With `replaces`, the text that it was typed over, another one that was entered meanwhile is not
    lost: it raises Stale.

    Of other evidence it is what was seen, in the entry of that `number`: one that is there, or the
    next; `done_at` is when it was seen, at first now.
    """
    if len(text) > LONGEST_WORK:
        raise Refused(f"Work has at most {LONGEST_WORK:,} characters", "text")
    with caller.transaction() as db:
        row, klass = own_task(db, caller, task_id)
        own_student(db, row.class_id, student_id)
        attempt_id = attempt_for_work(db, caller, klass, row, student_id, done_at, number)
        there = part_store.work_parts(db, attempt_id)
        texts = [part for part in there if part.kind is PartKind.TEXT]
        now = texts[0].text if texts else ""
        if texts and texts[0].by_student and text.strip() != now.strip():
            raise Refused("The student has handed this in: it stays as it is", "text")
        if replaces is not None and now.strip() not in (replaces.strip(), text.strip()):
            raise Stale(
                "Another text was entered meanwhile. Yours is kept here: look at the other one, "
                "then save again to replace it",
                len(there),
            )
        if not text.strip():
            if len(texts) == len(there) and not store.is_marked(db, attempt_id):
                raise Refused("There is nothing in it yet", "text")
            for part in texts:
                part_store.delete_part(db, part.id, caller.now)
            return
        if texts and texts[0].by_student:
            return
        name = None if file_name is None else safe_file_name(file_name)
        part_store.set_work(db, attempt_id, text, name, caller.now, caller.person_id)


def attempt_for_work(
    db: sqlite3.Connection,
    caller: Teacher,
    klass: ClassRow,
    task: TaskRow,
    student_id: int,
    done_at: datetime | None,
    number: int | None = None,
) -> int:
    """Give the attempt that work is entered for, the newest or the first, dated by when it was
    handed in where that is said (on screen: as it was); of other evidence, the entry of that
    number. Part of a transaction.
    """
    if task.set_at is None:
        raise Refused("This task is a draft: set it before work is put in")
    when = None if done_at is None else _past_time(db, caller, klass, done_at)
    record = task_store.task_student(db, task.id, student_id)
    if task.kind.entries:
        check_begun(db, caller, klass.id)
        return _entry(db, caller, record, when, number)
    attempt = store.newest_attempt(db, record)
    if attempt is None or attempt.opened:
        check_begun(db, caller, klass.id)
        dating = Dating.UNDECIDED if when is None else Dating.HANDED_IN
        return store.add_attempt(db, record, when or caller.now, dating)
    if when is not None and not store.was_handed_in(db, attempt.id):
        store.date_attempt(db, attempt.id, when, Dating.HANDED_IN)
    return attempt.id


def _entry(
    db: sqlite3.Connection,
    caller: Teacher,
    record: int,
    when: datetime | None,
    number: int | None,
) -> int:
    there = store.attempt_ids(db, record)
    if number is None:
        number = len(there) or 1
    if not 1 <= number <= len(there) + 1:
        raise NotFound("There is no such entry")
    if number > len(there):
        return store.add_attempt(db, record, when or caller.now, Dating.OBSERVED)
    attempt_id = there[number - 1]
    if when is not None:
        store.date_attempt(db, attempt_id, when, Dating.OBSERVED)
    return attempt_id


def entries(caller: Teacher, task_id: int) -> list[EntryRow]:
    """List the entries of a task of other evidence, student by student, in the order in which they
    were entered.
    """
    with caller.reading() as db:
        own_task(db, caller, task_id)
        return store.entries(db, task_id)


def delete_entry(caller: Teacher, task_id: int, student_id: int, number: int) -> None:
    """Delete an entry of other evidence that nothing is marked on, the newest of its student."""
    with caller.transaction() as db:
        row, _ = own_task(db, caller, task_id)
        own_student(db, row.class_id, student_id)
        there = store.attempt_ids(db, task_store.task_student(db, task_id, student_id))
        if not row.kind.entries or not 1 <= number <= len(there):
            raise NotFound("There is no such entry")
        if number < len(there):
            raise Refused("Only the newest entry can be deleted")
        if store.is_marked(db, there[-1]):
            raise Refused("There is a mark on this entry, so it cannot be deleted")
        store.delete_attempt(db, there[-1])


def _past_time(
    db: sqlite3.Connection, caller: Teacher, klass: ClassRow, done_at: datetime
) -> datetime:
    check_day(done_at.date(), "done_at", klass)
    when = in_utc(done_at, school_zone(db))
    if when > caller.now:
        raise Refused("This time has not come yet", "done_at")
    return when


def first_time(
    now: datetime,
    kind: TaskKind,
    due_at: datetime | None,
    before: datetime | None,
    choosing: bool = True,
) -> tuple[datetime, Dating]:
    """Give by what time an attempt counts that nobody said a time for, and how that came about:
    decided once, at the first choice on it (docs/calculations.md, “Time and order”). Without one
    (not `choosing`), it is not decided yet. `before` is the time of the attempt before it.
    """
    if not choosing:
        return now, Dating.UNDECIDED
    if not kind.hands_in:
        return now, Dating.OBSERVED
    return time_on_paper(now, due_at, before), Dating.ON_PAPER


def correct_times(
    caller: Teacher, task_id: int, student_ids: Sequence[int], done_at: datetime | None
) -> None:
    """Say when work on a task was done, for one, several or all students who have an attempt; with
    None, the time stands again that it had by itself. No work is entered, nothing is called late
    by it, and the log keeps who said so.
    """
    with caller.transaction() as db:
        found = attempts_to_correct(db, caller, task_id, student_ids, done_at)
        for one in found:
            attempt = one.attempt
            store.correct_attempt(db, attempt.id, one.when, caller.now, caller.person_id)
            caller.log(db, LogSubject.ATTEMPT_TIME, attempt.id, attempt.done_at, one.when)


@dataclass(frozen=True, slots=True)
class TimeToCorrect:
    """An attempt whose time is to be corrected, to `when` (None: the time it had by itself)."""

    student_id: int
    attempt: AttemptRow
    when: datetime | None


def attempts_to_correct(
    db: sqlite3.Connection,
    caller: Teacher,
    task_id: int,
    student_ids: Sequence[int],
    done_at: datetime | None,
) -> list[TimeToCorrect]:
    """Give the newest attempts of these students, whose time can be corrected to this one; Refused
    where that of one cannot. Part of a transaction or a reading.
    """
    if not student_ids:
        raise Refused("Choose the students whose time is to be corrected", "student_ids")
    row, klass = own_task(db, caller, task_id)
    if row.kind.entries:
        raise Refused("Each entry has a time of its own: change it with the entry", "done_at")
    when = None if done_at is None else time_of_evidence(db, caller, klass, done_at, "done_at")
    found = []
    for student_id in dict.fromkeys(student_ids):
        person = own_student(db, row.class_id, student_id)
        record = task_store.record_of(db, task_id, student_id)
        attempt = None if record is None else store.newest_attempt(db, record)
        if attempt is None:
            raise Refused(f"{person.name} has nothing on this task yet", "student_ids")
        if when is not None and attempt.after is not None and when < attempt.after:
            raise Refused(f"The attempt of {person.name} before this one was done later", "done_at")
        found.append(TimeToCorrect(student_id, attempt, when))
    return found


def excuse(caller: Teacher, task_id: int, student_id: int, excused: bool) -> None:
    """Excuse a student from a task, or take that back; what is there is kept."""
    with caller.transaction() as db:
        row, _ = own_task(db, caller, task_id)
        own_student(db, row.class_id, student_id)
        record = task_store.task_student(db, task_id, student_id)
        task_store.set_excused(db, record, excused)
