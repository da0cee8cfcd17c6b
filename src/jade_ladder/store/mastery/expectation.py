"""Outcomes that are not expected of a student (a modified programme)."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date

from jade_ladder.store.shared.rows import fetch


@dataclass(frozen=True, slots=True)
class NotExpected:
    """An outcome lifted for one student from a day on, with the reason."""

    student_id: int
    outcome_id: int
    reason: str
    since: date


def not_expected(
    db: sqlite3.Connection, student_ids: Iterable[int], day: date
) -> dict[tuple[int, int], NotExpected]:
    """Give what is not expected of these students on a day, by student and outcome."""
    rows = fetch(
        db,
        NotExpected,
        """SELECT n.student_id, n.outcome_id, n.reason, n.since
           FROM json_each(?1) s JOIN not_expected n ON n.student_id = s.value
           WHERE n.since <= ?2 AND (n.until IS NULL OR ?2 < n.until)
           ORDER BY n.student_id, n.outcome_id""",
        (json.dumps(list(student_ids)), day),
    )
    return {(row.student_id, row.outcome_id): row for row in rows}


@dataclass(frozen=True, slots=True)
class Lifted:
    """That an outcome is or was lifted for a student; `until` is the first day it was expected
    again.
    """

    student_id: int
    outcome_id: int
    since: date
    until: date | None

    def on(self, day: date) -> bool:
        """Whether it was lifted on a day."""
        return self.since <= day and (self.until is None or day < self.until)


def ever_not_expected(db: sqlite3.Connection, outcome_ids: Iterable[int]) -> list[Lifted]:
    """List of whom outcomes are or ever were not expected."""
    return fetch(
        db,
        Lifted,
        """SELECT student_id, outcome_id, since, until FROM not_expected
           WHERE outcome_id IN (SELECT value FROM json_each(?))
           ORDER BY student_id, outcome_id, since, id""",
        (json.dumps(list(outcome_ids)),),
    )


def lift_outcome(
    db: sqlite3.Connection,
    student_id: int,
    outcome_id: int,
    reason: str,
    since: date,
    made_by: int,
) -> None:
    """Expect an outcome no longer of a student, from a day on."""
    db.execute(
        """INSERT INTO not_expected (student_id, outcome_id, reason, since, made_by)
           VALUES (?, ?, ?, ?, ?)""",
        (student_id, outcome_id, reason, since, made_by),
    )


def expect_again(db: sqlite3.Connection, student_id: int, outcome_id: int, until: date) -> None:
    """Expect an outcome of a student again, from a day on."""
    db.execute(
        """UPDATE not_expected SET until = max(since, ?)
           WHERE student_id = ? AND outcome_id = ? AND until IS NULL""",
        (until, student_id, outcome_id),
    )
