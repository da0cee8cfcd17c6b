"""Browsers in which somebody signed in before, by the hash of a random token."""

from __future__ import annotations

import sqlite3
from datetime import datetime

from jade_ladder.store.shared.rows import fetch_number


def is_known(db: sqlite3.Connection, token_hash: str, since: datetime) -> bool:
    """Whether somebody signed in there since a time."""
    found = fetch_number(
        db,
        "SELECT 1 FROM known_device WHERE token_hash = ? AND seen_at > ?",
        (token_hash, since),
    )
    return found is not None


def see(db: sqlite3.Connection, token_hash: str, now: datetime, since: datetime) -> None:
    """Remember that somebody signed in there now; those not seen since a time are forgotten."""
    db.execute("DELETE FROM known_device WHERE seen_at <= ?", (since,))
    db.execute(
        """INSERT INTO known_device (token_hash, seen_at) VALUES (?, ?)
           ON CONFLICT (token_hash) DO UPDATE SET seen_at = excluded.seen_at""",
        (token_hash, now),
    )
