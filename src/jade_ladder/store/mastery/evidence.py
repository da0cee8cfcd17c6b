"""What evidence is worked out from: finished choices and the alignments they meet.

These lists are long and read on every look at the wall, so they stay bare rows.
"""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from typing import TypeAlias

ChoiceOfAttempt: TypeAlias = tuple[int, int, int, int, int, int, int, str, str, int, int, str, str]
"""student, task, attempt's record, attempt's number, criterion, level, half-way, done at (as it was
corrected, if it was), first finished at, excused, practice, attempts rule, combining of the task's
class."""

AlignedCell: TypeAlias = tuple[int, int, int, int, int | None]
"""criterion, outcome, alignment's weight, level, value; levels lowest first."""

CHOICES_SQL = """
SELECT ts.student_id, ts.task_id, a.id, a.number, c.criterion_id, c.level_id, c.half_way,
       coalesce(a.corrected_done_at, a.done_at) AS done, m.first_finished_at, ts.excused,
       t.practice, t.attempts_rule, k.combining
FROM json_each(?) s
JOIN task_student ts ON ts.student_id = s.value
JOIN task t ON t.id = ts.task_id
JOIN school_class k ON k.id = t.class_id
JOIN attempt a ON a.task_student_id = ts.id
JOIN mark m ON m.attempt_id = a.id
JOIN mark_choice c ON c.mark_id = m.id
WHERE c.level_id IS NOT NULL AND c.since_version <= m.finished_version
  AND (c.until_version IS NULL OR c.until_version > m.finished_version)
ORDER BY ts.student_id, done, m.first_finished_at, a.id, c.criterion_id"""


def finished_choices(db: sqlite3.Connection, student_ids: Iterable[int]) -> list[ChoiceOfAttempt]:
    """List the choices in the finished version of every mark of these students, in any class:
    evidence follows the student. In the order of evidence.
    """
    return db.execute(CHOICES_SQL, (json.dumps(list(student_ids)),)).fetchall()


def aligned_cells(db: sqlite3.Connection, outcome_ids: Iterable[int]) -> list[AlignedCell]:
    """List the cells of every alignment to these outcomes."""
    return db.execute(
        """SELECT a.criterion_id, a.outcome_id, a.weight, ac.level_id, ac.value
           FROM json_each(?) o
           JOIN alignment a ON a.outcome_id = o.value
           JOIN alignment_cell ac ON ac.alignment_id = a.id
           JOIN criterion_level l ON l.id = ac.level_id
           ORDER BY a.criterion_id, a.id, l.position""",
        (json.dumps(list(outcome_ids)),),
    ).fetchall()


def task_titles(db: sqlite3.Connection, task_ids: Iterable[int]) -> dict[int, tuple[str, str, str]]:
    """Give title, kind and class of tasks, by number."""
    rows = db.execute(
        """SELECT t.id, t.title, t.kind, c.name FROM json_each(?) n
           JOIN task t ON t.id = n.value JOIN school_class c ON c.id = t.class_id
           ORDER BY t.id""",
        (json.dumps(list(task_ids)),),
    ).fetchall()
    return {row[0]: (row[1], row[2], row[3]) for row in rows}


def finished_remarks(
    db: sqlite3.Connection, attempt_ids: Iterable[int], outcome_id: int
) -> list[tuple[int, str]]:
    """List the remarks in the finished version of these attempts' marks, as attempt and text:
    those on criteria aligned to the outcome, then the one on the whole.
    """
    return db.execute(
        """SELECT m.attempt_id, r.text FROM json_each(?1) n
           JOIN mark m ON m.attempt_id = n.value JOIN mark_remark r ON r.mark_id = m.id
           WHERE r.text <> '' AND r.since_version <= m.finished_version
             AND (r.until_version IS NULL OR r.until_version > m.finished_version)
             AND (r.criterion_id IS NULL OR r.criterion_id IN (
               SELECT criterion_id FROM alignment WHERE outcome_id = ?2))
           ORDER BY m.attempt_id, r.criterion_id IS NULL, r.criterion_id, r.id""",
        (json.dumps(list(attempt_ids)), outcome_id),
    ).fetchall()
