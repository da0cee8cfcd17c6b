"""Links by which a guest, who has no account, reads what is of one student."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.core.names import Named
from jade_ladder.store.shared.rows import fetch_one, insert


@dataclass(frozen=True, slots=True)
class GuestLink(Named):
    """A link that leads somewhere, and the student whom it was made for."""

    id: int
    student_id: int
    given_name: str
    family_name: str
    expires_at: datetime


def add_guest_link(
    db: sqlite3.Connection,
    student_id: int,
    token_hash: str,
    made_by: int,
    made_at: datetime,
    expires_at: datetime,
) -> int:
    """Remember a link for a student beside those there are; give its number."""
    return insert(
        db,
        """INSERT INTO guest_link (student_id, token_hash, made_by, made_at, expires_at)
           VALUES (?, ?, ?, ?, ?)""",
        (student_id, token_hash, made_by, made_at, expires_at),
    )


def guest_link(db: sqlite3.Connection, token_hash: str, now: datetime) -> GuestLink | None:
    """Give the link of a secret, unless it was withdrawn, has run out, or its student is no longer
    at the school.
    """
    return fetch_one(
        db,
        GuestLink,
        """SELECT g.id, p.id AS student_id, p.given_name, p.family_name, g.expires_at
           FROM guest_link g JOIN person p ON p.id = g.student_id
           WHERE g.token_hash = ? AND g.withdrawn_at IS NULL AND g.expires_at > ?
             AND p.ended_at IS NULL""",
        (token_hash, now),
    )


def withdraw_guest_link(db: sqlite3.Connection, link_id: int, now: datetime) -> None:
    """Let a link lead nowhere from now on."""
    db.execute(
        "UPDATE guest_link SET withdrawn_at = coalesce(withdrawn_at, ?) WHERE id = ?",
        (now, link_id),
    )
