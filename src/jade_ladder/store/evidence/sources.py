"""Where evidence came from: its tasks, and what was remarked."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from datetime import datetime

from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.store.shared.versions import in_version


def task_titles(
    db: sqlite3.Connection, task_ids: Iterable[int], teacher_id: int
) -> dict[int, tuple[str, TaskKind, str, int | None]]:
    """Give title, kind and class of tasks, by number; the class's number only where the teacher
    teaches it.
    """
    rows = db.execute(
        """SELECT t.id, t.title, t.kind, c.name,
                  (SELECT m.class_id FROM membership m
                   WHERE m.class_id = c.id AND m.person_id = ? AND m.role = 'teacher'
                     AND m.until IS NULL LIMIT 1)
           FROM json_each(?) n
           JOIN task t ON t.id = n.value JOIN school_class c ON c.id = t.class_id
           ORDER BY t.id""",
        (teacher_id, json.dumps(list(task_ids))),
    ).fetchall()
    return {
        number: (title, TaskKind(kind), class_name, class_id)
        for number, title, kind, class_name, class_id in rows
    }


def asking(db: sqlite3.Connection, task_ids: Iterable[int], outcome_id: int) -> set[int]:
    """Give those of some tasks that ask about an outcome now: by an earlier revision, or when more
    of their criteria were asked, others may have.
    """
    rows = db.execute(
        """SELECT DISTINCT t.id FROM json_each(?) n JOIN task t ON t.id = n.value
           JOIN criterion c ON c.revision_id = t.revision_id
             AND (t.asked IS NULL OR c.key IN (SELECT value FROM json_each(t.asked)))
           JOIN alignment l ON l.criterion_id = c.id AND l.outcome_id = ?
           ORDER BY t.id""",
        (json.dumps(list(task_ids)), outcome_id),
    )
    return {number for (number,) in rows}


def class_names(
    db: sqlite3.Connection, class_ids: Iterable[int], teacher_id: int
) -> dict[int, tuple[str, int | None]]:
    """Give the names of classes, by number; the number only where the teacher teaches it."""
    rows = db.execute(
        """SELECT c.id, c.name,
                  (SELECT m.class_id FROM membership m
                   WHERE m.class_id = c.id AND m.person_id = ? AND m.role = 'teacher'
                     AND m.until IS NULL LIMIT 1)
           FROM json_each(?) n JOIN school_class c ON c.id = n.value ORDER BY c.id""",
        (teacher_id, json.dumps(list(class_ids))),
    )
    return {number: (name, own) for number, name, own in rows}


def times_by_themselves(db: sqlite3.Connection, attempt_ids: Iterable[int]) -> dict[int, datetime]:
    """Give the time that attempts had by themselves, of those whose time was corrected."""
    rows = db.execute(
        """SELECT id, done_at FROM attempt
           WHERE id IN (SELECT value FROM json_each(?)) AND corrected_done_at IS NOT NULL
           ORDER BY id""",
        (json.dumps(list(attempt_ids)),),
    )
    return {number: datetime.fromisoformat(done_at) for number, done_at in rows}


def carried_into(
    db: sqlite3.Connection, attempt_ids: Iterable[int], outcome_id: int
) -> list[tuple[int, int]]:
    """List from which attempts (by number) something about an outcome is carried over into the
    finished marks of these attempts.
    """
    return db.execute(
        f"""SELECT DISTINCT m.attempt_id, c.carried_from FROM json_each(?1) n
           JOIN teachers_mark m ON m.attempt_id = n.value
           JOIN mark_choice c ON c.mark_id = m.id AND c.carried_from IS NOT NULL
             AND {in_version("c", "m.finished_version")}
           JOIN alignment a ON a.criterion_id = c.criterion_id AND a.outcome_id = ?2
           ORDER BY 1, 2""",
        (json.dumps(list(attempt_ids)), outcome_id),
    ).fetchall()


def finished_remarks(
    db: sqlite3.Connection, attempt_ids: Iterable[int], outcome_id: int
) -> list[tuple[int, str]]:
    """List the remarks in the finished version of these attempts' marks, as attempt and text:
    those on criteria aligned to the outcome, then the one on the whole.
    """
    return db.execute(
        f"""SELECT m.attempt_id, r.text FROM json_each(?1) n
           JOIN teachers_mark m ON m.attempt_id = n.value
           JOIN mark_remark r ON r.mark_id = m.id
           WHERE r.text <> '' AND {in_version("r", "m.finished_version")}
             AND (r.criterion_id IS NULL OR r.criterion_id IN (
               SELECT criterion_id FROM alignment WHERE outcome_id = ?2))
           ORDER BY m.attempt_id, r.criterion_id IS NULL, r.criterion_id, r.id""",
        (json.dumps(list(attempt_ids)), outcome_id),
    ).fetchall()
