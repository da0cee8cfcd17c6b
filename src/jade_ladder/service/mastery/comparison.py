"""Methods compared before one is chosen (docs/calculations.md, “Methods”, *Comparing*)."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum
from typing import NamedTuple

from jade_ladder.core.comparison import (
    Agreement,
    JudgedEvidence,
    agreement,
    setting_of,
    under_settings,
)
from jade_ladder.core.mastery import Mastery, State, level_on
from jade_ladder.core.methods import Method
from jade_ladder.core.numbers import Hundredths
from jade_ladder.service.evidence.courses import Courses
from jade_ladder.service.evidence.kept_evidence import KeptEvidence, limits_of
from jade_ladder.service.evidence.rules import is_taught, rules_of
from jade_ladder.service.outcomes.outcomes import own_outcome
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import today
from jade_ladder.service.shared.guards import own_class
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.classes.students import StudentRow
from jade_ladder.store.mastery.expectation import not_expected
from jade_ladder.store.outcomes import outcomes as outcome_store
from jade_ladder.store.outcomes import scales as scale_store
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.outcomes.scales import StoredScale


class Change(StrEnum):
    """What a setting would change for one student and outcome, as one letter."""

    NONE = "="
    GAINS = "G"
    LOSES = "L"
    RISES = "u"
    FALLS = "d"


class ComparedCell(NamedTuple):
    """One student with evidence on one outcome: the values in order, mastery under each setting,
    what that would change, and the level that they are judged to be at, if they are.
    """

    student_id: int
    outcome_id: int
    evidence: Sequence[Hundredths]
    under: Sequence[Mastery]
    changes: Sequence[Change]
    judged: int | None


@dataclass(frozen=True, slots=True)
class Comparison:
    """The students of a class on outcomes that it teaches, under every setting (the core's
    SETTINGS); `present` says which each outcome has now, in their order, and `method` which the
    class or the one outcome has. `judgements` are how many hold and had evidence, and `agrees`
    which setting agrees best with them, where there are enough.
    """

    klass: ClassRow
    day: date
    method: Method
    students: tuple[StudentRow, ...]
    outcomes: tuple[OutcomeRow, ...]
    scales: dict[int, StoredScale]
    present: tuple[int, ...]
    cells: tuple[ComparedCell, ...]
    judgements: int
    agrees: Agreement | None


def comparison(caller: Teacher, class_id: int, outcome_id: int | None = None) -> Comparison:
    """Compare the methods for a class, or for one outcome of it; nothing is changed."""
    with caller.reading() as db:
        klass = own_class(db, caller, class_id)
        if outcome_id is not None:
            own_outcome(db, caller, class_id, outcome_id)
        day = today(db, caller)
        students = student_store.students(db, class_id, day)
        outcomes = [
            one
            for one in outcome_store.class_outcomes(db, class_id)
            if is_taught(one, day) and outcome_id in (None, one.id)
        ]
        scales = scale_store.scales(db)
        ids = [student.id for student in students]
        kept = KeptEvidence.load(
            db, limits_of(db, students, day), (outcome.id for outcome in outcomes)
        )
        courses = Courses.load(db, klass, outcomes, ids, scales, day, signs=False)
        lifted = not_expected(db, ids, day)
    present = {one.id: setting_of(rules_of(klass, one, scales).method) for one in outcomes}
    cells = []
    judged: list[JudgedEvidence] = []
    for student in students:
        for outcome in outcomes:
            place = student.id, outcome.id
            if place in lifted:
                continue
            scale = scales[outcome.scale_id].scale
            row = courses.row_that_holds(*place)
            level = None if row is None else level_on(row.level, row.levels, scale)
            if row is not None and level is not None and row.seen:
                judged.append(JudgedEvidence([value for _, value in row.seen], level, scale))
            pieces = kept.gathered(*place).pieces()
            if pieces:
                sources = len({piece.origin for piece in pieces})
                values = [piece.value for piece in pieces]
                under = under_settings(values, sources, scale, outcome.minimum)
                changes = _changes(under, under[present[outcome.id]])
                cells.append(ComparedCell(*place, values, under, changes, level))
    method = Method(klass.method, klass.newest, klass.last)
    if outcome_id is not None and outcomes:
        method = rules_of(klass, outcomes[0], scales).method
    return Comparison(
        klass,
        day,
        method,
        tuple(students),
        tuple(outcomes),
        scales,
        tuple(present.values()),
        tuple(cells),
        len(judged),
        agreement(judged, method),
    )


def _changes(under: Iterable[Mastery], now: Mastery) -> list[Change]:
    return [_change(now, one) for one in under]


def _change(now: Mastery, then: Mastery) -> Change:
    if now.state is not then.state:
        return Change.GAINS if then.state is State.MASTERED else Change.LOSES
    if now.level == then.level or now.level is None or then.level is None:
        return Change.NONE
    return Change.RISES if then.level > now.level else Change.FALLS
