"""The methods that classes, and outcomes in them, had until a day."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date

from jade_ladder.core.methods import MethodKind
from jade_ladder.store.shared.rows import fetch


@dataclass(frozen=True, slots=True)
class MethodBefore:
    """By which method a class (`outcome_id` None) or an outcome in it worked mastery out until a
    day, not included; `method` None: the class's.
    """

    outcome_id: int | None
    until: date
    method: MethodKind | None
    newest: int
    last: int


def methods_before(db: sqlite3.Connection, class_id: int) -> list[MethodBefore]:
    """List the earlier methods of a class and of its outcomes, by day."""
    return fetch(
        db,
        MethodBefore,
        """SELECT outcome_id, until, method, newest, last FROM method_before
           WHERE class_id = ? ORDER BY until, id""",
        (class_id,),
    )


def set_methods_before(
    db: sqlite3.Connection, class_id: int, outcome_id: int | None, rows: Iterable[MethodBefore]
) -> None:
    """Put these in the place of the earlier methods of a class, or of an outcome in it."""
    db.execute(
        "DELETE FROM method_before WHERE class_id = ? AND outcome_id IS ?", (class_id, outcome_id)
    )
    db.executemany(
        """INSERT INTO method_before (class_id, outcome_id, until, method, newest, last)
           VALUES (?, ?, ?, ?, ?, ?)""",
        [(class_id, outcome_id, row.until, row.method, row.newest, row.last) for row in rows],
    )
