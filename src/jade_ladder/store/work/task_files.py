"""Files that come with a task."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.formats.files.kind import FileKind
from jade_ladder.store.files.files import FileRow
from jade_ladder.store.shared.rows import fetch, fetch_one, insert


@dataclass(frozen=True, slots=True)
class TaskFile:
    """A file that comes with a task; of a `starting` one each student gets a copy to go on from."""

    id: int
    task_id: int
    name: str
    kind: FileKind
    size: int
    starting: bool


_FILE = """SELECT t.id, t.task_id, t.name, f.kind, f.size, t.starting
           FROM task_file t JOIN file f ON f.id = t.file_id"""


def task_files(db: sqlite3.Connection, task_id: int) -> list[TaskFile]:
    """List the files that come with a task, in the order they were added."""
    return fetch(db, TaskFile, f"{_FILE} WHERE t.task_id = ? ORDER BY t.id", (task_id,))


def task_file(db: sqlite3.Connection, number: int) -> TaskFile | None:
    """Give a file that comes with a task."""
    return fetch_one(db, TaskFile, f"{_FILE} WHERE t.id = ?", (number,))


def file_of_upload(db: sqlite3.Connection, person_id: int, upload_id: int) -> TaskFile | None:
    """Give the file that somebody made of an upload."""
    return fetch_one(
        db, TaskFile, f"{_FILE} WHERE t.added_by = ? AND t.upload_id = ?", (person_id, upload_id)
    )


def content_of(db: sqlite3.Connection, number: int) -> FileRow | None:
    """Give what stands in a file that comes with a task."""
    return fetch_one(
        db,
        FileRow,
        """SELECT f.id, f.hash, f.size, f.kind, f.media_type
           FROM task_file t JOIN file f ON f.id = t.file_id WHERE t.id = ?""",
        (number,),
    )


def add_task_file(
    db: sqlite3.Connection,
    task_id: int,
    name: str,
    file_id: int,
    sent_hash: str,
    starting: bool,
    upload_id: int,
    now: datetime,
    person_id: int,
) -> int:
    """Add a file to a task; gives its number."""
    return insert(
        db,
        """INSERT INTO task_file (task_id, name, file_id, sent_hash, starting, upload_id, added_at,
                                  added_by)
           VALUES (?, ?, ?, ?, ?, ?, ?, ?)""",
        (task_id, name, file_id, sent_hash, starting, upload_id, now, person_id),
    )


def delete_task_file(db: sqlite3.Connection, number: int) -> None:
    """Remove a file from a task; the copies that students have stay theirs."""
    db.execute("DELETE FROM task_file WHERE id = ?", (number,))


def copy_task_files(db: sqlite3.Connection, source: int, target: int) -> None:
    """Let the files of a task come with another one, too."""
    db.execute(
        """INSERT INTO task_file (task_id, name, file_id, sent_hash, starting, added_at, added_by)
           SELECT ?, name, file_id, sent_hash, starting, added_at, added_by
           FROM task_file WHERE task_id = ? ORDER BY id""",
        (target, source),
    )


def copy_starting(
    db: sqlite3.Connection, task_id: int, task_student_id: int, now: datetime, person_id: int
) -> None:
    """Give a student a copy of each starting file, put in and not handed in."""
    db.execute(
        """INSERT INTO work_part (draft_of, position, kind, text, file_name, file_id, sent_hash,
                                  entered_at, entered_by)
           SELECT ?1, 1 + row_number() OVER (ORDER BY id), 'file', '', name, file_id, sent_hash,
                  ?3, ?4
           FROM task_file WHERE task_id = ?2 AND starting = 1 ORDER BY id""",
        (task_student_id, task_id, now, person_id),
    )
