"""Sample classes: which they are, and deleting one whole."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass

from jade_ladder.store.shared.rows import fetch, fetch_number


def mark_as_sample(db: sqlite3.Connection, class_id: int) -> None:
    """Remember that a class is a sample."""
    db.execute("UPDATE school_class SET sample = 1 WHERE id = ?", (class_id,))


def sample_of(db: sqlite3.Connection, teacher_id: int) -> int | None:
    """Give the sample class that a person teaches, if there is one."""
    return fetch_number(
        db,
        """SELECT c.id FROM school_class c JOIN membership m ON m.class_id = c.id
           WHERE c.sample = 1 AND m.person_id = ? AND m.role = 'teacher' AND m.until IS NULL
           ORDER BY c.id LIMIT 1""",
        (teacher_id,),
    )


@dataclass(frozen=True, slots=True)
class SampleSize:
    """How much is deleted with a sample class: `students` are those in no other class."""

    students: int
    tasks: int
    marks: int


def sample_size(db: sqlite3.Connection, class_id: int) -> SampleSize:
    """Say how much is deleted with a sample class."""
    return fetch(
        db,
        SampleSize,
        """SELECT
             (SELECT count(DISTINCT m.person_id) FROM membership m
              WHERE m.class_id = :class AND m.role = 'student' AND NOT EXISTS (
                SELECT 1 FROM membership o
                WHERE o.person_id = m.person_id AND o.class_id <> :class)) AS students,
             (SELECT count(*) FROM task WHERE class_id = :class) AS tasks,
             (SELECT count(*) FROM task t JOIN task_student ts ON ts.task_id = t.id
              JOIN attempt a ON a.task_student_id = ts.id JOIN mark m ON m.attempt_id = a.id
              WHERE t.class_id = :class) AS marks""",
        {"class": class_id},
    )[0]


def delete_class(db: sqlite3.Connection, class_id: int, came_with: Iterable[int]) -> list[int]:
    """Delete a class with its tasks, their work, marks and evidence, and who was in it; gives the
    numbers of those who were, and of the students who came with it, in no other class now.
    """
    people = [
        number
        for (number,) in db.execute(
            """SELECT p.id FROM person p
               WHERE (p.id IN (SELECT value FROM json_each(:with)) OR p.id IN (
                        SELECT person_id FROM membership WHERE class_id = :class))
                 AND NOT EXISTS (SELECT 1 FROM membership o
                                 WHERE o.person_id = p.id AND o.class_id <> :class)
               ORDER BY p.id""",
            {"class": class_id, "with": json.dumps(list(came_with))},
        )
    ]
    gone = json.dumps(people)
    db.execute("DELETE FROM task WHERE class_id = ?", (class_id,))
    db.execute("DELETE FROM note WHERE class_id = ?", (class_id,))
    for table in ("not_expected", "judgement"):
        db.execute(
            f"""DELETE FROM {table} WHERE student_id IN (
                 SELECT p.id FROM json_each(?) n JOIN person p ON p.id = n.value
                 WHERE p.may_teach = 0)""",
            (gone,),
        )
    # A later class may get this number.
    db.execute(
        """DELETE FROM log WHERE (subject = 'class-method' AND subject_id = :class)
             OR subject = 'outcome-method/' || :class""",
        {"class": class_id},
    )
    db.execute("DELETE FROM class_outcome WHERE class_id = ?", (class_id,))
    db.execute("DELETE FROM membership WHERE class_id = ?", (class_id,))
    db.execute("DELETE FROM school_class WHERE id = ?", (class_id,))
    return people
