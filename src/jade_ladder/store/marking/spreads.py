"""How the levels of a set have fallen."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import date

from jade_ladder.store.shared.rows import fetch
from jade_ladder.store.work.kinds import ENTRIES


@dataclass(frozen=True, slots=True)
class FallenRow:
    """A choice that stands on a criterion in the mark of a student's attempt."""

    criterion_id: int
    student_id: int
    level_id: int | None
    half_way: bool
    not_assessed: bool


def fallen(db: sqlite3.Connection, task_id: int, on: date) -> list[FallenRow]:
    """List what is chosen at a task in each student's newest attempt (of other evidence, in every
    entry), in the order in which it was chosen last; of those in the class on the day who are not
    excused.
    """
    return fetch(
        db,
        FallenRow,
        f"""SELECT c.criterion_id, ts.student_id, c.level_id, c.half_way, c.not_assessed
           FROM task t JOIN task_student ts ON ts.task_id = t.id
           JOIN attempt a ON a.task_student_id = ts.id
             AND ({ENTRIES}
                  OR a.number = (SELECT max(number) FROM attempt WHERE task_student_id = ts.id))
           JOIN teachers_mark m ON m.attempt_id = a.id
           JOIN mark_choice c ON c.mark_id = m.id AND c.until_version IS NULL
             AND c.carried_from IS NULL
           WHERE t.id = :task AND ts.excused = 0 AND ts.student_id IN (
             SELECT person_id FROM membership
             WHERE class_id = t.class_id AND role = 'student' AND since <= :on
               AND (until IS NULL OR until > :on))
           ORDER BY c.id""",
        {"task": task_id, "on": on},
    )
