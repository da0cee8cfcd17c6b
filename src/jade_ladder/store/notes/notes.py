"""Observation notes, version by version, and what they are as evidence."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from functools import lru_cache
from typing import NamedTuple

from jade_ladder.core.evidence import note_value
from jade_ladder.store.shared.rows import fetch, fetch_one, insert


@dataclass(frozen=True, slots=True)
class NoteVersion:
    """What a version of a note says: a level (0 the lowest) of so many, half-way above it or not,
    words, when it was seen; whether it is withdrawn, or why it does not count.
    """

    level: int
    levels: int
    half_way: bool
    words: str
    seen_at: datetime
    withdrawn: bool = False
    aside: str | None = None
    aside_at: datetime | None = None
    aside_by: int | None = None


@dataclass(frozen=True, slots=True)
class NoteRow(NoteVersion):
    """A note as it stands, with whose it is, who wrote it and who set it aside by name."""

    id: int = 0
    version: int = 0
    class_id: int = 0
    student_id: int = 0
    outcome_id: int = 0
    scale_id: int = 0
    written_at: datetime | None = None
    written_by: int = 0
    writer: str = ""
    shown_at: datetime | None = None
    set_aside_by: str | None = None


_ROW = """SELECT v.level, v.levels, v.half_way, v.words, v.seen_at, v.withdrawn, v.aside,
                 v.aside_at, v.aside_by, n.id, n.version, n.class_id, n.student_id, n.outcome_id,
                 o.scale_id, n.written_at, n.written_by,
                 trim(w.given_name || ' ' || w.family_name) AS writer, n.shown_at,
                 (SELECT trim(given_name || ' ' || family_name) FROM person
                  WHERE id = v.aside_by) AS set_aside_by
          FROM note n JOIN note_version v ON v.note_id = n.id AND v.version = n.version
          JOIN outcome o ON o.id = n.outcome_id JOIN person w ON w.id = n.written_by"""


def note(db: sqlite3.Connection, number: int) -> NoteRow | None:
    """Give a note as it stands."""
    return fetch_one(db, NoteRow, f"{_ROW} WHERE n.id = ?", (number,))


def notes_of(db: sqlite3.Connection, student_id: int, outcome_id: int) -> list[NoteRow]:
    """List the notes of a student on an outcome that are not withdrawn, in any class."""
    return fetch(
        db,
        NoteRow,
        f"""{_ROW} WHERE n.student_id = ? AND n.outcome_id = ? AND v.withdrawn = 0
            ORDER BY v.seen_at, n.id""",
        (student_id, outcome_id),
    )


def notes_of_students(
    db: sqlite3.Connection, student_ids: Iterable[int], outcome_ids: Iterable[int]
) -> list[NoteRow]:
    """List the notes of students on outcomes that are not withdrawn, in any class, by student and
    by when it was seen.
    """
    return fetch(
        db,
        NoteRow,
        f"""{_ROW} WHERE n.student_id IN (SELECT value FROM json_each(?))
              AND n.outcome_id IN (SELECT value FROM json_each(?)) AND v.withdrawn = 0
            ORDER BY n.student_id, v.seen_at, n.id""",
        (json.dumps(list(student_ids)), json.dumps(list(outcome_ids))),
    )


def shown_notes(db: sqlite3.Connection, student_id: int, now: datetime) -> list[NoteRow]:
    """List the notes that a student may see by now and that count, the newest first."""
    return fetch(
        db,
        NoteRow,
        f"""{_ROW} WHERE n.student_id = ? AND n.shown_at <= ? AND v.withdrawn = 0
              AND v.aside IS NULL
            ORDER BY v.seen_at DESC, n.id DESC""",
        (student_id, now),
    )


@dataclass(frozen=True, slots=True)
class PastVersion(NoteVersion):
    """A version of a note, with who made it and when."""

    version: int = 0
    made_at: datetime | None = None
    maker: str = ""


def versions(db: sqlite3.Connection, number: int) -> list[PastVersion]:
    """List all versions of a note, the newest first."""
    return fetch(
        db,
        PastVersion,
        """SELECT v.level, v.levels, v.half_way, v.words, v.seen_at, v.withdrawn, v.aside,
                  v.aside_at, v.aside_by, v.version, v.made_at,
                  trim(p.given_name || ' ' || p.family_name) AS maker
           FROM note_version v JOIN person p ON p.id = v.made_by
           WHERE v.note_id = ? ORDER BY v.version DESC""",
        (number,),
    )


class NoteEvidence(NamedTuple):
    """What a note says as evidence: times as they are stored, in text order; `values` are those of
    the scale that the outcome has now, as a JSON array. Whether it is set aside is 0 or 1.
    """

    student_id: int
    outcome_id: int
    seen_at: str
    written_at: str
    id: int
    level: int
    levels: int
    half_way: int
    scale_id: int
    values: str
    set_aside: int = 0

    @property
    def value(self) -> int:
        """The evidence that it is now."""
        return note_value(self.level, self.levels, bool(self.half_way), _values(self.values))


@lru_cache(maxsize=256)
def _values(text: str) -> tuple[int, ...]:
    return tuple(json.loads(text))


def note_evidence(
    db: sqlite3.Connection, student_ids: Iterable[int], outcome_ids: Iterable[int]
) -> list[NoteEvidence]:
    """List what the notes of students on outcomes say that are not withdrawn, counted or not."""
    rows = db.execute(
        """SELECT n.student_id, n.outcome_id, v.seen_at, n.written_at, n.id, v.level, v.levels,
                  v.half_way, o.scale_id,
                  (SELECT json_group_array(value) FROM (
                     SELECT value FROM scale_level WHERE scale_id = o.scale_id ORDER BY position)),
                  v.aside IS NOT NULL
           FROM note n JOIN note_version v ON v.note_id = n.id AND v.version = n.version
           JOIN outcome o ON o.id = n.outcome_id
           WHERE n.student_id IN (SELECT value FROM json_each(?))
             AND n.outcome_id IN (SELECT value FROM json_each(?)) AND v.withdrawn = 0
           ORDER BY n.id""",
        [json.dumps(list(student_ids)), json.dumps(list(outcome_ids))],
    )
    return [NoteEvidence(*row) for row in rows]


def add_note(
    db: sqlite3.Connection,
    key: str,
    class_id: int,
    student_id: int,
    outcome_id: int,
    said: NoteVersion,
    now: datetime,
    person_id: int,
) -> int:
    """Write a note; gives its number."""
    number = insert(
        db,
        """INSERT INTO note (key, class_id, student_id, outcome_id, version, written_at, written_by)
           VALUES (?, ?, ?, ?, 1, ?, ?)""",
        (key, class_id, student_id, outcome_id, now, person_id),
    )
    _append(db, number, 1, said, now, person_id)
    return number


def note_of_key(
    db: sqlite3.Connection, person_id: int, key: str, student_id: int
) -> NoteRow | None:
    """Give the note that somebody wrote of a student under a key."""
    return fetch_one(
        db,
        NoteRow,
        f"{_ROW} WHERE n.written_by = ? AND n.key = ? AND n.student_id = ?",
        (person_id, key, student_id),
    )


def append_version(
    db: sqlite3.Connection, row: NoteRow, said: NoteVersion, now: datetime, person_id: int
) -> int:
    """Let a note say something else from now on; gives the version."""
    version = row.version + 1
    _append(db, row.id, version, said, now, person_id)
    db.execute("UPDATE note SET version = ? WHERE id = ?", (version, row.id))
    return version


def _append(
    db: sqlite3.Connection,
    number: int,
    version: int,
    said: NoteVersion,
    now: datetime,
    person_id: int,
) -> None:
    db.execute(
        """INSERT INTO note_version (note_id, version, level, levels, half_way, words, seen_at,
                                     withdrawn, aside, aside_at, aside_by, made_at, made_by)
           VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)""",
        (
            *(number, version, said.level, said.levels, said.half_way, said.words, said.seen_at),
            *(said.withdrawn, said.aside, said.aside_at, said.aside_by, now, person_id),
        ),
    )


def set_shown(db: sqlite3.Connection, number: int, shown_at: datetime | None) -> None:
    """Show a note to its student from now on, or (None) not any more."""
    db.execute("UPDATE note SET shown_at = ? WHERE id = ?", (shown_at, number))
