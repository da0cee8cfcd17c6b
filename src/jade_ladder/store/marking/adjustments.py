"""What a teacher says of a mark's total, version by version."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable, Sequence
from datetime import datetime
from enum import StrEnum
from typing import NamedTuple

from jade_ladder.core.total import Adjustments, ByHand, Line, LineKind
from jade_ladder.store.shared.rows import fetch_number
from jade_ladder.store.shared.versions import in_version


class AdjustmentKind(StrEnum):
    """What a teacher says of a total: a line, that the late deduction is waived, the total."""

    LINE = "line"
    WAIVED = "waived"
    BY_HAND = "by-hand"


class AdjustmentRow(NamedTuple):
    """What a teacher says of a total, with the reason; the amount is 0 of what is waived."""

    kind: AdjustmentKind
    amount: int
    reason: str
    since_version: int


def adjustments_of(rows: Iterable[AdjustmentRow]) -> Adjustments:
    """Give what stands of a total as the core knows it."""
    lines: list[Line] = []
    waived, by_hand = None, None
    for row in rows:
        if row.kind is AdjustmentKind.LINE:
            lines.append(Line(LineKind.ADJUSTMENT, row.reason, row.amount))
        elif row.kind is AdjustmentKind.WAIVED:
            waived = row.reason
        else:
            by_hand = ByHand(row.amount, row.reason)
    return Adjustments(tuple(lines), waived, by_hand)


def next_version(db: sqlite3.Connection, mark_id: int, now: datetime) -> int:
    """Count a mark's version up, since something of it is changed; gives the new one."""
    row: tuple[int] = db.execute(
        "UPDATE mark SET version = version + 1, changed_at = ? WHERE id = ? RETURNING version",
        (now, mark_id),
    ).fetchone()
    return row[0]


def append_adjustments(
    db: sqlite3.Connection,
    mark_id: int,
    wanted: Sequence[tuple[AdjustmentKind, int, str]],
    now: datetime,
    person_id: int,
) -> int:
    """Let these stand of the total, and nothing else, as a new version of the mark; what stood
    already goes on. Gives the version.
    """
    version = next_version(db, mark_id, now)
    left = list(wanted)
    standing = db.execute(
        """SELECT id, kind, amount, reason FROM mark_adjustment
           WHERE mark_id = ? AND until_version IS NULL ORDER BY id""",
        (mark_id,),
    ).fetchall()
    for number, kind, amount, reason in standing:
        one = (AdjustmentKind(kind), amount, reason)
        if one in left:
            left.remove(one)
        else:
            db.execute(
                "UPDATE mark_adjustment SET until_version = ? WHERE id = ?", (version, number)
            )
    db.executemany(
        """INSERT INTO mark_adjustment (mark_id, kind, amount, reason, since_version, made_at,
                                        made_by)
           VALUES (?, ?, ?, ?, ?, ?, ?)""",
        [(mark_id, *one, version, now, person_id) for one in left],
    )
    return version


def last_adjusted(db: sqlite3.Connection, mark_id: int) -> int:
    """Give the version in which what is said of the total was changed last; 0: never."""
    found = fetch_number(
        db,
        """SELECT max(max(since_version, coalesce(until_version, 0)))
           FROM mark_adjustment WHERE mark_id = ?""",
        (mark_id,),
    )
    return found or 0


def adjusted_at(
    db: sqlite3.Connection, versions: Iterable[tuple[int, int]]
) -> dict[int, Adjustments]:
    """Give what stood of the totals of marks in a version of each, of those that anything did."""
    rows: dict[int, list[AdjustmentRow]] = {}
    for mark_id, kind, amount, reason, since in db.execute(
        f"""SELECT a.mark_id, a.kind, a.amount, a.reason, a.since_version
           FROM json_each(?) n JOIN mark_adjustment a ON a.mark_id = n.value ->> 0
           WHERE {in_version("a", "n.value ->> 1")}
           ORDER BY a.id""",
        (json.dumps(list(versions)),),
    ):
        rows.setdefault(mark_id, []).append(
            AdjustmentRow(AdjustmentKind(kind), amount, reason, since)
        )
    return {mark_id: adjustments_of(found) for mark_id, found in rows.items()}


def adjusted_marks(db: sqlite3.Connection, mark_ids: Iterable[int]) -> dict[int, Adjustments]:
    """Give what stands of the totals of marks, of those that anything does."""
    rows: dict[int, list[AdjustmentRow]] = {}
    for mark_id, kind, amount, reason, since in db.execute(
        """SELECT mark_id, kind, amount, reason, since_version FROM mark_adjustment
           WHERE until_version IS NULL AND mark_id IN (SELECT value FROM json_each(?))
           ORDER BY id""",
        (json.dumps(list(mark_ids)),),
    ):
        rows.setdefault(mark_id, []).append(
            AdjustmentRow(AdjustmentKind(kind), amount, reason, since)
        )
    return {mark_id: adjustments_of(found) for mark_id, found in rows.items()}
