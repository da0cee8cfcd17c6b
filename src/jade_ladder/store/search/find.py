"""What can be found in classes."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from typing import TypeAlias

Line: TypeAlias = tuple[int, int, str, str]
"""The class, the number, how it is called, and what else it is known by."""


def students(db: sqlite3.Connection, class_ids: Iterable[int]) -> list[Line]:
    """List the students of classes who have not left, by family name."""
    return db.execute(
        """SELECT DISTINCT m.class_id, p.id, trim(p.given_name || ' ' || p.family_name),
                  coalesce(p.identifier, '')
           FROM membership m JOIN person p ON p.id = m.person_id
           WHERE m.class_id IN (SELECT value FROM json_each(?)) AND m.role = 'student'
             AND m.until IS NULL
           ORDER BY m.class_id, p.family_name COLLATE names, p.given_name COLLATE names, p.id""",
        (json.dumps(list(class_ids)),),
    ).fetchall()


def outcomes(db: sqlite3.Connection, class_ids: Iterable[int]) -> list[Line]:
    """List the outcomes of classes, retired ones too, in the order of strands and their own."""
    return db.execute(
        """SELECT co.class_id, o.id, o.code || ' · ' || o.title, ''
           FROM class_outcome co JOIN outcome o ON o.id = co.outcome_id
           LEFT JOIN strand s ON s.id = o.strand_id
           WHERE co.class_id IN (SELECT value FROM json_each(?))
           ORDER BY co.class_id, s.position IS NULL, s.position, s.id, co.position, o.id""",
        (json.dumps(list(class_ids)),),
    ).fetchall()


def tasks(db: sqlite3.Connection, class_ids: Iterable[int]) -> list[Line]:
    """List the tasks of classes by due time; those without come last."""
    return db.execute(
        """SELECT class_id, id, title, '' FROM task
           WHERE class_id IN (SELECT value FROM json_each(?))
           ORDER BY class_id, due_at IS NULL, due_at, id""",
        (json.dumps(list(class_ids)),),
    ).fetchall()
