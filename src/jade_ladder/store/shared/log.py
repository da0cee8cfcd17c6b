"""The log: who changed what, with before and after, by subjects of one enumeration."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum
from typing import Any

from jade_ladder.store.shared.rows import fetch_number, insert


class LogSubject(StrEnum):
    """What a change was of; each is said in a sentence (`service/people/log_sentences.py`)."""

    ACCOUNT = "account"
    ACCOUNT_ENDED = "account-ended"
    ACCOUNT_RESTORED = "account-restored"
    ADMINISTRATOR = "administrator"
    OWN_ACCOUNT = "own-account"
    PASSWORD = "password"
    PASSWORD_LINK = "password-link"
    CLASS_TEACHER = "class-teacher"
    CLASS_RESPONSIBLE = "class-responsible"
    CLASS_SET_ASIDE = "class-set-aside"
    SAMPLE_CLASS = "sample-class"
    SAMPLE_CLASS_DELETED = "sample-class-deleted"
    OUTCOME_OWNER = "outcome-owner"
    CLASS_COPIED = "class-copied"
    CLASS_METHOD = "class-method"
    CLASS_SCALE = "class-scale"
    COMBINING = "combining"
    STRAND_ROLL_UP = "strand-roll-up"
    CLASS_LIST = "class-list"
    CLASS_LIST_UNDONE = "class-list-undone"
    MEMBERSHIP = "membership"
    JOINING_UNDONE = "joining-undone"
    SLIP = "slip"
    SLIP_GRANTED = "slip-granted"
    OUTCOME_METHOD = "outcome-method"
    OUTCOME_SCALE = "outcome-scale"
    NOT_EXPECTED = "not-expected"
    JUDGEMENT = "judgement"
    JUDGEMENT_LIFTED = "judgement-lifted"
    JUDGEMENT_KEPT = "judgement-kept"
    JUDGEMENT_UNDONE = "judgement-undone"
    SCALE = "scale"
    FRAMEWORK = "framework"
    FRAMEWORK_TAKEN_BACK = "framework-taken-back"
    RUBRIC_WORDING = "rubric-wording"
    TASK_REVISION = "task-revision"
    TASK_HANDED_BACK = "task-handed-back"
    TASK_TAKEN_BACK = "task-taken-back"
    OWN_TIMES = "own-times"
    ATTEMPT_OPENED = "attempt-opened"
    ATTEMPT_WITHDRAWN = "attempt-withdrawn"
    ATTEMPT_TIME = "attempt-time"
    WISH = "wish"
    EVIDENCE_SET_ASIDE = "evidence-set-aside"
    NOTE_SHOWN = "note-shown"
    NOTE_FILE = "note-file"
    THIN = "thin"
    LANGUAGE = "language"


def _kept(subject: LogSubject, class_id: int | None) -> str:
    # Of an outcome in a class, the class stands behind a stroke.
    return subject if class_id is None else f"{subject}/{class_id}"


def add_entry(
    db: sqlite3.Connection,
    at: datetime,
    person_id: int | None,
    subject: LogSubject,
    subject_id: int,
    before: Any,
    after: Any,
    class_id: int | None = None,
) -> int:
    """Append what changed; `before` and `after` are anything JSON can hold. Without a person it was
    the program itself; with a class, it is of an outcome in that. Gives the entry's number.
    """
    return insert(
        db,
        """INSERT INTO log (at, person_id, subject, subject_id, before, after)
           VALUES (?, ?, ?, ?, ?, ?)""",
        (at, person_id, _kept(subject, class_id), subject_id, _text(before), _text(after)),
    )


def entry(
    db: sqlite3.Connection,
    number: int,
    person_id: int,
    subject: LogSubject,
    class_id: int | None = None,
) -> tuple[int, Any, Any] | None:
    """Give the subject's number, before and after of an entry that a person made."""
    row = db.execute(
        "SELECT subject_id, before, after FROM log WHERE id = ? AND person_id = ? AND subject = ?",
        (number, person_id, _kept(subject, class_id)),
    ).fetchone()
    if row is None:
        return None
    return row[0], _value(row[1]), _value(row[2])


def newest_entry(
    db: sqlite3.Connection, subject: LogSubject, subject_id: int, person_id: int
) -> tuple[int, Any] | None:
    """Give the number and what stood after of the newest entry that a person made of a subject."""
    row = db.execute(
        "SELECT id, after FROM log WHERE subject = ? AND subject_id = ? AND person_id = ? "
        "ORDER BY id DESC LIMIT 1",
        (subject, subject_id, person_id),
    ).fetchone()
    return None if row is None else (row[0], _value(row[1]))


def after_of(db: sqlite3.Connection, subject: LogSubject, subject_id: int) -> Any:
    """Give what stood after the newest entry of a subject, whosever it is; None without one."""
    row = db.execute(
        "SELECT after FROM log WHERE subject = ? AND subject_id = ? ORDER BY id DESC LIMIT 1",
        (subject, subject_id),
    ).fetchone()
    return None if row is None else _value(row[0])


