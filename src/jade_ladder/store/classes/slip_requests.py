"""Asking for a slip for a student who has a password, and granting it."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.store.shared.rows import fetch, insert


@dataclass(frozen=True, slots=True)
class SlipRequest:
    """A request that no slip was made by yet: who asked in which class, and since when it is
    granted, if it is.
    """

    id: int
    student_id: int
    class_id: int
    asked_by: int
    asked_at: datetime
    granted_at: datetime | None


def add_request(
    db: sqlite3.Connection, student_id: int, class_id: int, asked_by: int, at: datetime
) -> int:
    """Ask, in place of what was asked before; gives the request's number."""
    db.execute(
        """DELETE FROM slip_request
           WHERE student_id = ? AND class_id = ? AND asked_by = ? AND used_at IS NULL""",
        (student_id, class_id, asked_by),
    )
    return insert(
        db,
        """INSERT INTO slip_request (student_id, class_id, asked_by, asked_at)
           VALUES (?, ?, ?, ?)""",
        (student_id, class_id, asked_by, at),
    )


_REQUEST = """SELECT id, student_id, class_id, asked_by, asked_at, granted_at
              FROM slip_request WHERE used_at IS NULL"""


def requests(db: sqlite3.Connection, numbers: Iterable[int]) -> list[SlipRequest]:
    """List those of some requests that no slip was made by yet."""
    return fetch(
        db,
        SlipRequest,
        f"{_REQUEST} AND id IN (SELECT value FROM json_each(?)) ORDER BY id",
        (json.dumps(list(numbers)),),
    )


def requests_of(
    db: sqlite3.Connection, class_id: int, asked_by: int, since: datetime
) -> dict[int, SlipRequest]:
    """Give what a teacher asked for in a class since a time, by student."""
    found = fetch(
        db,
        SlipRequest,
        f"{_REQUEST} AND class_id = ? AND asked_by = ? AND asked_at > ? ORDER BY id",
        (class_id, asked_by, since),
    )
    return {one.student_id: one for one in found}


def grant(db: sqlite3.Connection, number: int, granted_by: int, at: datetime) -> None:
    """Grant a request."""
    db.execute(
        "UPDATE slip_request SET granted_by = ?, granted_at = ? WHERE id = ?",
        (granted_by, at, number),
    )


def use(db: sqlite3.Connection, number: int, at: datetime) -> None:
    """Remember that a slip was made by a request: it is good for one."""
    db.execute("UPDATE slip_request SET used_at = ? WHERE id = ?", (at, number))
