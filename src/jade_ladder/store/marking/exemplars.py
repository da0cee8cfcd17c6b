"""Exemplars: pieces of work with agreed levels."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.store.shared.rows import fetch, fetch_number


@dataclass(frozen=True, slots=True)
class ExemplarRow:
    """A piece of work, and the version of its mark whose levels are agreed."""

    id: int
    title: str
    attempt_id: int
    mark_id: int
    version: int
    task: str


# By the rubric of a task, in a class that somebody teaches now.
_EXEMPLAR = """SELECT e.id, e.title, e.attempt_id, m.id AS mark_id, e.version, t.title AS task
               FROM exemplar e JOIN attempt a ON a.id = e.attempt_id
               JOIN teachers_mark m ON m.attempt_id = a.id
               JOIN task_student ts ON ts.id = a.task_student_id
               JOIN task t ON t.id = ts.task_id
               JOIN membership l ON l.class_id = t.class_id AND l.person_id = :person
                 AND l.role = 'teacher' AND l.until IS NULL"""


def exemplars_of_rubric(
    db: sqlite3.Connection, person_id: int, rubric_id: int
) -> list[ExemplarRow]:
    """List the exemplars of a rubric in classes that somebody teaches, by title."""
    return fetch(
        db,
        ExemplarRow,
        f"{_EXEMPLAR} WHERE e.rubric_id = :rubric ORDER BY e.title, e.id",
        {"person": person_id, "rubric": rubric_id},
    )


def is_of_teacher(db: sqlite3.Connection, person_id: int, exemplar_id: int) -> bool:
    """Whether an exemplar is of a class that somebody teaches now."""
    sql = f"{_EXEMPLAR} WHERE e.id = :exemplar"
    return db.execute(sql, {"person": person_id, "exemplar": exemplar_id}).fetchone() is not None


def rubric_of_revision(db: sqlite3.Connection, revision_id: int) -> int:
    """Give the rubric that a revision is of."""
    number = fetch_number(db, "SELECT rubric_id FROM revision WHERE id = ?", (revision_id,))
    assert number is not None, "a revision is of a rubric"
    return number


def pin(
    db: sqlite3.Connection,
    rubric_id: int,
    attempt_id: int,
    version: int,
    title: str,
    now: datetime,
    person_id: int,
) -> None:
    """Make a piece of work an exemplar, or agree on its levels and title anew."""
    db.execute(
        """INSERT INTO exemplar (rubric_id, attempt_id, version, title, made_at, made_by)
           VALUES (?, ?, ?, ?, ?, ?)
           ON CONFLICT (rubric_id, attempt_id) DO UPDATE SET version = excluded.version,
             title = excluded.title, made_at = excluded.made_at, made_by = excluded.made_by""",
        (rubric_id, attempt_id, version, title, now, person_id),
    )


def unpin(db: sqlite3.Connection, exemplar_id: int) -> None:
    """Let a piece of work be no exemplar any more."""
    db.execute("DELETE FROM exemplar WHERE id = ?", (exemplar_id,))
