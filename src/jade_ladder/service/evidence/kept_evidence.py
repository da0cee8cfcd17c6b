"""The evidence that is kept of students on outcomes, as far as it counts on a day."""

from __future__ import annotations

import sqlite3
from bisect import bisect_left
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from itertools import groupby
from operator import attrgetter

from jade_ladder.core.evidence import AttemptEvidence, EvidenceKey, Gathered, SourceKind
from jade_ladder.core.mastery import Mastery, Rules, mastery_of, mastery_of_values, state_of
from jade_ladder.core.methods import running_values
from jade_ladder.core.numbers import Hundredths
from jade_ladder.core.signs import SWING_PIECES, swings_widely
from jade_ladder.core.trail import NOTHING_SEEN, Course, Glance, glance_at, glance_of
from jade_ladder.service.evidence.evidence import AttemptsRules
from jade_ladder.service.shared.days import end_of, school_zone, start_of
from jade_ladder.store.classes.students import StudentRow
from jade_ladder.store.evidence import evidence as store
from jade_ladder.store.evidence.pieces import EvidenceRow, shown_evidence
from jade_ladder.store.shared.connection import write_time
from jade_ladder.store.work import tasks as task_store


@dataclass(frozen=True, slots=True)
class KeptEvidence:
    """What counts of students on outcomes, by student and outcome and in the order of evidence;
    filtered (docs/calculations.md, “Marks, attempts, evidence”), before the attempts rules.
    """

    rules: AttemptsRules
    _rows: Mapping[tuple[int, int], Sequence[EvidenceRow]]

    @classmethod
    def load(
        cls,
        db: sqlite3.Connection,
        limits: Mapping[int, str],
        outcome_ids: Iterable[int],
    ) -> KeptEvidence:
        """Load it, of each student until a time. Part of a transaction or a reading."""
        rows = store.evidence(db, limits, outcome_ids, max(limits.values(), default=""))
        return cls(task_store.attempts_rules(db), _until(limits, rows))

    @classmethod
    def load_shown(
        cls,
        db: sqlite3.Connection,
        limits: Mapping[int, str],
        outcome_ids: Iterable[int],
        now: datetime,
    ) -> KeptEvidence:
        """Load what students may see of their own, of each until a time: what was handed back to
        them. Part of a transaction or a reading.
        """
        rows = shown_evidence(db, limits, outcome_ids, now)
        return cls(task_store.attempts_rules(db), _until(limits, rows))

    def without(self, attempt_id: int) -> KeptEvidence:
        """Give the evidence without that of an attempt."""
        source = SourceKind.ATTEMPT, attempt_id
        left = {
            place: [row for row in rows if (row.source_kind, row.source_id) != source]
            for place, rows in self._rows.items()
        }
        return KeptEvidence(self.rules, {place: rows for place, rows in left.items() if rows})

    @property
    def places(self) -> Iterable[tuple[int, int]]:
        """Students and outcomes of whom and on which there is evidence."""
        return self._rows

    def rows(self, student_id: int, outcome_id: int) -> Sequence[EvidenceRow]:
        """Give what counts of one student on one outcome."""
        return self._rows.get((student_id, outcome_id), ())

    def tasks(self, student_id: int, outcome_id: int) -> set[int]:
        """Give the tasks that it is from."""
        rows = self.rows(student_id, outcome_id)
        return {row.task_id for row in rows if row.task_id is not None}

    def gathered(self, student_id: int, outcome_id: int) -> Gathered:
        """Give it as the core takes it."""
        return gathered(self.rows(student_id, outcome_id), self.rules)

    def replay(self, student_id: int, outcome_id: int, course: Course) -> Replay:
        """Give it to be looked at as of several times."""
        return Replay(self.rows(student_id, outcome_id), self.rules, course)

    def mastery(self, rows: Sequence[EvidenceRow], rules: Rules) -> Mastery:
        """Work out mastery by rows in order, some of these or others beside them."""
        if _origins(rows) < len(rows):
            return mastery_of(gathered(rows, self.rules).pieces(), rules)
        return mastery_of_values([row.value for row in rows], len(rows), rules)

    def look(self, student_id: int, outcome_id: int, course: Course) -> tuple[Glance, int, bool]:
        """Give what a wall shows of it, from how many different tasks and notes it is, and whether
        it swings widely.
        """
        rows = self._rows.get((student_id, outcome_id))
        scale = course.rules.scale
        if rows is None:
            seen = (
                glance_of(Gathered((), self.rules), course) if course.judgements else NOTHING_SEEN
            )
            return seen, 0, False
        origins = _origins(rows)
        plain = origins == len(rows)
        if plain and not course.judgements:
            values = [row.value for row in rows]
            before = [(write_time(until), rules) for until, rules in course.before]
            seen = glance_at([row.done_at for row in rows], values, course.rules, before)
            return seen, origins, swings_widely(values[-SWING_PIECES:], scale)
        found = gathered(rows, self.rules)
        values = [piece.value for piece in found.pieces()]
        return glance_of(found, course), origins, swings_widely(values, scale)


