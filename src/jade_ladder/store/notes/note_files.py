"""Recordings and photographs of observation notes."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.formats.files.kind import FileKind
from jade_ladder.store.files.files import FileRow
from jade_ladder.store.shared.rows import fetch, insert


@dataclass(frozen=True, slots=True)
class NoteFileRow:
    """A recording (so many seconds long) or a file of a note."""

    id: int
    note_id: int
    key: str
    kind: str
    name: str
    seconds: int
    size: int
    file_kind: FileKind


def note_files(db: sqlite3.Connection, note_ids: Iterable[int]) -> list[NoteFileRow]:
    """List the files of notes, note by note, the oldest first."""
    return fetch(
        db,
        NoteFileRow,
        """SELECT x.id, x.note_id, x.key, x.kind, x.name, x.seconds, f.size, f.kind AS file_kind
           FROM note_file x JOIN file f ON f.id = x.file_id
           WHERE x.note_id IN (SELECT value FROM json_each(?)) ORDER BY x.note_id, x.id""",
        (json.dumps(list(note_ids)),),
    )


def has_key(db: sqlite3.Connection, note_id: int, key: str) -> bool:
    """Whether a note has, or had, a file under a key."""
    row = db.execute("SELECT 1 FROM note_file WHERE note_id = ? AND key = ?", (note_id, key))
    return row.fetchone() is not None


def add_file(
    db: sqlite3.Connection,
    note_id: int,
    key: str,
    kind: str,
    name: str,
    seconds: int,
    file_id: int,
    now: datetime,
    person_id: int,
) -> int:
    """Give a note a file; gives its number."""
    return insert(
        db,
        """INSERT INTO note_file (note_id, key, kind, name, seconds, file_id, made_at, made_by)
           VALUES (?, ?, ?, ?, ?, ?, ?, ?)""",
        (note_id, key, kind, name, seconds, file_id, now, person_id),
    )


def delete_file(db: sqlite3.Connection, number: int) -> None:
    """Delete a file of a note; that there was one stays."""
    db.execute("UPDATE note_file SET file_id = NULL WHERE id = ?", (number,))


_FILE = """SELECT x.name, f.id, f.hash, f.size, f.kind, f.media_type
           FROM note_file x JOIN file f ON f.id = x.file_id JOIN note n ON n.id = x.note_id
           JOIN note_version v ON v.note_id = n.id AND v.version = n.version
           WHERE x.id = ?"""


def file_of_teacher(
    db: sqlite3.Connection, person_id: int, number: int
) -> tuple[str, FileRow] | None:
    """Give a file of a note in a class that somebody teaches now."""
    sql = f"""{_FILE} AND EXISTS (
                SELECT 1 FROM membership l WHERE l.class_id = n.class_id AND l.person_id = ?
                  AND l.role = 'teacher' AND l.until IS NULL)"""
    return _named(db.execute(sql, (number, person_id)).fetchone())


def file_of_student(
    db: sqlite3.Connection, person_id: int, number: int, now: datetime
) -> tuple[str, FileRow] | None:
    """Give a file of a note of somebody's own that they may see by now."""
    sql = f"""{_FILE} AND n.student_id = ? AND n.shown_at <= ? AND v.withdrawn = 0
                AND v.aside IS NULL"""
    return _named(db.execute(sql, (number, person_id, now)).fetchone())


def _named(row: tuple[str, int, str, int, str, str] | None) -> tuple[str, FileRow] | None:
    if row is None:
        return None
    name, number, content, size, kind, media_type = row
    return name, FileRow(number, content, size, FileKind(kind), media_type)
