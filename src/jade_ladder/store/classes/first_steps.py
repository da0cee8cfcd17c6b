"""How far a class is on its way to the first marked student."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from jade_ladder.store.shared.rows import fetch


@dataclass(frozen=True, slots=True)
class FirstSteps:
    """Which of the first steps of a class are done."""

    class_id: int
    students: bool
    outcomes: bool
    rubric: bool
    task: bool
    mark: bool


def first_steps(db: sqlite3.Connection, teacher_id: int) -> dict[int, FirstSteps]:
    """Give the first steps of all classes of a teacher, by class."""
    rows = fetch(
        db,
        FirstSteps,
        """SELECT t.class_id, EXISTS (SELECT 1 FROM membership s
                     WHERE s.class_id = t.class_id AND s.role = 'student') AS students,
                  EXISTS (SELECT 1 FROM class_outcome o WHERE o.class_id = t.class_id) AS outcomes,
                  EXISTS (SELECT 1 FROM rubric r JOIN revision v ON v.rubric_id = r.id
                     WHERE r.owner_id = t.person_id AND v.final_at IS NOT NULL
                       AND v.id NOT IN (SELECT k.revision_id FROM task k
                                        JOIN school_class c ON c.id = k.class_id
                                        WHERE c.sample = 1))
               OR EXISTS (SELECT 1 FROM task k WHERE k.class_id = t.class_id) AS rubric,
                  EXISTS (SELECT 1 FROM task k WHERE k.class_id = t.class_id) AS task,
                  EXISTS (SELECT 1 FROM task k
                     JOIN task_student ts ON ts.task_id = k.id
                     JOIN attempt a ON a.task_student_id = ts.id
                     JOIN teachers_mark m ON m.attempt_id = a.id
                     WHERE k.class_id = t.class_id AND m.finished_version IS NOT NULL) AS mark
           FROM membership t
           WHERE t.person_id = ? AND t.role = 'teacher' AND t.until IS NULL
           ORDER BY t.class_id""",
        (teacher_id,),
    )
    return {row.class_id: row for row in rows}
