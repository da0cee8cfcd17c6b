"""The library of rubrics: what is archived, shared within the school, and tagged."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.store.shared.rows import fetch, fetch_one

_IN_FORCE = """v.rubric_id = r.id AND v.number = (
    SELECT max(number) FROM revision WHERE rubric_id = r.id AND final_at IS NOT NULL)"""


@dataclass(frozen=True, slots=True)
class SharedRubric:
    """A rubric that a colleague shares, in its newest final revision."""

    id: int
    title: str
    owner: str
    in_force: int
    criteria: int
    changed_at: datetime


_SHARED = f"""
  SELECT r.id, r.title, trim(p.given_name || ' ' || p.family_name) AS owner, v.id AS in_force,
         (SELECT count(*) FROM criterion c WHERE c.revision_id = v.id) AS criteria, r.changed_at
  FROM rubric r JOIN person p ON p.id = r.owner_id JOIN revision v ON {_IN_FORCE}
  WHERE r.shared = 1 AND r.archived_at IS NULL AND r.owner_id <> ?"""


def shared_rubrics(db: sqlite3.Connection, person_id: int) -> list[SharedRubric]:
    """List the final rubrics that colleagues share, by title."""
    return fetch(db, SharedRubric, f"{_SHARED} ORDER BY r.title COLLATE NOCASE, r.id", (person_id,))


def shared_rubric(db: sqlite3.Connection, rubric_id: int, person_id: int) -> SharedRubric | None:
    """Give one of them."""
    return fetch_one(db, SharedRubric, f"{_SHARED} AND r.id = ?", (person_id, rubric_id))


def tags(db: sqlite3.Connection, owner_id: int) -> dict[int, list[str]]:
    """Give the tags of a teacher's rubrics, by rubric, in order."""
    found: dict[int, list[str]] = {}
    for rubric_id, tag in db.execute(
        """SELECT t.rubric_id, t.tag FROM rubric_tag t JOIN rubric r ON r.id = t.rubric_id
           WHERE r.owner_id = ? ORDER BY t.rubric_id, t.tag COLLATE NOCASE""",
        (owner_id,),
    ):
        found.setdefault(rubric_id, []).append(tag)
    return found


def set_tags(db: sqlite3.Connection, rubric_id: int, wanted: Iterable[str]) -> None:
    """Give a rubric these tags and no others."""
    db.execute("DELETE FROM rubric_tag WHERE rubric_id = ?", (rubric_id,))
    db.executemany(
        "INSERT INTO rubric_tag (rubric_id, tag) VALUES (?, ?)",
        [(rubric_id, tag) for tag in wanted],
    )


def set_archived(db: sqlite3.Connection, rubric_id: int, at: datetime | None) -> None:
    """Archive a rubric, or restore it with None."""
    db.execute("UPDATE rubric SET archived_at = ? WHERE id = ?", (at, rubric_id))


def set_shared(db: sqlite3.Connection, rubric_id: int, shared: bool) -> None:
    """Share a rubric within the school, or share it no longer."""
    db.execute("UPDATE rubric SET shared = ? WHERE id = ?", (shared, rubric_id))
