"""How mastery is worked out: the class's method, and an outcome's own."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass, replace

from jade_ladder.core.errors import Refused
from jade_ladder.core.mastery import Rules
from jade_ladder.core.methods import Method, pieces_to_mastery
from jade_ladder.service.changes.scales import maps_on_scale, moved_cells, put_on_scale
from jade_ladder.service.changes.what_if import LevelChange, level_changes, supposed_changes
from jade_ladder.service.mastery.class_evidence import CLASS_METHOD, WhatIf, outcome_method
from jade_ladder.service.outcomes.outcomes import (
    OutcomeWords,
    change_outcome,
    own_outcome,
    words_of,
)
from jade_ladder.service.shared.caller import Teacher, check_version, own_class, told_together
from jade_ladder.store.classes import classes as class_store
from jade_ladder.store.outcomes import outcomes as store
from jade_ladder.store.outcomes import scales as scale_store
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.outcomes.scales import StoredScale
from jade_ladder.store.shared import log

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


@dataclass(frozen=True, slots=True)
class MethodPreview:
    """Whose level would change, and the warning about cuts where one is due."""

    changes: tuple[LevelChange, ...]
    hard_cuts: tuple[HardCut, ...]


def preview_class_method(caller: Teacher, class_id: int, method: Method) -> MethodPreview:
    """Say what a method for the class would change; outcomes with their own are not touched."""
    with caller.reading() as db:
        klass = own_class(db, caller, class_id)
        scales = scale_store.scales(db)
        after = {
            outcome.id: Rules(method, scales[outcome.scale_id].scale, outcome.minimum)
            for outcome in store.class_outcomes(db, class_id)
            if outcome.method is None
        }
        used = {klass.scale_id} | {
            o.scale_id for o in store.class_outcomes(db, class_id) if o.method is None
        }
        hard = [cut for number in sorted(used) if (cut := hard_cut(scales[number], method))]
        return MethodPreview(tuple(level_changes(db, caller, klass, after)), tuple(hard))


def preview_outcome(
    caller: Teacher,
    class_id: int,
    outcome_id: int,
    method: Method | None,
    minimum: int,
    scale_id: int,
) -> MethodPreview:
    """Say what an own method (None: the class's), a minimum and a scale for one outcome would
    change, in all classes of the caller's that teach it; nothing is changed.
    """

    with caller.reading() as db:
        klass = own_class(db, caller, class_id)
        outcome = own_outcome(db, caller, class_id, outcome_id)
        maps = maps_on_scale(db, caller, outcome, scale_id)
        what = WhatIf(
            on_scale={outcome_id: scale_id},
            taught={(class_id, outcome_id): with_method(outcome, method, minimum)},
            cells=moved_cells(maps),
        )
        effects = supposed_changes(db, caller, [outcome_id], what)
        stored = scale_store.scales(db)[scale_id]
        used = method or Method(klass.method, klass.newest, klass.last)
        cut = hard_cut(stored, used)
        return MethodPreview(effects.changes, (cut,) if cut else ())


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
    with caller.deed() as db:
        klass = own_class(db, caller, class_id)
        check_version(based_on, klass.version, "The class")
        class_store.change_method(db, class_id, method.kind, method.newest, method.last)
        before = Method(klass.method, klass.newest, klass.last)
        _log(db, caller, CLASS_METHOD, class_id, before, method)


def change_outcome_method(
    caller: Teacher, class_id: int, outcome_id: int, method: Method | None, minimum: int
) -> None:
    """Give an outcome its own method (None: the class's) and minimum of evidence in a class."""
    with caller.deed() as db:
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


def change_outcome_whole(
    caller: Teacher,
    class_id: int,
    outcome_id: int,
    based_on: int,
    words: OutcomeWords,
    method: Method | None,
    minimum: int,
    scale_id: int | None = None,
) -> None:
    """Change an outcome's words, own method, minimum and scale (None: as it is) together, all or
    nothing.
    """
    with caller.deed() as db:
        outcome = own_outcome(db, caller, class_id, outcome_id)
        check_version(based_on, outcome.version, "The outcome")
        changes = [lambda: change_outcome_method(caller, class_id, outcome_id, method, minimum)]
        if scale_id is not None:
            changes.append(lambda: put_on_scale(caller, class_id, outcome_id, scale_id))
        if words != words_of(outcome):
            changes.append(lambda: change_outcome(caller, class_id, outcome_id, words))
        told_together(*changes)


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
    log.add_entry(db, caller.now, caller.person_id, subject, number, *described)
