"""Judgements: levels that teachers set for students on outcomes, over the calculation."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from jade_ladder.core.evidence import EvidenceKey, SourceKind
from jade_ladder.core.mastery import Seen
from jade_ladder.store.shared.rows import fetch, fetch_one, insert


@dataclass(frozen=True, slots=True)
class JudgementRow:
    """A level (0 the lowest, of so many `levels`) that was set for a student and outcome, from the
    start of a day to the start of another; `until` is None while it holds. `seen_json` is the
    counted evidence that the teacher judged by, and `seen_at` when they looked at it last.
    """

    id: int
    student_id: int
    outcome_id: int
    level: int
    levels: int
    reason: str
    since: date
    until: date | None
    seen_json: str
    seen_at: datetime
    made_at: datetime
    made_by: str
    lifted_at: datetime | None
    lifted_by: str | None

    @property
    def seen(self) -> Seen:
        """The counted evidence that the teacher judged by, in order."""
        return tuple(
            (EvidenceKey(SourceKind(kind), source, self.outcome_id), value)
            for kind, source, value in json.loads(self.seen_json)
        )


_ROW = """SELECT j.id, j.student_id, j.outcome_id, j.level, j.levels, j.reason, j.since, j.until,
                 j.seen AS seen_json, j.seen_at, j.made_at,
                 trim(m.given_name || ' ' || m.family_name) AS made_by, j.lifted_at,
                 trim(l.given_name || ' ' || l.family_name) AS lifted_by
          FROM judgement j JOIN person m ON m.id = j.made_by
          LEFT JOIN person l ON l.id = j.lifted_by"""


def judgements(
    db: sqlite3.Connection, student_ids: Iterable[int], outcome_ids: Iterable[int]
) -> list[JudgementRow]:
    """List all judgements of students on outcomes, by student and outcome, in their order."""
    return fetch(
        db,
        JudgementRow,
        f"""{_ROW} WHERE j.student_id IN (SELECT value FROM json_each(?))
              AND j.outcome_id IN (SELECT value FROM json_each(?))
            ORDER BY j.student_id, j.outcome_id, j.since, j.id""",
        (json.dumps(list(student_ids)), json.dumps(list(outcome_ids))),
    )


def judged_on(
    db: sqlite3.Connection, student_ids: Iterable[int], outcome_ids: Iterable[int], day: date
) -> set[tuple[int, int]]:
    """Give of which students on which outcomes a judgement holds on a day."""
    rows = db.execute(
        """SELECT student_id, outcome_id FROM judgement
           WHERE student_id IN (SELECT value FROM json_each(?1))
             AND outcome_id IN (SELECT value FROM json_each(?2))
             AND since <= ?3 AND (until IS NULL OR ?3 < until)""",
        (json.dumps(list(student_ids)), json.dumps(list(outcome_ids)), day),
    )
    return set(rows.fetchall())


def judgement(db: sqlite3.Connection, number: int) -> JudgementRow | None:
    """Give a judgement."""
    return fetch_one(db, JudgementRow, f"{_ROW} WHERE j.id = ?", (number,))


def holding(db: sqlite3.Connection, student_id: int, outcome_id: int) -> JudgementRow | None:
    """Give the judgement that holds of a student on an outcome."""
    return fetch_one(
        db,
        JudgementRow,
        f"{_ROW} WHERE j.student_id = ? AND j.outcome_id = ? AND j.until IS NULL",
        (student_id, outcome_id),
    )


def add_judgement(
    db: sqlite3.Connection,
    student_id: int,
    outcome_id: int,
    level: int,
    levels: int,
    reason: str,
    since: date,
    seen: Seen,
    now: datetime,
    made_by: int,
) -> int:
    """Set a level for a student and outcome from a day on; give the judgement's number."""
    return insert(
        db,
        """INSERT INTO judgement (student_id, outcome_id, level, levels, reason, since, seen,
                                  seen_at, made_at, made_by)
           VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)""",
        (
            *(student_id, outcome_id, level, levels, reason, since),
            *(_seen_json(seen), now, now, made_by),
        ),
    )


def lift(db: sqlite3.Connection, number: int, until: date, now: datetime, lifted_by: int) -> None:
    """Let a judgement hold no longer, from a day on (of one that began later: on no day)."""
    db.execute(
        """UPDATE judgement SET until = max(since, ?), lifted_at = ?, lifted_by = ?
           WHERE id = ? AND until IS NULL""",
        (until, now, lifted_by, number),
    )


def end_of_judgement(db: sqlite3.Connection, number: int) -> list[Any]:
    """Give until when a judgement holds, when that was said and by whom, as they are stored."""
    row = db.execute(
        "SELECT until, lifted_at, lifted_by FROM judgement WHERE id = ?", (number,)
    ).fetchone()
    return list(row)


def put_end(
    db: sqlite3.Connection,
    number: int,
    until: date | str | None,
    lifted_at: datetime | str | None,
    lifted_by: int | None,
) -> None:
    """Say until when a judgement holds (None: until lifted), when that was said and by whom."""
    db.execute(
        "UPDATE judgement SET until = ?, lifted_at = ?, lifted_by = ? WHERE id = ?",
        (until, lifted_at, lifted_by, number),
    )


def delete_judgement(db: sqlite3.Connection, number: int) -> None:
    """Delete a judgement, as if it never had been made."""
    db.execute("DELETE FROM judgement WHERE id = ?", (number,))


def see(db: sqlite3.Connection, number: int, seen: Seen, now: datetime) -> None:
    """Keep what evidence the teacher judges by now."""
    db.execute(
        "UPDATE judgement SET seen = ?, seen_at = ? WHERE id = ?", (_seen_json(seen), now, number)
    )


def _seen_json(seen: Seen) -> str:
    return json.dumps([[key.kind, key.source, value] for key, value in seen])
