"""Tasks, and whom they are for."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from dataclasses import astuple, dataclass, fields
from datetime import datetime

from jade_ladder.core.evidence import AttemptsRule, SourceKind
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.store.shared.rows import fetch, fetch_number, fetch_one, insert


@dataclass(frozen=True, slots=True)
class TaskRow:
    """A task, and the rubric of those whose kind has one; `points` None means the sum of its
    highest points. `newest` is the number of the rubric's newest final revision. After `closes_at`
    nothing is handed in any more. Students see the rubric beforehand where it is `rubric_shown`;
    whether the total was shown when it was handed back last is kept for the next time. Students see
    the task from `set_at` on (None: a draft), where it is `for_all` of the class, or for them.
    `asked` are the keys of the criteria that it asks, as a JSON array; None: all of the rubric's.
    """

    id: int
    class_id: int
    revision_id: int | None
    revision: int | None
    newest: int | None
    rubric_id: int | None
    rubric_title: str | None
    title: str
    instructions: str
    kind: TaskKind
    due_at: datetime | None
    points: int | None
    practice: bool
    attempts_rule: AttemptsRule
    made_at: datetime
    version: int
    closes_at: datetime | None
    rubric_shown: bool
    total_shown: bool
    late_per_day: int
    late_most: int
    set_at: datetime | None
    for_all: bool
    category: str
    starting_text: str
    asked: str | None

    def fields(self) -> TaskFields:
        """Give what a teacher decided of it."""
        return TaskFields(**{one.name: getattr(self, one.name) for one in fields(TaskFields)})


_TASK = """SELECT t.id, t.class_id, t.revision_id, v.number AS revision,
                  (SELECT max(number) FROM revision
                   WHERE rubric_id = r.id AND final_at IS NOT NULL) AS newest, r.id AS rubric_id,
                  r.title AS rubric_title, t.title, t.instructions, t.kind, t.due_at, t.points,
                  t.practice, t.attempts_rule, t.made_at, t.version, t.closes_at, t.rubric_shown,
                  t.total_shown, t.late_per_day, t.late_most, t.set_at, t.for_all, t.category,
                  t.starting_text, t.asked
           FROM task t
           LEFT JOIN revision v ON v.id = t.revision_id
           LEFT JOIN rubric r ON r.id = v.rubric_id"""


def class_tasks(
    db: sqlite3.Connection, class_id: int, task_ids: Iterable[int] | None = None
) -> list[TaskRow]:
    """List a class's tasks, or some of them, by due time; those without come last."""
    wanted = None if task_ids is None else json.dumps(list(task_ids))
    return fetch(
        db,
        TaskRow,
        f"""{_TASK} WHERE t.class_id = ?1
              AND (?2 IS NULL OR t.id IN (SELECT value FROM json_each(?2)))
            ORDER BY t.due_at IS NULL, t.due_at, t.id""",
        (class_id, wanted),
    )


def tasks_of_classes(db: sqlite3.Connection, class_ids: Iterable[int]) -> list[TaskRow]:
    """List the tasks of classes, by due time; those without come last."""
    return fetch(
        db,
        TaskRow,
        f"""{_TASK} WHERE t.class_id IN (SELECT value FROM json_each(?))
            ORDER BY t.due_at IS NULL, t.due_at, t.id""",
        (json.dumps(list(class_ids)),),
    )


def tasks_by_id(db: sqlite3.Connection, task_ids: Iterable[int]) -> list[TaskRow]:
    """List tasks of whichever classes, by due time; those without come last."""
    return fetch(
        db,
        TaskRow,
        f"""{_TASK} WHERE t.id IN (SELECT value FROM json_each(?))
            ORDER BY t.due_at IS NULL, t.due_at, t.id""",
        (json.dumps(list(task_ids)),),
    )


def task(db: sqlite3.Connection, task_id: int) -> TaskRow | None:
    """Give one task."""
    return fetch_one(db, TaskRow, f"{_TASK} WHERE t.id = ?", (task_id,))


def attempts_rules(db: sqlite3.Connection) -> dict[tuple[SourceKind, int], AttemptsRule]:
    """Give the attempts rules of tasks whose rule is not the default, by source of evidence."""
    rows = db.execute(
        "SELECT id, attempts_rule FROM task WHERE attempts_rule <> 'latest' ORDER BY id"
    )
    return {(SourceKind.ATTEMPT, number): AttemptsRule(rule) for number, rule in rows}


@dataclass(frozen=True, slots=True)
class TaskFields:
    """What a teacher decides of a task; `points` None means the sum of the rubric's highest."""

    revision_id: int | None
    title: str
    instructions: str
    kind: TaskKind
    due_at: datetime | None
    points: int | None
    practice: bool
    closes_at: datetime | None = None
    rubric_shown: bool = True
    late_per_day: int = 0
    late_most: int = 100
    attempts_rule: AttemptsRule = AttemptsRule.LATEST
    category: str = ""
    set_at: datetime | None = None
    for_all: bool = True
    starting_text: str = ""
    asked: str | None = None


def add_task(db: sqlite3.Connection, class_id: int, fields: TaskFields, now: datetime) -> int:
    """Add a task; give its number."""
    return insert(
        db,
        """INSERT INTO task (revision_id, title, instructions, kind, due_at, points, practice,
                             closes_at, rubric_shown, late_per_day, late_most, attempts_rule,
                             category, set_at, for_all, starting_text, asked, class_id, made_at)
           VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)""",
        (*astuple(fields), class_id, now),
    )


