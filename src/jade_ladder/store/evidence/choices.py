"""What evidence is worked out anew from: finished choices and the alignments they meet.

Only previews need it, of what would be if something were otherwise. The lists are long, so they
stay bare rows.
"""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from typing import TypeAlias

from jade_ladder.store.shared.versions import in_version
from jade_ladder.store.work.attempts import effective_time

ChoiceOfAttempt: TypeAlias = tuple[
    int, int, int, int, int, int, int, int, str, str, int, int, str, str
]
"""student, task, attempt's record, attempt's number, criterion, level, half-way, carried over,
done at (as it was corrected, if it was), first finished at, excused, practice, attempts rule,
combining of the task's class."""

AlignedCell: TypeAlias = tuple[int, int, int, int, int | None]
"""criterion, outcome, alignment's weight, level, value; levels lowest first."""

CHOICES_SQL = f"""
SELECT ts.student_id, ts.task_id, a.id, a.number, c.criterion_id, c.level_id, c.half_way,
       c.carried_from IS NOT NULL, {effective_time()} AS done,
       m.first_finished_at, ts.excused, t.practice, t.attempts_rule, k.combining
FROM json_each(?) s
JOIN task_student ts ON ts.student_id = s.value
JOIN task t ON t.id = ts.task_id
JOIN school_class k ON k.id = t.class_id
JOIN attempt a ON a.task_student_id = ts.id
JOIN teachers_mark m ON m.attempt_id = a.id
JOIN mark_choice c ON c.mark_id = m.id
WHERE c.level_id IS NOT NULL AND {in_version("c", "m.finished_version")}
ORDER BY ts.student_id, done, m.first_finished_at, a.id, c.criterion_id"""


def finished_choices(db: sqlite3.Connection, student_ids: Iterable[int]) -> list[ChoiceOfAttempt]:
    """List the choices in the finished version of every mark of these students, in any class:
    evidence follows the student. In the order of evidence.
    """
    return db.execute(CHOICES_SQL, (json.dumps(list(student_ids)),)).fetchall()


def outcomes_of_task(db: sqlite3.Connection, task_id: int) -> list[int]:
    """List the outcomes that anything which was ever chosen at a task is aligned to."""
    return _outcomes_of(db, "ts.task_id", task_id)


def outcomes_of_class(db: sqlite3.Connection, class_id: int) -> list[int]:
    """List the outcomes that anything which was ever chosen at a task of a class is aligned to."""
    return _outcomes_of(db, "t.class_id", class_id)


def _outcomes_of(db: sqlite3.Connection, column: str, number: int) -> list[int]:
    rows = db.execute(
        f"""SELECT DISTINCT l.outcome_id FROM task t JOIN task_student ts ON ts.task_id = t.id
            JOIN attempt a ON a.task_student_id = ts.id JOIN mark m ON m.attempt_id = a.id
            JOIN mark_choice c ON c.mark_id = m.id
            JOIN alignment l ON l.criterion_id = c.criterion_id
            WHERE {column} = ? ORDER BY l.outcome_id""",
        (number,),
    )
    return [number for (number,) in rows]


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
