"""Where a teacher stopped marking, and what is finished and not handed back."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.core.names import Named
from jade_ladder.store.shared.rows import fetch, fetch_one
from jade_ladder.store.work.kinds import ENTRIES


@dataclass(frozen=True, slots=True)
class StoppedRow(Named):
    """A mark that was begun and not finished, of an attempt by a student at a task, and when it was
    changed last.
    """

    class_id: int
    task_id: int
    title: str
    student_id: int
    given_name: str
    family_name: str
    number: int
    changed_at: datetime


def stopped_at(
    db: sqlite3.Connection, person_id: int, class_ids: Iterable[int]
) -> StoppedRow | None:
    """Give the mark in these classes that a person changed last and did not finish."""
    return fetch_one(
        db,
        StoppedRow,
        """SELECT t.class_id, t.id AS task_id, t.title, p.id AS student_id, p.given_name,
                  p.family_name, a.number, m.changed_at
           FROM mark m INDEXED BY mark_open
           JOIN attempt a ON a.id = m.attempt_id
           JOIN task_student ts ON ts.id = a.task_student_id
           JOIN task t ON t.id = ts.task_id JOIN person p ON p.id = ts.student_id
           WHERE m.role = 'teacher' AND m.marker_id = ?1 AND m.version > 0 AND ts.excused = 0
             AND (m.finished_version IS NULL OR m.finished_version <> m.version)
             AND t.class_id IN (SELECT value FROM json_each(?2))
             AND EXISTS (SELECT 1 FROM membership l
                         WHERE l.class_id = t.class_id AND l.person_id = p.id
                           AND l.role = 'student' AND l.until IS NULL)
           ORDER BY m.changed_at DESC, m.id DESC LIMIT 1""",
        (person_id, json.dumps(list(class_ids))),
    )


@dataclass(frozen=True, slots=True)
class ToHandBack:
    """A task with so many students whose newest finished mark they do not see yet and will not."""

    class_id: int
    task_id: int
    title: str
    students: int


def to_hand_back(db: sqlite3.Connection, class_ids: Iterable[int]) -> list[ToHandBack]:
    """List the tasks of classes in which marks are finished and not handed back, of students who
    are there: the latest finished first.
    """
    return fetch(
        db,
        ToHandBack,
        f"""SELECT t.class_id, t.id AS task_id, t.title, count(DISTINCT ts.student_id) AS students
           FROM task t JOIN task_student ts ON ts.task_id = t.id
           JOIN attempt a ON a.task_student_id = ts.id
             AND ({ENTRIES}
                  OR a.number = (SELECT max(number) FROM attempt WHERE task_student_id = ts.id))
           JOIN teachers_mark m ON m.attempt_id = a.id
           WHERE t.class_id IN (SELECT value FROM json_each(?))
             AND ts.excused = 0 AND m.finished_version = m.version
             AND NOT EXISTS (SELECT 1 FROM hand_back h
                             WHERE h.mark_id = m.id AND h.version = m.finished_version
                               AND h.taken_back_at IS NULL)
             AND EXISTS (SELECT 1 FROM membership l
                         WHERE l.class_id = t.class_id AND l.person_id = ts.student_id
                           AND l.role = 'student' AND l.until IS NULL)
           GROUP BY t.id ORDER BY max(m.changed_at) DESC, t.id""",
        (json.dumps(list(class_ids)),),
    )
