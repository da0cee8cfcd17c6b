"""Methods, and an outcome as a whole: what another one would change, and changing it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date

from jade_ladder.core.mastery import Rules
from jade_ladder.core.methods import Method
from jade_ladder.service.changes.scales import maps_on_scale, moved_cells, put_on_scale
from jade_ladder.service.changes.what_if import LevelChange, level_changes, what_if_changes
from jade_ladder.service.evidence.class_evidence import WhatIf
from jade_ladder.service.outcomes.methods import (
    HardCut,
    change_outcome_method,
    hard_cut,
    with_method,
)
from jade_ladder.service.outcomes.outcomes import (
    OutcomeWords,
    change_outcome,
    own_outcome,
    words_of,
)
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.forms import check_version, collect_errors
from jade_ladder.service.shared.guards import own_class
from jade_ladder.store.outcomes import outcomes as store
from jade_ladder.store.outcomes import scales as scale_store


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
        effects = what_if_changes(db, caller, [outcome_id], what)
        stored = scale_store.scales(db)[scale_id]
        used = method or Method(klass.method, klass.newest, klass.last)
        cut = hard_cut(stored, used)
        return MethodPreview(effects.changes, (cut,) if cut else ())


def change_outcome_whole(
    caller: Teacher,
    class_id: int,
    outcome_id: int,
    based_on: int,
    words: OutcomeWords,
    method: Method | None,
    minimum: int,
    scale_id: int | None = None,
    since: date | None = None,
) -> list[int]:
    """Change an outcome's words, own method (from a day on, or altogether), minimum and scale
    (None: as it is) together, all or nothing. Gives the numbers in the log by which a change of
    method is undone.
    """
    entries: list[int | None] = []
    with caller.transaction() as db:
        outcome = own_outcome(db, caller, class_id, outcome_id)
        check_version(based_on, outcome.version, "The outcome")
        changes: list[Callable[[], object]] = [
            lambda: entries.append(
                change_outcome_method(caller, class_id, outcome_id, method, minimum, since)
            )
        ]
        if scale_id is not None:
            changes.append(lambda: put_on_scale(caller, class_id, outcome_id, scale_id))
        if words != words_of(outcome):
            changes.append(lambda: change_outcome(caller, class_id, outcome_id, words))
        collect_errors(*changes)
    return [number for number in entries if number is not None]
