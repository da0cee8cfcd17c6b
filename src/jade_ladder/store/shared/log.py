"""The log: changes of method, scale, cuts, alignment and membership, with before and after."""

from __future__ import annotations

import json
import sqlite3
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from jade_ladder.store.shared.rows import fetch, fetch_number, insert


def add_entry(
    db: sqlite3.Connection,
    at: datetime,
    person_id: int | None,
    subject: str,
    subject_id: int,
    before: Any,
    after: Any,
) -> int:
    """Append what changed; `before` and `after` are anything JSON can hold. Without a person it was
    the program itself. Gives the entry's number.
    """
    return insert(
        db,
        """INSERT INTO log (at, person_id, subject, subject_id, before, after)
           VALUES (?, ?, ?, ?, ?, ?)""",
        (at, person_id, subject, subject_id, _text(before), _text(after)),
    )


def entry(
    db: sqlite3.Connection, number: int, person_id: int, subject: str
) -> tuple[int, Any, Any] | None:
    """Give the subject's number, before and after of an entry that a person made."""
    row = db.execute(
        "SELECT subject_id, before, after FROM log WHERE id = ? AND person_id = ? AND subject = ?",
        (number, person_id, subject),
    ).fetchone()
    if row is None:
        return None
    return row[0], _value(row[1]), _value(row[2])


def newest_entry(
    db: sqlite3.Connection, subject: str, subject_id: int, person_id: int
) -> tuple[int, Any] | None:
    """Give the number and what stood after of the newest entry that a person made of a subject."""
    row = db.execute(
        "SELECT id, after FROM log WHERE subject = ? AND subject_id = ? AND person_id = ? "
        "ORDER BY id DESC LIMIT 1",
        (subject, subject_id, person_id),
    ).fetchone()
    return None if row is None else (row[0], _value(row[1]))


def after_of(db: sqlite3.Connection, subject: str, subject_id: int) -> Any:
    """Give what stood after the newest entry of a subject, whosever it is; None without one."""
    row = db.execute(
        "SELECT after FROM log WHERE subject = ? AND subject_id = ? ORDER BY id DESC LIMIT 1",
        (subject, subject_id),
    ).fetchone()
    return None if row is None else _value(row[0])


def has_entry(db: sqlite3.Connection, subject: str, subject_id: int) -> bool:
    """Whether anything is logged of a subject."""
    found = fetch_number(
        db, "SELECT 1 FROM log WHERE subject = ? AND subject_id = ? LIMIT 1", (subject, subject_id)
    )
    return found is not None


def entries(db: sqlite3.Connection, subject: str) -> list[tuple[datetime, int, Any]]:
    """List what was logged about subjects of a kind, the oldest first: when, of which, and what
    stood before.
    """
    rows = db.execute(
        "SELECT at, subject_id, before FROM log WHERE subject = ? ORDER BY at, id", (subject,)
    )
    return [(datetime.fromisoformat(at), number, _value(before)) for at, number, before in rows]


def _value(text: str | None) -> Any:
    return None if text is None else json.loads(text)


def _text(value: Any) -> str | None:
    return None if value is None else json.dumps(value, ensure_ascii=False, default=str)


@dataclass(frozen=True, slots=True)
class LogRow:
    """An entry as it is read: who changed what, and the subject by name where it has one; `before`
    and `after` are JSON.
    """

    id: int
    at: datetime
    person: str | None
    subject: str
    subject_id: int
    name: str | None
    before: str | None
    after: str | None


def page(
    db: sqlite3.Connection, most: int, before: int | None = None, subject: str = ""
) -> list[LogRow]:
    """List entries, the newest first, before one and of one kind of subject, or all; of a change in
    a class, the class stands behind a stroke of its subject.
    """
    return fetch(
        db,
        LogRow,
        """SELECT l.id, l.at, p.given_name || ' ' || p.family_name, l.subject, l.subject_id,
                  CASE
                    WHEN l.subject IN ('account', 'account-ended', 'account-restored',
                                       'administrator', 'own-account', 'password',
                                       'password-link', 'membership', 'slip', 'slip-granted')
                      THEN (SELECT given_name || ' ' || family_name FROM person
                            WHERE id = l.subject_id)
                    WHEN l.subject IN ('class-list-undone', 'framework-taken-back')
                      THEN (SELECT c.name FROM log u JOIN school_class c ON c.id = u.subject_id
                            WHERE u.id = l.subject_id)
                    WHEN l.subject LIKE 'class%'
                      OR l.subject IN ('framework', 'sample-class', 'judgement', 'judgement-undone',
                                       'combining', 'strand-roll-up')
                      THEN (SELECT name FROM school_class WHERE id = l.subject_id)
                    WHEN l.subject LIKE 'judgement%'
                      THEN (SELECT p.given_name || ' ' || p.family_name || ', ' || o.code
                            FROM (SELECT 1) LEFT JOIN judgement j ON j.id = l.subject_id
                            JOIN person p
                              ON p.id = coalesce(j.student_id, json_extract(l.after, '$.student'))
                            JOIN outcome o
                              ON o.id = coalesce(j.outcome_id, json_extract(l.after, '$.outcome')))
                    WHEN l.subject LIKE 'note%'
                      THEN (SELECT p.given_name || ' ' || p.family_name || ', ' || o.code
                            FROM note n JOIN person p ON p.id = n.student_id
                            JOIN outcome o ON o.id = n.outcome_id WHERE n.id = l.subject_id)
                    WHEN l.subject LIKE 'outcome%' OR l.subject = 'not-expected'
                      THEN (SELECT code FROM outcome WHERE id = l.subject_id)
                    WHEN l.subject LIKE 'scale%'
                      THEN (SELECT name FROM scale WHERE id = l.subject_id)
                    WHEN l.subject LIKE 'rubric%'
                      THEN (SELECT title FROM rubric WHERE id = l.subject_id)
                    WHEN l.subject LIKE 'task%' OR l.subject IN ('own-times', 'evidence-set-aside')
                      THEN (SELECT title FROM task WHERE id = l.subject_id)
                    WHEN l.subject LIKE 'attempt%' OR l.subject = 'wish'
                      THEN (SELECT p.given_name || ' ' || p.family_name || ', ' || t.title
                            FROM attempt a JOIN task_student ts ON ts.id = a.task_student_id
                            JOIN person p ON p.id = ts.student_id JOIN task t ON t.id = ts.task_id
                            WHERE a.id = l.subject_id)
                    WHEN l.subject IN ('thin', 'language') THEN (SELECT name FROM school)
                  END,
                  l.before, l.after
           FROM log l LEFT JOIN person p ON p.id = l.person_id
           WHERE (:before IS NULL OR l.id < :before)
             AND (:subject IN ('', l.subject) OR l.subject LIKE :subject || '/%')
           ORDER BY l.id DESC LIMIT :most""",
        {"before": before, "subject": subject, "most": most},
    )
