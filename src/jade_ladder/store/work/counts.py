"""How many students stand alike with each task, counted in one statement."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime

from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.store.shared.rows import fetch
from jade_ladder.store.work.kinds import ENTRIES, WATCHED
from jade_ladder.store.work.standing import AT_HAND, there_when_due


@dataclass(frozen=True, slots=True)
class TaskGroup:
    """How many students stand alike with a task, which is due for them at a time: whether they are
    excused, have an attempt and work, were absent, were in the class on the day that it was due (or
    have an attempt), and how far the mark is (`version` is 1 where anything is chosen; a mark that
    was changed after it was finished has a `finished_version` of -1).
    """

    class_id: int
    task_id: int
    kind: TaskKind
    due_at: datetime | None
    set_at: datetime | None
    excused: bool
    has_attempt: bool
    has_work: bool
    absent: bool
    there_when_due: bool
    version: int
    finished_version: int | None
    students: int


_THERE = there_when_due("coalesce(ts.due_at, t.due_at)", "t.class_id", "there.student_id")
_ALL_TASKS = """SELECT id AS task_id FROM task
                WHERE class_id IN (SELECT value FROM json_each(:classes))"""


# From what is open to its task, never from a class's tasks to what is open: few marks are open.
_WAITING = f"""SELECT ts.task_id
              FROM mark m INDEXED BY mark_open CROSS JOIN attempt a ON a.id = m.attempt_id
                CROSS JOIN task_student ts ON ts.id = a.task_student_id
                CROSS JOIN task t ON t.id = ts.task_id
              WHERE m.role = 'teacher' AND (m.finished_version IS NULL
                                            OR m.finished_version <> m.version)
                AND t.class_id IN (SELECT value FROM json_each(:classes))
              UNION
              SELECT ts.task_id
              FROM attempt a INDEXED BY attempt_not_begun
                CROSS JOIN task_student ts ON ts.id = a.task_student_id
                CROSS JOIN task t ON t.id = ts.task_id
              WHERE a.mark_begun = 0 AND t.class_id IN (SELECT value FROM json_each(:classes))
              UNION
              SELECT ts.task_id
              FROM wish w INDEXED BY wish_open CROSS JOIN attempt a ON a.id = w.attempt_id
                CROSS JOIN task_student ts ON ts.id = a.task_student_id
                CROSS JOIN task t ON t.id = ts.task_id
              WHERE w.granted IS NULL AND t.class_id IN (SELECT value FROM json_each(:classes))
              UNION
              SELECT id FROM task WHERE {WATCHED}
                AND class_id IN (SELECT value FROM json_each(:classes))"""


def task_groups(
    db: sqlite3.Connection, class_ids: Iterable[int], on: date, waiting: bool = False
) -> list[TaskGroup]:
    """Count the students of classes that stand alike with each task, those in the class on the day,
    in one statement; with `waiting`, only of tasks on which something may
    wait for the teacher, found without a look at what is done.
    """
    return fetch(
        db,
        TaskGroup,
        f"""WITH one AS ({_WAITING if waiting else _ALL_TASKS}),
             there AS (
               SELECT t.id AS task_id, m.person_id AS student_id
               FROM one CROSS JOIN task t ON t.id = one.task_id
               JOIN membership m ON m.class_id = t.class_id AND m.role = 'student'
                 AND m.since <= :on AND (m.until IS NULL OR m.until > :on)
               GROUP BY t.id, m.person_id),
             stand AS (
               SELECT there.task_id,
                      -- A further attempt, which was opened, is neither late nor missing.
                      CASE WHEN coalesce(a.number, 1) = 1 OR {ENTRIES}
                        THEN coalesce(ts.due_at, t.due_at) END AS due_at,
                      coalesce(ts.excused, 0) AS excused,
                      a.id IS NOT NULL AS has_attempt,
                      EXISTS (SELECT 1 FROM work_part WHERE attempt_id = a.id) AS has_work,
                      EXISTS (SELECT 1 FROM absence WHERE task_student_id = ts.id) AS absent,
                      coalesce(m.version, 0) > 0 OR {_THERE} AS there_when_due,
                      min(coalesce(m.version, 0), 1) AS version,
                      CASE WHEN m.finished_version = m.version THEN min(m.version, 1)
                           WHEN m.finished_version IS NOT NULL THEN -1
                      END AS finished_version
               FROM there JOIN task t ON t.id = there.task_id
               LEFT JOIN task_student ts
                 ON ts.task_id = there.task_id AND ts.student_id = there.student_id
               LEFT JOIN attempt a ON a.task_student_id = ts.id
                 AND a.number = {AT_HAND}
               LEFT JOIN mark m ON m.id = (SELECT id FROM teachers_mark WHERE attempt_id = a.id)
               WHERE t.for_all = 1 OR ts.chosen = 1 OR a.id IS NOT NULL)
           SELECT t.class_id, t.id AS task_id, t.kind, s.due_at, t.set_at, s.excused,
                  s.has_attempt, s.has_work, s.absent, s.there_when_due, s.version,
                  s.finished_version, count(*) AS students
           FROM stand s JOIN task t ON t.id = s.task_id
           GROUP BY t.id, s.due_at, s.excused, s.has_attempt, s.has_work, s.absent,
                    s.there_when_due, s.version, s.finished_version
           ORDER BY t.id, s.due_at, s.excused, s.has_attempt, s.has_work, s.absent,
                    s.there_when_due, s.version, s.finished_version""",
        {"classes": json.dumps(list(class_ids)), "on": on},
    )


def open_wishes(db: sqlite3.Connection, class_ids: Iterable[int], on: date) -> dict[int, int]:
    """Count the students in the class on the day who asked for another attempt and have no answer,
    by task.
    """
    rows = db.execute(
        """SELECT ts.task_id, count(*)
           FROM wish w INDEXED BY wish_open CROSS JOIN attempt a ON a.id = w.attempt_id
             CROSS JOIN task_student ts ON ts.id = a.task_student_id
             CROSS JOIN task t ON t.id = ts.task_id
           WHERE w.granted IS NULL AND t.class_id IN (SELECT value FROM json_each(:classes))
             AND a.number = (SELECT max(number) FROM attempt WHERE task_student_id = ts.id)
             AND EXISTS (SELECT 1 FROM membership l
                         WHERE l.class_id = t.class_id AND l.person_id = ts.student_id
                           AND l.role = 'student' AND l.since <= :on
                           AND (l.until IS NULL OR l.until > :on))
           GROUP BY ts.task_id ORDER BY ts.task_id""",
        {"classes": json.dumps(list(class_ids)), "on": on},
    )
    return dict(rows.fetchall())
