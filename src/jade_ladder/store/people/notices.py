"""Notices: what somebody else did to a person's things, until they have seen it."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from jade_ladder.store.shared.rows import fetch, fetch_one


@dataclass(frozen=True, slots=True)
class NoticeRow:
    """A notice; `details` is JSON, by its kind."""

    id: int
    at: datetime
    kind: str
    details: str


def add_notice(
    db: sqlite3.Connection, person_id: int, at: datetime, kind: str, details: dict[str, Any]
) -> None:
    """Leave a notice for a person."""
    db.execute(
        "INSERT INTO notice (person_id, at, kind, details) VALUES (?, ?, ?, ?)",
        (person_id, at, kind, json.dumps(details, ensure_ascii=False)),
    )


def add_to_notice(
    db: sqlite3.Connection, person_id: int, at: datetime, kind: str, details: dict[str, Any]
) -> None:
    """Leave a notice about students for a person, or add them to the one of the same person and
    class that they have not seen yet.
    """
    for row in unseen(db, person_id):
        said = json.loads(row.details)
        if row.kind == kind and all(said[one] == details[one] for one in ("by_id", "class_id")):
            # Who was removed and is added again is named once.
            both = {one["id"]: one for one in (*said["students"], *details["students"])}
            details = {**details, "students": list(both.values())}
            db.execute(
                "UPDATE notice SET at = ?, details = ? WHERE id = ?",
                (at, json.dumps(details, ensure_ascii=False), row.id),
            )
            return
    add_notice(db, person_id, at, kind, details)


def take_from_notices(
    db: sqlite3.Connection, kind: str, class_id: int, students: Iterable[int]
) -> None:
    """Take students out of the notices about a class that nobody has seen yet; one that is about
    nobody any more is gone.
    """
    gone = set(students)
    rows = db.execute(
        """SELECT id, details FROM notice
           WHERE kind = ? AND seen_at IS NULL AND json_extract(details, '$.class_id') = ?""",
        (kind, class_id),
    ).fetchall()
    for number, details in rows:
        said = json.loads(details)
        said["students"] = [one for one in said["students"] if one["id"] not in gone]
        if said["students"]:
            new = json.dumps(said, ensure_ascii=False)
            db.execute("UPDATE notice SET details = ? WHERE id = ?", (new, number))
        else:
            db.execute("DELETE FROM notice WHERE id = ?", (number,))


def unseen(db: sqlite3.Connection, person_id: int) -> list[NoticeRow]:
    """List the notices that a person has not seen yet, the oldest first."""
    return fetch(
        db,
        NoticeRow,
        """SELECT id, at, kind, details FROM notice
           WHERE person_id = ? AND seen_at IS NULL ORDER BY id""",
        (person_id,),
    )


def notice(db: sqlite3.Connection, notice_id: int, person_id: int) -> NoticeRow | None:
    """Give a notice of a person, seen or not."""
    return fetch_one(
        db,
        NoticeRow,
        "SELECT id, at, kind, details FROM notice WHERE id = ? AND person_id = ?",
        (notice_id, person_id),
    )


def mark_seen(db: sqlite3.Connection, notice_id: int, person_id: int, now: datetime) -> bool:
    """Remember that a person has seen a notice of theirs; False where there is no such one."""
    changed = db.execute(
        """UPDATE notice SET seen_at = coalesce(seen_at, ?) WHERE id = ? AND person_id = ?""",
        (now, notice_id, person_id),
    )
    return changed.rowcount == 1