def has_entry(db: sqlite3.Connection, subject: LogSubject, subject_id: int) -> bool:
    """Whether anything is logged of a subject."""
    found = fetch_number(
        db, "SELECT 1 FROM log WHERE subject = ? AND subject_id = ? LIMIT 1", (subject, subject_id)
    )
    return found is not None


def entries(db: sqlite3.Connection, subject: LogSubject) -> list[tuple[datetime, int, Any]]:
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
    """An entry as it is read: who changed what. `class_id` is of an outcome in a class."""

    id: int
    at: datetime
    person_id: int | None
    person: str | None
    subject: LogSubject
    class_id: int | None
    subject_id: int
    before: Any
    after: Any


@dataclass(frozen=True, slots=True)
class Wanted:
    """Which entries are read: before one, of one person, of one kind, from a moment until before
    another.
    """

    before: int | None = None
    person_id: int | None = None
    subject: LogSubject | None = None
    since: datetime | None = None
    until: datetime | None = None


def page(db: sqlite3.Connection, most: int, wanted: Wanted) -> list[LogRow]:
    """List the entries that are wanted, the newest first."""
    rows = db.execute(
        """SELECT l.id, l.at, l.person_id, p.given_name || ' ' || p.family_name, l.subject,
                  l.subject_id, l.before, l.after
           FROM log l LEFT JOIN person p ON p.id = l.person_id
           WHERE (:before IS NULL
                  OR (l.at, l.id) < (SELECT at, id FROM log WHERE id = :before))
             AND (:person IS NULL OR l.person_id = :person)
             AND (:subject IS NULL OR l.subject = :subject OR l.subject LIKE :subject || '/%')
             AND (:since IS NULL OR l.at >= :since) AND (:until IS NULL OR l.at < :until)
           ORDER BY l.at DESC, l.id DESC LIMIT :most""",
        {
            "before": wanted.before,
            "person": wanted.person_id,
            "subject": wanted.subject,
            "since": wanted.since,
            "until": wanted.until,
            "most": most,
        },
    )
    return [
        LogRow(
            number,
            datetime.fromisoformat(at),
            person_id,
            person,
            LogSubject(subject.partition("/")[0]),
            int(subject.partition("/")[2] or 0) or None,
            subject_id,
            _value(before),
            _value(after),
        )
        for number, at, person_id, person, subject, subject_id, before, after in rows
    ]


def who_changed(db: sqlite3.Connection) -> list[tuple[int, str]]:
    """List those whom any entry is by, by name."""
    return db.execute(
        """SELECT p.id, p.given_name || ' ' || p.family_name FROM person p
           WHERE p.id IN (SELECT person_id FROM log)
           ORDER BY p.family_name COLLATE names, p.given_name COLLATE names, p.id"""
    ).fetchall()


# What a sentence names, by number. Of a judgement the student and the outcome stand in the entry,
# too: it goes when it is undone.
_NAMES = {
    "person": "SELECT id, trim(given_name || ' ' || family_name) FROM person",
    "class": "SELECT id, name FROM school_class",
    "outcome": "SELECT id, code FROM outcome",
    "scale": "SELECT id, name FROM scale",
    "rubric": "SELECT id, title FROM rubric",
    "task": "SELECT id, title FROM task",
    "attempt": """SELECT a.id, trim(p.given_name || ' ' || p.family_name) || ' at “' || t.title
                         || '”' || CASE WHEN a.number > 1 THEN ', attempt ' || a.number ELSE '' END
                  FROM attempt a JOIN task_student ts ON ts.id = a.task_student_id
                  JOIN person p ON p.id = ts.student_id JOIN task t ON t.id = ts.task_id""",
    "note": """SELECT n.id, trim(p.given_name || ' ' || p.family_name) || ' on ' || o.code
               FROM note n JOIN person p ON p.id = n.student_id
               JOIN outcome o ON o.id = n.outcome_id""",
    "judgement": """SELECT j.id, trim(p.given_name || ' ' || p.family_name) || ' on ' || o.code
                    FROM judgement j JOIN person p ON p.id = j.student_id
                    JOIN outcome o ON o.id = j.outcome_id""",
    "entry": """SELECT u.id, c.name FROM log u JOIN school_class c ON c.id = u.subject_id""",
}
_NUMBER = {"attempt": "a.id", "note": "n.id", "judgement": "j.id", "entry": "u.id"}


def names(db: sqlite3.Connection, kind: str, numbers: Iterable[int]) -> dict[int, str]:
    """Give the names of things of a kind (person, class, outcome, scale, rubric, task, attempt,
    note, judgement, entry: the class that an entry is of), by number, as far as they are there.
    """
    number = _NUMBER.get(kind, "id")
    sql = f"{_NAMES[kind]} WHERE {number} IN (SELECT value FROM json_each(?)) ORDER BY 1"
    return dict(db.execute(sql, (json.dumps(sorted(numbers)),)).fetchall())
