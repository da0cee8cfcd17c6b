"""Attempts at tasks, and how each is dated."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from jade_ladder.store.shared.rows import fetch, fetch_number, fetch_one, insert


class Dating(StrEnum):
    """How an attempt is dated (docs/calculations.md, “Time and order”): when it was handed in; as
    work on paper; by the tap that observed it; or not yet, before the first choice on work without
    a time.
    """

    HANDED_IN = "handed-in"
    ON_PAPER = "on-paper"
    OBSERVED = "observed"
    UNDECIDED = "undecided"


def effective_time(attempt: str = "a") -> str:
    """Give the SQL of the time that counts of an attempt: what a teacher corrected it to, or its
    own (docs/calculations.md, “Time and order”).
    """
    return f"coalesce({attempt}.corrected_done_at, {attempt}.done_at)"


@dataclass(frozen=True, slots=True)
class AttemptRow:
    """An attempt: how it is dated, and the time that counts; `after` is that of the attempt before
    it, if there is one; `opened` where another was opened after it.
    """

    id: int
    number: int
    dating: Dating
    done_at: datetime
    after: datetime | None
    opened: bool


def newest_attempt(db: sqlite3.Connection, task_student_id: int) -> AttemptRow | None:
    """Give the newest attempt of a student at a task."""
    return fetch_one(
        db,
        AttemptRow,
        f"""SELECT a.id, a.number, a.dating, {effective_time()} AS done_at,
                  (SELECT {effective_time("b")} FROM attempt b
                   WHERE b.task_student_id = a.task_student_id
                     AND b.number = a.number - 1) AS after,
                  EXISTS (SELECT 1 FROM wish WHERE attempt_id = a.id AND granted = 1) AS opened
           FROM attempt a WHERE a.task_student_id = ? ORDER BY a.number DESC LIMIT 1""",
        (task_student_id,),
    )


def attempt_ids(db: sqlite3.Connection, task_student_id: int) -> list[int]:
    """List the numbers of the records of a student's attempts at a task."""
    rows = db.execute(
        "SELECT id FROM attempt WHERE task_student_id = ? ORDER BY number", (task_student_id,)
    )
    return [number for (number,) in rows]


@dataclass(frozen=True, slots=True)
class EntryRow:
    """An entry of other evidence: when it was seen, how it begins, and whether its mark is begun
    and finished as it stands.
    """

    student_id: int
    number: int
    done_at: datetime
    beginning: str
    begun: bool
    finished: bool


def entries(db: sqlite3.Connection, task_id: int) -> list[EntryRow]:
    """List all attempts at a task as entries, student by student, by number."""
    return fetch(
        db,
        EntryRow,
        f"""SELECT ts.student_id, a.number, {effective_time()} AS done_at,
                  coalesce((SELECT substr(p.text, 1, 160) FROM work_part p
                            WHERE p.attempt_id = a.id AND p.kind = 'text'), '') AS beginning,
                  coalesce(m.version, 0) > 0 AS begun,
                  coalesce(m.finished_version = m.version, 0) AS finished
           FROM task_student ts JOIN attempt a ON a.task_student_id = ts.id
           LEFT JOIN mark m ON m.id = (SELECT id FROM teachers_mark WHERE attempt_id = a.id)
           WHERE ts.task_id = ? ORDER BY ts.student_id, a.number""",
        (task_id,),
    )


def was_handed_in(db: sqlite3.Connection, attempt_id: int) -> bool:
    """Whether its student has handed an attempt in on screen."""
    found = fetch_number(
        db,
        """SELECT 1 FROM attempt a JOIN hand_in h ON h.task_student_id = a.task_student_id
             AND h.attempt_number = a.number AND h.taken_back_at IS NULL
           WHERE a.id = ? LIMIT 1""",
        (attempt_id,),
    )
    return found is not None


def is_marked(db: sqlite3.Connection, attempt_id: int) -> bool:
    """Whether marking of an attempt was begun."""
    found = fetch_number(db, "SELECT 1 FROM teachers_mark WHERE attempt_id = ?", (attempt_id,))
    return found is not None


def delete_attempt(db: sqlite3.Connection, attempt_id: int) -> None:
    """Delete an attempt with its work."""
    db.execute("DELETE FROM attempt WHERE id = ?", (attempt_id,))


def add_attempt(
    db: sqlite3.Connection, task_student_id: int, done_at: datetime, dating: Dating
) -> int:
    """Add the next attempt; give its record's number."""
    return insert(
        db,
        """INSERT INTO attempt (task_student_id, number, done_at, dating)
           SELECT ?1, coalesce(max(number), 0) + 1, ?2, ?3 FROM attempt
           WHERE task_student_id = ?1""",
        (task_student_id, done_at, dating),
    )


def date_attempt(
    db: sqlite3.Connection, attempt_id: int, done_at: datetime, dating: Dating
) -> None:
    """Say by what time an attempt is dated, and how that came about; a correction stays over it."""
    db.execute(
        "UPDATE attempt SET done_at = ?, dating = ? WHERE id = ?", (done_at, dating, attempt_id)
    )


def delete_empty(db: sqlite3.Connection, attempt_ids: Iterable[int]) -> None:
    """Remove those attempts that have no work, that nobody has handed in or marked, and that are
    the newest.
    """
    db.execute(
        """DELETE FROM attempt WHERE id IN (SELECT value FROM json_each(?))
             AND NOT EXISTS (SELECT 1 FROM work_part p WHERE p.attempt_id = attempt.id)
             AND NOT EXISTS (SELECT 1 FROM mark m WHERE m.attempt_id = attempt.id)
             AND NOT EXISTS (SELECT 1 FROM hand_in h
                             WHERE h.task_student_id = attempt.task_student_id
                               AND h.attempt_number = attempt.number AND h.taken_back_at IS NULL)
             AND NOT EXISTS (SELECT 1 FROM attempt n
                             WHERE n.task_student_id = attempt.task_student_id
                               AND n.number > attempt.number)""",
        (json.dumps(list(attempt_ids)),),
    )


def correct_attempt(
    db: sqlite3.Connection,
    attempt_id: int,
    done_at: datetime | None,
    now: datetime,
    person_id: int,
) -> None:
    """Correct the time that an attempt is dated by, or (None) take the correction back."""
    by = (None, None) if done_at is None else (person_id, now)
    db.execute(
        """UPDATE attempt SET corrected_done_at = ?, corrected_by = ?, corrected_at = ?
           WHERE id = ?""",
        (done_at, *by, attempt_id),
    )
