"""The evidence of a class: what of it counts, and by what rules mastery is worked out."""

from __future__ import annotations

import sqlite3
from collections.abc import Container, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, datetime

from jade_ladder.core.evidence import AttemptEvidence, Combining, View, gather
from jade_ladder.core.mastery import Mastery, Rules, mastery_of
from jade_ladder.service.evidence.evidence import Alignments, Cells, Evidence, TaskRule, evidence_of
from jade_ladder.service.evidence.rules import is_taught, rules_of
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import end_of, school_zone, start_of, today
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.classes.students import StudentRow
from jade_ladder.store.evidence import choices as evidence_store
from jade_ladder.store.evidence.choices import ChoiceOfAttempt
from jade_ladder.store.evidence.set_aside import set_aside_of_students
from jade_ladder.store.mastery.expectation import not_expected
from jade_ladder.store.notes import notes as note_store
from jade_ladder.store.notes.notes import NoteEvidence
from jade_ladder.store.outcomes import outcomes as outcome_store
from jade_ladder.store.outcomes import scales as scale_store
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.outcomes.scales import StoredScale


@dataclass(frozen=True, slots=True)
class WhatIf:
    """What would be otherwise: scales by number, which scale an outcome is on, how a class teaches
    an outcome (by both numbers), values of cells of alignments, attempts that do not count, by
    which rules tasks count, when attempts were done, notes (by number) that say something else, or
    are new, attempts that would not be excused any more, and how tasks combine criteria.
    """

    scales: Mapping[int, StoredScale] = field(default_factory=dict)
    on_scale: Mapping[int, int] = field(default_factory=dict)
    taught: Mapping[tuple[int, int], OutcomeRow] = field(default_factory=dict)
    cells: Cells = field(default_factory=dict)
    without: frozenset[int] = frozenset()
    tasks: Mapping[int, TaskRule] = field(default_factory=dict)
    times: Mapping[int, datetime] = field(default_factory=dict)
    notes: Mapping[int, NoteEvidence] = field(default_factory=dict)
    expected: frozenset[int] = frozenset()
    combined: Mapping[int, Combining] = field(default_factory=dict)

    def outcome(self, class_id: int, row: OutcomeRow) -> OutcomeRow:
        """Give an outcome of a class as it would be."""
        row = self.taught.get((class_id, row.id), row)
        return replace(row, scale_id=self.on_scale.get(row.id, row.scale_id))


@dataclass(frozen=True, slots=True)
class ClassEvidence:
    """The evidence, not yet filtered, of a class's students of today on outcomes that it teaches
    today, and all that mastery is worked out by.
    """

    klass: ClassRow
    day: date
    students: tuple[StudentRow, ...]
    outcomes: tuple[OutcomeRow, ...]
    scales: Mapping[int, StoredScale]
    rules: Mapping[int, Rules]
    alignments: Alignments
    found: Evidence
    _choices: Sequence[ChoiceOfAttempt]
    _views: Mapping[int, View]
    _lifted: Container[tuple[int, int]]
    _aside: Container[tuple[int, int]]
    _notes: Sequence[NoteEvidence]

    @classmethod
    def load(
        cls, db: sqlite3.Connection, caller: Teacher, klass: ClassRow, outcome_ids: Container[int]
    ) -> ClassEvidence:
        """Load it for some outcomes. Part of a transaction."""
        day = today(db, caller)
        students = student_store.students(db, klass.id, day)
        outcomes = [
            outcome
            for outcome in outcome_store.class_outcomes(db, klass.id)
            if is_taught(outcome, day) and outcome.id in outcome_ids
        ]
        scales = scale_store.scales(db)
        views = _views(db, students, day)
        alignments = Alignments.load(db, (outcome.id for outcome in outcomes))
        choices = evidence_store.finished_choices(db, views)
        notes = note_store.note_evidence(db, views, (outcome.id for outcome in outcomes))
        aside = {(one.attempt_id, one.outcome_id) for one in set_aside_of_students(db, views)}
        return cls(
            klass,
            day,
            tuple(students),
            tuple(outcomes),
            scales,
            {outcome.id: rules_of(klass, outcome, scales) for outcome in outcomes},
            alignments,
            evidence_of(choices, alignments, aside).with_notes(notes, {}),
            choices,
            views,
            not_expected(db, views, day),
            aside,
            notes,
        )

    def otherwise(self, what: WhatIf) -> ClassEvidence:
        """Give the same marks as evidence if something were otherwise; nothing is loaded."""
        rows = [what.outcome(self.klass.id, outcome) for outcome in self.outcomes]
        outcomes = tuple(outcome for outcome in rows if is_taught(outcome, self.day))
        scales = {**self.scales, **what.scales}
        alignments, found = self.alignments, self.found
        notes = [
            *(one for one in self._notes if one.id not in what.notes),
            *(one for one in what.notes.values() if one.student_id in self._views),
        ]
        moves_notes = what.notes or (notes and (what.scales or what.on_scale))
        if what.cells or moves_notes or what.combined:
            alignments = alignments.otherwise(what.cells)
            on_scales = {
                outcome.id: [level.value for level in scales[outcome.scale_id].scale.levels]
                for outcome in rows
            }
            found = evidence_of(self._choices, alignments, self._aside, what.combined)
            found = found.with_notes(notes, on_scales)
        if what.without:
            found = found.without(what.without)
        if what.expected:
            found = found.expecting(what.expected)
        if what.times:
            found = found.at_times(what.times)
        if what.tasks:
            found = found.by_rules(what.tasks)
        return replace(
            self,
            outcomes=outcomes,
            scales=scales,
            rules={outcome.id: rules_of(self.klass, outcome, scales) for outcome in outcomes},
            alignments=alignments,
            found=found,
        )

    def places(self) -> Iterator[tuple[StudentRow, OutcomeRow]]:
        """Give each student with each outcome that is expected of them."""
        for student in self.students:
            for outcome in self.outcomes:
                if (student.id, outcome.id) not in self._lifted:
                    yield student, outcome

    def attempts(self, student_id: int, outcome_id: int) -> Sequence[AttemptEvidence]:
        """Give what every attempt says, counted or not."""
        return self.found.attempts.get((student_id, outcome_id), ())

    def pieces(self, student_id: int, attempts: Iterable[AttemptEvidence]) -> list[AttemptEvidence]:
        """Give the pieces of evidence that these attempts make: filtered, by the attempts rules."""
        return gather(attempts, self._views[student_id], self.found.rules).pieces()

    def mastery(
        self, student_id: int, outcome_id: int, attempts: Iterable[AttemptEvidence]
    ) -> Mastery:
        """Work out mastery from these attempts."""
        return mastery_of(self.pieces(student_id, attempts), self.rules[outcome_id])


def _views(db: sqlite3.Connection, students: Iterable[StudentRow], day: date) -> dict[int, View]:
    zone = school_zone(db)
    until = end_of(day, zone)
    return {
        student.id: View(until, None if student.until is None else start_of(student.until, zone))
        for student in students
    }
