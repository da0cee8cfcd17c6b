"""The evidence trail: one student and outcome over time."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import date
from typing import TypeVar

from jade_ladder.core.errors import NotFound
from jade_ladder.core.evidence import AttemptEvidence, Gathered
from jade_ladder.core.mastery import Mastery, Rules, State, Trail, mastery_of, trail_of
from jade_ladder.core.methods import Method, MethodKind, mastery_value, written_steps, written_sum
from jade_ladder.core.next_piece import NextPiece, next_new_piece
from jade_ladder.core.numbers import Hundredths
from jade_ladder.service.mastery.kept_evidence import KeptEvidence, attempt_evidence, limits_of
from jade_ladder.service.mastery.rules import MethodHistory, rules_of
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import as_of_day
from jade_ladder.service.shared.guards import own_class
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.classes.students import StudentRow
from jade_ladder.store.mastery import evidence as store
from jade_ladder.store.mastery import sources
from jade_ladder.store.mastery.expectation import NotExpected, not_expected
from jade_ladder.store.mastery.set_aside import SetAsideRow, set_aside_of_students
from jade_ladder.store.outcomes import outcomes as outcome_store
from jade_ladder.store.outcomes import scales as scale_store
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.outcomes.scales import StoredScale
from jade_ladder.store.work.tasks import TaskKind

Row = TypeVar("Row", StudentRow, OutcomeRow)


@dataclass(frozen=True, slots=True)
class TrailPiece:
    """A piece of evidence with where it came from, the class only where the caller teaches it;
    `counted` is false for one that an attempts rule left out, and `aside` says why, when and by
    whom one was set aside.
    """

    evidence: AttemptEvidence
    task_title: str
    task_kind: TaskKind
    class_name: str
    class_id: int | None
    remarks: tuple[str, ...]
    counted: bool
    aside: SetAsideRow | None = None


@dataclass(frozen=True, slots=True)
class EvidenceTrail:
    """One student and outcome over time."""

    student: StudentRow
    outcome: OutcomeRow
    scale: StoredScale
    rules: Rules
    as_of: date
    mastery: Mastery
    trail: Trail
    pieces: tuple[TrailPiece, ...]
    methods: tuple[tuple[Method, Hundredths], ...]
    sum: str
    steps: tuple[str, ...]
    next_piece: NextPiece | None
    not_expected: NotExpected | None


def trail(
    caller: Teacher, class_id: int, student_id: int, outcome_id: int, as_of: date | None = None
) -> EvidenceTrail:
    """Work out the evidence trail of one student and outcome as of a day (today at first)."""
    with caller.reading() as db:
        klass = own_class(db, caller, class_id)
        day = as_of_day(db, caller, as_of)
        student = _one(student_store.students(db, class_id, day), student_id, "student")
        outcome = _one(outcome_store.class_outcomes(db, class_id), outcome_id, "outcome")
        klass, (outcome,) = MethodHistory.load(db, klass).at(day, [outcome])
        scales = scale_store.scales(db)
        rules = rules_of(klass, outcome, scales)
        limits = limits_of(db, [student], day)
        kept = KeptEvidence.load(db, limits, [outcome_id])
        gathered = kept.gathered(student_id, outcome_id)
        pieces = gathered.pieces()
        mastery = mastery_of(pieces, rules)
        values = [piece.value for piece in pieces]
        return EvidenceTrail(
            student,
            outcome,
            scales[outcome.scale_id],
            rules,
            day,
            mastery,
            trail_of(gathered, rules),
            tuple(
                _trail_pieces(
                    db, gathered, pieces, student_id, outcome_id, limits[student_id], caller
                )
            ),
            _under_each_method(rules, values),
            written_sum(rules.method, rules.scale, values) if values else "",
            tuple(written_steps(rules.method, values)),
            None
            if mastery.state is State.MASTERED
            else next_new_piece(gathered, rules, half_steps=True),
            not_expected(db, [student_id], day).get((student_id, outcome_id)),
        )


def _one(rows: list[Row], number: int, what: str) -> Row:
    for row in rows:
        if row.id == number:
            return row
    raise NotFound(f"There is no such {what} in this class on that day")


def _trail_pieces(
    db: sqlite3.Connection,
    gathered: Gathered,
    pieces: list[AttemptEvidence],
    student_id: int,
    outcome_id: int,
    limit: str,
    caller: Teacher,
) -> list[TrailPiece]:
    aside = {
        one.attempt_id: one
        for one in set_aside_of_students(db, [student_id])
        if one.outcome_id == outcome_id
    }
    attempts = list(gathered.attempts)
    if aside:
        rows = store.evidence_aside(db, student_id, outcome_id)
        attempts += [attempt_evidence(row) for row in rows if row.done_at < limit]
        attempts.sort(key=lambda one: one.order)
    task_ids = {a.source[1] for a in attempts}
    tasks = sources.task_titles(db, task_ids, caller.person_id)
    remarks: dict[int, list[str]] = {}
    attempt_ids = [attempt.key.source for attempt in attempts]
    for attempt_id, text in sources.finished_remarks(db, attempt_ids, outcome_id):
        remarks.setdefault(attempt_id, []).append(text)
    counted = {piece.key for piece in pieces}
    return [
        TrailPiece(
            attempt,
            *tasks[attempt.source[1]],
            tuple(remarks.get(attempt.key.source, ())),
            attempt.key in counted,
            aside.get(attempt.key.source),
        )
        for attempt in attempts
    ]


def _under_each_method(
    rules: Rules, values: list[Hundredths]
) -> tuple[tuple[Method, Hundredths], ...]:
    """Give the value under every method, the outcome's own with its settings."""
    if not values:
        return ()
    methods = [rules.method if kind is rules.method.kind else Method(kind) for kind in MethodKind]
    return tuple((method, mastery_value(method, rules.scale, values)) for method in methods)
