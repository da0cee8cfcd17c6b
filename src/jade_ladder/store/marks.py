"""Marks: choices and remarks, appended version by version."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.store.rows import fetch, fetch_one, insert


@dataclass(frozen=True, slots=True)
class MarkRow:
    """A mark's newest version, and the version that counts."""

    id: int
    attempt_id: int
    version: int
    changed_at: datetime
    finished_version: int | None
    first_finished_at: datetime | None


@dataclass(frozen=True, slots=True)
class ChoiceRow:
    """What stands on one criterion; neither a level nor not assessed: taken back."""

    criterion_id: int
    level_id: int | None
    half_way: bool
    not_assessed: bool
    since_version: int
    made_at: datetime


@dataclass(frozen=True, slots=True)
class RemarkRow:
    """A remark on a criterion, or on the whole (criterion_id None)."""

    criterion_id: int | None
    text: str
    since_version: int
    made_at: datetime


_MARK = """SELECT id, attempt_id, version, changed_at, finished_version, first_finished_at
           FROM mark WHERE attempt_id = ?"""


def mark(db: sqlite3.Connection, attempt_id: int) -> MarkRow | None:
    """Give the mark of an attempt."""
    return fetch_one(db, MarkRow, _MARK, (attempt_id,))


def begin_mark(db: sqlite3.Connection, attempt_id: int, now: datetime) -> MarkRow:
    """Give the mark of an attempt, made when there is none."""
    db.execute(
        "INSERT INTO mark (attempt_id, changed_at) VALUES (?, ?) ON CONFLICT DO NOTHING",
        (attempt_id, now),
    )
    return fetch(db, MarkRow, _MARK, (attempt_id,))[0]


def choices(db: sqlite3.Connection, mark_id: int, version: int) -> dict[int, ChoiceRow]:
    """Give the choices by criterion as they stood in a version of a mark."""
    rows = fetch(
        db,
        ChoiceRow,
        """SELECT criterion_id, level_id, half_way, not_assessed, since_version, made_at
           FROM mark_choice
           WHERE mark_id = ?1 AND since_version <= ?2
             AND (until_version IS NULL OR until_version > ?2)
           ORDER BY id""",
        (mark_id, version),
    )
    return {row.criterion_id: row for row in rows}


def remarks(db: sqlite3.Connection, mark_id: int, version: int) -> dict[int | None, RemarkRow]:
    """Give the remarks by criterion (None: on the whole) as they stood in a version of a mark."""
    rows = fetch(
        db,
        RemarkRow,
        """SELECT criterion_id, text, since_version, made_at FROM mark_remark
           WHERE mark_id = ?1 AND since_version <= ?2
             AND (until_version IS NULL OR until_version > ?2)
           ORDER BY id""",
        (mark_id, version),
    )
    return {row.criterion_id: row for row in rows}


def _next_version(db: sqlite3.Connection, mark_id: int, now: datetime) -> int:
    row: tuple[int] = db.execute(
        "UPDATE mark SET version = version + 1, changed_at = ? WHERE id = ? RETURNING version",
        (now, mark_id),
    ).fetchone()
    return row[0]


def append_choice(
    db: sqlite3.Connection,
    mark_id: int,
    criterion_id: int,
    level_id: int | None,
    half_way: bool,
    not_assessed: bool,
    now: datetime,
    person_id: int,
) -> None:
    """Append a choice on one criterion as a new version of the mark."""
    version = _next_version(db, mark_id, now)
    db.execute(
        """UPDATE mark_choice SET until_version = ?
           WHERE mark_id = ? AND criterion_id = ? AND until_version IS NULL""",
        (version, mark_id, criterion_id),
    )
    insert(
        db,
        """INSERT INTO mark_choice (mark_id, criterion_id, level_id, half_way, not_assessed,
                                    since_version, made_at, made_by)
           VALUES (?, ?, ?, ?, ?, ?, ?, ?)""",
        (mark_id, criterion_id, level_id, half_way, not_assessed, version, now, person_id),
    )


def append_remark(
    db: sqlite3.Connection,
    mark_id: int,
    criterion_id: int | None,
    text: str,
    now: datetime,
    person_id: int,
) -> None:
    """Append a remark (an empty one takes it back) as a new version of the mark."""
    version = _next_version(db, mark_id, now)
    db.execute(
        """UPDATE mark_remark SET until_version = ?
           WHERE mark_id = ? AND criterion_id IS ? AND until_version IS NULL""",
        (version, mark_id, criterion_id),
    )
    insert(
        db,
        """INSERT INTO mark_remark (mark_id, criterion_id, text, since_version, made_at, made_by)
           VALUES (?, ?, ?, ?, ?, ?)""",
        (mark_id, criterion_id, text, version, now, person_id),
    )


def finish(db: sqlite3.Connection, mark_id: int, now: datetime) -> None:
    """Let the newest version be the one that counts."""
    db.execute(
        """UPDATE mark SET finished_version = version,
                           first_finished_at = coalesce(first_finished_at, ?)
           WHERE id = ?""",
        (now, mark_id),
    )
