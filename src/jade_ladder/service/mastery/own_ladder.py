"""One's own ladder: where a student stands by what was handed back to them, and by nothing else."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime

from jade_ladder.core.mastery import Judgement, Mastery, Rules, State, mastery_of
from jade_ladder.core.next_piece import NextPiece, next_new_piece
from jade_ladder.core.rollup import StudentRollUp, roll_up_student
from jade_ladder.core.trail import Trail, trail_of
from jade_ladder.service.evidence.courses import Courses
from jade_ladder.service.evidence.kept_evidence import KeptEvidence
from jade_ladder.service.evidence.rules import is_taught
from jade_ladder.service.shared.caller import Caller, Student, Teacher
from jade_ladder.service.shared.days import check_day, end_of, school_zone, start_of, today
from jade_ladder.service.shared.guards import own_class, own_student
from jade_ladder.store.classes import own_classes as class_store
from jade_ladder.store.classes.own_classes import OwnClassRow
from jade_ladder.store.evidence.set_aside import pieces_aside
from jade_ladder.store.mastery.expectation import not_expected
from jade_ladder.store.notes import notes as note_store
from jade_ladder.store.notes.note_files import NoteFileRow, note_files
from jade_ladder.store.notes.notes import NoteRow
from jade_ladder.store.outcomes import outcomes as outcome_store
from jade_ladder.store.outcomes import scales as scale_store
from jade_ladder.store.outcomes import strands as strand_store
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.outcomes.scales import StoredScale
from jade_ladder.store.shared.connection import write_time


@dataclass(frozen=True, slots=True)
class ShownNote:
    """An observation note that a student sees, with its files."""

    row: NoteRow
    files: tuple[NoteFileRow, ...]


@dataclass(frozen=True, slots=True)
class Rung:
    """An outcome, and where the student stands with it: now, over time, and at the start of an
    earlier day where one was asked for; with the notes that were shown to them, and how many pieces
    are set aside.
    """

    outcome: OutcomeRow
    rules: Rules
    scale: StoredScale
    mastery: Mastery
    trail: Trail[datetime]
    judgement: Judgement | None
    next_piece: NextPiece | None
    before: Mastery | None
    notes: tuple[ShownNote, ...]
    aside: int


@dataclass(frozen=True, slots=True)
class ClassLadder:
    """A student's ladder in one class; `strands` are the titles, in order."""

    klass: OwnClassRow
    strands: dict[int, str]
    rungs: tuple[Rung, ...]
    roll_up: StudentRollUp
    roll_up_before: StudentRollUp | None


def own_ladder(caller: Student, since: date | None = None) -> list[ClassLadder]:
    """Give the caller's ladder in each class, those they are in first; with `since`, also where
    they stood at the start of that day.
    """
    with caller.reading() as db:
        return ladders(db, caller, caller.person_id, since)


def ladders(
    db: sqlite3.Connection, caller: Caller, student_id: int, since: date | None = None
) -> list[ClassLadder]:
    """Give a student's ladder in each class. Part of a reading."""
    if since is not None:
        check_day(since, "since")
    found = class_store.own_classes(db, student_id, today(db, caller))
    return [_ladder(db, caller, student_id, klass, since) for klass in found]


@dataclass(frozen=True, slots=True)
class SeenOtherwise:
    """What a student sees of an outcome where it is not what their teachers see (`teachers`), since
    something was not handed back; `slipped` as they see it.
    """

    mastery: Mastery
    slipped: bool
    teachers: Mastery


@dataclass(frozen=True, slots=True)
class LadderSeen:
    """The ladder that a student sees, and by outcome what their teachers see otherwise."""

    ladder: ClassLadder
    otherwise: dict[int, SeenOtherwise]


def ladder_of_student(
    caller: Teacher, class_id: int, student_id: int, since: date | None = None
) -> LadderSeen:
    """Give the ladder that a student of the caller's sees in a class."""
    with caller.reading() as db:
        own_class(db, caller, class_id)
        own_student(db, class_id, student_id)
        klass = class_store.own_class(db, student_id, class_id)
        assert klass is not None, "a student of the class is or was in it"
        if since is not None:
            check_day(since, "since")
        ladder = _ladder(db, caller, student_id, klass, since)
        return LadderSeen(ladder, seen_otherwise(db, caller, class_id, student_id))


def seen_otherwise(
    db: sqlite3.Connection,
    caller: Teacher,
    class_id: int,
    student_id: int,
    only: Sequence[int] | None = None,
) -> dict[int, SeenOtherwise]:
    """Give the outcomes of a class, or of some of them, of which a student sees another value or
    state than their teachers, by what each is worked out of now. Part of a reading.
    """
    klass = class_store.own_class(db, student_id, class_id)
    if klass is None:
        return {}
    shown = shown_outcomes(db, caller, student_id, klass, only)
    outcomes = [one.id for one in shown.outcomes]
    every = KeptEvidence.load(db, {student_id: shown.limit}, outcomes)
    found = {}
    for outcome_id in outcomes:
        course = shown.courses.course(student_id, outcome_id)
        gathered = shown.kept.gathered(student_id, outcome_id)
        seen = course.mastery_now(gathered.pieces())
        teachers = course.mastery_now(every.gathered(student_id, outcome_id).pieces())
        if (seen.state, seen.value) != (teachers.state, teachers.value):
            slipped = trail_of(gathered, course).slipped_at is not None
            found[outcome_id] = SeenOtherwise(seen, slipped, teachers)
    return found


