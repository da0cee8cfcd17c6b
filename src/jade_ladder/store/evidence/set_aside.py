"""Evidence that is set aside, and by whom and why."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Collection, Iterable
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.store.evidence.evidence import settle
from jade_ladder.store.shared.rows import fetch

# The evidence of students at a task, or what is set aside of it (`WhichEvidence.values`).
_CHOSEN = """ts.task_id = :task
  AND ts.student_id IN (SELECT value FROM json_each(:students))
  AND (:number IS NULL OR a.number = :number)
  AND (:outcomes IS NULL OR {outcome} IN (SELECT value FROM json_each(:outcomes)))"""


@dataclass(frozen=True, slots=True)
class WhichEvidence:
    """The evidence of students at a task: of one attempt or all, on some outcomes or all."""

    task_id: int
    student_ids: Collection[int]
    number: int | None = None
    outcome_ids: Collection[int] | None = None

    @property
    def values(self) -> dict[str, object]:
        """Give it as statements take it."""
        outcomes = None if self.outcome_ids is None else json.dumps(list(self.outcome_ids))
        return {
            "task": self.task_id,
            "students": json.dumps(list(self.student_ids)),
            "number": self.number,
            "outcomes": outcomes,
        }


def set_aside(
    db: sqlite3.Connection, which: WhichEvidence, reason: str, now: datetime, person_id: int
) -> list[int]:
    """Set the evidence that counts aside; gives the attempts that it is of, one for each piece."""
    settle(db)
    rows = db.execute(
        f"""INSERT INTO evidence_set_aside
              (attempt_id, outcome_id, reason, set_aside_at, set_aside_by)
            SELECT e.source_id, e.outcome_id, :reason, :now, :person
            FROM task_student ts JOIN attempt a ON a.task_student_id = ts.id
            JOIN evidence e ON e.source_kind = 'attempt' AND e.source_id = a.id
            WHERE {_CHOSEN.format(outcome="e.outcome_id")}
            RETURNING attempt_id""",
        {**which.values, "reason": reason, "now": now, "person": person_id},
    )
    return [number for (number,) in rows]


def count_again(
    db: sqlite3.Connection, which: WhichEvidence, now: datetime, person_id: int
) -> list[int]:
    """Let what is set aside count again; gives the attempts that it is of, one for each piece."""
    rows = db.execute(
        f"""UPDATE evidence_set_aside SET counts_again_at = :now, counts_again_by = :person
            WHERE id IN (
              SELECT x.id FROM task_student ts JOIN attempt a ON a.task_student_id = ts.id
              JOIN evidence_set_aside x ON x.attempt_id = a.id AND x.counts_again_at IS NULL
              WHERE {_CHOSEN.format(outcome="x.outcome_id")})
            RETURNING attempt_id""",
        {**which.values, "now": now, "person": person_id},
    )
    return [number for (number,) in rows]


@dataclass(frozen=True, slots=True)
class SetAsideRow:
    """A piece that is set aside: why, when and by whom."""

    attempt_id: int
    outcome_id: int
    reason: str
    set_aside_at: datetime
    given_name: str
    family_name: str


_SET_ASIDE = """SELECT x.attempt_id, x.outcome_id, x.reason, x.set_aside_at, p.given_name,
                       p.family_name
                FROM task_student ts JOIN attempt a ON a.task_student_id = ts.id
                JOIN evidence_set_aside x ON x.attempt_id = a.id AND x.counts_again_at IS NULL
                JOIN person p ON p.id = x.set_aside_by"""


def set_aside_of_students(db: sqlite3.Connection, student_ids: Iterable[int]) -> list[SetAsideRow]:
    """List what is set aside of students, at any task."""
    return fetch(
        db,
        SetAsideRow,
        f"""{_SET_ASIDE} WHERE ts.student_id IN (SELECT value FROM json_each(?)) ORDER BY x.id""",
        (json.dumps(list(student_ids)),),
    )


def set_aside_of_task(db: sqlite3.Connection, task_id: int) -> list[tuple[int, SetAsideRow]]:
    """List what is set aside at a task, each with its student."""
    rows = db.execute(
        """SELECT x.attempt_id, ts.student_id
           FROM task_student ts JOIN attempt a ON a.task_student_id = ts.id
           JOIN evidence_set_aside x ON x.attempt_id = a.id AND x.counts_again_at IS NULL
           WHERE ts.task_id = ? GROUP BY x.attempt_id ORDER BY x.attempt_id""",
        (task_id,),
    )
    students = dict(rows.fetchall())
    found = fetch(db, SetAsideRow, f"{_SET_ASIDE} WHERE ts.task_id = ? ORDER BY x.id", (task_id,))
    return [(students[one.attempt_id], one) for one in found]


def pieces_aside(
    db: sqlite3.Connection, student_ids: Iterable[int], shown_by: datetime | None = None
) -> dict[tuple[int, int], int]:
    """Count what is set aside of students, notes too, by student and outcome; with `shown_by` only
    what they see by then: of marks that were handed back and notes that were shown to them.
    """
    rows = db.execute(
        """SELECT student_id, outcome_id, count(*) FROM (
             SELECT ts.student_id, x.outcome_id
             FROM evidence_set_aside x CROSS JOIN attempt a ON a.id = x.attempt_id
             CROSS JOIN task_student ts ON ts.id = a.task_student_id
             WHERE x.counts_again_at IS NULL AND (:shown_by IS NULL OR EXISTS (
               SELECT 1 FROM teachers_mark m JOIN hand_back h ON h.mark_id = m.id
               WHERE m.attempt_id = a.id AND h.taken_back_at IS NULL
                 AND h.visible_at <= :shown_by))
             UNION ALL
             SELECT n.student_id, n.outcome_id
             FROM note n JOIN note_version v ON v.note_id = n.id AND v.version = n.version
             WHERE v.aside IS NOT NULL AND v.withdrawn = 0
               AND (:shown_by IS NULL OR n.shown_at <= :shown_by))
           WHERE student_id IN (SELECT value FROM json_each(:students))
           GROUP BY student_id, outcome_id ORDER BY student_id, outcome_id""",
        {"students": json.dumps(list(student_ids)), "shown_by": shown_by},
    )
    return {(student, outcome): count for student, outcome, count in rows}
