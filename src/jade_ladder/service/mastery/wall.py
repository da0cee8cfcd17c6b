"""The mastery wall: a class's students by outcomes."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from typing import NamedTuple

from jade_ladder.core.mastery import Mastery, Rules
from jade_ladder.core.methods import Method
from jade_ladder.core.numbers import Hundredths
from jade_ladder.core.rollup import (
    ClassPicture,
    StrandRollup,
    StudentRollUp,
    class_picture,
    roll_up_student,
    strand_value,
)
from jade_ladder.core.signs import THIN_AT_FIRST, is_close, is_thin
from jade_ladder.core.trail import Course, Direction
from jade_ladder.service.mastery.courses import Courses
from jade_ladder.service.mastery.kept_evidence import KeptEvidence, limits_of
from jade_ladder.service.mastery.rules import is_taught
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import as_of_day, today
from jade_ladder.service.shared.guards import own_class
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.classes.students import StudentRow
from jade_ladder.store.mastery.expectation import not_expected
from jade_ladder.store.mastery.set_aside import pieces_aside
from jade_ladder.store.outcomes import outcomes as outcome_store
from jade_ladder.store.outcomes import scales as scale_store
from jade_ladder.store.outcomes import strands as strand_store
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.outcomes.scales import StoredScale
from jade_ladder.store.outcomes.strands import StrandRow
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
class StrandOnWall:
    """A strand for each student: how many of its outcomes, at any depth, are mastered, and their
    mean where they share one scale.
    """

    strand: StrandRow
    roll_ups: tuple[StudentRollUp, ...]
    values: tuple[Hundredths | None, ...]


@dataclass(frozen=True, slots=True)
class Wall:
    """A class's students by outcomes as of a day: `cells` row by row, in the order of both; `aside`
    is how many pieces are set aside, by student and outcome; `class_method` is that of outcomes
    without one of their own, which are not in `own_methods`.
    """

    klass: ClassRow
    as_of: date
    class_method: Method
    own_methods: frozenset[int]
    students: tuple[StudentRow, ...]
    outcomes: tuple[OutcomeRow, ...]
    strands: tuple[StrandRow, ...]
    scales: dict[int, StoredScale]
    rules: tuple[Rules, ...]
    cells: tuple[tuple[WallCell, ...], ...]
    roll_ups: tuple[StudentRollUp, ...]
    pictures: tuple[ClassPicture, ...]
    strand_roll_ups: tuple[StrandOnWall, ...]
    thin_below: int
    aside: dict[tuple[int, int], int]


def wall(
    caller: Teacher,
    class_id: int,
    as_of: date | None = None,
    only: Collection[int] | None = None,
) -> Wall:
    """Work out the mastery wall of a class as of a day (today at first), or some students' rows."""
    with caller.reading() as db:
        klass = own_class(db, caller, class_id)
        day = as_of_day(db, caller, as_of)
        students = [
            student
            for student in student_store.students(db, class_id, day)
            if only is None or student.id in only
        ]
        outcomes = [o for o in outcome_store.class_outcomes(db, class_id) if is_taught(o, day)]
        scales = scale_store.scales(db)
        courses = Courses.load(
            db,
            klass,
            outcomes,
            (student.id for student in students),
            scales,
            day,
            signs=day == today(db, caller),
        )
        rules = [courses.of_outcome(outcome.id).rules for outcome in outcomes]
        kept = KeptEvidence.load(
            db, limits_of(db, students, day), (outcome.id for outcome in outcomes)
        )
        strands = strand_store.strands(db, caller.person_id)
        lifted = not_expected(db, (student.id for student in students), day)
        aside = pieces_aside(db, (student.id for student in students))
        school = people_store.school(db)
    thin_below = school.thin if school else THIN_AT_FIRST
    cells = tuple(
        tuple(
            _cell(kept, courses.course(student.id, outcome.id), student.id, outcome.id, thin_below)
            if (student.id, outcome.id) not in lifted
            else WallCell(
                *kept.glance(student.id, outcome.id, courses.course(student.id, outcome.id)), False
            )
            for outcome in outcomes
        )
        for student in students
    )
    return Wall(
        klass,
        day,
        courses.history.class_method(day),
        frozenset(one.id for one in outcomes if courses.history.own_method(one, day)),
        tuple(students),
        tuple(outcomes),
        tuple(strands),
        scales,
        tuple(rules),
        cells,
        tuple(roll_up_student(cell.mastery for cell in row if cell.expected) for row in cells),
        tuple(
            class_picture(
                rule.scale, (row[column].mastery for row in cells if row[column].expected)
            )
            for column, rule in enumerate(rules)
        ),
        tuple(_strands(strands, outcomes, rules, cells)),
        thin_below,
        aside,
    )


def _cell(
    kept: KeptEvidence, course: Course, student_id: int, outcome_id: int, thin_below: int
) -> WallCell:
    glance = kept.glance(student_id, outcome_id, course)
    scale = course.rules.scale
    sources, swings = kept.signs(student_id, outcome_id, scale)
    mastery = glance.mastery
    close = is_close(scale, mastery)
    return WallCell(*glance, True, close, is_thin(sources, mastery.judged, thin_below), swings)


def _strands(
    strands: Sequence[StrandRow],
    outcomes: Sequence[OutcomeRow],
    rules: Sequence[Rules],
    cells: Sequence[Sequence[WallCell]],
) -> Iterator[StrandOnWall]:
    parents = {strand.id: strand.parent_id for strand in strands}
    for strand in strands:
        columns = [
            at
            for at, outcome in enumerate(outcomes)
            if strand.id in (outcome.strand_id, parents.get(outcome.strand_id or 0))
        ]
        if not columns:
            continue
        counted = [[row[at].mastery for at in columns if row[at].expected] for row in cells]
        scales = [rules[at].scale for at in columns]
        yield StrandOnWall(
            strand,
            tuple(roll_up_student(masteries) for masteries in counted),
            tuple(strand_value(masteries, scales, StrandRollup.MEAN) for masteries in counted),
        )
