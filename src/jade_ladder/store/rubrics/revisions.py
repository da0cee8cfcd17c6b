"""The numbered editions of a rubric."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.store.shared.rows import fetch, fetch_number, insert


@dataclass(frozen=True, slots=True)
class RevisionRow:
    """A revision; `title` is the one it is to give the rubric, while it is a draft."""

    id: int
    number: int
    final_at: datetime | None
    points_shown: bool
    title: str | None
    tasks: int


def revisions(db: sqlite3.Connection, rubric_id: int) -> list[RevisionRow]:
    """List the revisions of a rubric, the first first."""
    return fetch(
        db,
        RevisionRow,
        """SELECT v.id, v.number, v.final_at, v.points_shown, v.title,
                  (SELECT count(*) FROM task t WHERE t.revision_id = v.id) AS tasks
           FROM revision v WHERE v.rubric_id = ? ORDER BY v.number""",
        (rubric_id,),
    )


def revision_of_criterion(db: sqlite3.Connection, criterion_id: int) -> tuple[int, int, int] | None:
    """Give the rubric, the revision's record and the revision's number of a criterion."""
    row: tuple[int, int, int] | None = db.execute(
        """SELECT v.rubric_id, v.id, v.number FROM criterion c
           JOIN revision v ON v.id = c.revision_id WHERE c.id = ?""",
        (criterion_id,),
    ).fetchone()
    return row


def revision_number(db: sqlite3.Connection, revision_id: int) -> int | None:
    """Give the number of a revision among those of its rubric."""
    return fetch_number(db, "SELECT number FROM revision WHERE id = ?", (revision_id,))


def add_revision(db: sqlite3.Connection, rubric_id: int, number: int, points_shown: bool) -> int:
    """Add an empty draft; give its record's number."""
    return insert(
        db,
        "INSERT INTO revision (rubric_id, number, points_shown) VALUES (?, ?, ?)",
        (rubric_id, number, points_shown),
    )


def set_title(db: sqlite3.Connection, revision_id: int, title: str | None) -> None:
    """Say what title a revision is to give its rubric, or, with None, that it has given it."""
    db.execute("UPDATE revision SET title = ? WHERE id = ?", (title, revision_id))


def delete_revision(db: sqlite3.Connection, revision_id: int) -> None:
    """Throw a draft away."""
    db.execute("DELETE FROM revision WHERE id = ?", (revision_id,))


def set_task_revision(db: sqlite3.Connection, task_id: int, revision_id: int) -> None:
    """Put a task on another revision of its rubric, and count its version up."""
    db.execute(
        "UPDATE task SET revision_id = ?, version = version + 1 WHERE id = ?",
        (revision_id, task_id),
    )
