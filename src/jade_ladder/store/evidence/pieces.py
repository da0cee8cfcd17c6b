"""What finished marks and notes say as evidence, and what of it counts, worked out by a statement.

What counts (docs/calculations.md, “Filter first, then the rule”) is said here of what is kept, in
`COUNTS` and `NOTE_COUNTS`, and in `core.evidence.counts` of what is worked out otherwise.
"""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Callable, Iterable
from datetime import datetime
from operator import attrgetter
from typing import NamedTuple

from jade_ladder.store.shared.versions import in_version
from jade_ladder.store.work.attempts import effective_time

_ASIDE = """EXISTS (SELECT 1 FROM evidence_set_aside z
               WHERE z.attempt_id = a.id AND z.outcome_id = l.outcome_id
                 AND z.counts_again_at IS NULL)"""
COUNTS = f"ts.excused = 0 AND t.practice = 0 AND NOT {_ASIDE}"
NOTE_COUNTS = "v.withdrawn = 0 AND v.aside IS NULL"
_KEPT_ASIDE = f"ts.excused = 0 AND t.practice = 0 AND {_ASIDE}"
_NOTE_KEPT_ASIDE = "v.withdrawn = 0 AND v.aside IS NOT NULL"

_OF_ATTEMPTS = f"""
  SELECT ts.student_id, l.outcome_id, {effective_time()} AS done_at,
         m.first_finished_at AS finished_at, 'attempt' AS source_kind, a.id AS source_id,
         ts.task_id, a.number,
         combined(k.combining, l.weight, c.carried_from IS NOT NULL, c.half_way, here.value,
                  above.value) AS value
  FROM {{marks}}
  JOIN attempt a ON a.id = m.attempt_id
  JOIN task_student ts ON ts.id = a.task_student_id
  JOIN task t ON t.id = ts.task_id
  JOIN school_class k ON k.id = t.class_id
  JOIN mark_choice c ON c.mark_id = m.id AND {{version}}
  JOIN alignment l ON l.criterion_id = c.criterion_id
  JOIN alignment_cell here ON here.alignment_id = l.id AND here.level_id = c.level_id
  LEFT JOIN criterion_level next ON c.half_way = 1 AND next.criterion_id = c.criterion_id
    AND next.position = (SELECT position + 1 FROM criterion_level WHERE id = c.level_id)
  LEFT JOIN alignment_cell above ON above.alignment_id = l.id AND above.level_id = next.id
  WHERE {{which}}
  GROUP BY a.id, l.outcome_id"""
_OF_NOTES = """
  SELECT n.student_id, n.outcome_id, v.seen_at AS done_at, n.written_at AS finished_at,
         'note' AS source_kind, n.id AS source_id, NULL AS task_id, 1 AS number,
         note_value(v.level, v.levels, v.half_way,
                    (SELECT json_group_array(value) FROM (
                       SELECT value FROM scale_level WHERE scale_id = o.scale_id
                       ORDER BY position))) AS value
  FROM note n JOIN note_version v ON v.note_id = n.id AND v.version = n.version
  JOIN outcome o ON o.id = n.outcome_id
  WHERE {which}"""
# What a student sees: the newest version that was handed back to them and is visible by now.
_HANDED_BACK = """(SELECT mark_id, max(id) AS id FROM hand_back
                WHERE taken_back_at IS NULL AND visible_at <= :now GROUP BY mark_id) seen
               JOIN hand_back h ON h.id = seen.id JOIN teachers_mark m ON m.id = h.mark_id"""

COLUMNS = (
    "student_id, outcome_id, done_at, finished_at, source_kind, source_id, task_id, number, value"
)
ORDER = "ORDER BY student_id, outcome_id, done_at, finished_at, source_kind, source_id"


class EvidenceRow(NamedTuple):
    """The evidence of one attempt or note for one outcome; times as they are stored, in text order.
    `task_id` is that of an attempt.
    """

    student_id: int
    outcome_id: int
    done_at: str
    finished_at: str
    source_kind: str
    source_id: int
    task_id: int | None
    number: int
    value: int

    @property
    def origin(self) -> tuple[str, int]:
        """The task or note that it comes of: of each, an attempts rule makes one piece or more."""
        return self.source_kind, self.task_id or self.source_id


order_of: Callable[[EvidenceRow], tuple[str, str, str, int]] = attrgetter(
    "done_at", "finished_at", "source_kind", "source_id"
)
"""The order of evidence (docs/calculations.md, “Time and order”): attempts before notes."""


def of_attempts(which: str = "1") -> str:
    """Give the statement of the evidence that attempts are, of those that count."""
    return _finished(f"{COUNTS} AND {which}")


def of_notes(which: str = "1") -> str:
    """Give the statement of the evidence that notes are, of those that count."""
    return _OF_NOTES.format(which=f"{NOTE_COUNTS} AND {which}")


def _finished(which: str) -> str:
    version = in_version("c", "m.finished_version")
    return _with_value(_OF_ATTEMPTS.format(marks="teachers_mark m", version=version, which=which))


def _with_value(attempts: str) -> str:
    return f"SELECT * FROM ({attempts}) WHERE value IS NOT NULL"


_OF_STUDENTS = """ts.student_id IN (SELECT value FROM json_each(:students))
  AND l.outcome_id IN (SELECT value FROM json_each(:outcomes))"""
_NOTES_OF_STUDENTS = """n.student_id IN (SELECT value FROM json_each(:students))
  AND n.outcome_id IN (SELECT value FROM json_each(:outcomes))"""


def shown_evidence(
    db: sqlite3.Connection, student_ids: Iterable[int], outcome_ids: Iterable[int], now: datetime
) -> list[EvidenceRow]:
    """List the evidence of students on outcomes as they may see it: of what was handed back or
    shown to them and is visible by now. By student and outcome, each in the order of evidence.
    """
    attempts = _OF_ATTEMPTS.format(
        marks=_HANDED_BACK,
        version=in_version("c", "h.version"),
        which=f"{COUNTS} AND {_OF_STUDENTS}",
    )
    notes = of_notes(f"n.shown_at <= :now AND {_NOTES_OF_STUDENTS}")
    return _listed(db, _with_value(attempts), notes, student_ids, outcome_ids, now)


def evidence_aside(
    db: sqlite3.Connection, student_ids: Iterable[int], outcome_ids: Iterable[int]
) -> list[EvidenceRow]:
    """List the evidence of students on outcomes that is set aside and would count otherwise. By
    student and outcome, each in the order of evidence.
    """
    attempts = _finished(f"{_KEPT_ASIDE} AND {_OF_STUDENTS}")
    notes = _OF_NOTES.format(which=f"{_NOTE_KEPT_ASIDE} AND {_NOTES_OF_STUDENTS}")
    return _listed(db, attempts, notes, student_ids, outcome_ids)


def _listed(
    db: sqlite3.Connection,
    attempts: str,
    notes: str,
    student_ids: Iterable[int],
    outcome_ids: Iterable[int],
    now: datetime | None = None,
) -> list[EvidenceRow]:
    rows = db.execute(
        f"SELECT * FROM ({attempts} UNION ALL {notes}) {ORDER}",
        {
            "students": json.dumps(list(student_ids)),
            "outcomes": json.dumps(list(outcome_ids)),
            "now": now,
        },
    )
    return [EvidenceRow(*row) for row in rows]
