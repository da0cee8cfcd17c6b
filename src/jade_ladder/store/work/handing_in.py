"""What students write and hand in: the draft, and each time that it was handed in."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import date, datetime

from jade_ladder.core.evidence import AttemptsRule
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.store.shared.rows import fetch, fetch_one, insert
from jade_ladder.store.work.kinds import HANDS_IN


@dataclass(frozen=True, slots=True)
class OwnTaskRow:
    """A task of a class, and where one student stands with it.

    `present` while they are in the class and it is not set aside. What a teacher noted of them at
    other kinds of tasks is no work of theirs, and is seen with what is handed back. `due_at` and
    `closes_at` are those of the attempt that is open or was handed in last: where that is `further`
    (not the first), its own due time, if it has one, and no closing time; `first_due_at` is that
    of the first. Of the newest attempt: its number, when it was handed in, whether there is work
    and its student handed it in on screen (`by_student`), whether its mark was begun, and whether
    another was asked for and granted; of what was handed back and is visible: the attempt it is
    of, since when, and when it was read.
    """

    id: int
    class_id: int
    class_name: str
    revision_id: int
    title: str
    instructions: str
    kind: TaskKind
    due_at: datetime | None
    closes_at: datetime | None
    rubric_shown: bool
    points: int | None
    practice: bool
    present: bool
    excused: bool
    opened_at: datetime | None
    drafted_at: datetime | None
    attempt_id: int | None
    number: int | None
    handed_in_at: datetime | None
    has_work: bool
    by_student: bool
    marked: bool
    wished: bool
    granted: bool | None
    answer: str | None
    back_number: int | None
    back_at: datetime | None
    read_at: datetime | None
    late_per_day: int
    late_most: int
    asked: str | None
    attempts_rule: AttemptsRule
    further: bool
    first_due_at: datetime | None


_OWN = f"""
WITH visible AS (
  SELECT h.mark_id, max(h.id) AS id FROM hand_back h
  WHERE h.taken_back_at IS NULL AND h.visible_at <= :now GROUP BY h.mark_id)
SELECT t.id, k.id AS class_id, k.name AS class_name, t.revision_id, t.title, t.instructions,
       t.kind,
       CASE WHEN NOT {HANDS_IN} THEN coalesce(ts.due_at, t.due_at)
            WHEN w.granted = 1 THEN w.due_at
            WHEN a.number > 1 THEN (
              SELECT x.due_at FROM attempt e JOIN wish x ON x.attempt_id = e.id AND x.granted = 1
              WHERE e.task_student_id = ts.id AND e.number = a.number - 1)
            ELSE coalesce(ts.due_at, t.due_at) END AS due_at,
       CASE WHEN {HANDS_IN} AND (w.granted = 1 OR a.number > 1) THEN NULL
            ELSE coalesce(ts.closes_at, t.closes_at) END AS closes_at,
       t.rubric_shown, t.points, t.practice,
       k.set_aside_at IS NULL AND EXISTS (
         SELECT 1 FROM membership l
         WHERE l.class_id = k.id AND l.person_id = :student AND l.role = 'student'
           AND l.since <= :day AND (l.until IS NULL OR l.until > :day)) AS present,
       coalesce(ts.excused, 0) AS excused, ts.opened_at,
       coalesce(d.saved_at, (SELECT max(entered_at) FROM work_part
                             WHERE draft_of = ts.id)) AS drafted_at,
       a.id AS attempt_id, a.number,
       CASE a.dating WHEN 'handed-in' THEN a.done_at END AS handed_in_at,
       {HANDS_IN} AND EXISTS (SELECT 1 FROM work_part WHERE attempt_id = a.id) AS has_work,
       EXISTS (SELECT 1 FROM hand_in o WHERE o.task_student_id = ts.id
                 AND o.attempt_number = a.number AND o.taken_back_at IS NULL) AS by_student,
       EXISTS (SELECT 1 FROM teachers_mark m WHERE m.attempt_id = a.id AND m.version > 0) AS marked,
       w.id IS NOT NULL AS wished, w.granted, w.answer, b.number AS back_number,
       hb.visible_at AS back_at, hb.read_at, t.late_per_day, t.late_most, t.asked,
       t.attempts_rule,
       {HANDS_IN} AND (coalesce(w.granted, 0) = 1 OR coalesce(a.number, 1) > 1) AS further,
       coalesce(ts.due_at, t.due_at) AS first_due_at
