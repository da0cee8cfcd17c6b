"""Recordings and files that a mark is given back with, version by version."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from jade_ladder.formats.files.kind import FileKind
from jade_ladder.store.files.files import FileRow
from jade_ladder.store.marking.adjustments import next_version
from jade_ladder.store.shared.rows import fetch, fetch_one, insert
from jade_ladder.store.shared.versions import in_version


class FeedbackKind(StrEnum):
    """What is given back with a mark."""

    RECORDING = "recording"
    FILE = "file"


@dataclass(frozen=True, slots=True)
class FeedbackFile:
    """A recording or a file: where it is in the mark (a criterion's key, a passage's, or neither:
    on the whole), its words, and how many seconds a recording lasts.
    """

    kind: FeedbackKind
    criterion_key: str | None
    passage_key: str | None
    name: str
    words: str
    seconds: int
    file_id: int


@dataclass(frozen=True, slots=True)
class FeedbackRow(FeedbackFile):
    """One that stands, by its own key, since a version of the mark."""

    id: int
    key: str
    size: int
    file_kind: FileKind
    since_version: int


_ROW = """SELECT m.kind, m.criterion_key, m.passage_key, m.name, m.words, m.seconds, m.file_id,
                 m.id, m.key, f.size, f.kind AS file_kind, m.since_version
          FROM mark_file m JOIN file f ON f.id = m.file_id"""


def feedback_at(
    db: sqlite3.Connection, mark_id: int, version: int | None = None
) -> list[FeedbackRow]:
    """List what stood in a version of a mark, or (None) what stands now, the oldest first."""
    return fetch(
        db,
        FeedbackRow,
        f"""{_ROW} WHERE m.mark_id = ?1 AND CASE WHEN ?2 IS NULL THEN m.until_version IS NULL
              ELSE {in_version("m", "?2")} END
            ORDER BY m.key, m.id""",
        (mark_id, version),
    )


def last_of_key(db: sqlite3.Connection, mark_id: int, key: str) -> tuple[FeedbackRow | None, int]:
    """Give what stands under a key now (None: nothing, or it was deleted), and since which version
    (0: it never was).
    """
    row = db.execute(
        """SELECT since_version FROM mark_file
           WHERE mark_id = ? AND key = ? AND until_version IS NULL""",
        (mark_id, key),
    ).fetchone()
    found = fetch_one(
        db,
        FeedbackRow,
        f"{_ROW} WHERE m.mark_id = ? AND m.key = ? AND m.until_version IS NULL",
        (mark_id, key),
    )
    return found, row[0] if row else 0


def append_feedback(
    db: sqlite3.Connection,
    mark_id: int,
    key: str,
    feedback: FeedbackFile,
    deleted: bool,
    now: datetime,
    person_id: int,
) -> int:
    """Append what stands under a key from now on as a new version of the mark; gives it."""
    version = next_version(db, mark_id, now)
    db.execute(
        """UPDATE mark_file SET until_version = ?
           WHERE mark_id = ? AND key = ? AND until_version IS NULL""",
        (version, mark_id, key),
    )
    insert(
        db,
        """INSERT INTO mark_file (mark_id, key, kind, criterion_key, passage_key, name, words,
                                  seconds, file_id, since_version, made_at, made_by)
           VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)""",
        (
            mark_id,
            key,
            feedback.kind,
            feedback.criterion_key,
            feedback.passage_key,
            feedback.name,
            feedback.words,
            feedback.seconds,
            None if deleted else feedback.file_id,
            version,
            now,
            person_id,
        ),
    )
    return version


@dataclass(frozen=True, slots=True)
class SentFeedback:
    """A file that is given back, under its name."""

    name: str
    file: FileRow


_FILE = """SELECT m.name, f.id, f.hash, f.size, f.kind, f.media_type
           FROM mark_file m JOIN file f ON f.id = m.file_id JOIN mark k ON k.id = m.mark_id
           JOIN attempt a ON a.id = k.attempt_id JOIN task_student ts ON ts.id = a.task_student_id
           JOIN task t ON t.id = ts.task_id
           JOIN membership l ON l.class_id = t.class_id AND l.person_id = :person
           WHERE m.id = :number"""


def _sent(row: tuple[str, int, str, int, str, str] | None) -> SentFeedback | None:
    if row is None:
        return None
    name, number, content, size, kind, media_type = row
    return SentFeedback(name, FileRow(number, content, size, FileKind(kind), media_type))


def feedback_of_teacher(db: sqlite3.Connection, person_id: int, number: int) -> SentFeedback | None:
    """Give a recording or file of a mark in a class that somebody teaches now."""
    sql = f"{_FILE} AND l.role = 'teacher' AND l.until IS NULL"
    return _sent(db.execute(sql, {"person": person_id, "number": number}).fetchone())


def feedback_of_student(
    db: sqlite3.Connection, person_id: int, number: int, now: datetime
) -> SentFeedback | None:
    """Give a recording or file of the version of somebody's own mark that they see by now."""
    sql = f"""{_FILE} AND l.role = 'student' AND ts.student_id = :person AND EXISTS (
                SELECT 1 FROM hand_back h WHERE h.id = (
                  SELECT max(id) FROM hand_back
                  WHERE mark_id = k.id AND taken_back_at IS NULL AND visible_at <= :now)
                AND {in_version("m", "h.version")})
              LIMIT 1"""
    of = {"person": person_id, "number": number, "now": now}
    return _sent(db.execute(sql, of).fetchone())
