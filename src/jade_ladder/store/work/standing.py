"""Where students stand with tasks: the attempt at hand, its work and its mark."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime

from jade_ladder.core.names import Named
from jade_ladder.store.shared.rows import fetch
from jade_ladder.store.work.attempts import Dating, effective_time
from jade_ladder.store.work.kinds import ENTRIES

AT_HAND = f"""coalesce(
    CASE WHEN {ENTRIES} THEN (
      SELECT min(x.number) FROM attempt x
      WHERE x.task_student_id = ts.id AND NOT EXISTS (
        SELECT 1 FROM teachers_mark y
        WHERE y.attempt_id = x.id AND y.finished_version = y.version)) END,
    (SELECT max(number) FROM attempt WHERE task_student_id = ts.id))"""
"""The number of the attempt that matters now of task t and its student ts: the newest; of other
evidence the first that is not finished, if there is one."""


@dataclass(frozen=True, slots=True)
class TaskStudentRow(Named):
    """Where one student stands with one task: the attempt at hand, its work and its
    mark.

    `done_at` is what its evidence is dated by: `dated_at`, which came about as `dating` says, or
    what a teacher corrected it to at `corrected_at`. `left_on` is the first day no longer in the
    class, for those who have left. `own_due_at` and `own_closes_at` hold for them alone.
    `absent_on` is the last day on which they were absent when others were observed;
    `there_when_due` where they were in the class on the day that it was due, or it has no due time.
    """

    student_id: int
    given_name: str
    family_name: str
    excused: bool
    attempt_id: int | None
    number: int | None
    done_at: datetime | None
    dated_at: datetime | None
    dating: Dating | None
    corrected_at: datetime | None
    parts: int
    mark_id: int | None
    version: int | None
    finished_version: int | None
    chosen: int
    left_on: date | None
    own_due_at: datetime | None
    own_closes_at: datetime | None
    absent_on: date | None
    there_when_due: bool

    @property
    def has_work(self) -> bool:
        """Whether anything is in the work."""
        return self.parts > 0

    @property
    def handed_in_at(self) -> datetime | None:
        """When it was handed in, if anybody said so: only then can it be late. A correction of what
        the evidence is dated by does not change it.
        """
        return self.dated_at if self.dating is Dating.HANDED_IN else None


def there_when_due(due: str, class_id: str, person: str) -> str:
    """Give the SQL of whether somebody was in a class on the day of a due time; so is everybody
    where there is none.
    """
    return f"""({due} IS NULL OR EXISTS (
      SELECT 1 FROM membership d, (SELECT school_day({due}, (SELECT time_zone FROM school)) AS day)
      WHERE d.class_id = {class_id} AND d.person_id = {person} AND d.role = 'student'
        AND d.since <= day AND (d.until IS NULL OR d.until > day)))"""


# How many criteria a mark that is not begun will begin with: what is carried over into the attempt.
_CARRIED = """(SELECT count(*) FROM attempt b JOIN carried_choice c ON c.attempt_id = b.id
                  JOIN criterion k ON k.revision_id = t.revision_id AND k.key = c.criterion_key
                    AND k.bonus = 0
                  JOIN criterion_level l ON l.criterion_id = k.id AND l.key = c.level_key
                  WHERE b.task_student_id = ts.id AND b.number = a.number - 1
                    AND (t.asked IS NULL OR k.key IN (SELECT value FROM json_each(t.asked))))"""
# Where the student p stands: ts is their record at the task, a the attempt at hand, m its mark.
_STANDING = f"""p.id AS student_id, p.given_name, p.family_name,
               coalesce(ts.excused, 0) AS excused, a.id AS attempt_id, a.number,
               {effective_time()} AS done_at, a.done_at AS dated_at,
               a.dating, a.corrected_at,
               (SELECT count(*) FROM work_part WHERE attempt_id = a.id) AS parts,
               m.id AS mark_id, m.version, m.finished_version,
               CASE WHEN m.id IS NULL THEN {_CARRIED} ELSE
                 (SELECT count(*) FROM mark_choice c JOIN criterion k ON k.id = c.criterion_id
                  WHERE c.mark_id = m.id AND c.until_version IS NULL AND k.bonus = 0
                    AND (c.level_id IS NOT NULL OR c.not_assessed = 1)) END AS chosen,
               (SELECT l.until FROM membership l
                WHERE l.class_id = t.class_id AND l.person_id = p.id AND l.role = 'student'
                ORDER BY l.id DESC LIMIT 1) AS left_on,
               ts.due_at AS own_due_at, ts.closes_at AS own_closes_at,
               (SELECT max(day) FROM absence WHERE task_student_id = ts.id) AS absent_on,
               {there_when_due("coalesce(ts.due_at, t.due_at)", "t.class_id", "p.id")}
               AS there_when_due"""
# How many criteria need a choice: those that are asked, but the bonus ones.
_NEEDING = """(SELECT count(*) FROM criterion q
               WHERE q.revision_id = t.revision_id AND q.bonus = 0
                 AND (t.asked IS NULL OR q.key IN (SELECT value FROM json_each(t.asked))))"""
# Whom a task is for: those who have an attempt at it stay with it.
_FOR = "(a.id IS NOT NULL OR t.for_all = 1 OR coalesce(ts.chosen, 0) = 1)"
_NOW = f"""LEFT JOIN attempt a ON a.task_student_id = ts.id AND a.number = {AT_HAND}
             LEFT JOIN mark m ON m.id = (SELECT id FROM teachers_mark WHERE attempt_id = a.id)"""


def task_students(
    db: sqlite3.Connection, task_id: int, class_id: int, on: date
) -> list[TaskStudentRow]:
    """List where each student stands that a task is for: those in the class on the day, and any
    with an attempt.

    `chosen` counts the criteria that count (no bonus) with a choice in the newest version, or,
    where the mark is not begun, those that are carried over into it.
    """
    return fetch(
        db,
        TaskStudentRow,
        f"""SELECT {_STANDING}
           FROM task t JOIN person p
           LEFT JOIN task_student ts ON ts.task_id = t.id AND ts.student_id = p.id
           {_NOW}
           WHERE t.id = :task AND {_FOR} AND (a.id IS NOT NULL OR p.id IN (
             SELECT person_id FROM membership
             WHERE class_id = :class AND role = 'student' AND since <= :on
               AND (until IS NULL OR until > :on)))
           ORDER BY p.family_name COLLATE names, p.given_name COLLATE names, p.id""",
        {"task": task_id, "class": class_id, "on": on},
    )


@dataclass(frozen=True, slots=True)
class StudentTask(TaskStudentRow):
    """Where a student stands with a task, of which so many criteria need a choice."""

    task_id: int
    needing: int


def students_at(db: sqlite3.Connection, task_ids: Iterable[int], on: date) -> list[StudentTask]:
    """List where each student stands with tasks, task by task, by name: those in the class on the
    day that a task is for.
    """
    return fetch(
        db,
        StudentTask,
        f"""SELECT {_STANDING}, t.id AS task_id,
                   {_NEEDING} AS needing
            FROM json_each(:tasks) n JOIN task t ON t.id = n.value
            JOIN (SELECT DISTINCT class_id, person_id FROM membership
                  WHERE role = 'student' AND since <= :on AND (until IS NULL OR until > :on)) l
              ON l.class_id = t.class_id
            JOIN person p ON p.id = l.person_id
            LEFT JOIN task_student ts ON ts.task_id = t.id AND ts.student_id = p.id
            {_NOW}
            WHERE {_FOR}
            ORDER BY t.id, p.family_name COLLATE names, p.given_name COLLATE names, p.id""",
        {"tasks": json.dumps(list(task_ids)), "on": on},
    )


def student_tasks(db: sqlite3.Connection, class_id: int, student_id: int) -> list[StudentTask]:
    """List where one student stands with each task of a class, by due time; those without last."""
    return fetch(
        db,
        StudentTask,
        f"""SELECT {_STANDING}, t.id AS task_id,
                   {_NEEDING} AS needing
            FROM task t
            JOIN person p ON p.id = :student
            LEFT JOIN task_student ts ON ts.task_id = t.id AND ts.student_id = p.id
            {_NOW}
            WHERE t.class_id = :class AND {_FOR}
            ORDER BY t.due_at IS NULL, t.due_at, t.id""",
        {"class": class_id, "student": student_id},
    )
