"""What mastery rests on, as tables that go out: evidence piece by piece, and judgements."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator, Mapping, Sequence
from itertools import islice
from typing import TypeAlias
from zoneinfo import ZoneInfo

from jade_ladder.core.evidence import AttemptEvidence, AttemptsRule, EvidenceKey, SourceKind
from jade_ladder.core.mastery import level_on
from jade_ladder.formats.exported.table import Column, ExportTable, Number, Value
from jade_ladder.service.evidence.kept_evidence import KeptEvidence, attempt_evidence, limits_of
from jade_ladder.service.mastery.wall import Wall
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import on_the_clock, school_zone
from jade_ladder.store.classes.students import StudentRow
from jade_ladder.store.evidence import sources
from jade_ladder.store.evidence.pieces import evidence_aside
from jade_ladder.store.evidence.set_aside import pieces_aside, set_aside_of_students
from jade_ladder.store.mastery.judgements import judgements
from jade_ladder.store.notes import notes as note_store

AT_ONCE = 20
"""So many students are held in memory at once, with all of their evidence."""
STUDENT = (Column("Student", 26), Column("Identifier", 14))
NOTE = "Observation note"
EVIDENCE = (
    *STUDENT,
    Column("Outcome", 10),
    Column("Done at", 19),
    Column("Value"),
    Column("Level", 16),
    Column("From", 30),
    Column("Attempt"),
    Column("Counts", 24),
    Column("Set aside because", 40),
)
_JUDGEMENTS = (
    *STUDENT,
    Column("Outcome", 10),
    Column("Level", 16),
    Column("Value"),
    Column("Reason", 50),
    Column("From", 12),
    Column("Until", 12),
    Column("Judged at", 19),
    Column("By", 24),
    Column("Lifted at", 19),
    Column("Lifted by", 24),
)
_ATTEMPTS = {
    AttemptsRule.LATEST: "no: a later attempt counts",
    AttemptsRule.HIGHEST: "no: a higher attempt counts",
    AttemptsRule.MEAN: "in the mean of its attempts",
}


def student_cells(student: StudentRow) -> tuple[Value, Value]:
    """Give the first cells of a row about a student."""
    return student.name, student.identifier


def in_blocks(students: Sequence[StudentRow]) -> Iterator[Sequence[StudentRow]]:
    """Give students some at a time."""
    left = iter(students)
    while some := tuple(islice(left, AT_ONCE)):
        yield some


def judgement_table(
    db: sqlite3.Connection, frame: Wall, students: Sequence[StudentRow], zone: ZoneInfo
) -> ExportTable:
    """Give the log of judgements of students on the outcomes of a wall: each that was made by its
    day, with who, when and until when.
    """
    names = {one.id: one for one in students}
    scales = {
        outcome.id: (outcome.code, rules.scale)
        for outcome, rules in zip(frame.outcomes, frame.rules, strict=True)
    }

    def rows() -> Iterator[Sequence[Value]]:
        for row in judgements(db, names, scales):
            if row.since > frame.as_of:
                continue
            code, scale = scales[row.outcome_id]
            level = scale.levels[level_on(row.level, row.levels, scale)]
            yield (
                *student_cells(names[row.student_id]),
                *(code, level.name, Number(level.value), row.reason, row.since, row.until),
                *(on_the_clock(row.made_at, zone), row.made_by),
                None if row.lifted_at is None else on_the_clock(row.lifted_at, zone),
                row.lifted_by,
            )

    return ExportTable("Judgements", _JUDGEMENTS, rows())


_Told: TypeAlias = dict[tuple[int, int], list[tuple[AttemptEvidence, str, str]]]
"""By student and outcome: pieces, whether each counts, and why it was set aside."""


class EvidenceRows:
    """The evidence of students as of the day of a wall, on its outcomes, piece by piece; all of it,
    or that from one task.
    """

    def __init__(
        self, db: sqlite3.Connection, frame: Wall, caller: Teacher, task_id: int | None = None
    ) -> None:
        self._db = db
        self._day = frame.as_of
        self._task = task_id
        self._teacher = caller.person_id
        self._zone = school_zone(db)
        self._outcomes = {
            one.id: (one.code, rules.scale)
            for one, rules in zip(frame.outcomes, frame.rules, strict=True)
        }
        self._titles: dict[int, str] = {}

    def of_all(self, students: Sequence[StudentRow]) -> Iterator[Sequence[Value]]:
        """Give the evidence of all students, some of them at a time."""
        for some in in_blocks(students):
            yield from self._of(some)

    def _of(self, students: Sequence[StudentRow]) -> Iterator[Sequence[Value]]:
        limits = limits_of(self._db, students, self._day)
        kept = KeptEvidence.load(self._db, limits, self._outcomes)
        aside = self._aside(limits)
        self._learn_titles(kept, aside)
        for student in students:
            for outcome_id in self._outcomes:
                place = student.id, outcome_id
                found = self._pieces(kept, *place)
                if place in aside:
                    found += aside[place]
                    found.sort(key=lambda one: one[0].order)
                for piece, counts, reason in found:
                    if self._task is None or piece.origin == (SourceKind.ATTEMPT, self._task):
                        yield self._row(student, piece, counts, reason)

    def _learn_titles(self, kept: KeptEvidence, aside: _Told) -> None:
        tasks = {task for place in kept.places for task in kept.tasks(*place)}
        for told in aside.values():
            tasks |= {one.origin[1] for one, *_ in told if one.key.kind is SourceKind.ATTEMPT}
        new = tasks - self._titles.keys()
        if new:
            found = sources.task_titles(self._db, new, self._teacher)
            self._titles |= {number: task[0] for number, task in found.items()}

    @staticmethod
    def _pieces(
        kept: KeptEvidence, student_id: int, outcome_id: int
    ) -> list[tuple[AttemptEvidence, str, str]]:
        gathered = kept.gathered(student_id, outcome_id)
        if gathered.plain:
            return [(piece, "yes", "") for piece in gathered.attempts]
        counted = {piece.key for piece in gathered.pieces()}
        sizes: dict[tuple[SourceKind, int], int] = {}
        for piece in gathered.attempts:
            sizes[piece.origin] = sizes.get(piece.origin, 0) + 1
        found = []
        for piece in gathered.attempts:
            rule = gathered.rules.get(piece.origin, AttemptsRule.LATEST)
            counts = "yes"
            if sizes[piece.origin] > 1 and (rule is AttemptsRule.MEAN or piece.key not in counted):
                counts = _ATTEMPTS[rule]
            found.append((piece, counts, ""))
        return found

    def _aside(self, limits: Mapping[int, str]) -> _Told:
        """Give what is set aside of students, until their limits, with why."""
        places = pieces_aside(self._db, limits).keys()
        students, outcomes = {one for one, _ in places}, {one for _, one in places}
        if not places:
            return {}
        reasons = {
            EvidenceKey(SourceKind.ATTEMPT, one.attempt_id, one.outcome_id): one.reason
            for one in set_aside_of_students(self._db, students)
        }
        for note in note_store.notes_of_students(self._db, students, outcomes):
            reasons[EvidenceKey(SourceKind.NOTE, note.id, note.outcome_id)] = note.aside or ""
        found: _Told = {}
        for row in evidence_aside(self._db, students, outcomes & self._outcomes.keys()):
            if row.done_at < limits[row.student_id]:
                piece = attempt_evidence(row)
                told = (piece, "no: set aside", reasons[piece.key])
                found.setdefault((row.student_id, row.outcome_id), []).append(told)
        return found

    def _row(
        self, student: StudentRow, piece: AttemptEvidence, counts: str, reason: str
    ) -> Sequence[Value]:
        code, scale = self._outcomes[piece.key.outcome]
        is_note = piece.key.kind is SourceKind.NOTE
        return (
            *student_cells(student),
            code,
            on_the_clock(piece.done_at, self._zone),
            Number(piece.value),
            scale.levels[scale.level_of(piece.value)].name,
            NOTE if is_note else self._titles[piece.origin[1]],
            None if is_note else piece.number,
            counts,
            reason,
        )
