"""Handing in, as students do it: a draft that is kept, handing in, taking back."""

from __future__ import annotations

import hashlib
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from zoneinfo import ZoneInfo

from jade_ladder.core.errors import NotFound, Refused, Stale
from jade_ladder.core.handing_in import Closed, StateOfWork, can_take_back, count_words, why_closed
from jade_ladder.core.total import late_rule
from jade_ladder.service.shared.caller import Caller, Student, Teacher
from jade_ladder.service.shared.days import school_zone, today
from jade_ladder.service.shared.guards import own_task
from jade_ladder.service.work.attempts import LONGEST_WORK
from jade_ladder.store.work import attempts as attempt_store
from jade_ladder.store.work import handing_in as store
from jade_ladder.store.work import parts as part_store
from jade_ladder.store.work import task_files as task_file_store
from jade_ladder.store.work import tasks as task_store
from jade_ladder.store.work.attempts import Dating
from jade_ladder.store.work.handing_in import DraftRow, HandingIn, HandInRow, OwnTaskRow
from jade_ladder.store.work.parts import PartKind, ReceiptPart

_WHY = {
    Closed.OBSERVED: "Nothing is handed in at this task: your teacher watches",
    Closed.LEFT: "You are not in this class any more, so nothing can be handed in",
    Closed.EXCUSED: "You are excused from this task",
    Closed.PAST_CLOSING: "Handing in is closed. What you wrote is kept: speak to your teacher",
    Closed.MARKED: "Your teacher has begun to mark this. Once it is handed back, you can ask for "
    "another attempt",
    Closed.PAST_DUE: "It was handed in, and is past its due time: it cannot be replaced any more",
}


@dataclass(frozen=True, slots=True)
class OwnTask:
    """A task as its student sees it: where they stand, and why nothing can be handed in now, in
    words, or nothing where it can. `late_percent` of the points is what it costs to hand in now;
    in a list, `about` are the outcomes that it is about.
    """

    row: OwnTaskRow
    closed: Closed | None
    why: str
    can_take_back: bool
    late_percent: int
    about: Sequence[int] = ()

    @property
    def open_number(self) -> int:
        """The number of the attempt that would be handed in."""
        number = self.row.number or 1
        return number + 1 if self.row.granted else number


@dataclass(frozen=True, slots=True)
class Receipt:
    """That work was handed in: when, with how many words, and the hashes of its text (SHA-256 of
    its UTF-8) and of its files, as they were sent, by which anybody can see that they are the same.
    """

    number: int
    attempt: int
    at: datetime
    words: int
    text_hash: str
    taken_back_at: datetime | None
    parts: tuple[ReceiptPart, ...] = ()


def own_tasks(caller: Student) -> list[OwnTask]:
    """List the tasks of all of the caller's classes, past ones too, by due time."""
    with caller.reading() as db:
        rows = store.own_tasks(db, caller.person_id, today(db, caller), caller.now)
        zone = school_zone(db)
        about = store.tasks_about(db, caller.person_id)
    return [replace(_seen(row, caller.now, zone), about=about.get(row.id, ())) for row in rows]


def task_of_student(
    db: sqlite3.Connection, caller: Caller, student_id: int, task_id: int
) -> OwnTask:
    """Give a task of a class that somebody is or was a student of; NotFound for any other, in the
    same words whether it is another's or nobody's. Part of a transaction or a reading.
    """
    row = store.own_task(db, student_id, task_id, today(db, caller), caller.now)
    if row is None:
        raise NotFound("There is no such task for you")
    return _seen(row, caller.now, school_zone(db))