def change_task(db: sqlite3.Connection, task_id: int, fields: TaskFields) -> None:
    """Change a task and count its version up."""
    db.execute(
        """UPDATE task SET revision_id = ?, title = ?, instructions = ?, kind = ?, due_at = ?,
                           points = ?, practice = ?, closes_at = ?, rubric_shown = ?,
                           late_per_day = ?, late_most = ?, attempts_rule = ?, category = ?,
                           set_at = ?, for_all = ?, starting_text = ?, asked = ?,
                           version = version + 1
           WHERE id = ?""",
        (*astuple(fields), task_id),
    )


def keep_instructions(db: sqlite3.Connection, task_id: int, html: str) -> None:
    """Keep the instructions of a task as HTML."""
    db.execute("UPDATE task SET instructions_html = ? WHERE id = ?", (html, task_id))


def kept_instructions(db: sqlite3.Connection, task_id: int) -> str | None:
    """Give the instructions of a task as HTML, if they were saved since that is kept."""
    row = db.execute("SELECT instructions_html FROM task WHERE id = ?", (task_id,)).fetchone()
    return None if row is None else row[0]


def copy_instructions(db: sqlite3.Connection, task_id: int, to: int) -> None:
    """Keep the instructions of a task as those of its copy."""
    db.execute(
        """UPDATE task SET instructions_html = (SELECT instructions_html FROM task WHERE id = ?)
           WHERE id = ?""",
        (task_id, to),
    )


def chosen_students(db: sqlite3.Connection, task_id: int) -> list[int]:
    """List the students that a task is for, where it is not for all."""
    rows = db.execute(
        "SELECT student_id FROM task_student WHERE task_id = ? AND chosen = 1 ORDER BY student_id",
        (task_id,),
    )
    return [number for (number,) in rows]


def choose_students(db: sqlite3.Connection, task_id: int, student_ids: Iterable[int]) -> None:
    """Let a task be for these students, where it is not for all."""
    db.execute("UPDATE task_student SET chosen = 0 WHERE task_id = ? AND chosen = 1", (task_id,))
    db.executemany(
        """INSERT INTO task_student (task_id, student_id, chosen) VALUES (?, ?, 1)
           ON CONFLICT (task_id, student_id) DO UPDATE SET chosen = 1""",
        [(task_id, number) for number in student_ids],
    )


def set_own_times(
    db: sqlite3.Connection,
    task_student_id: int,
    due_at: datetime | None,
    closes_at: datetime | None,
) -> None:
    """Give a student a due and a closing time of their own, or (None) the task's again."""
    db.execute(
        "UPDATE task_student SET due_at = ?, closes_at = ? WHERE id = ?",
        (due_at, closes_at, task_student_id),
    )


def set_total_shown(db: sqlite3.Connection, task_id: int, shown: bool) -> None:
    """Remember whether the total was shown when the task was handed back last."""
    db.execute("UPDATE task SET total_shown = ? WHERE id = ?", (shown, task_id))


def delete_task(db: sqlite3.Connection, task_id: int) -> None:
    """Delete a task that nobody has work or a mark on."""
    db.execute("DELETE FROM task WHERE id = ?", (task_id,))


def has_attempts(db: sqlite3.Connection, task_id: int) -> bool:
    """Whether anybody has handed in or been marked."""
    found = fetch_number(
        db,
        """SELECT 1 FROM attempt a JOIN task_student ts ON ts.id = a.task_student_id
           WHERE ts.task_id = ? LIMIT 1""",
        (task_id,),
    )
    return found is not None


def has_marks(db: sqlite3.Connection, task_id: int) -> bool:
    """Whether any criterion was ever marked."""
    found = fetch_number(
        db,
        """SELECT 1 FROM mark m JOIN attempt a ON a.id = m.attempt_id
           JOIN task_student ts ON ts.id = a.task_student_id
           WHERE ts.task_id = ? AND m.version > 0 LIMIT 1""",
        (task_id,),
    )
    return found is not None


def task_student(db: sqlite3.Connection, task_id: int, student_id: int) -> int:
    """Give the number of a student's record at a task, made on first use."""
    db.execute(
        "INSERT INTO task_student (task_id, student_id) VALUES (?, ?) ON CONFLICT DO NOTHING",
        (task_id, student_id),
    )
    row: tuple[int] = db.execute(
        "SELECT id FROM task_student WHERE task_id = ? AND student_id = ?", (task_id, student_id)
    ).fetchone()
    return row[0]


def record_of(db: sqlite3.Connection, task_id: int, student_id: int) -> int | None:
    """Give the number of a student's record at a task, where there is one."""
    return fetch_number(
        db,
        "SELECT id FROM task_student WHERE task_id = ? AND student_id = ?",
        (task_id, student_id),
    )


def set_excused(db: sqlite3.Connection, task_student_id: int, excused: bool) -> None:
    """Excuse a student from a task, or take that back."""
    db.execute("UPDATE task_student SET excused = ? WHERE id = ?", (excused, task_student_id))


def newest_revision(db: sqlite3.Connection, revision_id: int | None) -> int | None:
    """Give the newest final revision of the rubric that a revision is of; none of none."""
    found = fetch_number(
        db,
        """SELECT n.id FROM revision v JOIN revision n ON n.rubric_id = v.rubric_id
           WHERE v.id = ? AND n.final_at IS NOT NULL ORDER BY n.number DESC LIMIT 1""",
        (revision_id,),
    )
    return revision_id if found is None else found
