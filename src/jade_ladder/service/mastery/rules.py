"""By what rules mastery is worked out, now and on an earlier day."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import replace
from datetime import date
from typing import Any

from jade_ladder.core.mastery import Rules
from jade_ladder.core.methods import Method, MethodKind
from jade_ladder.service.outcomes.methods import CLASS_METHOD, outcome_method
from jade_ladder.service.shared.days import end_of, school_zone
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.outcomes.scales import StoredScale
from jade_ladder.store.shared import log


def rules_of(klass: ClassRow, outcome: OutcomeRow, scales: dict[int, StoredScale]) -> Rules:
    """Give by what an outcome in a class is worked out: its own method, or the class's."""
    own = outcome.method is not None
    source = outcome if own else klass
    kind = outcome.method or klass.method
    method = Method(kind, source.newest, source.last)
    return Rules(method, scales[outcome.scale_id].scale, outcome.minimum)


def as_it_stood(
    db: sqlite3.Connection, klass: ClassRow, outcomes: Sequence[OutcomeRow], day: date
) -> tuple[ClassRow, list[OutcomeRow]]:
    """Give a class and its outcomes with the methods they had at the end of a day, read from the
    log (docs/calculations.md, “Mastery”, *as of a day*). Part of a transaction or a reading.
    """
    end = end_of(day, school_zone(db))
    of_class = log.first_after(db, CLASS_METHOD, end)
    of_outcomes = log.first_after(db, outcome_method(klass.id), end)
    if klass.id in of_class:
        kind, newest, last = of_class[klass.id][0]
        klass = replace(klass, method=MethodKind(kind), newest=newest, last=last)
    return klass, [
        _with_method(row, of_outcomes[row.id][0]) if row.id in of_outcomes else row
        for row in outcomes
    ]


def _with_method(row: OutcomeRow, logged: list[Any] | None) -> OutcomeRow:
    if logged is None:
        return replace(row, method=None)
    kind, newest, last = logged
    return replace(row, method=MethodKind(kind), newest=newest, last=last)


def is_taught(outcome: OutcomeRow, day: date) -> bool:
    """Whether a class teaches an outcome on a day."""
    return outcome.active_from <= day and (
        outcome.active_until is None or day < outcome.active_until
    )