def _seen(row: OwnTaskRow, now: datetime, zone: ZoneInfo) -> OwnTask:
    standing = StateOfWork(
        not row.kind.hands_in,
        row.present,
        row.excused,
        row.due_at,
        row.closes_at,
        row.has_work,
        row.by_student,
        row.marked,
        bool(row.granted),
    )
    closed = why_closed(standing, now)
    number = 2 if row.further else 1
    late = late_rule(row.late_per_day, row.late_most, row.due_at, number, zone)
    percent = 0 if late is None or closed is not None else late.percent(now)
    return OwnTask(row, closed, _why(closed, row), can_take_back(standing, now), percent)


def _why(closed: Closed | None, row: OwnTaskRow) -> str:
    if closed is None:
        return ""
    if closed is not Closed.MARKED or row.number is None or row.back_number != row.number:
        return _WHY[closed]
    return "This is marked, and handed back" + (
        "" if row.wished else ". You can ask for another attempt"
    )


def open_task(caller: Student, task_id: int) -> None:
    """Remember that the caller has opened a task, which their teacher sees; the first time they get
    a copy of what it starts them with.
    """
    with caller.transaction() as db:
        found = task_of_student(db, caller, caller.person_id, task_id)
        if found.row.opened_at is None and found.row.present:
            record = record_of(db, caller, task_id)
            store.set_opened(db, record, caller.now)
            _begin_from(db, caller, found, record)


def _begin_from(db: sqlite3.Connection, caller: Student, found: OwnTask, record: int) -> None:
    """Give a student who begins a copy of what the task starts them with."""
    row = found.row
    if found.closed is not None or row.attempt_id is not None or row.drafted_at is not None:
        return
    task_file_store.copy_starting(db, row.id, record, caller.now, caller.person_id)
    task = task_store.task(db, row.id)
    if task is not None and task.starting_text:
        store.save_draft(db, record, task.starting_text, caller.now)


def draft(caller: Student, task_id: int) -> DraftRow | None:
    """Give what the caller has written and not handed in."""
    with caller.reading() as db:
        task_of_student(db, caller, caller.person_id, task_id)
        return store.draft(db, caller.person_id, task_id)


def save_draft(caller: Student, task_id: int, text: str, based_on: int) -> DraftRow:
    """Keep what the caller writes, as far as it is; the same text sent twice is one. Raises Stale
    where another tab has saved in between, and Refused where nothing can be handed in any more.
    """
    _check_length(text)
    with caller.transaction() as db:
        check_open(task_of_student(db, caller, caller.person_id, task_id))
        now = store.draft(db, caller.person_id, task_id)
        if now is not None and now.text == text:
            return now
        _check_draft(now, based_on)
        version = store.save_draft(db, record_of(db, caller, task_id), text, caller.now)
        return DraftRow(text, version, caller.now)


def hand_in(
    caller: Student,
    task_id: int,
    text: str,
    based_on: int,
    replaced: int | None = None,
    parts: Sequence[int] = (),
) -> Receipt:
    """Hand a text in, with the files and links that are put in (`parts`, their numbers), or replace
    what was handed in before it is due (`replaced`: the number of its receipt); gives the receipt.
    The same sent twice is handed in once. The server's clock says when. Raises Stale where another
    tab has handed in, or saved another draft, in between.
    """
    _check_length(text)
    if not text.strip() and not parts:
        raise Refused("There is nothing written yet, and no file", "text")
    with caller.transaction() as db:
        found = task_of_student(db, caller, caller.person_id, task_id)
        text_hash = hashlib.sha256(text.encode()).hexdigest()
        standing = _standing_receipt(db, caller, found)
        if standing is not None and standing.text_hash == text_hash:
            there = part_store.work_parts(db, found.row.attempt_id or 0)
            if sorted(parts) == sorted(one.id for one in there if one.kind is not PartKind.TEXT):
                return _with_parts(db, [receipt_of(standing)])[0]
        check_open(found)
        if standing is not None and standing.id != replaced:
            raise Stale(
                "This was handed in from another tab or device meanwhile. Nothing is lost: look at "
                "what is there now",
                standing.id,
            )
        draft_now = store.draft(db, caller.person_id, task_id)
        if draft_now is not None and draft_now.text != text:
            _check_draft(draft_now, based_on)
        drafted = part_store.draft_parts(db, caller.person_id, task_id)
        if sorted(parts) != sorted(one.id for one in drafted):
            raise Stale(
                "Files were added or removed in another tab or on another device: look at what is "
                "there now",
                0 if draft_now is None else draft_now.version,
            )
        record = record_of(db, caller, task_id)
        attempt_id = found.row.attempt_id
        if attempt_id is None or found.row.granted:
            attempt_id = attempt_store.add_attempt(db, record, caller.now, Dating.HANDED_IN)
        else:
            attempt_store.date_attempt(db, attempt_id, caller.now, Dating.HANDED_IN)
        part_store.hand_in_parts(db, record, attempt_id)
        if text.strip():
            part_store.set_work(db, attempt_id, text, None, caller.now, caller.person_id)
        number = store.add_hand_in(db, record, found.open_number, text, text_hash, caller.now)
        part_store.keep_receipt_parts(db, number, attempt_id)
        store.delete_draft(db, record)
        made = Receipt(number, found.open_number, caller.now, count_words(text), text_hash, None)
        return _with_parts(db, [made])[0]


