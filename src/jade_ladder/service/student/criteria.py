"""A rubric's criteria as a student sees them."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass

from jade_ladder.service.marking.met import MetCriteria
from jade_ladder.service.rubrics.rubrics import as_shares
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
    met = MetCriteria(db, as_shares(list(criteria)))
    return tuple(ShownCriterion(stored, met.lowest_met(stored)) for stored in met.criteria)
