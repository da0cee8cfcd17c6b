"""What a change would do to mastery, worked out before it is made."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.core.evidence import (
    AttemptEvidence,
    EvidenceKey,
    SourceKind,
    View,
    gather,
)
from jade_ladder.core.mastery import Direction, Mastery, Rules, State, mastery_of
from jade_ladder.core.numbers import Hundredths
from jade_ladder.service.mastery.class_evidence import ClassEvidence, WhatIf, is_taught, rules_of
from jade_ladder.service.mastery.evidence import Alignments, evidence_of
from jade_ladder.service.shared.caller import Teacher, end_of, school_zone, today
from jade_ladder.store.classes import classes as class_store
from jade_ladder.store.classes.classes import ClassRow, StudentRow
from jade_ladder.store.mastery import evidence as evidence_store
from jade_ladder.store.mastery.expectation import not_expected
from jade_ladder.store.outcomes import outcomes as outcome_store
from jade_ladder.store.outcomes import scales as scale_store
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.outcomes.scales import StoredScale


@dataclass(frozen=True, slots=True)
class LevelChange:
    """A student whose mastery of an outcome would be another in a class; the scale before and after
    is the same unless the change is one of the scale.
    """

    klass: ClassRow
    student: StudentRow
    outcome: OutcomeRow
    before_scale: StoredScale
    after_scale: StoredScale
    before: Mastery
    after: Mastery

    @property
    def direction(self) -> Direction:
        """Whether it rises or falls: by mastery, else by level where both scales have as many,
        else by value; level where only the evidence is enough or no longer enough.
        """
        few = [one.state is State.NEEDS_EVIDENCE for one in (self.before, self.after)]
        if few[0] != few[1]:
            return Direction.LEVEL
        places = [self._place(self.before), self._place(self.after)]
        if places[0] == places[1]:
            return Direction.LEVEL
        return Direction.UP if places[1] > places[0] else Direction.DOWN

    def _place(self, mastery: Mastery) -> tuple[bool, int, int]:
        levels = len(self.before_scale.scale.levels) == len(self.after_scale.scale.levels)
        level = mastery.level if levels and mastery.level is not None else -1
        return mastery.state is State.MASTERED, level, mastery.value or 0


@dataclass(frozen=True, slots=True)
class Effects:
    """Whose mastery a change would move: in each of the caller's classes that it touches, and how
    much in classes of other teachers.
    """

    classes: tuple[tuple[ClassRow, tuple[LevelChange, ...]], ...]
    elsewhere: int

    @property
    def changes(self) -> tuple[LevelChange, ...]:
        """All changes in the caller's classes."""
        return tuple(change for _, changes in self.classes for change in changes)


@dataclass(frozen=True, slots=True)
class _Standing:
    klass: ClassRow
    student: StudentRow
    outcome: OutcomeRow
    scale: StoredScale
    mastery: Mastery

    def changed_to(self, after: _Standing) -> LevelChange | None:
        was, will = self.mastery, after.mastery
        names = [_level_name(one.scale, one.mastery) for one in (self, after)]
        levels = len(self.scale.scale.levels), len(after.scale.scale.levels)
        same = was.level == will.level if levels[0] == levels[1] else names[0] == names[1]
        if same and was.state == will.state:
            return None
        return LevelChange(
            self.klass, self.student, self.outcome, self.scale, after.scale, was, will
        )


def _level_name(scale: StoredScale, mastery: Mastery) -> str | None:
    return None if mastery.level is None else scale.scale.levels[mastery.level].name


def level_changes(
    db: sqlite3.Connection, caller: Teacher, klass: ClassRow, after: dict[int, Rules]
) -> list[LevelChange]:
    """Say whose level or mastery would change if outcomes were worked out by other rules.

    `after` gives the rules by outcome; outcomes not in it stay. Part of a deed.
    """
    found = ClassEvidence.load(db, caller, klass, after)
    changes = []
    for student, outcome in found.places():
        scale = found.scales[outcome.scale_id]
        pieces = found.pieces(student.id, found.attempts(student.id, outcome.id))
        place = klass, student, outcome, scale
        was = _Standing(*place, mastery_of(pieces, found.rules[outcome.id]))
        will = _Standing(*place, mastery_of(pieces, after[outcome.id]))
        if change := was.changed_to(will):
            changes.append(change)
    return changes


def supposed_changes(
    db: sqlite3.Connection, caller: Teacher, outcome_ids: Iterable[int], what: WhatIf
) -> Effects:
    """Say whose level on these outcomes would change in any class if something were otherwise.

    Nothing is written: the marks are loaded once, and worked out as they are and as they would be.
    A property test holds what is told against what happens. Part of a deed or reading.
    """
    outcome_ids = set(outcome_ids)
    own = {klass.id for klass in class_store.classes_of_teacher(db, caller.person_id)}
    found: list[tuple[ClassRow, tuple[LevelChange, ...]]] = []
    elsewhere = 0
    for klass in class_store.classes_teaching(db, outcome_ids):
        now = ClassEvidence.load(db, caller, klass, outcome_ids)
        was, will = _standings(now), _standings(now.otherwise(what))
        changes = tuple(
            moved
            for place, standing in was.items()
            if place in will and (moved := standing.changed_to(will[place]))
        )
        if klass.id in own:
            found.append((klass, changes))
        else:
            elsewhere += len(changes)
    return Effects(tuple(found), elsewhere)


def _standings(found: ClassEvidence) -> dict[tuple[int, int], _Standing]:
    return {
        (student.id, outcome.id): _Standing(
            found.klass,
            student,
            outcome,
            found.scales[outcome.scale_id],
            found.mastery(student.id, outcome.id, found.attempts(student.id, outcome.id)),
        )
        for student, outcome in found.places()
    }


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
    """Say how the choices of a mark move the student's outcomes, finished or not. Part of a deed.

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
