"""The evidence that counts, kept beside what it comes from, and read in the order of evidence.

It comes from many tables. Triggers of theirs say of what the evidence is stale (`stale_evidence`),
so that no operation can forget it; it is worked out anew before the operation reads evidence again,
and at its end.
"""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Callable, Iterable
from functools import partial

from jade_ladder.store.evidence.pieces import COLUMNS, ORDER, EvidenceRow, of_attempts, of_notes
from jade_ladder.store.shared.connection import is_writing

_WANTED = "IN (SELECT value FROM json_each(:numbers))"
# By what is stale: which rows go, and of which attempts and notes they are made anew.
_STALE: dict[str, tuple[str, str | None, str | None]] = {
    "attempt": (f"source_kind = 'attempt' AND source_id {_WANTED}", f"a.id {_WANTED}", None),
    "note": (f"source_kind = 'note' AND source_id {_WANTED}", None, f"n.id {_WANTED}"),
    "task": (f"task_id {_WANTED}", f"ts.task_id {_WANTED}", None),
    "class": (
        f"task_id IN (SELECT id FROM task WHERE class_id {_WANTED})",
        f"ts.task_id IN (SELECT id FROM task WHERE class_id {_WANTED})",
        None,
    ),
    "outcome": (f"outcome_id {_WANTED}", f"l.outcome_id {_WANTED}", f"n.outcome_id {_WANTED}"),
}


def settle(db: sqlite3.Connection) -> None:
    """Work out anew what is stale. Part of a transaction."""
    stale: dict[str, set[int]] = {}
    for kind, number in db.execute("DELETE FROM stale_evidence RETURNING kind, number").fetchall():
        stale.setdefault(kind, set()).add(number)
    for kind, numbers in stale.items():
        _renew(db, *_STALE[kind], numbers)


def renew_all_evidence(db: sqlite3.Connection) -> None:
    """Work all evidence out anew."""
    db.execute("DELETE FROM stale_evidence")
    _renew(db, "1", "1", "1", ())


def _renew(
    db: sqlite3.Connection,
    gone: str,
    attempts: str | None,
    notes: str | None,
    numbers: Iterable[int],
) -> None:
    wanted = {"numbers": json.dumps(sorted(numbers))}
    db.execute(f"DELETE FROM evidence WHERE {gone}", wanted)
    if attempts is not None:
        db.execute(f"INSERT INTO evidence ({COLUMNS}) {of_attempts(attempts)}", wanted)
    if notes is not None:
        db.execute(f"INSERT INTO evidence ({COLUMNS}) {of_notes(notes)}", wanted)


def evidence_faults(db: sqlite3.Connection) -> list[str]:
    """Work all evidence out anew, and tell in a line each piece that is kept and should not be so,
    and each that should be kept and is not.
    """
    anew = f"SELECT * FROM ({of_attempts()} UNION ALL {of_notes()})"
    stored = f"SELECT {COLUMNS} FROM evidence"
    found = []
    wrong, missing = f"{stored} EXCEPT {anew}", f"{anew} EXCEPT {stored}"
    for word, sql in (("is kept", wrong), ("is missing", missing)):
        for row in db.execute(f"SELECT * FROM ({sql}) {ORDER}"):
            one = EvidenceRow(*row)
            found.append(
                f"evidence {word} of {one.source_kind} {one.source_id} for outcome "
                f"{one.outcome_id}: {one.value} at {one.done_at}"
            )
    return found


def evidence_of_task(
    db: sqlite3.Connection, task_id: int, student_id: int
) -> list[tuple[int, int]]:
    """List what a student's work on a task is evidence of: attempts with outcomes, by number."""
    _be_fresh(db)
    return db.execute(
        """SELECT source_id, outcome_id FROM evidence WHERE student_id = ? AND task_id = ?
           ORDER BY source_id, outcome_id""",
        (student_id, task_id),
    ).fetchall()


# As `_make` does, without a call in Python for each of what may be a quarter of a million.
_ROW: Callable[[tuple[object, ...]], EvidenceRow] = partial(tuple.__new__, EvidenceRow)


def evidence(
    db: sqlite3.Connection, student_ids: Iterable[int], outcome_ids: Iterable[int], before: str
) -> list[EvidenceRow]:
    """List the evidence of students on outcomes that was done before a time, in any class: evidence
    follows the student. By student and outcome, each in the order of evidence.
    """
    _be_fresh(db)
    rows = db.execute(
        f"""SELECT {COLUMNS} FROM evidence
            WHERE student_id IN (SELECT value FROM json_each(?))
              AND outcome_id IN (SELECT value FROM json_each(?))
              AND done_at < ?
            {ORDER}""",
        [json.dumps(list(student_ids)), json.dumps(list(outcome_ids)), before],
    )
    return list(map(_ROW, rows))


def evidence_stamps(db: sqlite3.Connection, student_ids: Iterable[int]) -> dict[int, int]:
    """Give a number for each student who ever had evidence: another one after each change of it,
    and never one that it was before.
    """
    _be_fresh(db)
    rows = db.execute(
        """SELECT student_id, stamp FROM evidence_stamp
           WHERE student_id IN (SELECT value FROM json_each(?)) ORDER BY student_id""",
        [json.dumps(list(student_ids))],
    )
    return dict(rows.fetchall())


def _be_fresh(db: sqlite3.Connection) -> None:
    if is_writing(db):
        settle(db)
