"""What mastery in a class is worked out from as of a day, loaded once."""

from __future__ import annotations

import sqlite3
from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass
from datetime import date, datetime
from typing import NamedTuple

from jade_ladder.core.mastery import Mastery, Rules
from jade_ladder.core.signs import THIN_AT_FIRST, is_close, is_thin
from jade_ladder.core.trail import Course, Direction, Trail, trail_of
from jade_ladder.service.evidence.courses import Courses
from jade_ladder.service.evidence.kept_evidence import KeptEvidence, limits_of
from jade_ladder.service.evidence.rules import is_taught
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import today
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.classes.students import StudentRow
from jade_ladder.store.mastery.expectation import not_expected
from jade_ladder.store.outcomes import outcomes as outcome_store
from jade_ladder.store.outcomes import scales as scale_store
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.outcomes.scales import StoredScale
from jade_ladder.store.people import people as people_store


class WallCell(NamedTuple):
    """One student and outcome on the wall; `expected` is false where the outcome is lifted for the
    student, who then counts nowhere. `close`, `thin` and `swings` are words with a number behind
    them (docs/calculations.md). A named tuple, since a wall makes ten thousand of them.
    """

    mastery: Mastery
    direction: Direction
    slipped: bool
    expected: bool = True
    close: bool = False
    thin: bool = False
    swings: bool = False


@dataclass(frozen=True, slots=True)
class Frame:
    """The students and outcomes of a class on a day, by what their evidence is read, and what is
    not expected (by student and outcome): all that they stand on but the evidence itself.
    `limits` is until when the evidence of each student counts.
    """

    klass: ClassRow
    day: date
    is_today: bool
    students: tuple[StudentRow, ...]
    outcomes: tuple[OutcomeRow, ...]
    scales: Mapping[int, StoredScale]
    courses: Courses
    limits: Mapping[int, str]
    lifted: Collection[tuple[int, int]]
    thin_below: int

    @classmethod
    def load(
        cls,
        db: sqlite3.Connection,
        caller: Teacher,
        klass: ClassRow,
        day: date,
        some: Iterable[StudentRow] | None = None,
        only: int | None = None,
    ) -> Frame:
        """Load it, of all students there on the day or some of them, of all outcomes or of one.
        Part of a reading.
        """
        there = student_store.students(db, klass.id, day) if some is None else some
        students = tuple(there)
        taught = outcome_store.class_outcomes(db, klass.id)
        outcomes = tuple(one for one in taught if is_taught(one, day) and only in (None, one.id))
        numbers = [one.id for one in students]
        scales = scale_store.scales(db)
        is_today = day == today(db, caller)
        courses = Courses.load(db, klass, outcomes, numbers, scales, day, signs=is_today)
        limits = limits_of(db, students, day)
        lifted = not_expected(db, numbers, day)
        school = people_store.school(db)
        thin_below = school.thin if school else THIN_AT_FIRST
        return cls(
            *(klass, day, is_today, students, outcomes),
            *(scales, courses, limits, lifted, thin_below),
        )

    def evidence_of(self, db: sqlite3.Connection, student_ids: Iterable[int]) -> KeptEvidence:
        """Load the evidence of some of the students. Part of the same reading."""
        limits = {number: self.limits[number] for number in student_ids}
        return KeptEvidence.load(db, limits, (one.id for one in self.outcomes))

    def rules(self, outcome_id: int) -> Rules:
        """Give by what an outcome is worked out."""
        return self.courses.of_outcome(outcome_id).rules

    def course(self, student_id: int, outcome_id: int) -> Course:
        """Give by what one student's mastery of an outcome is read."""
        return self.courses.course(student_id, outcome_id)

    def cell_by(self, kept: KeptEvidence, student_id: int, outcome_id: int) -> WallCell:
        """Work out what a wall shows of one student and outcome, by their evidence."""
        course = self.courses.course(student_id, outcome_id)
        glance, sources, swings = kept.look(student_id, outcome_id, course)
        if (student_id, outcome_id) in self.lifted:
            return WallCell(*glance, False)
        mastery = glance.mastery
        close = is_close(course.rules.scale, mastery)
        thin = is_thin(sources, mastery.judged, self.thin_below)
        return WallCell(*glance, True, close, thin, swings)


@dataclass(frozen=True, slots=True)
class ClassOnDay:
    """What a class stands on as of a day, with the evidence."""

    frame: Frame
    kept: KeptEvidence

    @classmethod
    def of(cls, db: sqlite3.Connection, frame: Frame) -> ClassOnDay:
        """Load the evidence of all students of a frame. Part of the same reading."""
        return cls(frame, frame.evidence_of(db, frame.limits))

    @property
    def students(self) -> tuple[StudentRow, ...]:
        """The students, in their order."""
        return self.frame.students

    @property
    def outcomes(self) -> tuple[OutcomeRow, ...]:
        """The outcomes, in their order."""
        return self.frame.outcomes

    def rules(self, outcome_id: int) -> Rules:
        """Give by what an outcome is worked out."""
        return self.frame.rules(outcome_id)

    def course(self, student_id: int, outcome_id: int) -> Course:
        """Give by what one student's mastery of an outcome is read."""
        return self.frame.course(student_id, outcome_id)

    def cell(self, student_id: int, outcome_id: int) -> WallCell:
        """Work out what a wall shows of one student and outcome."""
        return self.frame.cell_by(self.kept, student_id, outcome_id)

    def trail(self, student_id: int, outcome_id: int) -> Trail[datetime]:
        """Replay one student's evidence on an outcome."""
        gathered = self.kept.gathered(student_id, outcome_id)
        return trail_of(gathered, self.frame.course(student_id, outcome_id))
