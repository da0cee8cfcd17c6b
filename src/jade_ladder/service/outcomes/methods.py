"""How mastery is worked out: the class's method, and an outcome's own."""

from __future__ import annotations

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date

from jade_ladder.core.errors import NotFound, Refused, Stale
from jade_ladder.core.methods import Method, pieces_to_mastery
from jade_ladder.service.outcomes.held_methods import HeldMethods
from jade_ladder.service.outcomes.outcomes import own_outcome
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import check_day, today
from jade_ladder.service.shared.forms import check_version
from jade_ladder.service.shared.guards import own_class
from jade_ladder.store.outcomes import outcomes as store
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.outcomes.scales import StoredScale
from jade_ladder.store.shared import log
from jade_ladder.store.shared.log import LogSubject

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


def change_class_method(
    caller: Teacher, class_id: int, based_on: int, method: Method, since: date | None = None
) -> int | None:
    """Change the class's method from a day on, or altogether (None); no evidence is touched. Gives
    the number in the log by which it is undone (docs/calculations.md, “Methods”); None where it
    holds already.
    """
    with caller.transaction() as db:
        klass = own_class(db, caller, class_id)
        check_version(based_on, klass.version, "The class")
        return _hold(db, caller, class_id, None, method, since)


def change_outcome_method(
    caller: Teacher,
    class_id: int,
    outcome_id: int,
    method: Method | None,
    minimum: int,
    since: date | None = None,
) -> int | None:
    """Give an outcome its own method (None: the class's) in a class, from a day on or altogether
    (None), and a minimum of evidence. Gives the number in the log by which a change of method is
    undone. The method that it has already, with no day, is no change. A wrong day is refused at
    `method_since`, as what changes it beside other things names it.
    """
    with caller.transaction() as db:
        outcome = own_outcome(db, caller, class_id, outcome_id)
        _check_minimum(minimum)
        if outcome.minimum != minimum:
            store.set_minimum(db, class_id, outcome_id, minimum)
        if since is None and own_method(outcome) == method:
            return None
        return _hold(db, caller, class_id, outcome_id, method, since, "method_since")


def _hold(
    db: sqlite3.Connection,
    caller: Teacher,
    class_id: int,
    outcome_id: int | None,
    method: Method | None,
    since: date | None,
    field: str = "since",
) -> int | None:
    """Let a method hold for a class, or for an outcome in it; None where it did already."""
    before = HeldMethods.load(db, own_class(db, caller, class_id), outcome_id)
    after = before.then(method, _day(db, caller, since, field))
    return None if after == before else _keep(db, caller, class_id, outcome_id, before, after)


def change_outcome_methods(
    caller: Teacher,
    class_id: int,
    outcomes: Mapping[int, int],
    method: Method | None,
    since: date | None = None,
) -> list[int]:
    """Give outcomes (with the versions that this is based on) their own method (None: the class's)
    in a class, from a day on or altogether (None), all or none of them. Gives the numbers in the
    log by which it is undone.
    """
    with caller.transaction() as db:
        own_class(db, caller, class_id)
        if not outcomes:
            raise Refused("Choose the outcomes", "outcomes")
        entries = []
        for outcome_id, version in outcomes.items():
            outcome = own_outcome(db, caller, class_id, outcome_id)
            check_version(version, outcome.version, outcome.code)
            entries.append(_hold(db, caller, class_id, outcome_id, method, since))
        return [number for number in entries if number is not None]


def undo_method_changes(caller: Teacher, class_id: int, entries: Sequence[int]) -> None:
    """Undo changes of method that the caller made in a class, by their numbers in the log, all or
    nothing. Raises Stale where a method was changed again since.
    """
    with caller.transaction() as db:
        own_class(db, caller, class_id)
        if not entries:
            raise Refused("There is nothing to undo", "entries")
        for number in dict.fromkeys(entries):
            klass = own_class(db, caller, class_id)
            outcome_id, before, after = _logged(db, caller, class_id, number)
            if HeldMethods.load(db, klass, outcome_id) != after:
                raise Stale(
                    "The method was changed again since, and stays as it is now", klass.version
                )
            _keep(db, caller, class_id, outcome_id, after, before)


def _logged(
    db: sqlite3.Connection, caller: Teacher, class_id: int, number: int
) -> tuple[int | None, HeldMethods, HeldMethods]:
    """Give an outcome (None: the class) with what held before and after a change of its method."""
    of_class = log.entry(db, number, caller.person_id, LogSubject.CLASS_METHOD)
    of_outcome = log.entry(db, number, caller.person_id, LogSubject.OUTCOME_METHOD, class_id)
    if of_class and of_class[0] == class_id:
        return None, HeldMethods.read(of_class[1]), HeldMethods.read(of_class[2])
    if of_outcome:
        return of_outcome[0], HeldMethods.read(of_outcome[1]), HeldMethods.read(of_outcome[2])
    raise NotFound("There is no such change to undo")


def _keep(
    db: sqlite3.Connection,
    caller: Teacher,
    class_id: int,
    outcome_id: int | None,
    before: HeldMethods,
    after: HeldMethods,
) -> int:
    after.save(db, class_id, outcome_id)
    if outcome_id is None:
        subject = LogSubject.CLASS_METHOD
        return caller.log(db, subject, class_id, before.written, after.written)
    subject = LogSubject.OUTCOME_METHOD
    return caller.log(db, subject, outcome_id, before.written, after.written, class_id)


def own_method(outcome: OutcomeRow) -> Method | None:
    """Give the method that an outcome has of its own in its class, if it has one."""
    return Method(outcome.method, outcome.newest, outcome.last) if outcome.method else None


def _day(db: sqlite3.Connection, caller: Teacher, since: date | None, field: str) -> date | None:
    """Check the day from which a method is to hold."""
    if since is None:
        return None
    check_day(since, field)
    if since > today(db, caller):
        raise Refused("This day has not come yet: choose today or an earlier one", field)
    return since
