"""Rubrics and their revisions."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.store.shared.rows import fetch, fetch_number, fetch_one, insert, new_guid


@dataclass(frozen=True, slots=True)
class RubricRow:
    """A rubric with its newest revision, and the number of the newest that is final, which tasks
    are set with; `tasks` is how many tasks use any revision, `new_title` the one that a draft
    revision is to give it.
    """

    id: int
    title: str
    new_title: str | None
    version: int
    changed_at: datetime
    revision_id: int
    number: int
    final_at: datetime | None
    points_shown: bool
    final_revision_id: int | None
    final_number: int | None
    shared: bool
    archived_at: datetime | None
    criteria: int
    tasks: int

    @property
    def edited_title(self) -> str:
        """The title in the newest revision, draft or not."""
        return self.new_title or self.title

    @property
    def in_force(self) -> int:
        """The newest final revision, or, where there is none yet, the draft."""
        return self.final_revision_id or self.revision_id


_RUBRIC = """
  SELECT r.id, r.title, v.title AS new_title, r.version, r.changed_at, v.id AS revision_id,
         v.number, v.final_at, v.points_shown, f.id AS final_revision_id,
         f.number AS final_number, r.shared, r.archived_at,
         (SELECT count(*) FROM criterion c WHERE c.revision_id = v.id) AS criteria,
         (SELECT count(*) FROM task t JOIN revision u ON u.id = t.revision_id
          WHERE u.rubric_id = r.id) AS tasks
  FROM rubric r JOIN revision v ON v.rubric_id = r.id
    AND v.number = (SELECT max(number) FROM revision WHERE rubric_id = r.id)
  LEFT JOIN revision f ON f.rubric_id = r.id
    AND f.number = (SELECT max(number) FROM revision
                    WHERE rubric_id = r.id AND final_at IS NOT NULL)"""


# The teachers of a class share the rubrics that it is marked by.
_IS_THEIRS = """(r.owner_id = :person OR EXISTS (
  SELECT 1 FROM task t JOIN revision u ON u.id = t.revision_id
  JOIN membership m ON m.class_id = t.class_id
  WHERE u.rubric_id = r.id
    AND m.person_id = :person AND m.role = 'teacher' AND m.until IS NULL))"""


def rubrics(db: sqlite3.Connection, owner_id: int) -> list[RubricRow]:
    """List a teacher's rubrics and those that their classes are marked by, the last changed
    first.
    """
    return fetch(
        db,
        RubricRow,
        f"{_RUBRIC} WHERE {_IS_THEIRS} ORDER BY r.changed_at DESC, r.id DESC",
        {"person": owner_id},
    )


def rubric(db: sqlite3.Connection, rubric_id: int, owner_id: int) -> RubricRow | None:
    """Give one of a teacher's rubrics, or one that a task of their classes uses."""
    return fetch_one(
        db,
        RubricRow,
        f"{_RUBRIC} WHERE r.id = :rubric AND {_IS_THEIRS}",
        {"rubric": rubric_id, "person": owner_id},
    )


def add_rubric(
    db: sqlite3.Connection, owner_id: int, title: str, now: datetime, guid: str | None = None
) -> int:
    """Add a rubric with an empty draft as its first revision; give the rubric's number."""
    number = insert(
        db,
        "INSERT INTO rubric (owner_id, title, changed_at, guid) VALUES (?, ?, ?, ?)",
        (owner_id, title, now, guid or new_guid()),
    )
    db.execute("INSERT INTO revision (rubric_id, number) VALUES (?, 1)", (number,))
    return number


def touch_rubric(
    db: sqlite3.Connection, rubric_id: int, now: datetime, title: str | None = None
) -> None:
    """Count a rubric's version up, and give it another title."""
    db.execute(
        """UPDATE rubric SET title = coalesce(?, title), changed_at = ?, version = version + 1
           WHERE id = ?""",
        (title, now, rubric_id),
    )


def count_version(db: sqlite3.Connection, rubric_id: int) -> None:
    """Count a rubric's version up, where nothing of what stands in it is another."""
    db.execute("UPDATE rubric SET version = version + 1 WHERE id = ?", (rubric_id,))


def points_shown(db: sqlite3.Connection, revision_id: int) -> bool:
    """Whether students see the points of a revision."""
    return bool(fetch_number(db, "SELECT points_shown FROM revision WHERE id = ?", (revision_id,)))


def set_points_shown(db: sqlite3.Connection, revision_id: int, shown: bool) -> None:
    """Say whether students see the points of a revision."""
    db.execute("UPDATE revision SET points_shown = ? WHERE id = ?", (shown, revision_id))


def set_final(db: sqlite3.Connection, revision_id: int, final_at: datetime | None) -> None:
    """Make a revision final, or a draft again with None."""
    db.execute("UPDATE revision SET final_at = ? WHERE id = ?", (final_at, revision_id))


def delete_rubric(db: sqlite3.Connection, rubric_id: int) -> None:
    """Delete a rubric that no task uses."""
    db.execute("DELETE FROM rubric WHERE id = ?", (rubric_id,))


@dataclass(frozen=True, slots=True)
class Use:
    """A task that uses a revision of a rubric."""

    task_id: int
    title: str
    class_id: int
    class_name: str
    revision: int


def tasks_of_rubric(db: sqlite3.Connection, rubric_id: int) -> list[Use]:
    """List the tasks that use a rubric, by due time."""
    return fetch(
        db,
        Use,
        """SELECT t.id AS task_id, t.title, c.id AS class_id, c.name AS class_name,
                  v.number AS revision FROM task t
           JOIN revision v ON v.id = t.revision_id JOIN school_class c ON c.id = t.class_id
           WHERE v.rubric_id = ? ORDER BY t.due_at IS NULL, t.due_at, t.id""",
        (rubric_id,),
    )
