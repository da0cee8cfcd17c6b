"""Proficiency scales."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from jade_ladder.core.scale import Scale, ScaleLevel
from jade_ladder.store.rows import fetch, fetch_number, insert


@dataclass(frozen=True, slots=True)
class StoredScale:
    """A scale of the library."""

    id: int
    name: str
    version: int
    scale: Scale


@dataclass(frozen=True, slots=True)
class _Head:
    id: int
    name: str
    mastery: int
    version: int


@dataclass(frozen=True, slots=True)
class _Level:
    scale_id: int
    name: str
    code: str
    value: int
    cut: int


def scales(db: sqlite3.Connection) -> dict[int, StoredScale]:
    """Give all scales by number, in the order they were made."""
    levels: dict[int, list[ScaleLevel]] = {}
    for row in fetch(
        db,
        _Level,
        "SELECT scale_id, name, code, value, cut FROM scale_level ORDER BY scale_id, position",
    ):
        levels.setdefault(row.scale_id, []).append(
            ScaleLevel(row.name, row.code, row.value, row.cut)
        )
    heads = fetch(db, _Head, "SELECT id, name, mastery, version FROM scale ORDER BY id")
    return {
        head.id: StoredScale(
            head.id, head.name, head.version, Scale(tuple(levels[head.id]), head.mastery)
        )
        for head in heads
    }


def add_scale(db: sqlite3.Connection, name: str, scale: Scale) -> int:
    """Add a scale to the library; give its number."""
    number = insert(
        db, "INSERT INTO scale (name, mastery) VALUES (?, ?)", (name, scale.mastery_level)
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
        """INSERT INTO scale_level (scale_id, position, name, code, value, cut)
           VALUES (?, ?, ?, ?, ?, ?)""",
        [
            (scale_id, position, level.name, level.code, level.value, level.cut)
            for position, level in enumerate(scale.levels)
        ],
    )


def scale_is_aligned(db: sqlite3.Connection, scale_id: int) -> bool:
    """Whether a criterion is aligned to an outcome on this scale."""
    found = fetch_number(
        db,
        """SELECT 1 FROM alignment JOIN outcome ON outcome.id = alignment.outcome_id
           WHERE outcome.scale_id = ? LIMIT 1""",
        (scale_id,),
    )
    return found is not None
