"""What a change would do to mastery, worked out before it is made."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass

from jade_ladder.core.mastery import Mastery, Rules, State, mastery_of
from jade_ladder.core.trail import Direction
from jade_ladder.service.evidence.class_evidence import ClassEvidence, WhatIf
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.store.classes import classes as class_store
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.classes.students import StudentRow
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
class _MasteryAt:
    klass: ClassRow
    student: StudentRow
    outcome: OutcomeRow
    scale: StoredScale
    mastery: Mastery

    def changed_to(self, after: _MasteryAt, values: bool = False) -> LevelChange | None:
        was, will = self.mastery, after.mastery
        names = [_level_name(one.scale, one.mastery) for one in (self, after)]
        levels = len(self.scale.scale.levels), len(after.scale.scale.levels)
        same = was.level == will.level if levels[0] == levels[1] else names[0] == names[1]
        if same and was.state == will.state and (not values or was.value == will.value):
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

    `after` gives the rules by outcome; outcomes not in it stay. Part of a transaction.
    """
    found = ClassEvidence.load(db, caller, klass, after)
    changes = []
    for student, outcome in found.places():
        scale = found.scales[outcome.scale_id]
        pieces = found.pieces(student.id, found.attempts(student.id, outcome.id))
        place = klass, student, outcome, scale
        was = _MasteryAt(*place, mastery_of(pieces, found.rules[outcome.id]))
        will = _MasteryAt(*place, mastery_of(pieces, after[outcome.id]))
        if change := was.changed_to(will):
            changes.append(change)
    return changes


def what_if_changes(
    db: sqlite3.Connection,
    caller: Teacher,
    outcome_ids: Iterable[int],
    what: WhatIf,
    values: bool = False,
) -> Effects:
    """Say whose level on these outcomes, or (`values`) whose value, would change in any class if
    something were otherwise.

    Nothing is written: the marks are loaded once, and worked out as they are and as they would be.
    A property test holds what is told against what happens. Part of a transaction or a reading.
    """
    outcome_ids = set(outcome_ids)
    own = {klass.id for klass in class_store.classes_of_teacher(db, caller.person_id)}
    found: list[tuple[ClassRow, tuple[LevelChange, ...]]] = []
    elsewhere = 0
    for klass in class_store.classes_teaching(db, outcome_ids):
        now = ClassEvidence.load(db, caller, klass, outcome_ids)
        was, will = _masteries(now), _masteries(now.otherwise(what))
        changes = tuple(
            moved
            for place, mastery_at in was.items()
            if place in will and (moved := mastery_at.changed_to(will[place], values))
        )
        if klass.id in own:
            found.append((klass, changes))
        else:
            elsewhere += len(changes)
    return Effects(tuple(found), elsewhere)


def _masteries(found: ClassEvidence) -> dict[tuple[int, int], _MasteryAt]:
    return {
        (student.id, outcome.id): _MasteryAt(
            found.klass,
            student,
            outcome,
            found.scales[outcome.scale_id],
            found.mastery(student.id, outcome.id, found.attempts(student.id, outcome.id)),
        )
        for student, outcome in found.places()
    }
