"""By what rules mastery is worked out, now and on an earlier day."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import date, datetime
from typing import Any
from zoneinfo import ZoneInfo

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


@dataclass(frozen=True, slots=True)
class MethodHistory:
    """The methods of a class and of its outcomes over time, read from the log
    (docs/calculations.md, “Mastery”, *as of a day*).
    """

    klass: ClassRow
    _zone: ZoneInfo
    _of_class: list[tuple[datetime, int, Any]]
    _of_outcomes: list[tuple[datetime, int, Any]]

    @classmethod
    def load(cls, db: sqlite3.Connection, klass: ClassRow) -> MethodHistory:
        """Load it. Part of a transaction or a reading."""
        of_class = [one for one in log.entries(db, CLASS_METHOD) if one[1] == klass.id]
        return cls(klass, school_zone(db), of_class, log.entries(db, outcome_method(klass.id)))

    def at(self, day: date, outcomes: Iterable[OutcomeRow]) -> tuple[ClassRow, list[OutcomeRow]]:
        """Give the class and outcomes of it with the methods they had at the end of a day: what
        stood then is what stands before the first change from then on.
        """
        end = end_of(day, self._zone)
        klass = self.klass
        for at, _, before in self._of_class:
            if at >= end:
                kind, newest, last = before
                klass = replace(klass, method=MethodKind(kind), newest=newest, last=last)
                break
        then: dict[int, Any] = {}
        for at, number, before in self._of_outcomes:
            if at >= end:
                then.setdefault(number, before)
        rows = [_with_method(row, then[row.id]) if row.id in then else row for row in outcomes]
        return klass, rows


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
