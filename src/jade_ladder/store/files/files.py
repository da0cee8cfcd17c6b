"""What the database knows of files: their kind, what is shown of them, and those on their way."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.formats.files.kind import FileKind
from jade_ladder.store.shared.rows import fetch, fetch_one, insert


@dataclass(frozen=True, slots=True)
class FileRow:
    """A file that is whole and on the disk; `size` in bytes."""

    id: int
    hash: str
    size: int
    kind: FileKind
    media_type: str


_FILE = "SELECT id, hash, size, kind, media_type FROM file"


def file_of_hash(db: sqlite3.Connection, hash: str) -> FileRow | None:
    """Give the file with this content, if there is one."""
    return fetch_one(db, FileRow, f"{_FILE} WHERE hash = ?", (hash,))


def add_file(
    db: sqlite3.Connection,
    hash: str,
    size: int,
    kind: FileKind,
    media_type: str,
    now: datetime,
) -> FileRow:
    """Name a file whose content is kept, or give the one with the same content."""
    found = file_of_hash(db, hash)
    if found is not None:
        db.execute("UPDATE file SET kept_at = ? WHERE id = ?", (now, found.id))
        return found
    number = insert(
        db,
        "INSERT INTO file (hash, size, kind, media_type, kept_at) VALUES (?, ?, ?, ?, ?)",
        (hash, size, kind, media_type, now),
    )
    return FileRow(number, hash, size, kind, media_type)


@dataclass(frozen=True, slots=True)
class ShownRow:
    """What is shown of a document: safe HTML, how many words, what is not shown; or a problem."""

    converter: int
    html: str
    words: int
    left_out: tuple[str, ...]
    problem: str


def shown_document(db: sqlite3.Connection, file_id: int) -> ShownRow | None:
    """Give what is shown of a document, if it was worked out."""
    row = db.execute(
        """SELECT converter, html, words, left_out, problem FROM shown_document
           WHERE file_id = ?""",
        (file_id,),
    ).fetchone()
    if row is None:
        return None
    converter, html, words, left_out, problem = row
    return ShownRow(converter, html, words, tuple(json.loads(left_out)), problem)


def keep_shown(
    db: sqlite3.Connection, file_id: int, shown: ShownRow, picture_ids: Sequence[int]
) -> None:
    """Keep what is shown of a document, over what an earlier converter made of it."""
    db.execute("DELETE FROM shown_document WHERE file_id = ?", (file_id,))
    db.execute(
        """INSERT INTO shown_document (file_id, converter, html, words, left_out, problem)
           VALUES (?, ?, ?, ?, ?, ?)""",
        (
            file_id,
            shown.converter,
            shown.html,
            shown.words,
            json.dumps(shown.left_out),
            shown.problem,
        ),
    )
    db.executemany(
        "INSERT INTO document_picture (file_id, number, picture_id) VALUES (?, ?, ?)",
        [(file_id, place, number) for place, number in enumerate(picture_ids, start=1)],
    )


def document_picture(db: sqlite3.Connection, file_id: int, number: int) -> FileRow | None:
    """Give a picture of a document, by its number there."""
    return fetch_one(
        db,
        FileRow,
        """SELECT f.id, f.hash, f.size, f.kind, f.media_type
           FROM document_picture d JOIN file f ON f.id = d.picture_id
           WHERE d.file_id = ? AND d.number = ?""",
        (file_id, number),
    )


@dataclass(frozen=True, slots=True)
class UploadRow:
    """A file on its way in, of so many bytes."""

    id: int
    name: str
    size: int


_UPLOAD = "SELECT id, name, size FROM upload WHERE person_id = ?"


def upload(db: sqlite3.Connection, person_id: int, upload_id: int) -> UploadRow | None:
    """Give an upload of somebody's."""
    return fetch_one(db, UploadRow, f"{_UPLOAD} AND id = ?", (person_id, upload_id))


def upload_of_key(db: sqlite3.Connection, person_id: int, key: str) -> UploadRow | None:
    """Give the upload that somebody has begun under a key of theirs."""
    return fetch_one(db, UploadRow, f"{_UPLOAD} AND key = ?", (person_id, key))


def add_upload(
    db: sqlite3.Connection, person_id: int, key: str, name: str, size: int, now: datetime
) -> UploadRow:
    """Begin an upload."""
    number = insert(
        db,
        "INSERT INTO upload (person_id, key, name, size, begun_at) VALUES (?, ?, ?, ?, ?)",
        (person_id, key, name, size, now),
    )
    return UploadRow(number, name, size)


def open_uploads(db: sqlite3.Connection, person_id: int) -> tuple[int, int]:
    """Give how many uploads somebody has begun and not put anywhere, and their bytes in all."""
    row: tuple[int, int] = db.execute(
        "SELECT count(*), coalesce(sum(size), 0) FROM upload WHERE person_id = ?", (person_id,)
    ).fetchone()
    return row


def delete_upload(db: sqlite3.Connection, upload_id: int) -> None:
    """End an upload: it was put where it belongs, or given up."""
    db.execute("DELETE FROM upload WHERE id = ?", (upload_id,))


def forget_unnamed(db: sqlite3.Connection, before: datetime) -> None:
    """Forget uploads that were begun before a time, what students removed before it, and files that
    nothing names since then.
    """
    db.execute("DELETE FROM upload WHERE begun_at < ?", (before,))
    db.execute("DELETE FROM removed_part WHERE removed_at < ?", (before,))
    unnamed = """DELETE FROM file WHERE kept_at < ?
        AND NOT EXISTS (SELECT 1 FROM work_part p WHERE p.file_id = file.id)
        AND NOT EXISTS (SELECT 1 FROM removed_part p WHERE p.file_id = file.id)
        AND NOT EXISTS (SELECT 1 FROM task_file p WHERE p.file_id = file.id)
        AND NOT EXISTS (SELECT 1 FROM hand_in_part p WHERE p.file_id = file.id)
        AND NOT EXISTS (SELECT 1 FROM mark_file p WHERE p.file_id = file.id)
        AND NOT EXISTS (SELECT 1 FROM note_file p WHERE p.file_id = file.id)
        AND NOT EXISTS (SELECT 1 FROM document_picture p WHERE p.picture_id = file.id)"""
    # Documents first, whose pictures nothing names after that.
    db.execute(unnamed, (before,))
    db.execute(unnamed, (before,))


def named_hashes(db: sqlite3.Connection) -> list[str]:
    """List the hashes of all files."""
    return [hash for (hash,) in db.execute("SELECT hash FROM file ORDER BY hash")]


def all_files(db: sqlite3.Connection) -> list[FileRow]:
    """List all files."""
    return fetch(db, FileRow, f"{_FILE} ORDER BY id")


def upload_ids(db: sqlite3.Connection) -> list[int]:
    """List the uploads that are on their way."""
    return [number for (number,) in db.execute("SELECT id FROM upload ORDER BY id")]
