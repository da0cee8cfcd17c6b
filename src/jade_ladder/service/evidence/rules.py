"""By what rules mastery is worked out, now and on an earlier day."""

from __future__ import annotations

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

from jade_ladder.core.mastery import Rules
from jade_ladder.core.methods import Method
from jade_ladder.core.trail import Course
from jade_ladder.service.shared.days import school_zone, start_of
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.classes.own_classes import OwnClassRow
from jade_ladder.store.outcomes.methods import MethodBefore, methods_before
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.outcomes.scales import StoredScale

HasMethod = ClassRow | OwnClassRow
"""A class, as far as its method is asked."""


def rules_of(klass: HasMethod, outcome: OutcomeRow, scales: Mapping[int, StoredScale]) -> Rules:
    """Give by what an outcome in a class is worked out now: its own method, or the class's."""
    own = outcome.method is not None
    source = outcome if own else klass
    kind = outcome.method or klass.method
    method = Method(kind, source.newest, source.last)
    return Rules(method, scales[outcome.scale_id].scale, outcome.minimum)


@dataclass(frozen=True, slots=True)
class MethodHistory:
    """The methods of a class and of its outcomes over time (docs/calculations.md, “Methods”, *From
    a day on, or altogether*): `klass` as it is now, and what held until which day.
    """

    klass: HasMethod
    zone: ZoneInfo
    _before: Mapping[int | None, Sequence[MethodBefore]]

    @classmethod
    def load(cls, db: sqlite3.Connection, klass: HasMethod) -> MethodHistory:
        """Load it. Part of a transaction or a reading."""
        before: dict[int | None, list[MethodBefore]] = {}
        for row in methods_before(db, klass.id):
            before.setdefault(row.outcome_id, []).append(row)
        return cls(klass, school_zone(db), before)

    def class_method(self, day: date) -> Method:
        """Give the method that the class had on a day."""
        row = self._on(None, day)
        source = self.klass if row is None else row
        return Method(source.method or self.klass.method, source.newest, source.last)

    def own_method(self, outcome: OutcomeRow, day: date) -> Method | None:
        """Give the method of its own that an outcome of the class had on a day."""
        source = self._on(outcome.id, day) or outcome
        return Method(source.method, source.newest, source.last) if source.method else None

    def rules(self, outcome: OutcomeRow, scales: Mapping[int, StoredScale], day: date) -> Rules:
        """Give by what an outcome of the class was worked out on a day."""
        method = self.own_method(outcome, day) or self.class_method(day)
        return Rules(method, scales[outcome.scale_id].scale, outcome.minimum)

    def course(self, outcome: OutcomeRow, scales: Mapping[int, StoredScale], day: date) -> Course:
        """Give by what an outcome of the class is worked out up to a day."""
        days = {row.until for one in (None, outcome.id) for row in self._before.get(one, ())}
        rules = self.rules(outcome, scales, day)
        before: list[tuple[datetime, Rules]] = []
        later = rules
        for until in sorted((one for one in days if one <= day), reverse=True):
            held = self.rules(outcome, scales, until - timedelta(days=1))
            if held.method.as_used != later.method.as_used:
                before.append((start_of(until, self.zone), held))
            later = held
        return Course(rules, tuple(reversed(before)))

    def _on(self, outcome_id: int | None, day: date) -> MethodBefore | None:
        rows = self._before.get(outcome_id, ())
        return next((row for row in rows if day < row.until), None)


def is_taught(outcome: OutcomeRow, day: date) -> bool:
    """Whether a class teaches an outcome on a day."""
    return outcome.active_from <= day and (
        outcome.active_until is None or day < outcome.active_until
    )
