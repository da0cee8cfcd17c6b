"""How the levels of a set have fallen so far, criterion by criterion, and whether the standard
drifts (docs/calculations.md, “Words with a number behind them”).
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from jade_ladder.core.signs import Drift, drift
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import today
from jade_ladder.service.shared.guards import own_task
from jade_ladder.store.marking import spreads as store
from jade_ladder.store.marking.spreads import FallenRow
from jade_ladder.store.rubrics import criteria as criterion_store
from jade_ladder.store.rubrics.criteria import StoredCriterion


@dataclass(frozen=True, slots=True)
class Fallen:
    """How often each level was chosen, the lowest first; half-way counts with the lower one, and is
    told apart in `half`.
    """

    counts: tuple[int, ...]
    half: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class CriterionSpread:
    """How the levels of a criterion have fallen: all of them, and of a drift both halves of the set
    in the order of marking. `students` are those on whom something is chosen.
    """

    criterion_id: int
    all: Fallen
    not_assessed: int
    students: tuple[int, ...]
    drift: Drift | None
    earlier: Fallen | None
    later: Fallen | None


def spread(caller: Teacher, task_id: int) -> list[CriterionSpread]:
    """Give how the levels of a task have fallen, criterion by criterion of its rubric, for those
    who are in the class today and not excused.
    """
    with caller.reading() as db:
        row, _ = own_task(db, caller, task_id)
        criteria = criterion_store.criteria(db, row.revision_id, row.asked)
        rows = store.fallen(db, task_id, today(db, caller))
        return [
            _spread(one, [row for row in rows if row.criterion_id == one.id]) for one in criteria
        ]


def _spread(stored: StoredCriterion, rows: Sequence[FallenRow]) -> CriterionSpread:
    said = [row for row in rows if row.level_id is not None or row.not_assessed]
    chosen = [
        (stored.level_ids.index(row.level_id), row.half_way)
        for row in said
        if row.level_id in stored.level_ids
    ]
    count = len(stored.level_ids)
    found = drift([Fraction(place) + Fraction(half, 2) for place, half in chosen])
    half = len(chosen) // 2
    return CriterionSpread(
        stored.id,
        _fallen(chosen, count),
        sum(row.not_assessed for row in said),
        tuple(dict.fromkeys(row.student_id for row in said)),
        found,
        _fallen(chosen[:half], count) if found else None,
        _fallen(chosen[-half:], count) if found else None,
    )


def _fallen(chosen: Sequence[tuple[int, bool]], levels: int) -> Fallen:
    whole = Counter(place for place, _ in chosen)
    half = Counter(place for place, is_half in chosen if is_half)
    return Fallen(
        tuple(whole[place] for place in range(levels)),
        tuple(half[place] for place in range(levels)),
    )
