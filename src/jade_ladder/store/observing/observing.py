"""What is seen in the room: taps that were taken, who was absent, what stands, how a class sits."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, datetime

from jade_ladder.store.marking.again import CarriedRow
from jade_ladder.store.shared.rows import fetch
from jade_ladder.store.work.attempts import Dating, effective_time


def take_tap(
    db: sqlite3.Connection,
    person_id: int,
    key: str,
    task_id: int,
    student_id: int,
    made_at: datetime,
    now: datetime,
) -> bool | None:
    """Note that a tap on a student arrived, by its own key; False where it had arrived before, None
    where the key was that of another one.
    """
    done = db.execute(
        """INSERT INTO tap (person_id, key, task_id, student_id, made_at, received_at)
           VALUES (?, ?, ?, ?, ?, ?) ON CONFLICT DO NOTHING""",
        (person_id, key, task_id, student_id, made_at, now),
    )
    if done.rowcount == 1:
        return True
    known = db.execute(
        "SELECT task_id, student_id FROM tap WHERE person_id = ? AND key = ?", (person_id, key)
    ).fetchone()
    return False if known == (task_id, student_id) else None


@dataclass(frozen=True, slots=True)
class AttemptTime:
    """An attempt with how it is dated and the time that counts; `next_opened_at` is when another
    was opened after it, if one was.
    """

    id: int
    number: int
    dating: Dating
    done_at: datetime
    next_opened_at: datetime | None


def attempt_times(db: sqlite3.Connection, task_id: int, student_id: int) -> list[AttemptTime]:
    """List a student's attempts at a task, by number."""
    return fetch(
        db,
        AttemptTime,
        f"""SELECT a.id, a.number, a.dating, {effective_time()} AS done_at,
                  (SELECT answered_at FROM wish
                   WHERE attempt_id = a.id AND granted = 1) AS next_opened_at
           FROM task_student ts JOIN attempt a ON a.task_student_id = ts.id
           WHERE ts.task_id = ? AND ts.student_id = ? ORDER BY a.number""",
        (task_id, student_id),
    )


def delete_bare(db: sqlite3.Connection, attempt_id: int) -> bool:
    """Delete the newest attempt of a student where nothing stands in it: no choice of its own, no
    word, no file, no line, and nothing of it was ever finished, handed back or wished for. Gives
    whether it was. What is carried over into it is not its own.
    """
    done = db.execute(
        """DELETE FROM attempt WHERE id = ?1 AND dating = 'observed' AND corrected_done_at IS NULL
             AND NOT EXISTS (SELECT 1 FROM attempt n
                             WHERE n.task_student_id = attempt.task_student_id
                               AND n.number > attempt.number)
             AND NOT EXISTS (SELECT 1 FROM wish WHERE attempt_id = ?1)
             AND NOT EXISTS (SELECT 1 FROM work_part WHERE attempt_id = ?1)
             AND NOT EXISTS (
               SELECT 1 FROM mark m WHERE m.attempt_id = ?1
                 AND (m.finished_version IS NOT NULL
                   OR EXISTS (SELECT 1 FROM mark_choice c
                              WHERE c.mark_id = m.id AND c.until_version IS NULL
                                AND c.carried_from IS NULL
                                AND (c.level_id IS NOT NULL OR c.not_assessed = 1))
                   OR EXISTS (SELECT 1 FROM mark_remark r
                              WHERE r.mark_id = m.id AND r.until_version IS NULL
                                AND r.text <> '')
                   OR EXISTS (SELECT 1 FROM mark_file f
                              WHERE f.mark_id = m.id AND f.until_version IS NULL
                                AND f.file_id IS NOT NULL)
                   OR EXISTS (SELECT 1 FROM mark_adjustment j
                              WHERE j.mark_id = m.id AND j.until_version IS NULL)
                   OR EXISTS (SELECT 1 FROM passage q WHERE q.mark_id = m.id)))""",
        (attempt_id,),
    )
    return done.rowcount == 1


def all_attempt_times(db: sqlite3.Connection, task_id: int) -> dict[int, list[AttemptTime]]:
    """List all attempts at a task, by student and number."""
    found: dict[int, list[AttemptTime]] = {}
    for student_id, number, at, dating, done_at, opened in db.execute(
        f"""SELECT ts.student_id, a.id, a.number, a.dating, {effective_time()},
                  (SELECT answered_at FROM wish WHERE attempt_id = a.id AND granted = 1)
           FROM task_student ts JOIN attempt a ON a.task_student_id = ts.id
           WHERE ts.task_id = ? ORDER BY ts.student_id, a.number""",
        (task_id,),
    ):
        when = datetime.fromisoformat(done_at)
        opened_at = datetime.fromisoformat(opened) if opened else None
        one = AttemptTime(number, at, Dating(dating), when, opened_at)
        found.setdefault(student_id, []).append(one)
    return found


def set_absent(
    db: sqlite3.Connection,
    task_student_id: int,
    day: date,
    absent: bool,
    now: datetime,
    person_id: int,
) -> None:
    """Say that a student was absent on a day, or was not."""
    if absent:
        db.execute(
            """INSERT INTO absence (task_student_id, day, said_at, said_by) VALUES (?, ?, ?, ?)
               ON CONFLICT DO NOTHING""",
            (task_student_id, day, now, person_id),
        )
    else:
        db.execute(
            "DELETE FROM absence WHERE task_student_id = ? AND day = ?", (task_student_id, day)
        )


@dataclass(frozen=True, slots=True)
class SeenRow:
    """A choice that stands on a criterion in a mark of a task."""

    mark_id: int
    attempt_id: int
    criterion_id: int
    level_id: int | None
    half_way: bool
    not_assessed: bool
    carried_from: int | None


