"""The evidence trail: one student and outcome over time."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Collection, Iterable, Mapping
from dataclasses import dataclass
from datetime import date, datetime
from typing import NamedTuple, TypeVar

from jade_ladder.core.errors import NotFound
from jade_ladder.core.evidence import AttemptEvidence, Gathered, SourceKind
from jade_ladder.core.mastery import Mastery, Rules, State, mastery_of
from jade_ladder.core.methods import Method, MethodKind, mastery_value, written_steps, written_sum
from jade_ladder.core.next_piece import (
    NextPiece,
    next_attempt,
    next_new_piece,
)
from jade_ladder.core.numbers import Hundredths
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.core.trail import Course, Trail, trail_of
from jade_ladder.service.evidence.courses import Courses
from jade_ladder.service.evidence.kept_evidence import KeptEvidence, attempt_evidence, limits_of
from jade_ladder.service.mastery.own_ladder import SeenOtherwise, seen_otherwise
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import as_of_day, today
from jade_ladder.service.shared.guards import own_class
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.classes.students import StudentRow
from jade_ladder.store.evidence import sources
from jade_ladder.store.evidence.pieces import evidence_aside
from jade_ladder.store.evidence.set_aside import set_aside_of_students
from jade_ladder.store.mastery.expectation import NotExpected, not_expected
from jade_ladder.store.mastery.judgements import JudgementRow
from jade_ladder.store.notes import notes as note_store
from jade_ladder.store.notes.note_files import NoteFileRow, note_files
from jade_ladder.store.notes.notes import NoteRow
from jade_ladder.store.outcomes import outcomes as outcome_store
from jade_ladder.store.outcomes import scales as scale_store
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.outcomes.scales import StoredScale

Row = TypeVar("Row", StudentRow, OutcomeRow)


@dataclass(frozen=True, slots=True)
class Aside:
    """Why, when and by whom a piece of evidence was set aside."""

    reason: str
    at: datetime
    by: str


@dataclass(frozen=True, slots=True)
class TrailNote:
    """An observation note that a piece is, with its files."""

    row: NoteRow
    files: tuple[NoteFileRow, ...]


@dataclass(frozen=True, slots=True)
class TrailPiece:
    """A piece of evidence with where it came from: a task, or a `note` (then the title is empty);
    the class only where the caller teaches it. `counted` is false for one that an attempts rule
    left out. `own_time` is the time that it had by itself, where that was corrected; `carried` are
    the attempts that what was carried over into it is from.
    """

    evidence: AttemptEvidence
    task_title: str
    task_kind: TaskKind | None
    class_name: str
    class_id: int | None
    remarks: tuple[str, ...]
    counted: bool
    aside: Aside | None = None
    note: TrailNote | None = None
    own_time: datetime | None = None
    carried: tuple[int, ...] = ()


class NextAttempt(NamedTuple):
    """What another attempt at a task would have to be; None: no single one reaches mastery."""

    task_id: int
    title: str
    piece: NextPiece | None


@dataclass(frozen=True, slots=True)
class EvidenceTrail:
    """One student and outcome over time. `calculated` is mastery without the judgement that may
    hold (`judgement`); `judged` are all that there were by the day. What is summed up, compared and
    said of the next piece reads the calculated value. `asked` are those of its tasks that ask about
    the outcome still. `seen` is what the student sees now, where that is another.
    """

    student: StudentRow
    outcome: OutcomeRow
    scale: StoredScale
    course: Course
    as_of: date
    mastery: Mastery
    calculated: Mastery
    judgement: JudgementRow | None
    judged: tuple[JudgementRow, ...]
    trail: Trail[datetime]
    pieces: tuple[TrailPiece, ...]
    methods: tuple[tuple[Method, Hundredths], ...]
    sum: str
    steps: tuple[str, ...]
    next_piece: NextPiece | None
    next_attempts: tuple[NextAttempt, ...]
    asked: frozenset[int]
    not_expected: NotExpected | None
    seen: SeenOtherwise | None

    @property
    def rules(self) -> Rules:
        """By what it is worked out on the day."""
        return self.course.rules


def trail(
    caller: Teacher, class_id: int, student_id: int, outcome_id: int, as_of: date | None = None
) -> EvidenceTrail:
    """Work out the evidence trail of one student and outcome as of a day (today at first)."""
    with caller.reading() as db:
        klass = own_class(db, caller, class_id)
        day = as_of_day(db, caller, as_of)
        student = one_of(student_store.students(db, class_id, day), student_id, "student")
        outcome = one_of(outcome_store.class_outcomes(db, class_id), outcome_id, "outcome")
        scales = scale_store.scales(db)
        signs = day == today(db, caller)
        courses = Courses.load(db, klass, [outcome], [student_id], scales, day, signs)
        course = courses.course(student_id, outcome_id)
        rules = course.rules
        limits = limits_of(db, [student], day)
        kept = KeptEvidence.load(db, limits, [outcome_id])
        gathered = kept.gathered(student_id, outcome_id)
        pieces = gathered.pieces()
        calculated = mastery_of(pieces, rules)
        values = [piece.value for piece in pieces]
        done = calculated.state is State.MASTERED
        shown = _trail_pieces(
            db, gathered, pieces, student_id, outcome_id, limits[student_id], caller
        )
        asked = sources.asking(db, tasks_of(gathered), outcome_id)
        return EvidenceTrail(
            student,
            outcome,
            scales[outcome.scale_id],
            course,
            day,
            course.mastery_now(pieces),
            calculated,
            courses.row_that_holds(student_id, outcome_id),
            tuple(
                row for row in courses.judged.get((student_id, outcome_id), ()) if row.since <= day
            ),
            trail_of(gathered, course),
            tuple(shown),
            _under_each_method(rules, values),
            written_sum(rules.method, rules.scale, values) if values else "",
            tuple(written_steps(rules.method, values)),
            None if done else next_new_piece(gathered, rules, half_steps=True),
            () if done else _next_attempts(gathered, rules, shown, asked),
            frozenset(asked),
            not_expected(db, [student_id], day).get((student_id, outcome_id)),
            seen_otherwise(db, caller, class_id, student_id, [outcome_id]).get(outcome_id)
            if signs
            else None,
        )


def _next_attempts(
    gathered: Gathered, rules: Rules, shown: Iterable[TrailPiece], asked: Collection[int]
) -> tuple[NextAttempt, ...]:
    """Say of each task that there is evidence from, and that asks about the outcome still, what
    another attempt would have to be.
    """
    titles = {piece.evidence.origin[1]: piece.task_title for piece in shown if piece.note is None}
    return tuple(
        NextAttempt(task, title, next_attempt(gathered, rules, task, half_steps=True))
        for task, title in titles.items()
        if task in asked
    )


def tasks_of(gathered: Gathered) -> set[int]:
    """Give the tasks that evidence comes from."""
    attempts = (one for one in gathered.attempts if one.key.kind is SourceKind.ATTEMPT)
    return {one.origin[1] for one in attempts}


def one_of(rows: list[Row], number: int, what: str) -> Row:
    """Give a student or an outcome by number; NotFound where it is not among them."""
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
        one.attempt_id: Aside(
            one.reason, one.set_aside_at, f"{one.given_name} {one.family_name}".strip()
        )
        for one in set_aside_of_students(db, [student_id])
        if one.outcome_id == outcome_id
    }
    notes = {one.id: one for one in note_store.notes_of(db, student_id, outcome_id)}
    every = list(gathered.attempts)
    if aside or any(one.aside for one in notes.values()):
        rows = evidence_aside(db, [student_id], [outcome_id])
        every += [attempt_evidence(row) for row in rows if row.done_at < limit]
        every.sort(key=lambda one: one.order)
    counted = {piece.key for piece in pieces}
    from_tasks = _FromTasks.load(db, every, outcome_id, caller)
    from_notes = _from_notes(db, notes, caller)
    return [
        from_notes(one, one.key in counted)
        if one.key.kind is SourceKind.NOTE
        else from_tasks.piece(one, one.key in counted, aside.get(one.key.source))
        for one in every
    ]


@dataclass(frozen=True, slots=True)
class _FromTasks:
    """What is told of attempts beside their evidence."""

    tasks: Mapping[int, tuple[str, TaskKind, str, int | None]]
    remarks: Mapping[int, list[str]]
    times: Mapping[int, datetime]
    carried: Mapping[int, list[int]]

    @classmethod
    def load(
        cls,
        db: sqlite3.Connection,
        every: Iterable[AttemptEvidence],
        outcome_id: int,
        caller: Teacher,
    ) -> _FromTasks:
        attempts = [one for one in every if one.key.kind is SourceKind.ATTEMPT]
        tasks = sources.task_titles(db, {one.origin[1] for one in attempts}, caller.person_id)
        numbers = [one.key.source for one in attempts]
        remarks: dict[int, list[str]] = {}
        for attempt_id, text in sources.finished_remarks(db, numbers, outcome_id):
            remarks.setdefault(attempt_id, []).append(text)
        carried: dict[int, list[int]] = {}
        for attempt_id, number in sources.carried_into(db, numbers, outcome_id):
            carried.setdefault(attempt_id, []).append(number)
        return cls(tasks, remarks, sources.times_by_themselves(db, numbers), carried)

    def piece(self, evidence: AttemptEvidence, counted: bool, aside: Aside | None) -> TrailPiece:
        number = evidence.key.source
        return TrailPiece(
            evidence,
            *self.tasks[evidence.origin[1]],
            tuple(self.remarks.get(number, ())),
            counted,
            aside,
            own_time=self.times.get(number),
            carried=tuple(self.carried.get(number, ())),
        )


def _from_notes(
    db: sqlite3.Connection, notes: Mapping[int, NoteRow], caller: Teacher
) -> Callable[[AttemptEvidence, bool], TrailPiece]:
    files: dict[int, list[NoteFileRow]] = {}
    for file in note_files(db, notes):
        files.setdefault(file.note_id, []).append(file)
    wanted = {row.class_id for row in notes.values()}
    classes = sources.class_names(db, wanted, caller.person_id)

    def piece(evidence: AttemptEvidence, counted: bool) -> TrailPiece:
        row = notes[evidence.key.source]
        name, class_id = classes[row.class_id]
        aside = None
        if row.aside is not None and row.aside_at is not None:
            aside = Aside(row.aside, row.aside_at, row.set_aside_by or "")
        note = TrailNote(row, tuple(files.get(row.id, ())))
        return TrailPiece(evidence, "", None, name, class_id, (), counted, aside, note)

    return piece


def _under_each_method(
    rules: Rules, values: list[Hundredths]
) -> tuple[tuple[Method, Hundredths], ...]:
    """Give the value under every method, the outcome's own with its settings."""
    if not values:
        return ()
    methods = [rules.method if kind is rules.method.kind else Method(kind) for kind in MethodKind]
    return tuple((method, mastery_value(method, rules.scale, values)) for method in methods)