FROM task t
JOIN school_class k ON k.id = t.class_id
LEFT JOIN task_student ts ON ts.task_id = t.id AND ts.student_id = :student
LEFT JOIN draft_work d ON d.task_student_id = ts.id
LEFT JOIN attempt a ON a.task_student_id = ts.id
  AND a.number = (SELECT max(number) FROM attempt WHERE task_student_id = ts.id)
LEFT JOIN wish w ON w.attempt_id = a.id
LEFT JOIN hand_back hb ON hb.id = (
  SELECT v.id FROM attempt o JOIN teachers_mark m ON m.attempt_id = o.id
  JOIN visible v ON v.mark_id = m.id
  WHERE o.task_student_id = ts.id ORDER BY o.number DESC LIMIT 1)
LEFT JOIN mark bm ON bm.id = hb.mark_id
LEFT JOIN attempt b ON b.id = bm.attempt_id
WHERE EXISTS (SELECT 1 FROM membership l
              WHERE l.class_id = k.id AND l.person_id = :student AND l.role = 'student')
  AND (a.id IS NOT NULL
       OR EXISTS (SELECT 1 FROM hand_in o WHERE o.task_student_id = ts.id)
       OR t.set_at <= :now AND (t.for_all = 1 OR coalesce(ts.chosen, 0) = 1))"""


def own_tasks(
    db: sqlite3.Connection, student_id: int, day: date, now: datetime
) -> list[OwnTaskRow]:
    """List the tasks of all classes that a person is or was a student of, by due time."""
    return fetch(
        db,
        OwnTaskRow,
        f"SELECT * FROM ({_OWN}) ORDER BY due_at IS NULL, due_at, id",
        {"student": student_id, "day": day, "now": now},
    )


def own_task(
    db: sqlite3.Connection, student_id: int, task_id: int, day: date, now: datetime
) -> OwnTaskRow | None:
    """Give a task of a class that a person is or was a student of."""
    return fetch_one(
        db,
        OwnTaskRow,
        f"{_OWN} AND t.id = :task",
        {"student": student_id, "task": task_id, "day": day, "now": now},
    )


def tasks_about(db: sqlite3.Connection, student_id: int) -> dict[int, list[int]]:
    """Give the outcomes that the tasks of a student's classes are about, by task, in the order of
    the criteria.
    """
    found: dict[int, list[int]] = {}
    for task_id, outcome_id in db.execute(
        """SELECT t.id, l.outcome_id FROM task t
           JOIN criterion c ON c.revision_id = t.revision_id
             AND (t.asked IS NULL OR c.key IN (SELECT value FROM json_each(t.asked)))
           JOIN alignment l ON l.criterion_id = c.id
           WHERE t.class_id IN (SELECT class_id FROM membership
                                WHERE person_id = ? AND role = 'student')
           GROUP BY t.id, l.outcome_id ORDER BY t.id, min(c.position), l.outcome_id""",
        (student_id,),
    ):
        found.setdefault(task_id, []).append(outcome_id)
    return found


def set_opened(db: sqlite3.Connection, task_student_id: int, at: datetime) -> None:
    """Remember when a student opened a task first."""
    db.execute(
        "UPDATE task_student SET opened_at = coalesce(opened_at, ?) WHERE id = ?",
        (at, task_student_id),
    )


@dataclass(frozen=True, slots=True)
class DraftRow:
    """What a student has written and not handed in."""

    text: str
    version: int
    saved_at: datetime


def draft(db: sqlite3.Connection, student_id: int, task_id: int) -> DraftRow | None:
    """Give the draft of a student at a task."""
    return fetch_one(
        db,
        DraftRow,
        """SELECT d.text, d.version, d.saved_at FROM task_student ts
           JOIN draft_work d ON d.task_student_id = ts.id
           WHERE ts.student_id = ? AND ts.task_id = ?""",
        (student_id, task_id),
    )


def save_draft(db: sqlite3.Connection, task_student_id: int, text: str, at: datetime) -> int:
    """Save a draft; gives its version."""
    row: tuple[int] = db.execute(
        """INSERT INTO draft_work (task_student_id, text, saved_at) VALUES (?, ?, ?)
           ON CONFLICT (task_student_id) DO UPDATE SET text = excluded.text,
             saved_at = excluded.saved_at, version = version + 1
           RETURNING version""",
        (task_student_id, text, at),
    ).fetchone()
    return row[0]


def delete_draft(db: sqlite3.Connection, task_student_id: int) -> None:
    """Forget a draft: it was handed in."""
    db.execute("DELETE FROM draft_work WHERE task_student_id = ?", (task_student_id,))


@dataclass(frozen=True, slots=True)
class HandInRow:
    """One time that work was handed in: the receipt."""

    id: int
    attempt_number: int
    text: str
    text_hash: str
    at: datetime
    taken_back_at: datetime | None


def hand_ins(db: sqlite3.Connection, student_id: int, task_id: int) -> list[HandInRow]:
    """List each time that a student handed in at a task, the newest first."""
    return fetch(
        db,
        HandInRow,
        """SELECT h.id, h.attempt_number, h.text, h.text_hash, h.at, h.taken_back_at
           FROM task_student ts JOIN hand_in h ON h.task_student_id = ts.id
           WHERE ts.student_id = ? AND ts.task_id = ? ORDER BY h.id DESC""",
        (student_id, task_id),
    )


def add_hand_in(
    db: sqlite3.Connection,
    task_student_id: int,
    number: int,
    text: str,
    text_hash: str,
    at: datetime,
) -> int:
    """Keep that work was handed in, as it was; gives the receipt's number."""
    return insert(
        db,
        """INSERT INTO hand_in (task_student_id, attempt_number, text, text_hash, at)
           VALUES (?, ?, ?, ?, ?)""",
        (task_student_id, number, text, text_hash, at),
    )


