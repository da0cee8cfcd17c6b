"""Classes and who belongs to them."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime

from jade_ladder.core.evidence import Combining
from jade_ladder.core.methods import MethodKind
from jade_ladder.core.rollup import StrandRollup
from jade_ladder.store.shared.rows import fetch, fetch_one, insert, new_guid


@dataclass(frozen=True, slots=True)
class ClassRow:
    """A class; `newest` and `last` are the settings of its method."""

    id: int
    name: str
    first_day: date
    last_day: date
    scale_id: int
    method: MethodKind
    newest: int
    last: int
    combining: Combining
    version: int
    set_aside_at: datetime | None
    sample: bool
    strand_roll_up: StrandRollup


# Columns of a ClassRow, for the other modules of this room, too.
CLASS = """SELECT c.id, c.name, c.first_day, c.last_day, c.scale_id, c.method, c.newest, c.last,
                   c.combining, c.version, c.set_aside_at, c.sample, c.strand_roll_up
            FROM school_class c"""


def classes_of_teacher(db: sqlite3.Connection, person_id: int) -> list[ClassRow]:
    """List the classes a person teaches, by name."""
    return fetch(
        db,
        ClassRow,
        f"""{CLASS} JOIN membership m ON m.class_id = c.id
            WHERE m.person_id = ? AND m.role = 'teacher' AND m.until IS NULL
            ORDER BY c.name, c.id""",
        (person_id,),
    )


def class_of_teacher(db: sqlite3.Connection, class_id: int, person_id: int) -> ClassRow | None:
    """Give a class if this person teaches it."""
    return fetch_one(
        db,
        ClassRow,
        f"""{CLASS} JOIN membership m ON m.class_id = c.id
            WHERE c.id = ? AND m.person_id = ? AND m.role = 'teacher' AND m.until IS NULL""",
        (class_id, person_id),
    )


def any_class(db: sqlite3.Connection, class_id: int) -> ClassRow | None:
    """Give a class, whosever it is."""
    return fetch_one(db, ClassRow, f"{CLASS} WHERE c.id = ?", (class_id,))


def taught_classes(db: sqlite3.Connection) -> list[tuple[int, str, int]]:
    """List all classes of the school that somebody teaches, by name: number, name, and the first of
    their teachers.
    """
    return db.execute(
        """SELECT c.id, c.name, min(m.person_id) FROM school_class c
           JOIN membership m ON m.class_id = c.id AND m.role = 'teacher' AND m.until IS NULL
           GROUP BY c.id ORDER BY c.name, c.id"""
    ).fetchall()


def set_aside(db: sqlite3.Connection, class_id: int, at: datetime | None) -> None:
    """Set a class aside, or, with None, take it up again."""
    db.execute(
        "UPDATE school_class SET set_aside_at = ?, version = version + 1 WHERE id = ?",
        (at, class_id),
    )


def add_class(
    db: sqlite3.Connection,
    responsible_id: int,
    name: str,
    first_day: date,
    last_day: date,
    scale_id: int,
    method: MethodKind,
    newest: int,
    last: int,
) -> int:
    """Add a class; give its number."""
    return insert(
        db,
        """INSERT INTO school_class
             (responsible_id, name, first_day, last_day, scale_id, method, newest, last, guid)
           VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)""",
        (responsible_id, name, first_day, last_day, scale_id, method, newest, last, new_guid()),
    )


def change_class(
    db: sqlite3.Connection, class_id: int, name: str, first_day: date, last_day: date
) -> None:
    """Change a class's name and days."""
    db.execute(
        """UPDATE school_class SET name = ?, first_day = ?, last_day = ?, version = version + 1
           WHERE id = ?""",
        (name, first_day, last_day, class_id),
    )


def change_method(
    db: sqlite3.Connection, class_id: int, method: MethodKind, newest: int, last: int
) -> None:
    """Change how a class's mastery is worked out."""
    db.execute(
        """UPDATE school_class SET method = ?, newest = ?, last = ?, version = version + 1
           WHERE id = ?""",
        (method, newest, last, class_id),
    )


def change_strand_roll_up(db: sqlite3.Connection, class_id: int, roll_up: StrandRollup) -> None:
    """Change what a strand comes to for a student."""
    db.execute(
        "UPDATE school_class SET strand_roll_up = ?, version = version + 1 WHERE id = ?",
        (roll_up, class_id),
    )


def change_combining(db: sqlite3.Connection, class_id: int, combining: Combining) -> None:
    """Change how several criteria of an attempt are combined for one outcome."""
    db.execute(
        "UPDATE school_class SET combining = ?, version = version + 1 WHERE id = ?",
        (combining, class_id),
    )


def change_scale(db: sqlite3.Connection, class_id: int, scale_id: int) -> None:
    """Change the scale that a class's new outcomes take."""
    db.execute(
        "UPDATE school_class SET scale_id = ?, version = version + 1 WHERE id = ?",
        (scale_id, class_id),
    )


def classes_teaching(db: sqlite3.Connection, outcome_ids: Iterable[int]) -> list[ClassRow]:
    """List the classes that teach one of these outcomes now or taught it, whosever they are."""
    return fetch(
        db,
        ClassRow,
        f"""{CLASS} WHERE c.id IN (
              SELECT co.class_id FROM json_each(?) o
              JOIN class_outcome co ON co.outcome_id = o.value)
            ORDER BY c.name, c.id""",
        (json.dumps(list(outcome_ids)),),
    )
