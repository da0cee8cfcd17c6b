"""Another attempt: what is carried over into it."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass

from jade_ladder.store.shared.rows import fetch


@dataclass(frozen=True, slots=True)
class CarriedRow:
    """A level that is carried over, by the keys that are the same in every revision, with the
    number of the attempt that it was chosen in.
    """

    criterion_key: str
    level_key: str
    half_way: bool
    from_number: int


def set_carried(db: sqlite3.Connection, attempt_id: int, rows: Iterable[CarriedRow]) -> None:
    """Say what is carried over into the attempt after one, in place of what was said before."""
    db.execute("DELETE FROM carried_choice WHERE attempt_id = ?", (attempt_id,))
    db.executemany(
        """INSERT INTO carried_choice (attempt_id, criterion_key, level_key, half_way, from_number)
           VALUES (?, ?, ?, ?, ?)""",
        [(attempt_id, *_values(row)) for row in rows],
    )


def _values(row: CarriedRow) -> tuple[str, str, bool, int]:
    return row.criterion_key, row.level_key, row.half_way, row.from_number


def carried_into(db: sqlite3.Connection, task_student_id: int, number: int) -> list[CarriedRow]:
    """List what is carried over into a student's attempt of that number, by criterion."""
    return fetch(
        db,
        CarriedRow,
        """SELECT c.criterion_key, c.level_key, c.half_way, c.from_number
           FROM attempt a JOIN carried_choice c ON c.attempt_id = a.id
           WHERE a.task_student_id = ? AND a.number = ? ORDER BY c.criterion_key""",
        (task_student_id, number - 1),
    )


def carried_after(db: sqlite3.Connection, attempt_id: int) -> list[str]:
    """List the keys of the criteria that are carried over into the attempt after one."""
    rows = db.execute(
        "SELECT criterion_key FROM carried_choice WHERE attempt_id = ? ORDER BY criterion_key",
        (attempt_id,),
    )
    return [key for (key,) in rows]


def withdraw(db: sqlite3.Connection, attempt_id: int) -> None:
    """Close the attempt that was opened after one; a student's wish for it stays as it was before,
    unanswered or declined.
    """
    db.execute("DELETE FROM carried_choice WHERE attempt_id = ?", (attempt_id,))
    db.execute(
        "DELETE FROM wish WHERE attempt_id = ? AND asked = 0 AND declined_at IS NULL", (attempt_id,)
    )
    db.execute(
        """UPDATE wish SET granted = CASE WHEN declined_at IS NOT NULL THEN 0 END,
                           answer = declined_answer, answered_at = declined_at,
                           answered_by = declined_by, due_at = NULL,
                           declined_answer = NULL, declined_at = NULL, declined_by = NULL
           WHERE attempt_id = ?""",
        (attempt_id,),
    )


def aside_at(db: sqlite3.Connection, student_id: int, task_id: int) -> set[tuple[int, int]]:
    """Give the attempts of a student at a task, by number, with the outcomes of which their
    evidence is set aside: it carries nothing.
    """
    rows = db.execute(
        """SELECT a.number, x.outcome_id
           FROM task_student ts JOIN attempt a ON a.task_student_id = ts.id
           JOIN evidence_set_aside x ON x.attempt_id = a.id AND x.counts_again_at IS NULL
           WHERE ts.student_id = ? AND ts.task_id = ? ORDER BY 1, 2""",
        (student_id, task_id),
    )
    return set(rows.fetchall())
