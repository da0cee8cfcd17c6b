"""The evidence that counts: written with what it comes from, and read in the order of evidence.

What previews work it out anew from stands in `choices.py`. The lists are long, so they stay bare
rows.
"""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from datetime import datetime
from typing import NamedTuple

_PIECES = """
  SELECT ts.student_id, l.outcome_id, coalesce(a.corrected_done_at, a.done_at) AS done_at,
         m.first_finished_at AS finished_at, a.id AS attempt_id, ts.task_id, a.number,
         combined(k.combining, l.weight, c.carried_from IS NOT NULL, c.half_way, here.value,
                  above.value) AS value
  FROM {marks}
  JOIN attempt a ON a.id = m.attempt_id
  JOIN task_student ts ON ts.id = a.task_student_id
  JOIN task t ON t.id = ts.task_id
  JOIN school_class k ON k.id = t.class_id
  JOIN mark_choice c ON c.mark_id = m.id
  JOIN alignment l ON l.criterion_id = c.criterion_id
  JOIN alignment_cell here ON here.alignment_id = l.id AND here.level_id = c.level_id
  LEFT JOIN criterion_level next ON c.half_way = 1 AND next.criterion_id = c.criterion_id
    AND next.position = (SELECT position + 1 FROM criterion_level WHERE id = c.level_id)
  LEFT JOIN alignment_cell above ON above.alignment_id = l.id AND above.level_id = next.id
  WHERE m.role = 'teacher' AND ts.excused = 0 AND t.practice = 0
    AND c.since_version <= {version}
    AND (c.until_version IS NULL OR c.until_version > {version})
    AND {aside} EXISTS (SELECT 1 FROM evidence_set_aside z
                        WHERE z.attempt_id = a.id AND z.outcome_id = l.outcome_id
                          AND z.counts_again_at IS NULL)"""
_ALL = _PIECES.format(marks="mark m", version="m.finished_version", aside="NOT")
_ASIDE = _PIECES.format(marks="mark m", version="m.finished_version", aside="")
# What a student sees: the newest version that was handed back to them and is visible by now.
_SHOWN = _PIECES.format(
    marks="""(SELECT mark_id, max(id) AS id FROM hand_back
              WHERE taken_back_at IS NULL AND visible_at <= :now GROUP BY mark_id) seen
             JOIN hand_back h ON h.id = seen.id JOIN mark m ON m.id = h.mark_id""",
    version="h.version",
    aside="NOT",
)
_GROUPED = "GROUP BY a.id, l.outcome_id"
_COLUMNS = "student_id, outcome_id, done_at, finished_at, attempt_id, task_id, number, value"
_INSERT = f"INSERT INTO evidence ({_COLUMNS}) SELECT * FROM ("


class EvidenceRow(NamedTuple):
    """The evidence of one attempt for one outcome; times as they are stored, in text order. That of
    an observation note has the note's number, negative, for attempt and task.
    """

    student_id: int
    outcome_id: int
    done_at: str
    finished_at: str
    attempt_id: int
    task_id: int
    number: int
    value: int


def renew_evidence_of_attempts(db: sqlite3.Connection, attempt_ids: Iterable[int]) -> None:
    """Work the evidence of attempts out anew: their marks, times or whether they count changed."""
    numbers = json.dumps(list(attempt_ids))
    db.execute(
        "DELETE FROM evidence WHERE attempt_id IN (SELECT value FROM json_each(?))", [numbers]
    )
    db.execute(
        f"""{_INSERT} {_ALL} AND m.attempt_id IN (SELECT value FROM json_each(?)) {_GROUPED})
            WHERE value IS NOT NULL""",
        [numbers],
    )


def renew_evidence_of_task(db: sqlite3.Connection, task_id: int) -> None:
    """Work the evidence of all attempts at a task out anew."""
    db.execute("DELETE FROM evidence WHERE task_id = ?", (task_id,))
    db.execute(
        f"{_INSERT} {_ALL} AND ts.task_id = ? {_GROUPED}) WHERE value IS NOT NULL", (task_id,)
    )


def renew_evidence_of_class(db: sqlite3.Connection, class_id: int) -> None:
    """Work the evidence of all attempts at the tasks of a class out anew: it combines criteria in
    another way.
    """
    tasks = "SELECT id FROM task WHERE class_id = ?"
    db.execute(f"DELETE FROM evidence WHERE task_id IN ({tasks})", (class_id,))
    db.execute(
        f"""{_INSERT} {_ALL} AND ts.task_id IN ({tasks}) {_GROUPED})
            WHERE value IS NOT NULL""",
        (class_id,),
    )


