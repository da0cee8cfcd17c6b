"""Files that wait to be made ready to be shown."""

from __future__ import annotations

import sqlite3
from datetime import datetime

from jade_ladder.formats.files.kind import DOWNLOAD
from jade_ladder.store.files.files import FileRow, file_of_hash
from jade_ladder.store.shared.rows import fetch, fetch_number

# Where a file is named, but for what is shown of it and this: a test holds it against the tables.
REFERENCES = (
    ("document_picture", "picture_id"),
    ("work_part", "file_id"),
    ("removed_part", "file_id"),
    ("hand_in_part", "file_id"),
    ("task_file", "file_id"),
    ("mark_file", "file_id"),
    ("note_file", "file_id"),
)


def ask(db: sqlite3.Connection, file_id: int, person_id: int, now: datetime) -> None:
    """Let a file be made ready, in its turn among those of a person."""
    db.execute(
        """INSERT INTO preparation (file_id, person_id, asked_at) VALUES (?, ?, ?)
           ON CONFLICT (file_id) DO NOTHING""",
        (file_id, person_id, now),
    )


def is_waiting(db: sqlite3.Connection, file_id: int) -> bool:
    """Whether a file is not ready yet."""
    found = fetch_number(db, "SELECT 1 FROM preparation WHERE file_id = ?", (file_id,))
    return found is not None


def next_of_each(db: sqlite3.Connection) -> dict[int, FileRow]:
    """Give the file that has waited longest of each person who has any, by person."""
    rows = db.execute(
        """SELECT person_id, file_id, min(asked_at || printf('%012d', file_id)) FROM preparation
           GROUP BY person_id ORDER BY person_id"""
    ).fetchall()
    return {person_id: _file(db, file_id) for person_id, file_id, _ in rows}


def _file(db: sqlite3.Connection, file_id: int) -> FileRow:
    (found,) = fetch(
        db, FileRow, "SELECT id, hash, size, kind, media_type FROM file WHERE id = ?", (file_id,)
    )
    return found


def done(db: sqlite3.Connection, file_id: int) -> None:
    """Say that a file is ready."""
    db.execute("DELETE FROM preparation WHERE file_id = ?", (file_id,))


def put_in_place(db: sqlite3.Connection, file_id: int, hash: str, size: int) -> None:
    """Put what was made of a file in its place, wherever it is named."""
    there = file_of_hash(db, hash)
    if there is None or there.id == file_id:
        db.execute("UPDATE file SET hash = ?, size = ? WHERE id = ?", (hash, size, file_id))
        return
    for table, column in REFERENCES:
        db.execute(f"UPDATE {table} SET {column} = ? WHERE {column} = ?", (there.id, file_id))
    db.execute("DELETE FROM file WHERE id = ?", (file_id,))


def only_to_download(db: sqlite3.Connection, file_id: int) -> None:
    """Say that a file is shown nowhere, and there to be downloaded."""
    db.execute(
        "UPDATE file SET kind = ?, media_type = ? WHERE id = ?",
        (DOWNLOAD.kind, DOWNLOAD.media_type, file_id),
    )
