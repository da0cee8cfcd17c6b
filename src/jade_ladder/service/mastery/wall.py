"""The mastery wall: a class's students by outcomes."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from jade_ladder.core.mastery import Rules
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
from jade_ladder.service.evidence.class_standing import Frame, WallCell
from jade_ladder.service.evidence.kept_cells import cells_of
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import as_of_day
from jade_ladder.service.shared.guards import own_class
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.classes.students import StudentRow
from jade_ladder.store.evidence.set_aside import pieces_aside
from jade_ladder.store.outcomes import strands as strand_store
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.outcomes.scales import StoredScale
from jade_ladder.store.outcomes.strands import StrandRow


@dataclass(frozen=True, slots=True)
class StrandOnWall:
    """A strand for each student: how many of its outcomes, at any depth, are mastered, and,
    where they share one scale, their mean or the lowest of them, as the class has it.
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
    scales: Mapping[int, StoredScale]
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
        on = as_of_day(db, caller, as_of)
        everybody = student_store.students(db, class_id, on)
        some = [one for one in everybody if only is None or one.id in only]
        there = Frame.load(db, caller, klass, on, some)
        cells = cells_of(caller.database, db, there)
        strands = strand_store.strands(db, caller.person_id)
        aside = pieces_aside(db, (student.id for student in there.students))
    outcomes, day, history = there.outcomes, there.day, there.courses.history
    rules = [there.rules(outcome.id) for outcome in outcomes]
    return Wall(
        klass,
        day,
        history.class_method(day),
        frozenset(one.id for one in outcomes if history.own_method(one, day)),
        there.students,
        outcomes,
        tuple(strands),
        there.scales,
        tuple(rules),
        cells,
        tuple(roll_up_student(cell.mastery for cell in row if cell.expected) for row in cells),
        tuple(
            class_picture(
                rule.scale, (row[column].mastery for row in cells if row[column].expected)
            )
            for column, rule in enumerate(rules)
        ),
        tuple(_strands(klass.strand_roll_up, strands, outcomes, rules, cells)),
        there.thin_below,
        aside,
    )


def _strands(
    roll_up: StrandRollup,
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
            tuple(strand_value(masteries, scales, roll_up) for masteries in counted),
        )