def write_on(caller: Student, task_id: int) -> DraftRow:
    """Begin a draft with what was handed in, to hand it in anew or as a further attempt; what was
    handed in stays. Gives the draft, or the one that there is already.
    """
    with caller.transaction() as db:
        found = task_of_student(db, caller, caller.person_id, task_id)
        check_open(found)
        there = store.draft(db, caller.person_id, task_id)
        if there is not None:
            return there
        record, attempt_id = record_of(db, caller, task_id), found.row.attempt_id
        text = _text_of(db, attempt_id)
        put_in = part_store.draft_parts(db, caller.person_id, task_id)
        # For a further attempt what was put in already stays, and nothing is put beside it.
        if attempt_id is not None and not (found.row.granted and put_in):
            part_store.delete_draft_parts(db, record)
            part_store.copy_to_draft(db, record, attempt_id, caller.now)
        return DraftRow(text, store.save_draft(db, record, text, caller.now), caller.now)


def take_back(caller: Student, task_id: int) -> DraftRow:
    """Take back what was handed in, before it is due and before anybody marks it; gives the draft
    that it is again, or the one that was written on since.
    """
    with caller.transaction() as db:
        found = task_of_student(db, caller, caller.person_id, task_id)
        attempt_id = found.row.attempt_id
        if not found.can_take_back or attempt_id is None:
            raise Refused(
                found.why or "There is nothing handed in that could be taken back", "text"
            )
        record = record_of(db, caller, task_id)
        text = _text_of(db, attempt_id)
        written_on = store.draft(db, caller.person_id, task_id)
        if written_on is None:
            part_store.delete_draft_parts(db, record)
            part_store.take_back_parts(db, record, attempt_id)
        store.take_back(db, record, attempt_id, caller.now)
        if written_on is not None:
            return written_on
        version = store.save_draft(db, record, text, caller.now)
        return DraftRow(text, version, caller.now)


def undo_taking_back(caller: Student, task_id: int, receipt: int) -> Receipt:
    """Let what the caller took back last be handed in as it was, at its time; what they wrote on
    since stays as a draft. Refused where something was handed in since, or marked.
    """
    with caller.transaction() as db:
        found = task_of_student(db, caller, caller.person_id, task_id)
        newest = next(iter(store.hand_ins(db, caller.person_id, task_id)), None)
        if newest is None or newest.id != receipt:
            raise Refused("Something was handed in since: that stands")
        if newest.taken_back_at is None:
            return _with_parts(db, [receipt_of(newest)])[0]
        if not found.row.present or found.row.excused:
            raise Refused(found.why)
        if found.open_number != newest.attempt_number or (
            found.row.attempt_id is not None and not found.row.granted
        ):
            raise Refused("There is a newer attempt already")
        record = record_of(db, caller, task_id)
        attempt_id = attempt_store.add_attempt(db, record, newest.at, Dating.HANDED_IN)
        if _is_still(db, caller, task_id, newest):
            store.delete_draft(db, record)
            part_store.delete_draft_parts(db, record)
        if newest.text.strip():
            part_store.set_work(db, attempt_id, newest.text, None, newest.at, caller.person_id)
        part_store.parts_of_receipt(db, newest.id, attempt_id, caller.person_id)
        store.hand_in_again(db, newest.id)
        return _with_parts(db, [receipt_of(replace(newest, taken_back_at=None))])[0]