def renew_evidence_of_outcomes(db: sqlite3.Connection, outcome_ids: Iterable[int]) -> None:
    """Work the evidence on outcomes out anew: cells of alignments to them changed."""
    numbers = json.dumps(list(outcome_ids))
    db.execute(
        "DELETE FROM evidence WHERE outcome_id IN (SELECT value FROM json_each(?))", [numbers]
    )
    db.execute(
        f"""{_INSERT} {_ALL} AND l.outcome_id IN (SELECT value FROM json_each(?)) {_GROUPED})
            WHERE value IS NOT NULL""",
        [numbers],
    )


def renew_all_evidence(db: sqlite3.Connection) -> None:
    """Work all evidence out anew."""
    db.execute("DELETE FROM evidence")
    db.execute(f"{_INSERT} {_ALL} {_GROUPED}) WHERE value IS NOT NULL")


def evidence_faults(db: sqlite3.Connection) -> list[str]:
    """Work all evidence out anew, and tell in a line each piece that is kept and should not be so,
    and each that should be kept and is not.
    """
    anew = f"SELECT * FROM ({_ALL} {_GROUPED}) WHERE value IS NOT NULL"
    stored = f"SELECT {_COLUMNS} FROM evidence"
    found = []
    wrong, missing = f"{stored} EXCEPT {anew}", f"{anew} EXCEPT {stored}"
    for word, sql in (("is kept", wrong), ("is missing", missing)):
        for row in db.execute(f"SELECT * FROM ({sql}) ORDER BY 1, 2, 3, 4, 5"):
            one = EvidenceRow(*row)
            found.append(
                f"evidence {word} of attempt {one.attempt_id} for outcome {one.outcome_id}: "
                f"{one.value} at {one.done_at}"
            )
    return found


def evidence_of_task(
    db: sqlite3.Connection, task_id: int, student_id: int
) -> list[tuple[int, int]]:
    """List what a student's work on a task is evidence of: attempts with outcomes, by number."""
    return db.execute(
        """SELECT attempt_id, outcome_id FROM evidence WHERE student_id = ? AND task_id = ?
           ORDER BY attempt_id, outcome_id""",
        (student_id, task_id),
    ).fetchall()


def evidence(
    db: sqlite3.Connection, student_ids: Iterable[int], outcome_ids: Iterable[int], before: str
) -> list[EvidenceRow]:
    """List the evidence of students on outcomes that was done before a time, in any class: evidence
    follows the student. By student and outcome, each in the order of evidence.
    """
    wanted = [json.dumps(list(student_ids)), json.dumps(list(outcome_ids)), before]
    return db.execute(
        f"""SELECT {_COLUMNS} FROM evidence
            WHERE student_id IN (SELECT value FROM json_each(?))
              AND outcome_id IN (SELECT value FROM json_each(?))
              AND done_at < ?
            ORDER BY student_id, outcome_id, done_at, finished_at, attempt_id""",
        wanted,
    ).fetchall()


def evidence_stamps(db: sqlite3.Connection, student_ids: Iterable[int]) -> dict[int, int]:
    """Give a number for each student who ever had evidence or a note: another one after each change
    of these, and never one that it was before.
    """
    rows = db.execute(
        """SELECT student_id, stamp FROM evidence_stamp
           WHERE student_id IN (SELECT value FROM json_each(?)) ORDER BY student_id""",
        [json.dumps(list(student_ids))],
    )
    return dict(rows.fetchall())


def shown_evidence(
    db: sqlite3.Connection, student_ids: Iterable[int], outcome_ids: Iterable[int], now: datetime
) -> list[EvidenceRow]:
    """List the evidence of students on outcomes as they may see it: of what was handed back to
    them and is visible by now. By student and outcome, each in the order of evidence.
    """
    rows = db.execute(
        f"""SELECT * FROM ({_SHOWN} AND ts.student_id IN (SELECT value FROM json_each(:students))
              AND l.outcome_id IN (SELECT value FROM json_each(:outcomes)) {_GROUPED})
            WHERE value IS NOT NULL
            ORDER BY student_id, outcome_id, done_at, finished_at, attempt_id""",
        {
            "students": json.dumps(list(student_ids)),
            "outcomes": json.dumps(list(outcome_ids)),
            "now": now,
        },
    )
    return [EvidenceRow(*row) for row in rows]


def evidence_aside(db: sqlite3.Connection, student_id: int, outcome_id: int) -> list[EvidenceRow]:
    """List the evidence of a student on an outcome that is set aside, in the order of evidence."""
    rows = db.execute(
        f"""SELECT * FROM ({_ASIDE} AND ts.student_id = ? AND l.outcome_id = ? {_GROUPED})
            WHERE value IS NOT NULL
            ORDER BY done_at, finished_at, attempt_id""",
        (student_id, outcome_id),
    )
    return [EvidenceRow(*row) for row in rows]
