"""Which codes stand beside each other in classes."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass

from jade_ladder.store.shared.rows import fetch


@dataclass(frozen=True, slots=True)
class TaughtCode:
    """The code of an outcome in a class that teaches it, or did; `own` is a class of the person
    who asks.
    """

    class_id: int
    class_name: str
    own: bool
    outcome_id: int
    code: str
    title: str


def codes_beside(
    db: sqlite3.Connection, person_id: int, class_id: int, outcome_ids: Iterable[int]
) -> list[TaughtCode]:
    """List the codes of a class, and of each class that has any of some outcomes."""
    return fetch(
        db,
        TaughtCode,
        """SELECT k.id AS class_id, k.name AS class_name,
                  EXISTS (SELECT 1 FROM membership m WHERE m.class_id = k.id AND m.person_id = ?1
                            AND m.role = 'teacher' AND m.until IS NULL) AS own,
                  o.id AS outcome_id, o.code, o.title
           FROM class_outcome co JOIN outcome o ON o.id = co.outcome_id
           JOIN school_class k ON k.id = co.class_id
           WHERE k.id = ?2 OR k.id IN (SELECT class_id FROM class_outcome WHERE outcome_id IN (
             SELECT value FROM json_each(?3)))
           ORDER BY k.id <> ?2, k.id, co.position""",
        (person_id, class_id, json.dumps(sorted(outcome_ids))),
    )
