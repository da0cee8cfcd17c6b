"""What a change would do to mastery, worked out before it is made."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.core.evidence import (
    AttemptEvidence,
    EvidenceKey,
    SourceKind,
    View,
    gather,
)
from jade_ladder.core.mastery import Mastery, Rules, mastery_of
from jade_ladder.core.numbers import Hundredths
from jade_ladder.service.caller import Caller, end_of, school_zone, today
from jade_ladder.service.evidence import Alignments, gather_evidence
from jade_ladder.service.mastery import NOTHING_GATHERED, gather_class, is_taught, rules_of
from jade_ladder.store import classes as class_store
from jade_ladder.store import outcomes as outcome_store
from jade_ladder.store import scales as scale_store
from jade_ladder.store.classes import ClassRow, StudentRow
from jade_ladder.store.outcomes import OutcomeRow
from jade_ladder.store.scales import StoredScale


@dataclass(frozen=True, slots=True)
class LevelChange:
    """A student whose level on an outcome would change."""

    student: StudentRow
    outcome: OutcomeRow
    scale: StoredScale
    before: Mastery
    after: Mastery

    @property
    def rises(self) -> bool:
        """Whether the value goes up."""
        return (self.after.value or 0) > (self.before.value or 0)


def level_changes(
    db: sqlite3.Connection, caller: Caller, klass: ClassRow, after: dict[int, Rules]
) -> list[LevelChange]:
    """Say whose level or mastery would change if outcomes were worked out by other rules.

    `after` gives the rules by outcome; outcomes not in it stay. Part of a deed.
    """
    day = today(db, caller)
    students = class_store.students(db, klass.id, day)
    scales = scale_store.scales(db)
    outcomes = [
        outcome
        for outcome in outcome_store.class_outcomes(db, klass.id)
        if is_taught(outcome, day) and outcome.id in after
    ]
    gathered = gather_class(db, klass, students, outcomes, day)
    changes = []
    for student in students:
        for outcome in outcomes:
            pieces = gathered.get((student.id, outcome.id), NOTHING_GATHERED).pieces()
            was = mastery_of(pieces, rules_of(klass, outcome, scales))
            will = mastery_of(pieces, after[outcome.id])
            if (was.level, was.state) != (will.level, will.state):
                changes.append(LevelChange(student, outcome, scales[outcome.scale_id], was, will))
    return changes


@dataclass(frozen=True, slots=True)
class Move:
    """How a mark moves one outcome: mastery without it, and with it."""

    outcome: OutcomeRow
    rules: Rules
    before: Mastery
    after: Mastery


@dataclass(frozen=True, slots=True)
class AttemptMark:
    """A mark in the making, as `moves` needs it."""

    attempt_id: int
    task_id: int
    number: int
    choices: tuple[tuple[int, int, bool], ...]
    done_at: datetime
    finished_at: datetime
    practice: bool
    excused: bool

    def evidence(self, outcome_id: int, value: Hundredths) -> AttemptEvidence:
        """Make the piece of evidence this mark would be."""
        return AttemptEvidence(
            EvidenceKey(SourceKind.ATTEMPT, self.attempt_id, outcome_id),
            (SourceKind.ATTEMPT, self.task_id),
            self.number,
            value,
            self.done_at,
            self.finished_at,
        )


def moves(
    db: sqlite3.Connection,
    caller: Caller,
    klass: ClassRow,
    student_id: int,
    attempt: AttemptMark,
) -> list[Move]:
    """Say how the choices of a mark move the student's outcomes, finished or not. Part of a deed.

    Outcomes that the choices say nothing about are left out.
    """
    day = today(db, caller)
    outcomes = [o for o in outcome_store.class_outcomes(db, klass.id) if is_taught(o, day)]
    scales = scale_store.scales(db)
    alignments = Alignments(db, (outcome.id for outcome in outcomes), klass.combining)
    said = alignments.evidence(attempt.choices)
    if not said or attempt.practice or attempt.excused:
        return []
    found = gather_evidence(db, [student_id], alignments)
    view = View(end_of(day, school_zone(db)))
    result = []
    for outcome in outcomes:
        if outcome.id not in said:
            continue
        others = [
            piece
            for piece in found.attempts.get((student_id, outcome.id), [])
            if piece.key.source != attempt.attempt_id
        ]
        own = attempt.evidence(outcome.id, said[outcome.id])
        rules = rules_of(klass, outcome, scales)
        before = gather(others, view, found.rules)
        after = gather([*others, own], view, found.rules)
        result.append(
            Move(
                outcome,
                rules,
                mastery_of(before.pieces(), rules),
                mastery_of(after.pieces(), rules),
            )
        )
    return result
