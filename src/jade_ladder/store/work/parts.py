"""The parts of work: a text, files and links, of an attempt or of what is not handed in yet."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from jade_ladder.formats.files.kind import FileKind
from jade_ladder.store.shared.rows import fetch, fetch_one, insert
from jade_ladder.store.work.kinds import ENTRIES


class PartKind(StrEnum):
    """What a part of work is."""

    TEXT = "text"
    FILE = "file"
    LINK = "link"


@dataclass(frozen=True, slots=True)
class WorkPart:
    """A part of work. `text` is the text, or the address of a link; a file has a name, a kind and a
    size, `words` where they were counted, and the hash of what was sent. `by_student` where its
    student put it in, `replaced_at` where it is not the work any more and something remarked in it
    is.
    """

    id: int
    kind: PartKind
    text: str
    file_name: str | None
    entered_at: datetime
    file_kind: FileKind | None
    size: int | None
    words: int | None
    sent_hash: str | None
    by_student: bool
    replaced_at: datetime | None


_PART = """SELECT p.id, p.kind, p.text, p.file_name, p.entered_at, f.kind AS file_kind, f.size,
                  d.words, p.sent_hash, p.entered_by = ts.student_id AS by_student, p.replaced_at
           FROM work_part p
           LEFT JOIN attempt a ON a.id = coalesce(p.attempt_id, p.replaced_of)
           JOIN task_student ts ON ts.id = coalesce(p.draft_of, a.task_student_id)
           LEFT JOIN file f ON f.id = p.file_id
           LEFT JOIN shown_document d ON d.file_id = f.id AND d.problem = ''"""


def work_parts(db: sqlite3.Connection, attempt_id: int) -> list[WorkPart]:
    """List the parts of what was handed in, in order."""
    return fetch(db, WorkPart, f"{_PART} WHERE p.attempt_id = ? ORDER BY p.position", (attempt_id,))


@dataclass(frozen=True, slots=True)
class PartOfTask(WorkPart):
    """A part of the newest attempt of a student at a task, or of an entry of other evidence."""

    student_id: int


def parts_of_task(db: sqlite3.Connection, task_id: int) -> list[PartOfTask]:
    """List the parts of every student's newest attempt at a task, in order; of other evidence, of
    every entry.
    """
    return fetch(
        db,
        PartOfTask,
        f"""SELECT p.id, p.kind, p.text, p.file_name, p.entered_at, f.kind AS file_kind, f.size,
                   d.words, p.sent_hash, p.entered_by = ts.student_id AS by_student,
                   p.replaced_at, ts.student_id
           FROM task t JOIN task_student ts ON ts.task_id = t.id
           JOIN attempt a ON a.task_student_id = ts.id
             AND ({ENTRIES}
                  OR a.number = (SELECT max(number) FROM attempt WHERE task_student_id = ts.id))
           JOIN work_part p ON p.attempt_id = a.id
           LEFT JOIN file f ON f.id = p.file_id
           LEFT JOIN shown_document d ON d.file_id = f.id AND d.problem = ''
           WHERE t.id = ? ORDER BY ts.student_id, a.number, p.position""",
        (task_id,),
    )


def draft_parts(db: sqlite3.Connection, student_id: int, task_id: int) -> list[WorkPart]:
    """List the files and links that a student has put in at a task and not handed in, in order."""
    return fetch(
        db,
        WorkPart,
        f"""{_PART} WHERE p.draft_of = (SELECT id FROM task_student
                                        WHERE student_id = ? AND task_id = ?)
            ORDER BY p.position""",
        (student_id, task_id),
    )


def part_of_upload(
    db: sqlite3.Connection, person_id: int, upload_id: int, entry: int = 0
) -> WorkPart | None:
    """Give the part that somebody made of an upload, or of a file in it."""
    return fetch_one(
        db,
        WorkPart,
        f"{_PART} WHERE p.entered_by = ? AND p.upload_id = ? AND p.entry = ?",
        (person_id, upload_id, entry),
    )


def set_work(
    db: sqlite3.Connection,
    attempt_id: int,
    text: str,
    file_name: str | None,
    now: datetime,
    person_id: int,
) -> None:
    """Enter the text that was handed in, the first part of the work, or replace it."""
    _keep_replaced(db, "attempt_id = ? AND position = 1 AND text <> ?", (attempt_id, text), now)
    db.execute(
        """INSERT INTO work_part
             (attempt_id, position, kind, text, file_name, entered_at, entered_by)
           VALUES (?, 1, 'text', ?, ?, ?, ?)
           ON CONFLICT (attempt_id, position) DO UPDATE SET text = excluded.text,
             file_name = excluded.file_name, entered_at = excluded.entered_at,
             entered_by = excluded.entered_by""",
        (attempt_id, text, file_name, now, person_id),
    )


def beside(db: sqlite3.Connection, part_id: int) -> list[WorkPart]:
    """List the parts that are in one place with a part."""
    return fetch(
        db,
        WorkPart,
        f"""{_PART} JOIN work_part o ON o.attempt_id IS p.attempt_id AND o.draft_of IS p.draft_of
            WHERE o.id = ?1 AND p.id <> ?1 ORDER BY p.position""",
        (part_id,),
    )


@dataclass(frozen=True, slots=True)
class NewPart:
    """A file or a link that is put in: with the upload that it came by."""

    kind: PartKind
    text: str = ""
    file_name: str | None = None
    file_id: int | None = None
    sent_hash: str | None = None
    upload_id: int | None = None
    entry: int = 0
    batch: str | None = None


def add_part(
    db: sqlite3.Connection,
    part: NewPart,
    now: datetime,
    person_id: int,
    attempt_id: int | None = None,
    draft_of: int | None = None,
) -> int:
    """Add a file or a link behind what is there, to an attempt or a draft; gives its number. The
    first place is the text's.
    """
    return insert(
        db,
        """INSERT INTO work_part (attempt_id, draft_of, position, kind, text, file_name, file_id,
                                  sent_hash, upload_id, entry, batch, entered_at, entered_by)
           SELECT ?1, ?2, 1 + max(1, coalesce(max(position), 1)), ?3, ?4, ?5, ?6, ?7, ?8, ?9, ?10,
                  ?11, ?12
           FROM work_part WHERE attempt_id IS ?1 AND draft_of IS ?2""",
        (
            attempt_id,
            draft_of,
            part.kind,
            part.text,
            part.file_name,
            part.file_id,
            part.sent_hash,
            part.upload_id,
            part.entry,
            part.batch,
            now,
            person_id,
        ),
    )


def delete_part(db: sqlite3.Connection, part_id: int, now: datetime) -> None:
    """Remove a part; one that something is remarked in stays, as replaced."""
    _keep_replaced(db, "id = ?", (part_id,), now)
    db.execute("DELETE FROM work_part WHERE id = ? AND replaced_of IS NULL", (part_id,))


def _keep_replaced(
    db: sqlite3.Connection, which: str, parameters: tuple[object, ...], now: datetime
) -> None:
    db.execute(
        f"""UPDATE work_part SET replaced_of = attempt_id, replaced_at = ?, attempt_id = NULL
            WHERE attempt_id IS NOT NULL AND {which}
              AND EXISTS (SELECT 1 FROM passage WHERE part_id = work_part.id)""",
        (now, *parameters),
    )


def replaced_parts(
    db: sqlite3.Connection, attempt_id: int, part_ids: Iterable[int]
) -> list[WorkPart]:
    """List those of some parts that were replaced in an attempt, the oldest first."""
    return fetch(
        db,
        WorkPart,
        f"""{_PART} WHERE p.replaced_of = ? AND p.id IN (SELECT value FROM json_each(?))
            ORDER BY p.replaced_at, p.position, p.id""",
        (attempt_id, json.dumps(list(part_ids))),
    )


@dataclass(frozen=True, slots=True)
class RemovedPart:
    """A part that was removed, and the attempt that it was of."""

    id: int
    attempt_id: int


def delete_batch(
    db: sqlite3.Connection, task_id: int, person_id: int, batch: str, now: datetime
) -> list[RemovedPart]:
    """Remove what somebody has put in at once at a task; gives what it was."""
    found = fetch(
        db,
        RemovedPart,
        """SELECT p.id, a.id AS attempt_id FROM work_part p JOIN attempt a ON a.id = p.attempt_id
           JOIN task_student ts ON ts.id = a.task_student_id
           WHERE ts.task_id = ? AND p.entered_by = ? AND p.batch = ? ORDER BY p.id""",
        (task_id, person_id, batch),
    )
    for one in found:
        delete_part(db, one.id, now)
    return found


def delete_draft_parts(db: sqlite3.Connection, task_student_id: int) -> None:
    """Remove the files and links of a draft."""
    db.execute("DELETE FROM work_part WHERE draft_of = ?", (task_student_id,))


def hand_in_parts(db: sqlite3.Connection, task_student_id: int, attempt_id: int) -> None:
    """Make the files and links of a draft those of an attempt, in place of what was there; its text
    goes, too.
    """
    db.execute("DELETE FROM work_part WHERE attempt_id = ?", (attempt_id,))
    db.execute(
        "UPDATE work_part SET attempt_id = ?, draft_of = NULL WHERE draft_of = ?",
        (attempt_id, task_student_id),
    )


def take_back_parts(db: sqlite3.Connection, task_student_id: int, attempt_id: int) -> None:
    """Make the files and links of an attempt those of a draft again."""
    db.execute(
        """UPDATE work_part SET attempt_id = NULL, draft_of = ?
           WHERE attempt_id = ? AND kind <> 'text'""",
        (task_student_id, attempt_id),
    )


def copy_to_draft(
    db: sqlite3.Connection, task_student_id: int, attempt_id: int, now: datetime
) -> None:
    """Copy the files and links of an attempt into a draft, to hand in anew."""
    db.execute(
        """INSERT INTO work_part (draft_of, position, kind, text, file_name, file_id, sent_hash,
                                  entered_at, entered_by)
           SELECT ?, position, kind, text, file_name, file_id, sent_hash, ?, entered_by
           FROM work_part WHERE attempt_id = ? AND kind <> 'text' ORDER BY position""",
        (task_student_id, now, attempt_id),
    )


def keep_receipt_parts(db: sqlite3.Connection, hand_in_id: int, attempt_id: int) -> None:
    """Keep with a receipt which files and links were handed in."""
    db.execute(
        """INSERT INTO hand_in_part (hand_in_id, position, kind, name, file_id, sent_hash)
           SELECT ?, position, kind, coalesce(file_name, text), file_id, coalesce(sent_hash, '')
           FROM work_part WHERE attempt_id = ? AND kind <> 'text' ORDER BY position""",
        (hand_in_id, attempt_id),
    )


def parts_of_receipt(
    db: sqlite3.Connection, hand_in_id: int, attempt_id: int, person_id: int
) -> None:
    """Put the files and links that a receipt names into an attempt, as they were handed in."""
    db.execute(
        """INSERT INTO work_part (attempt_id, position, kind, text, file_name, file_id, sent_hash,
                                  entered_at, entered_by)
           SELECT ?2, p.position, p.kind, CASE p.kind WHEN 'link' THEN p.name ELSE '' END,
                  CASE p.kind WHEN 'file' THEN p.name END, p.file_id, nullif(p.sent_hash, ''),
                  h.at, ?3
           FROM hand_in_part p JOIN hand_in h ON h.id = p.hand_in_id
           WHERE p.hand_in_id = ?1 ORDER BY p.position""",
        (hand_in_id, attempt_id, person_id),
    )


@dataclass(frozen=True, slots=True)
class ReceiptPart:
    """A file or link that a receipt names: the file's name or the address, and the hash of what was
    sent (SHA-256), none of a link.
    """

    hand_in_id: int
    name: str
    sent_hash: str


def receipt_parts(db: sqlite3.Connection, hand_in_ids: Iterable[int]) -> list[ReceiptPart]:
    """List what receipts name besides their texts, in order."""
    return fetch(
        db,
        ReceiptPart,
        """SELECT hand_in_id, name, sent_hash FROM hand_in_part
           WHERE hand_in_id IN (SELECT value FROM json_each(?)) ORDER BY hand_in_id, position""",
        (json.dumps(list(hand_in_ids)),),
    )
