"""What was handed back: which version of a mark its student sees, and what they said of it."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.core.names import Named
from jade_ladder.store.marking.adjustments import AdjustmentKind, AdjustmentRow
from jade_ladder.store.marking.marks import (
    ChoiceRow,
    RemarkRow,
    WhatStands,
)
from jade_ladder.store.shared.rows import fetch, fetch_one, insert
from jade_ladder.store.shared.versions import in_version
from jade_ladder.store.work.kinds import ENTRIES


@dataclass(frozen=True, slots=True)
class HandedBackRow(Named):
    """A student's newest attempt at a task, where it has a mark, and what they see of it; of other
    evidence, each entry that has one.

    `finished_version` is what would be handed back now. `seen_version` is what they see by now;
    `coming_version` what they will see, from `coming_at` on. `taken_back_at` where nothing is
    handed back any more.
    """

    student_id: int
    given_name: str
    family_name: str
    attempt_id: int
    number: int
    mark_id: int
    version: int
    finished_version: int | None
    seen_version: int | None
    seen_at: datetime | None
    total_shown: bool | None
    read_at: datetime | None
    next_word: str | None
    coming_version: int | None
    coming_at: datetime | None
    taken_back_at: datetime | None
    wish: str | None
    granted: bool | None
    answer: str | None
    handed_in_at: datetime | None


def handed_back(db: sqlite3.Connection, task_id: int, now: datetime) -> list[HandedBackRow]:
    """List where handing back stands for everybody whose newest attempt at a task has a mark; of
    other evidence, for each entry that has one, the newest first.
    """
    return fetch(
        db,
        HandedBackRow,
        f"""WITH seen AS (
             SELECT mark_id, max(id) AS id FROM hand_back
             WHERE taken_back_at IS NULL AND visible_at <= :now GROUP BY mark_id),
           coming AS (
             SELECT mark_id, max(id) AS id FROM hand_back
             WHERE taken_back_at IS NULL AND visible_at > :now GROUP BY mark_id)
           SELECT p.id AS student_id, p.given_name, p.family_name, a.id AS attempt_id, a.number,
                  m.id AS mark_id, m.version, m.finished_version, s.version AS seen_version,
                  s.visible_at AS seen_at, s.total_shown, s.read_at, s.next_word,
                  c.version AS coming_version, c.visible_at AS coming_at,
                  CASE WHEN s.id IS NULL AND c.id IS NULL THEN (
                    SELECT max(taken_back_at) FROM hand_back WHERE mark_id = m.id)
                  END AS taken_back_at,
                  w.words AS wish, w.granted, w.answer,
                  CASE a.dating WHEN 'handed-in' THEN a.done_at END AS handed_in_at
           FROM task t JOIN task_student ts ON ts.task_id = t.id
           JOIN person p ON p.id = ts.student_id
           JOIN attempt a ON a.task_student_id = ts.id
             AND ({ENTRIES}
                  OR a.number = (SELECT max(number) FROM attempt WHERE task_student_id = ts.id))
           JOIN teachers_mark m ON m.attempt_id = a.id
           LEFT JOIN seen ON seen.mark_id = m.id LEFT JOIN hand_back s ON s.id = seen.id
           LEFT JOIN coming ON coming.mark_id = m.id AND coming.id > coalesce(seen.id, 0)
           LEFT JOIN hand_back c ON c.id = coming.id
           LEFT JOIN wish w ON w.attempt_id = a.id
           WHERE t.id = :task
           ORDER BY p.family_name COLLATE names, p.given_name COLLATE names, p.id,
                    a.number DESC""",
        {"task": task_id, "now": now},
    )


def seen_with_total(db: sqlite3.Connection, task_id: int, now: datetime) -> set[int]:
    """Give the marks of a task of which students see a total by now."""
    rows = db.execute(
        """SELECT h.mark_id, h.total_shown, max(h.id)
           FROM task_student ts JOIN attempt a ON a.task_student_id = ts.id
           JOIN teachers_mark m ON m.attempt_id = a.id
           JOIN hand_back h ON h.mark_id = m.id
           WHERE ts.task_id = ? AND h.taken_back_at IS NULL AND h.visible_at <= ?
           GROUP BY h.mark_id ORDER BY h.mark_id""",
        (task_id, now),
    )
    return {mark_id for mark_id, total_shown, _ in rows if total_shown}


def add_hand_backs(
    db: sqlite3.Connection,
    marks: Iterable[tuple[int, int]],
    total_shown: bool,
    visible_at: datetime,
    now: datetime,
    person_id: int,
) -> None:
    """Hand versions of marks back, to be seen from a time on. One that was coming and not seen yet
    is taken back.
    """
    pairs = list(marks)
    numbers = json.dumps([mark for mark, _ in pairs])
    db.execute(
        """UPDATE hand_back SET taken_back_at = ?, taken_back_by = ?
           WHERE mark_id IN (SELECT value FROM json_each(?)) AND taken_back_at IS NULL
             AND visible_at > ?""",
        (now, person_id, numbers, now),
    )
    db.executemany(
        """INSERT INTO hand_back (mark_id, version, total_shown, visible_at, made_at, made_by)
           VALUES (?, ?, ?, ?, ?, ?)""",
        ((mark, version, total_shown, visible_at, now, person_id) for mark, version in pairs),
    )


def take_back(
    db: sqlite3.Connection, mark_ids: Iterable[int], now: datetime, person_id: int
) -> int:
    """Take back all that was handed back of marks, which stays on record; gives how many."""
    return db.execute(
        """UPDATE hand_back SET taken_back_at = ?, taken_back_by = ?
           WHERE mark_id IN (SELECT value FROM json_each(?)) AND taken_back_at IS NULL""",
        (now, person_id, json.dumps(list(mark_ids))),
    ).rowcount


@dataclass(frozen=True, slots=True)
class SeenRow:
    """An attempt that was handed back and is visible: which version, since when, read when."""

    hand_back_id: int
    attempt_id: int
    number: int
    mark_id: int
    version: int
    total_shown: bool
    visible_at: datetime
    read_at: datetime | None
    next_word: str | None
    handed_in_at: datetime | None


def seen_attempts(
    db: sqlite3.Connection, task_id: int, student_id: int, now: datetime
) -> list[SeenRow]:
    """List the attempts of a student at a task that they see by now, the newest first."""
    return fetch(
        db,
        SeenRow,
        """SELECT h.id AS hand_back_id, a.id AS attempt_id, a.number, m.id AS mark_id, h.version,
                  h.total_shown, h.visible_at, h.read_at, h.next_word,
                  CASE a.dating WHEN 'handed-in' THEN a.done_at END AS handed_in_at
           FROM task_student ts JOIN attempt a ON a.task_student_id = ts.id
           JOIN teachers_mark m ON m.attempt_id = a.id
           JOIN hand_back h ON h.id = (
             SELECT max(id) FROM hand_back
             WHERE mark_id = m.id AND taken_back_at IS NULL AND visible_at <= :now)
           WHERE ts.task_id = :task AND ts.student_id = :student ORDER BY a.number DESC""",
        {"task": task_id, "student": student_id, "now": now},
    )


def set_read(
    db: sqlite3.Connection, hand_back_id: int, at: datetime, next_word: str | None
) -> None:
    """Remember when a student said that they had read it, and their word on what to do next."""
    db.execute(
        """UPDATE hand_back SET read_at = coalesce(read_at, ?), next_word = ? WHERE id = ?""",
        (at, next_word, hand_back_id),
    )


def standing_at(db: sqlite3.Connection, mark_id: int, version: int) -> WhatStands:
    """Give what stood in a version of a mark."""
    found = WhatStands()
    for criterion, level, half_way, not_assessed, since, carried in db.execute(
        f"""SELECT criterion_id, level_id, half_way, not_assessed, since_version, carried_from
           FROM mark_choice
           WHERE mark_id = ?1 AND {in_version("", "?2")} ORDER BY id""",
        (mark_id, version),
    ):
        found.choices[criterion] = ChoiceRow(
            criterion, level, bool(half_way), bool(not_assessed), since, carried
        )
    for criterion, text, since in db.execute(
        f"""SELECT criterion_id, text, since_version FROM mark_remark
           WHERE mark_id = ?1 AND {in_version("", "?2")} ORDER BY id""",
        (mark_id, version),
    ):
        if text:
            found.remarks[criterion] = RemarkRow(criterion, text, since)
    for kind, amount, reason, since in db.execute(
        f"""SELECT kind, amount, reason, since_version FROM mark_adjustment
           WHERE mark_id = ?1 AND {in_version("", "?2")} ORDER BY id""",
        (mark_id, version),
    ):
        found.adjustments.append(AdjustmentRow(AdjustmentKind(kind), amount, reason, since))
    return found


def revision_of_mark(db: sqlite3.Connection, mark_id: int, version: int) -> int | None:
    """Give the revision of the rubric that a version of a mark was given under; None where nothing
    was chosen in it.
    """
    row = db.execute(
        f"""SELECT k.revision_id FROM mark_choice c JOIN criterion k ON k.id = c.criterion_id
           WHERE c.mark_id = ?1 AND {in_version("c", "?2")} ORDER BY c.id DESC LIMIT 1""",
        (mark_id, version),
    ).fetchone()
    return None if row is None else row[0]


@dataclass(frozen=True, slots=True)
class WishRow:
    """That a student asked for another attempt; `granted` None: not answered yet."""

    id: int
    words: str
    made_at: datetime
    granted: bool | None
    answer: str | None


def wish_of(db: sqlite3.Connection, attempt_id: int) -> WishRow | None:
    """Give the wish for another attempt after one."""
    return fetch_one(
        db,
        WishRow,
        "SELECT id, words, made_at, granted, answer FROM wish WHERE attempt_id = ?",
        (attempt_id,),
    )


def add_wish(db: sqlite3.Connection, attempt_id: int, words: str, at: datetime) -> int:
    """Ask for another attempt after one; gives the wish's number."""
    return insert(
        db,
        "INSERT INTO wish (attempt_id, words, made_at) VALUES (?, ?, ?)",
        (attempt_id, words, at),
    )


def answer_wish(
    db: sqlite3.Connection,
    attempt_id: int,
    granted: bool,
    answer: str,
    at: datetime,
    person_id: int,
    due_at: datetime | None = None,
) -> None:
    """Grant or decline another attempt after one, asked for or not; one that is granted may be due
    at a time. What was declined before is kept beside it.
    """
    db.execute(
        """INSERT INTO wish (attempt_id, words, made_at, granted, answer, answered_at, answered_by,
                             due_at, asked)
           VALUES (?1, '', ?4, ?2, ?3, ?4, ?5, ?6, 0)
           ON CONFLICT (attempt_id) DO UPDATE SET granted = excluded.granted,
             answer = excluded.answer, answered_at = excluded.answered_at,
             answered_by = excluded.answered_by, due_at = excluded.due_at,
             declined_answer = CASE WHEN granted = 0 AND excluded.granted = 1 THEN answer END,
             declined_at = CASE WHEN granted = 0 AND excluded.granted = 1 THEN answered_at END,
             declined_by = CASE WHEN granted = 0 AND excluded.granted = 1 THEN answered_by END""",
        (attempt_id, granted, answer, at, person_id, due_at),
    )