@dataclass(frozen=True, slots=True)
class ShownOutcomes:
    """What one student may see of some outcomes of a class, until a time: the evidence, and the
    rules.
    """

    outcomes: tuple[OutcomeRow, ...]
    rules: dict[int, Rules]
    scales: dict[int, StoredScale]
    kept: KeptEvidence
    courses: Courses
    limit: str

    def mastery(self, student_id: int, outcome_id: int) -> Mastery:
        """Give where the student stands with one of them."""
        pieces = self.kept.gathered(student_id, outcome_id).pieces()
        return self.courses.course(student_id, outcome_id).mastery_now(pieces)


def shown_outcomes(
    db: sqlite3.Connection,
    caller: Caller,
    student_id: int,
    klass: OwnClassRow,
    only: Sequence[int] | None = None,
) -> ShownOutcomes:
    """Load what a student may see of the outcomes that a class teaches and that are expected of
    them, or of some of these. Part of a reading.
    """
    day = today(db, caller)
    zone = school_zone(db)
    limit = end_of(day, zone)
    if klass.until is not None:
        limit = min(limit, start_of(klass.until, zone))
        day = min(day, klass.until)
    lifted = not_expected(db, [student_id], day)
    scales = scale_store.scales(db)
    outcomes = tuple(
        one
        for one in outcome_store.class_outcomes(db, klass.id)
        if is_taught(one, day)
        and (student_id, one.id) not in lifted
        and (only is None or one.id in only)
    )
    kept = KeptEvidence.load_shown(
        db, {student_id: write_time(limit)}, (one.id for one in outcomes), caller.now
    )
    courses = Courses.load(db, klass, outcomes, [student_id], scales, day, signs=False)
    rules = {one.id: courses.of_outcome(one.id).rules for one in outcomes}
    return ShownOutcomes(outcomes, rules, scales, kept, courses, write_time(limit))


def _ladder(
    db: sqlite3.Connection,
    caller: Caller,
    student_id: int,
    klass: OwnClassRow,
    since: date | None,
) -> ClassLadder:
    shown = shown_outcomes(db, caller, student_id, klass)
    limit = None if since is None else start_of(since, school_zone(db))
    notes = _notes(db, student_id, caller.now)
    aside = pieces_aside(db, [student_id], caller.now)
    rungs = tuple(
        _rung(
            shown,
            student_id,
            outcome,
            limit,
            notes.get(outcome.id, ()),
            aside.get((student_id, outcome.id), 0),
        )
        for outcome in shown.outcomes
    )
    wanted = {one.outcome.strand_id for one in rungs}
    strands = dict(strand_store.strands_by_id(db, wanted))
    before = [one.before for one in rungs if one.before is not None]
    return ClassLadder(
        klass,
        strands,
        rungs,
        roll_up_student(one.mastery for one in rungs),
        roll_up_student(before) if since is not None else None,
    )


def _notes(
    db: sqlite3.Connection, student_id: int, now: datetime
) -> dict[int, tuple[ShownNote, ...]]:
    """Give the notes that a student sees by now, by outcome, the newest first."""
    rows = note_store.shown_notes(db, student_id, now)
    files: dict[int, list[NoteFileRow]] = {}
    if rows:
        for file in note_files(db, (row.id for row in rows)):
            files.setdefault(file.note_id, []).append(file)
    found: dict[int, tuple[ShownNote, ...]] = {}
    for row in rows:
        note = ShownNote(row, tuple(files.get(row.id, ())))
        found[row.outcome_id] = (*found.get(row.outcome_id, ()), note)
    return found


def _rung(
    shown: ShownOutcomes,
    student_id: int,
    outcome: OutcomeRow,
    limit: datetime | None,
    notes: tuple[ShownNote, ...],
    aside: int,
) -> Rung:
    rules = shown.rules[outcome.id]
    course = shown.courses.course(student_id, outcome.id)
    gathered = shown.kept.gathered(student_id, outcome.id)
    pieces = gathered.pieces()
    done = mastery_of(pieces, rules).state is State.MASTERED
    return Rung(
        outcome,
        rules,
        shown.scales[outcome.scale_id],
        course.mastery_now(pieces),
        trail_of(gathered, course),
        course.judgement,
        None if done else next_new_piece(gathered, rules, half_steps=True),
        None if limit is None else shown.kept.replay(student_id, outcome.id, course).until(limit),
        notes,
        aside,
    )
