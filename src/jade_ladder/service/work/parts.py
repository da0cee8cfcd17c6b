"""The parts of work: files and links that students and teachers put in, and looking at them."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from pathlib import Path
from urllib.parse import urlsplit

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.formats.plain_text import has_hidden_marks
from jade_ladder.service.files.showing import Shown, picture_of, ready_path, shown_of
from jade_ladder.service.files.uploads import (
    BroughtIn,
    bring_in,
    bring_in_entry,
    end_upload,
)
from jade_ladder.service.shared.caller import Caller, Student, Teacher
from jade_ladder.service.shared.guards import own_student, own_task
from jade_ladder.service.work.attempts import attempt_for_work
from jade_ladder.service.work.handing_in import check_open, record_of, task_of_student
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.files.contents import Contents
from jade_ladder.store.files.files import FileRow
from jade_ladder.store.work import parts as store
from jade_ladder.store.work import placed_parts as placed_store
from jade_ladder.store.work import removed_parts as removed_store
from jade_ladder.store.work.parts import NewPart, PartKind, PartOfTask, WorkPart
from jade_ladder.store.work.placed_parts import PlacedPart
from jade_ladder.store.work.tasks import TaskRow

MOST_PARTS = 20
LARGEST_WORK = 250_000_000
LONGEST_ADDRESS = 2000


def add_own_file(caller: Student, task_id: int, upload_id: int) -> WorkPart:
    """Put a file that has arrived into what the caller has not handed in yet; sent twice, it is
    one. Raises Refused where nothing can be handed in.
    """

    def place(db: sqlite3.Connection) -> int:
        return _own_draft(db, caller, task_id)

    return _add_file(
        caller,
        upload_id,
        lambda db: check_open(task_of_student(db, caller, caller.person_id, task_id)),
        place,
        lambda db, new, record: _into_draft(db, caller, new, record),
    )


def _own_draft(db: sqlite3.Connection, caller: Student, task_id: int) -> int:
    check_open(task_of_student(db, caller, caller.person_id, task_id))
    return record_of(db, caller, task_id)


def _into_draft(db: sqlite3.Connection, caller: Caller, new: NewPart, record: int) -> int:
    return store.add_part(db, new, caller.now, caller.person_id, draft_of=record)


def add_own_link(caller: Student, task_id: int, address: str) -> WorkPart:
    """Put a link into what the caller has not handed in yet; nothing is fetched from it."""
    address = address.strip()
    _check_address(address)
    with caller.transaction() as db:
        record = _own_draft(db, caller, task_id)
        there = store.draft_parts(db, caller.person_id, task_id)
        _check_room(there, 0)
        number = _into_draft(db, caller, NewPart(PartKind.LINK, address), record)
        return _part(store.draft_parts(db, caller.person_id, task_id), number)


def _check_address(address: str) -> None:
    try:
        parts = urlsplit(address)
        whole = parts.scheme in ("http", "https") and bool(parts.hostname)
        signs_in = "@" in parts.netloc
    except ValueError:
        whole = signs_in = False
    if not whole or any(one.isspace() for one in address):
        raise Refused("An address that begins with https:// or http://", "address")
    if signs_in:
        raise Refused("An address without a name or password before an @", "address")
    if has_hidden_marks(address):
        raise Refused(
            "There are invisible characters in this address, such as marks of direction: type it "
            "by hand",
            "address",
        )
    if len(address) > LONGEST_ADDRESS:
        raise Refused(f"An address of at most {LONGEST_ADDRESS:,} characters", "address")


KEPT_FOR = timedelta(days=1)
"""For so long what was removed can be put back; then it is swept."""


@dataclass(frozen=True, slots=True)
class Removed:
    """What was removed, by its number, and until when it can be put back."""

    number: int
    until: datetime


def remove_own_part(caller: Student, part_id: int) -> Removed:
    """Remove a file or a link from what the caller has not handed in yet; it can be put back."""
    with caller.transaction() as db:
        part = _own_part(db, caller, part_id)
        if not part.drafted:
            raise Refused("This is handed in: take it back first")
        check_open(task_of_student(db, caller, caller.person_id, part.task_id))
        number = removed_store.remove_from_draft(db, part.id, caller.now)
        return Removed(number, caller.now + KEPT_FOR)


def put_own_part_back(caller: Student, number: int) -> WorkPart:
    """Put back what the caller removed, by the number of its removal; NotFound once it is too late
    or where it was put back already.
    """
    with caller.transaction() as db:
        found = removed_store.removed_part(db, caller.person_id, number)
        if found is None or found.removed_at < caller.now - KEPT_FOR:
            raise NotFound("This was removed more than a day ago, or is back already")
        check_open(task_of_student(db, caller, caller.person_id, found.task_id))
        _check_room(store.draft_parts(db, caller.person_id, found.task_id), found.size)
        part = removed_store.put_back(db, number)
        return _part(store.draft_parts(db, caller.person_id, found.task_id), part)


def add_work_file(
    caller: Teacher,
    task_id: int,
    student_id: int,
    upload_id: int,
    done_at: datetime | None = None,
    entry: int = 0,
    batch: str | None = None,
    number: int | None = None,
) -> WorkPart:
    """Put a file that has arrived into a student's work, behind what is there, or a file of an
    archive (`entry`, from 1), as one of a `batch`; `done_at` is when it was handed in, by the
    school's clock where it has no zone. Of other evidence it is put into the entry of that
    `number`. Sent twice, it is one.
    """

    def check(db: sqlite3.Connection) -> tuple[TaskRow, ClassRow]:
        row, klass = own_task(db, caller, task_id)
        if not row.kind.collects:
            raise Refused("This task is observed in the room: nothing is handed in")
        own_student(db, row.class_id, student_id)
        return row, klass

    def place(db: sqlite3.Connection) -> int:
        row, klass = check(db)
        return attempt_for_work(db, caller, klass, row, student_id, done_at, number)

    def add(db: sqlite3.Connection, new: NewPart, attempt: int) -> int:
        put = replace(new, batch=batch)
        return store.add_part(db, put, caller.now, caller.person_id, attempt_id=attempt)

    return _add_file(caller, upload_id, check, place, add, entry)


def add_work_link(
    caller: Teacher,
    task_id: int,
    student_id: int,
    address: str,
    done_at: datetime | None = None,
    number: int | None = None,
) -> WorkPart:
    """Put a link into a student's work, behind what is there; nothing is fetched from it. Of other
    evidence it is put into the entry of that `number`.
    """
    address = address.strip()
    _check_address(address)
    with caller.transaction() as db:
        row, klass = own_task(db, caller, task_id)
        own_student(db, row.class_id, student_id)
        if not row.kind.collects:
            raise Refused("This task is observed in the room: nothing is handed in")
        attempt = attempt_for_work(db, caller, klass, row, student_id, done_at, number)
        _check_room(store.work_parts(db, attempt), 0)
        new = NewPart(PartKind.LINK, address)
        added = store.add_part(db, new, caller.now, caller.person_id, attempt_id=attempt)
        return _part(store.work_parts(db, attempt), added)


def parts_of_task(caller: Teacher, task_id: int) -> list[PartOfTask]:
    """List the parts of every student's newest attempt at a task; of other evidence, of every
    entry.
    """
    with caller.reading() as db:
        own_task(db, caller, task_id)
        return store.parts_of_task(db, task_id)


def remove_work_part(caller: Teacher, part_id: int) -> None:
    """Remove a part that a teacher has put in; what a student handed in stays."""
    with caller.transaction() as db:
        part = _part_of_class(db, caller, part_id)
        own_task(db, caller, part.task_id)
        if part.entered_by == part.student_id:
            raise Refused("The student has handed this in: it stays as it is")
        store.delete_part(db, part.id, caller.now)


def _add_file(
    caller: Caller,
    upload_id: int,
    check: Callable[[sqlite3.Connection], object],
    place: Callable[[sqlite3.Connection], int],
    add: Callable[[sqlite3.Connection, NewPart, int], int],
    entry: int = 0,
) -> WorkPart:
    """Put an upload where `place` says, in one transaction with the end of the upload (that of an
    archive goes on); whether it may go there is asked before anything is done with the file.
    """

    def there(db: sqlite3.Connection) -> WorkPart | None:
        return store.part_of_upload(db, caller.person_id, upload_id, entry)

    with caller.reading() as db:
        found = there(db)
        if found is not None:
            return found
        check(db)
    brought = bring_in_entry(caller, upload_id, entry) if entry else bring_in(caller, upload_id)
    with caller.transaction() as db:
        holder = place(db)
        found = there(db)
        if found is not None:
            return found
        row = brought.named(db, caller)
        number = add(db, _new_part(brought, row, upload_id, entry), holder)
        _check_room(store.beside(db, number), row.size)
        if not entry:
            end_upload(caller, upload_id)
    with caller.reading() as db:
        part = there(db)
    if part is None:
        raise NotFound("This file was removed again meanwhile")
    return part


def _new_part(brought: BroughtIn, row: FileRow, upload_id: int, entry: int) -> NewPart:
    return NewPart(
        PartKind.FILE,
        file_name=brought.name,
        file_id=row.id,
        sent_hash=brought.sent_hash,
        upload_id=upload_id,
        entry=entry,
    )


def _check_room(there: Sequence[WorkPart], size: int) -> None:
    if len(there) >= MOST_PARTS:
        raise Refused(f"Work has at most {MOST_PARTS} parts", "file")
    if sum(part.size or 0 for part in there) + size > LARGEST_WORK:
        raise Refused(f"Work has at most {LARGEST_WORK // 1_000_000} MB in all", "file")


def _part(parts: Sequence[WorkPart], number: int) -> WorkPart:
    return next(part for part in parts if part.id == number)


@dataclass(frozen=True, slots=True)
class PartFile:
    """A file to be sent: where it lies, its own name, and the media type that it is sent as."""

    path: Path
    name: str
    media_type: str


def part_file(caller: Caller, part_id: int) -> PartFile:
    """Give the file of a part that the caller may see now: of their own work, or of work in a class
    that they teach. NotFound for any other, in the same words.
    """
    part, row = _seen(caller, part_id)
    path = ready_path(caller.database, row)
    return PartFile(path, part.file_name or "file", row.media_type)


def part_shown(caller: Caller, part_id: int) -> Shown:
    """Give what is shown of the file of a part that the caller may see now."""
    return shown_of(caller, _seen(caller, part_id)[1])


def part_picture(caller: Caller, part_id: int, number: int) -> PartFile:
    """Give a picture in a document that the caller may see now."""
    picture = picture_of(caller.database, _seen(caller, part_id)[1], number)
    path = Contents.of(caller.database).path(picture.hash)
    return PartFile(path, f"picture-{number}", picture.media_type)


def _seen(caller: Caller, part_id: int) -> tuple[PlacedPart, FileRow]:
    with caller.reading() as db:
        part = (
            _part_of_class(db, caller, part_id)
            if isinstance(caller, Teacher)
            else _own_part(db, caller, part_id)
        )
        row = placed_store.file_of_part(db, part.id)
        if row is None:
            raise NotFound("This part of the work is no file")
        return part, row


def _part_of_class(db: sqlite3.Connection, caller: Caller, part_id: int) -> PlacedPart:
    return _found(placed_store.part_of_teacher(db, caller.person_id, part_id))


def _own_part(db: sqlite3.Connection, caller: Caller, part_id: int) -> PlacedPart:
    return _found(placed_store.part_of_student(db, caller.person_id, part_id, caller.now))


def _found(part: PlacedPart | None) -> PlacedPart:
    if part is None:
        raise NotFound("There is no such part of anybody’s work for you")
    return part
