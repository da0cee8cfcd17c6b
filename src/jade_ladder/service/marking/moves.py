"""How a mark in the making moves a student's mastery."""

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
from jade_ladder.service.mastery.evidence import Alignments, evidence_of
from jade_ladder.service.mastery.rules import is_taught, rules_of
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import end_of, school_zone, today
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.mastery import evidence as evidence_store
from jade_ladder.store.mastery.expectation import not_expected
from jade_ladder.store.outcomes import outcomes as outcome_store
from jade_ladder.store.outcomes import scales as scale_store
from jade_ladder.store.outcomes.outcomes import OutcomeRow


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
            excused=self.excused,
            practice=self.practice,
        )


def moves(
    db: sqlite3.Connection,
    caller: Teacher,
    klass: ClassRow,
    student_id: int,
    attempt: AttemptMark,
) -> list[Move]:
    """Say how the choices of a mark move the student's outcomes, finished or not. Part of a
    transaction.

    Outcomes that the choices say nothing about are left out.
    """
    day = today(db, caller)
    lifted = not_expected(db, [student_id], day)
    outcomes = [
        outcome
        for outcome in outcome_store.class_outcomes(db, klass.id)
        if is_taught(outcome, day) and (student_id, outcome.id) not in lifted
    ]
    scales = scale_store.scales(db)
    alignments = Alignments.load(db, (outcome.id for outcome in outcomes))
    said = alignments.evidence(attempt.choices, klass.combining)
    if not said or attempt.practice or attempt.excused:
        return []
    found = evidence_of(evidence_store.finished_choices(db, [student_id]), alignments)
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