def seen(db: sqlite3.Connection, task_id: int) -> list[SeenRow]:
    """List the choices that stand in all marks of a task."""
    return fetch(
        db,
        SeenRow,
        """SELECT m.id AS mark_id, m.attempt_id, c.criterion_id, c.level_id, c.half_way,
                  c.not_assessed, c.carried_from
           FROM task_student ts JOIN attempt a ON a.task_student_id = ts.id
           JOIN teachers_mark m ON m.attempt_id = a.id
           JOIN mark_choice c ON c.mark_id = m.id AND c.until_version IS NULL
           WHERE ts.task_id = ? ORDER BY c.id""",
        (task_id,),
    )


@dataclass(frozen=True, slots=True)
class SaidRow:
    """A remark that stands in a mark of a task, on a criterion (by its record), or how many
    recordings and files are given back with one (`files`, by the criterion's record).
    """

    attempt_id: int
    criterion_id: int
    text: str
    files: int


def said(db: sqlite3.Connection, task_id: int) -> list[SaidRow]:
    """List what is said on criteria in all marks of a task."""
    return fetch(
        db,
        SaidRow,
        """SELECT m.attempt_id, r.criterion_id, r.text, 0 AS files
           FROM task_student ts JOIN attempt a ON a.task_student_id = ts.id
           JOIN teachers_mark m ON m.attempt_id = a.id
           JOIN mark_remark r ON r.mark_id = m.id AND r.until_version IS NULL
           WHERE ts.task_id = ?1 AND r.criterion_id IS NOT NULL AND r.text <> ''
           UNION ALL
           SELECT m.attempt_id, k.id, '', count(*)
           FROM task t JOIN task_student ts ON ts.task_id = t.id
           JOIN attempt a ON a.task_student_id = ts.id
           JOIN teachers_mark m ON m.attempt_id = a.id
           JOIN mark_file f ON f.mark_id = m.id AND f.until_version IS NULL
             AND f.file_id IS NOT NULL AND f.passage_key IS NULL
           JOIN criterion k ON k.revision_id = t.revision_id AND k.key = f.criterion_key
           WHERE t.id = ?1 GROUP BY m.attempt_id, k.id
           ORDER BY 1, 2, 4""",
        (task_id,),
    )


@dataclass(frozen=True, slots=True)
class ComingRow(CarriedRow):
    """What is carried over into a student's attempt that was opened and is not begun."""

    student_id: int


def carried_into_opened(db: sqlite3.Connection, task_id: int) -> list[ComingRow]:
    """List what is carried over into the attempts at a task that were opened and are not begun."""
    return fetch(
        db,
        ComingRow,
        """SELECT c.criterion_key, c.level_key, c.half_way, c.from_number, ts.student_id
           FROM task_student ts JOIN attempt a ON a.task_student_id = ts.id
           JOIN wish w ON w.attempt_id = a.id AND w.granted = 1
           JOIN carried_choice c ON c.attempt_id = a.id
           WHERE ts.task_id = ? AND NOT EXISTS (
             SELECT 1 FROM attempt n
             WHERE n.task_student_id = ts.id AND n.number > a.number)
           ORDER BY ts.student_id, c.criterion_key""",
        (task_id,),
    )


def seats(db: sqlite3.Connection, class_id: int) -> list[int]:
    """List the students of a class in the order in which they sit; those without a seat are not."""
    rows = db.execute(
        "SELECT student_id FROM seat WHERE class_id = ? ORDER BY position, student_id", (class_id,)
    )
    return [number for (number,) in rows]


def set_seats(db: sqlite3.Connection, class_id: int, student_ids: Sequence[int]) -> None:
    """Say in what order the students of a class sit."""
    db.execute("DELETE FROM seat WHERE class_id = ?", (class_id,))
    db.executemany(
        "INSERT INTO seat (class_id, student_id, position) VALUES (?, ?, ?)",
        [(class_id, student, place) for place, student in enumerate(student_ids)],
    )


@dataclass(frozen=True, slots=True)
class OpenMark:
    """A mark of a task with a choice of its own that is not finished as it stands."""

    student_id: int
    number: int


def marks_to_finish(db: sqlite3.Connection, task_id: int) -> list[OpenMark]:
    """List the marks of a task that are not finished as they stand, and in which a level or “not
    assessed” was chosen in the attempt itself, by student and number.
    """
    return fetch(
        db,
        OpenMark,
        """SELECT ts.student_id, a.number
           FROM task_student ts JOIN attempt a ON a.task_student_id = ts.id
           JOIN teachers_mark m ON m.attempt_id = a.id
           WHERE ts.task_id = ? AND ts.excused = 0
             AND (m.finished_version IS NULL OR m.finished_version <> m.version)
             AND EXISTS (SELECT 1 FROM mark_choice c
                         WHERE c.mark_id = m.id AND c.until_version IS NULL
                           AND c.carried_from IS NULL
                           AND (c.level_id IS NOT NULL OR c.not_assessed = 1))
           ORDER BY ts.student_id, a.number""",
        (task_id,),
    )


def are_students(db: sqlite3.Connection, class_id: int, student_ids: Iterable[int]) -> bool:
    """Whether all of them are or were students of a class."""
    row = db.execute(
        """SELECT NOT EXISTS (SELECT 1 FROM json_each(?) n WHERE n.value NOT IN (
             SELECT person_id FROM membership WHERE class_id = ? AND role = 'student'))""",
        (json.dumps(list(student_ids)), class_id),
    )
    return bool(row.fetchone()[0])