def _is_still(db: sqlite3.Connection, caller: Student, task_id: int, newest: HandInRow) -> bool:
    """Whether a draft is what became one by taking it back; one that was there before stays."""
    (made,) = _with_parts(db, [receipt_of(newest)])
    written = store.draft(db, caller.person_id, task_id)
    put_in = part_store.draft_parts(db, caller.person_id, task_id)
    became = written is None or (
        written.text == newest.text
        and newest.taken_back_at is not None
        and written.saved_at >= newest.taken_back_at
    )
    return became and [(one.file_name or one.text, one.sent_hash or "") for one in put_in] == [
        (one.name, one.sent_hash) for one in made.parts
    ]


def _text_of(db: sqlite3.Connection, attempt_id: int | None) -> str:
    parts = part_store.work_parts(db, attempt_id) if attempt_id else []
    return next((part.text for part in parts if part.kind is PartKind.TEXT), "")


def receipts(db: sqlite3.Connection, student_id: int, task_id: int) -> list[Receipt]:
    """List each time that a student handed in at a task, the newest first. Part of a reading."""
    return _with_parts(db, [receipt_of(row) for row in store.hand_ins(db, student_id, task_id)])


def _with_parts(db: sqlite3.Connection, made: Sequence[Receipt]) -> list[Receipt]:
    parts = part_store.receipt_parts(db, (one.number for one in made))
    return [
        replace(one, parts=tuple(part for part in parts if part.hand_in_id == one.number))
        for one in made
    ]


def handing_in(caller: Teacher, task_id: int) -> list[HandingIn]:
    """List how far the students of a task are with handing in: opened, begun, how often."""
    with caller.reading() as db:
        own_task(db, caller, task_id)
        return store.handing_in(db, task_id)


def _standing_receipt(db: sqlite3.Connection, caller: Student, found: OwnTask) -> HandInRow | None:
    """Give the receipt of what waits to be marked, if it was handed in here."""
    newest = next(iter(store.hand_ins(db, caller.person_id, found.row.id)), None)
    if newest is None or newest.taken_back_at is not None or found.row.granted:
        return None
    return newest if newest.attempt_number == found.row.number else None


def receipt_of(row: HandInRow) -> Receipt:
    """Give the receipt of a time that work was handed in."""
    return Receipt(
        row.id,
        row.attempt_number,
        row.at,
        count_words(row.text),
        row.text_hash,
        row.taken_back_at,
    )


def record_of(db: sqlite3.Connection, caller: Student, task_id: int) -> int:
    """Give the caller's record at a task, made on first use. Part of a transaction."""
    return task_store.task_student(db, task_id, caller.person_id)


def check_open(found: OwnTask) -> None:
    """Refuse where nothing can be handed in, with why."""
    if found.closed is not None:
        raise Refused(found.why, "text")


def _check_length(text: str) -> None:
    if len(text) > LONGEST_WORK:
        raise Refused(f"Work has at most {LONGEST_WORK:,} characters", "text")


def _check_draft(now: DraftRow | None, based_on: int) -> None:
    version = 0 if now is None else now.version
    if version != based_on:
        raise Stale(
            "This was written on in another tab or on another device. Nothing of either is lost: "
            "look at what is there now",
            version,
        )
