"""A rubric's criteria as a student sees them."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass

from jade_ladder.core.alignment import chosen_value
from jade_ladder.core.evidence import is_met
from jade_ladder.service.rubrics.rubrics import as_shares
from jade_ladder.store.outcomes import outcomes as outcome_store
from jade_ladder.store.outcomes import scales as scale_store
from jade_ladder.store.rubrics.criteria import StoredCriterion


@dataclass(frozen=True, slots=True)
class ShownCriterion:
    """A criterion; `met_level` is the lowest level at which it is met, None where no level is
    (docs/calculations.md, “Marks, attempts, evidence”).
    """

    stored: StoredCriterion
    met_level: int | None


def shown_criteria(
    db: sqlite3.Connection, criteria: Iterable[StoredCriterion]
) -> tuple[ShownCriterion, ...]:
    """Say of criteria at which level each is met. Part of a reading."""
    rows = as_shares(list(criteria))
    about = {tie.outcome_id for stored in rows for tie in stored.alignments}
    heads = outcome_store.outcome_heads(db, about)
    scales = scale_store.scales(db)
    found = []
    for stored in rows:
        ties = [
            ([cell.value for cell in tie.map.cells], scales[heads[tie.outcome_id][1]].scale)
            for tie in stored.alignments
        ]
        levels = len(stored.criterion.levels)
        met = (
            level
            for level in range(levels)
            if is_met(
                [(chosen_value(cells, level, False), scale) for cells, scale in ties],
                level,
                levels,
                half_way=False,
            )
        )
        found.append(ShownCriterion(stored, next(met, None)))
    return tuple(found)
