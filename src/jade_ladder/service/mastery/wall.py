"""The mastery wall and the evidence trail."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import date
from typing import TypeVar

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.core.evidence import AttemptEvidence, Gathered
from jade_ladder.core.mastery import Mastery, Rules, State, Trail, mastery_of, trail_of
from jade_ladder.core.methods import Method, MethodKind, mastery_value, written_steps, written_sum
from jade_ladder.core.next_piece import NextPiece, next_new_piece
from jade_ladder.core.numbers import Hundredths
from jade_ladder.core.rollup import ClassPicture, Standing, class_picture, standing
from jade_ladder.service.mastery.class_evidence import (
    NOTHING_GATHERED,
    as_it_stood,
    gather_class,
    is_taught,
    rules_of,
)
from jade_ladder.service.shared.caller import Teacher, check_day, own_class, today
from jade_ladder.store.classes import classes as class_store
from jade_ladder.store.classes.classes import ClassRow, StudentRow
from jade_ladder.store.mastery import evidence as evidence_store
from jade_ladder.store.mastery.expectation import NotExpected, not_expected
from jade_ladder.store.outcomes import outcomes as outcome_store
from jade_ladder.store.outcomes import scales as scale_store
from jade_ladder.store.outcomes import strands as strand_store
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.outcomes.scales import StoredScale
from jade_ladder.store.outcomes.strands import StrandRow

Row = TypeVar("Row", StudentRow, OutcomeRow)


@dataclass(frozen=True, slots=True)
class WallCell:
    """One student and outcome on the wall; `expected` is false where the outcome is lifted for the
    student, who then counts nowhere.
    """

    mastery: Mastery
    trail: Trail
    expected: bool = True


@dataclass(frozen=True, slots=True)
class Wall:
    """A class's students by outcomes as of a day: `cells` row by row, in the order of both."""

    klass: ClassRow
    as_of: date
    students: tuple[StudentRow, ...]
    outcomes: tuple[OutcomeRow, ...]
    strands: tuple[StrandRow, ...]
    scales: dict[int, StoredScale]
    rules: tuple[Rules, ...]
    cells: tuple[tuple[WallCell, ...], ...]
    standings: tuple[Standing, ...]
    pictures: tuple[ClassPicture, ...]

    @property
    def class_method(self) -> Method:
        """The method of outcomes without their own."""
        return Method(self.klass.method, self.klass.newest, self.klass.last)


@dataclass(frozen=True, slots=True)
class TrailPiece:
    """A piece of evidence with where it came from; `counted` is false for one that an attempts
    rule left out.
    """

    evidence: AttemptEvidence
    task_title: str
    task_kind: str
    class_name: str
    remarks: tuple[str, ...]
    counted: bool


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


def wall(caller: Teacher, class_id: int, as_of: date | None = None) -> Wall:
    """Work out the mastery wall of a class as of a day (today at first)."""
    with caller.reading() as db:
        klass = own_class(db, caller, class_id)
        day = _as_of(db, caller, as_of)
        students = class_store.students(db, class_id, day)
        taught = [o for o in outcome_store.class_outcomes(db, class_id) if is_taught(o, day)]
        klass, outcomes = as_it_stood(db, klass, taught, day)
        scales = scale_store.scales(db)
        rules = [rules_of(klass, outcome, scales) for outcome in outcomes]
        gathered = gather_class(db, klass, students, outcomes, day)
        strands = strand_store.strands(db, caller.person_id)
        lifted = not_expected(db, (student.id for student in students), day)
    cells = tuple(
        tuple(
            _cell(
                gathered.get((student.id, outcome.id)),
                rule,
                (student.id, outcome.id) not in lifted,
            )
            for outcome, rule in zip(outcomes, rules, strict=True)
        )
        for student in students
    )
    return Wall(
        klass,
        day,
        tuple(students),
        tuple(outcomes),
        tuple(strands),
        scales,
        tuple(rules),
        cells,
        tuple(standing(cell.mastery for cell in row if cell.expected) for row in cells),
        tuple(
            class_picture(
                rule.scale, (row[column].mastery for row in cells if row[column].expected)
            )
            for column, rule in enumerate(rules)
        ),
    )


def _as_of(db: sqlite3.Connection, caller: Teacher, as_of: date | None) -> date:
    now = today(db, caller)
    if as_of is not None:
        check_day(as_of, "as_of")
        if as_of > now:
            raise Refused(f"{as_of.isoformat()} has not come yet", "as_of")
    return as_of or now


def _cell(gathered: Gathered | None, rules: Rules, expected: bool) -> WallCell:
    gathered = gathered or NOTHING_GATHERED
    return WallCell(mastery_of(gathered.pieces(), rules), trail_of(gathered, rules), expected)


def trail(
    caller: Teacher, class_id: int, student_id: int, outcome_id: int, as_of: date | None = None
) -> EvidenceTrail:
    """Work out the evidence trail of one student and outcome as of a day (today at first)."""
    with caller.reading() as db:
        klass = own_class(db, caller, class_id)
        day = _as_of(db, caller, as_of)
        student = _one(class_store.students(db, class_id, day), student_id, "student")
        outcome = _one(outcome_store.class_outcomes(db, class_id), outcome_id, "outcome")
        klass, (outcome,) = as_it_stood(db, klass, [outcome], day)
        scales = scale_store.scales(db)
        rules = rules_of(klass, outcome, scales)
        found = gather_class(db, klass, [student], [outcome], day)
        gathered = found.get((student_id, outcome_id), NOTHING_GATHERED)
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
            tuple(_trail_pieces(db, gathered, pieces, outcome_id)),
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
    outcome_id: int,
) -> list[TrailPiece]:
    tasks = evidence_store.task_titles(db, {a.source[1] for a in gathered.attempts})
    remarks: dict[int, list[str]] = {}
    attempt_ids = [attempt.key.source for attempt in gathered.attempts]
    for attempt_id, text in evidence_store.finished_remarks(db, attempt_ids, outcome_id):
        remarks.setdefault(attempt_id, []).append(text)
    counted = {piece.key for piece in pieces}
    return [
        TrailPiece(
            attempt,
            *tasks[attempt.source[1]],
            tuple(remarks.get(attempt.key.source, ())),
            attempt.key in counted,
        )
        for attempt in gathered.attempts
    ]


def _under_each_method(
    rules: Rules, values: list[Hundredths]
) -> tuple[tuple[Method, Hundredths], ...]:
    """Give the value under every method, the outcome's own with its settings."""
    if not values:
        return ()
    methods = [rules.method if kind is rules.method.kind else Method(kind) for kind in MethodKind]
    return tuple((method, mastery_value(method, rules.scale, values)) for method in methods)
