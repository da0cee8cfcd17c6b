"""The classes of a student."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import date

from jade_ladder.store.classes.classes import CLASS, ClassRow
from jade_ladder.store.shared.rows import fetch, fetch_one


@dataclass(frozen=True, slots=True)
class OwnClassRow(ClassRow):
    """A class that a person is or was a student of; `until` is the first day no longer in it."""

    until: date | None


_OWN = f"""{CLASS.replace("FROM school_class c", "")}, m.until
           FROM school_class c JOIN membership m ON m.id = (
             SELECT max(id) FROM membership
             WHERE class_id = c.id AND person_id = :person AND role = 'student')"""


def own_classes(db: sqlite3.Connection, person_id: int, on: date) -> list[OwnClassRow]:
    """List the classes that a person is or was a student of by a day: those they are in first, by
    name. One that is still to begin is none of them.
    """
    return fetch(
        db,
        OwnClassRow,
        f"""{_OWN} WHERE m.since <= :on
            ORDER BY m.until IS NOT NULL OR c.set_aside_at IS NOT NULL, c.name, c.id""",
        {"person": person_id, "on": on},
    )


def own_class(db: sqlite3.Connection, person_id: int, class_id: int) -> OwnClassRow | None:
    """Give a class that a person is or was a student of."""
    return fetch_one(
        db, OwnClassRow, f"{_OWN} WHERE c.id = :class", {"person": person_id, "class": class_id}
    )
