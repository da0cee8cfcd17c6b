"""Proficiency scales."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass

from jade_ladder.core.scale import Scale, ScaleLevel
from jade_ladder.store.shared.rows import fetch, insert


@dataclass(frozen=True, slots=True)
class StoredScale:
    """A scale of the library; `owner_id` None: the school's."""

    id: int
    name: str
    version: int
    owner_id: int | None
    scale: Scale


@dataclass(frozen=True, slots=True)
class _Head:
    id: int
    name: str
    mastery: int
    version: int
    owner_id: int | None


@dataclass(frozen=True, slots=True)
class _Level:
    scale_id: int
    name: str
    code: str
    value: int
    cut: int
    description: str


def scales(db: sqlite3.Connection) -> dict[int, StoredScale]:
    """Give all scales by number, in the order they were made."""
    levels: dict[int, list[ScaleLevel]] = {}
    for row in fetch(
        db,
        _Level,
        """SELECT scale_id, name, code, value, cut, description FROM scale_level
           ORDER BY scale_id, position""",
    ):
        levels.setdefault(row.scale_id, []).append(
            ScaleLevel(row.name, row.code, row.value, row.cut, row.description)
        )
    heads = fetch(db, _Head, "SELECT id, name, mastery, version, owner_id FROM scale ORDER BY id")
    return {
        head.id: StoredScale(
            head.id,
            head.name,
            head.version,
            head.owner_id,
            Scale(tuple(levels[head.id]), head.mastery),
        )
        for head in heads
    }


def scales_in_sight(db: sqlite3.Connection, person_id: int) -> set[int]:
    """Give the numbers of the scales that a teacher has to do with: the school's, their own, and
    those that outcomes of theirs or of their classes are on.
    """
    rows = db.execute(
        """SELECT id FROM scale WHERE owner_id IS NULL OR owner_id = :person
           UNION SELECT scale_id FROM outcome WHERE owner_id = :person
           UNION SELECT o.scale_id FROM membership m
             JOIN class_outcome co ON co.class_id = m.class_id
             JOIN outcome o ON o.id = co.outcome_id
             WHERE m.person_id = :person AND m.role = 'teacher' AND m.until IS NULL""",
        {"person": person_id},
    )
    return {number for (number,) in rows}


def add_scale(db: sqlite3.Connection, name: str, scale: Scale, owner_id: int | None) -> int:
    """Add a scale to the library, the school's where nobody owns it; give its number."""
    number = insert(
        db,
        "INSERT INTO scale (name, mastery, owner_id) VALUES (?, ?, ?)",
        (name, scale.mastery_level, owner_id),
    )
    _write_levels(db, number, scale)
    return number


def change_scale(db: sqlite3.Connection, scale_id: int, name: str, scale: Scale) -> None:
    """Replace a scale's name and levels, and count its version up."""
    db.execute(
        "UPDATE scale SET name = ?, mastery = ?, version = version + 1 WHERE id = ?",
        (name, scale.mastery_level, scale_id),
    )
    db.execute("DELETE FROM scale_level WHERE scale_id = ?", (scale_id,))
    _write_levels(db, scale_id, scale)


def _write_levels(db: sqlite3.Connection, scale_id: int, scale: Scale) -> None:
    db.executemany(
        """INSERT INTO scale_level (scale_id, position, name, code, value, cut, description)
           VALUES (?, ?, ?, ?, ?, ?, ?)""",
        [
            (
                scale_id,
                position,
                level.name,
                level.code,
                level.value,
                level.cut,
                level.description,
            )
            for position, level in enumerate(scale.levels)
        ],
    )


@dataclass(frozen=True, slots=True)
class ScaleUse:
    """By how many outcomes a scale is used, and in how many classes new outcomes take it."""

    scale_id: int
    outcomes: int
    classes: int


def scale_uses(db: sqlite3.Connection) -> dict[int, ScaleUse]:
    """Give the use of every scale, by number."""
    rows = fetch(
        db,
        ScaleUse,
        """SELECT s.id AS scale_id,
                  (SELECT count(*) FROM outcome o WHERE o.scale_id = s.id) AS outcomes,
                  (SELECT count(*) FROM school_class c WHERE c.scale_id = s.id) AS classes
           FROM scale s ORDER BY s.id""",
    )
    return {row.scale_id: row for row in rows}


def outcomes_on_scale(db: sqlite3.Connection, scale_id: int) -> list[int]:
    """List the outcomes on a scale, whosever they are."""
    rows = db.execute("SELECT id FROM outcome WHERE scale_id = ? ORDER BY id", (scale_id,))
    return [number for (number,) in rows]


def move_outcomes(db: sqlite3.Connection, outcome_ids: Iterable[int], scale_id: int) -> None:
    """Put outcomes on another scale, and count their versions up."""
    db.execute(
        """UPDATE outcome SET scale_id = ?, version = version + 1
           WHERE id IN (SELECT value FROM json_each(?))""",
        (scale_id, json.dumps(list(outcome_ids))),
    )


def remove_scale(db: sqlite3.Connection, scale_id: int) -> None:
    """Remove a scale that nothing uses."""
    db.execute("DELETE FROM scale WHERE id = ?", (scale_id,))