def take_back(db: sqlite3.Connection, task_student_id: int, attempt_id: int, at: datetime) -> None:
    """Withdraw an attempt that nobody has begun to mark; the receipts stay, with when."""
    db.execute(
        """UPDATE hand_in SET taken_back_at = ?
           WHERE task_student_id = ? AND taken_back_at IS NULL
             AND attempt_number = (SELECT number FROM attempt WHERE id = ?)""",
        (at, task_student_id, attempt_id),
    )
    db.execute("DELETE FROM attempt WHERE id = ?", (attempt_id,))


def hand_in_again(db: sqlite3.Connection, number: int) -> None:
    """Let a receipt of what was taken back stand again."""
    db.execute("UPDATE hand_in SET taken_back_at = NULL WHERE id = ?", (number,))


@dataclass(frozen=True, slots=True)
class HandingIn:
    """How far a student is with handing in, as the teacher sees it."""

    student_id: int
    opened_at: datetime | None
    drafted_at: datetime | None
    times: int


def handing_in(db: sqlite3.Connection, task_id: int) -> list[HandingIn]:
    """List how far each student is who has opened a task."""
    return fetch(
        db,
        HandingIn,
        """SELECT ts.student_id, ts.opened_at,
                  coalesce(d.saved_at, (SELECT max(entered_at) FROM work_part
                                        WHERE draft_of = ts.id)) AS drafted_at,
                  (SELECT count(*) FROM hand_in h WHERE h.task_student_id = ts.id) AS times
           FROM task_student ts LEFT JOIN draft_work d ON d.task_student_id = ts.id
           WHERE ts.task_id = ? AND ts.opened_at IS NOT NULL ORDER BY ts.student_id""",
        (task_id,),
    )
