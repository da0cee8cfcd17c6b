"""By which method a class, or an outcome in it, works mastery out, and by which it did until which
days (docs/calculations.md, “Methods”, *From a day on, or altogether*).
"""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import date
from typing import Any

from jade_ladder.core.methods import Method, MethodKind
from jade_ladder.store.classes import classes as class_store
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.outcomes import outcomes as outcome_store
from jade_ladder.store.outcomes.methods import MethodBefore, methods_before, set_methods_before


@dataclass(frozen=True, slots=True)
class HeldMethods:
    """The method that holds now, and those before it, each until a day that is not included, in
    order; None: the class's.
    """

    method: Method | None
    before: tuple[tuple[date, Method | None], ...] = ()

    @classmethod
    def load(cls, db: sqlite3.Connection, klass: ClassRow, outcome_id: int | None) -> HeldMethods:
        """Load that of a class, or of an outcome that it teaches. Part of a transaction."""
        source = (
            klass if outcome_id is None else outcome_store.class_outcome(db, klass.id, outcome_id)
        )
        rows = [row for row in methods_before(db, klass.id) if row.outcome_id == outcome_id]
        return cls(
            None if source is None else _method(source.method, source.newest, source.last),
            tuple((row.until, _method(row.method, row.newest, row.last)) for row in rows),
        )

    def save(self, db: sqlite3.Connection, class_id: int, outcome_id: int | None) -> None:
        """Let this hold in a class, or for an outcome in it. Part of a transaction."""
        now = self.method
        if outcome_id is not None:
            outcome_store.set_own_method(db, class_id, outcome_id, now)
        elif now is not None:
            class_store.change_method(db, class_id, now.kind, now.newest, now.last)
        any_method = Method(MethodKind.LATEST)
        rows = [
            MethodBefore(
                outcome_id,
                until,
                one.kind if one else None,
                (one or any_method).newest,
                (one or any_method).last,
            )
            for until, one in self.before
        ]
        set_methods_before(db, class_id, outcome_id, rows)

    def then(self, method: Method | None, since: date | None) -> HeldMethods:
        """Give what holds if a method does from a day on, or altogether (None)."""
        if since is None:
            return HeldMethods(method)
        kept = [one for one in self.before if one[0] < since]
        held = next((one for until, one in self.before if since <= until), self.method)
        if held != method:
            kept.append((since, held))
        return HeldMethods(method, tuple(kept))

    @property
    def written(self) -> Any:
        """This as the log keeps it."""
        return {
            "method": _written(self.method),
            "before": [[until.isoformat(), _written(one)] for until, one in self.before],
        }

    @classmethod
    def read(cls, written: Any) -> HeldMethods:
        """Read it from the log; entries of earlier versions have the method alone."""
        if not isinstance(written, dict):
            return cls(_read(written))
        before = tuple((date.fromisoformat(day), _read(one)) for day, one in written["before"])
        return cls(_read(written["method"]), before)


def _method(kind: MethodKind | None, newest: int, last: int) -> Method | None:
    return None if kind is None else Method(kind, newest, last)


def _written(method: Method | None) -> list[Any] | None:
    return None if method is None else [method.kind, method.newest, method.last]


def _read(written: Any) -> Method | None:
    return None if written is None else Method(MethodKind(written[0]), written[1], written[2])