def _until(
    limits: Mapping[int, str], rows: Iterable[EvidenceRow]
) -> dict[tuple[int, int], Sequence[EvidenceRow]]:
    """Give what was done before each student's limit, by student and outcome, as the rows stand."""
    found: dict[tuple[int, int], Sequence[EvidenceRow]] = {}
    for place, group in groupby(rows, attrgetter("student_id", "outcome_id")):
        there = list(group)
        limit = limits[place[0]]
        # In the order of time: where the last one counts, all do.
        if there[-1].done_at >= limit:
            del there[bisect_left(there, limit, key=attrgetter("done_at")) :]
        if there:
            found[place] = there
    return found


def _origins(rows: Sequence[EvidenceRow]) -> int:
    """Count the different tasks and notes that evidence comes of."""
    tasks = [row.task_id for row in rows]
    # Each note is one by itself.
    notes = tasks.count(None)
    return len(set(tasks)) + max(0, notes - 1)


class Replay:
    """Mastery of one student and outcome as of any time, worked out in one pass for each method
    where no task has two attempts.
    """

    def __init__(
        self, rows: Sequence[EvidenceRow], attempts_rules: AttemptsRules, course: Course
    ) -> None:
        self._rows = rows
        self._attempts_rules = attempts_rules
        self._course = course
        self._moments = [row.done_at for row in rows]
        self._plain = _origins(rows) == len(rows)
        self._running: dict[Rules, Sequence[Hundredths]] = {}

    def until(self, limit: datetime) -> Mastery:
        """Give mastery by what was done before a time, as it was read then."""
        just_before = limit - timedelta(microseconds=1)
        count = bisect_left(self._moments, write_time(limit))
        rules = self._course.rules_at(just_before)
        if self._plain and count:
            value = self._values(rules)[count - 1]
            state = state_of(rules, value, count)
            level = rules.scale.level_of(value)
            found = Mastery(state, value, level, count, calculated=value)
        else:
            found = mastery_of(gathered(self._rows[:count], self._attempts_rules).pieces(), rules)
        return self._course.judged_at(just_before, found)

    def _values(self, rules: Rules) -> Sequence[Hundredths]:
        if rules not in self._running:
            values = [row.value for row in self._rows]
            self._running[rules] = running_values(rules.method, rules.scale, values)
        return self._running[rules]


def limits_of(db: sqlite3.Connection, students: Iterable[StudentRow], day: date) -> dict[int, str]:
    """Give until when evidence of students counts as of a day: to the end of that day, and of their
    time in the class.
    """
    zone = school_zone(db)
    until = write_time(end_of(day, zone))
    return {
        one.id: until if one.until is None else min(until, write_time(start_of(one.until, zone)))
        for one in students
    }


def gathered(rows: Iterable[EvidenceRow], rules: AttemptsRules) -> Gathered:
    """Give evidence in order as the core takes it."""
    return Gathered(tuple(attempt_evidence(row) for row in rows), rules)


def attempt_evidence(row: EvidenceRow) -> AttemptEvidence:
    """Give one piece of it as the core takes it."""
    kind = SourceKind(row.source_kind)
    return AttemptEvidence(
        EvidenceKey(kind, row.source_id, row.outcome_id),
        (kind, row.task_id or row.source_id),
        row.number,
        row.value,
        datetime.fromisoformat(row.done_at),
        datetime.fromisoformat(row.finished_at),
    )
