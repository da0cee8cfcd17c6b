"""The log: changes of method, scale, cuts, alignment and membership, with before and after."""

from __future__ import annotations

import json
import sqlite3
from datetime import datetime
from typing import Any


def add_entry(
    db: sqlite3.Connection,
    at: datetime,
    person_id: int,
    subject: str,
    subject_id: int,
    before: Any,
    after: Any,
) -> None:
    """Append what changed; `before` and `after` are anything JSON can hold."""
    db.execute(
        """INSERT INTO log (at, person_id, subject, subject_id, before, after)
           VALUES (?, ?, ?, ?, ?, ?)""",
        (at, person_id, subject, subject_id, _text(before), _text(after)),
    )


def _text(value: Any) -> str | None:
    return None if value is None else json.dumps(value, ensure_ascii=False, default=str)
