"""How mastery is worked out: the class's method, and an outcome's own."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass, replace

from jade_ladder.core.errors import Refused
from jade_ladder.core.methods import Method, pieces_to_mastery
from jade_ladder.service.outcomes.outcomes import (
    own_outcome,
)
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.forms import check_version
from jade_ladder.service.shared.guards import own_class
from jade_ladder.store.classes import classes as class_store
from jade_ladder.store.outcomes import outcomes as store
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.outcomes.scales import StoredScale

LARGEST_MINIMUM = 20


@dataclass(frozen=True, slots=True)
class HardCut:
    """What an averaging method with mastery cut at the value means: after one piece at the level
    below it takes `pieces` pieces at the mastery level to be there (None: more than anybody has).
    """

    scale_id: int
    scale_name: str
    below: str
    level: str
    pieces: int | None


def with_method(outcome: OutcomeRow, method: Method | None, minimum: int) -> OutcomeRow:
    """Give an outcome of a class with another method of its own (None: the class's) and minimum."""
    _check_minimum(minimum)
    return replace(
        outcome,
        method=method.kind if method else None,
        newest=method.newest if method else outcome.newest,
        last=method.last if method else outcome.last,
        minimum=minimum,
    )


def _check_minimum(minimum: int) -> None:
    if not 1 <= minimum <= LARGEST_MINIMUM:
        raise Refused(f"The minimum lies between 1 and {LARGEST_MINIMUM} pieces", "minimum")


def hard_cut(stored: StoredScale, method: Method) -> HardCut | None:
    """Give the warning for an averaging method on a scale cut at the values, else None."""
    scale = stored.scale
    if not method.averages or not scale.cuts_at_values or scale.mastery_level == 0:
        return None
    return HardCut(
        stored.id,
        stored.name,
        scale.levels[scale.mastery_level - 1].name,
        scale.levels[scale.mastery_level].name,
        pieces_to_mastery(method, scale),
    )


def change_class_method(caller: Teacher, class_id: int, based_on: int, method: Method) -> None:
    """Change the class's method; no evidence is touched, and the change is kept with its date."""
    with caller.transaction() as db:
        klass = own_class(db, caller, class_id)
        check_version(based_on, klass.version, "The class")
        class_store.change_method(db, class_id, method.kind, method.newest, method.last)
        before = Method(klass.method, klass.newest, klass.last)
        _log(db, caller, CLASS_METHOD, class_id, before, method)


def change_outcome_method(
    caller: Teacher, class_id: int, outcome_id: int, method: Method | None, minimum: int
) -> None:
    """Give an outcome its own method (None: the class's) and minimum of evidence in a class."""
    with caller.transaction() as db:
        outcome = own_outcome(db, caller, class_id, outcome_id)
        before = own_method(outcome)
        after = with_method(outcome, method, minimum)
        if (before, outcome.minimum) == (method, minimum):
            return
        store.change_class_outcome(
            db,
            class_id,
            outcome_id,
            after.method,
            after.newest,
            after.last,
            minimum,
        )
        if before != method:
            _log(db, caller, outcome_method(class_id), outcome_id, before, method)


def own_method(outcome: OutcomeRow) -> Method | None:
    """Give the method that an outcome has of its own in its class, if it has one."""
    return Method(outcome.method, outcome.newest, outcome.last) if outcome.method else None


def _log(
    db: sqlite3.Connection,
    caller: Teacher,
    subject: str,
    number: int,
    before: Method | None,
    after: Method | None,
) -> None:
    described = [
        None if method is None else [method.kind, method.newest, method.last]
        for method in (before, after)
    ]
    caller.log(db, subject, number, *described)


CLASS_METHOD = "class-method"
"""The subject under which changes of a class's method are logged."""


def outcome_method(class_id: int) -> str:
    """Give the subject under which changes of outcomes' own methods in a class are logged."""
    return f"outcome-method/{class_id}"
