"""Changing many outcomes of a class at once."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass, replace
from datetime import date

from jade_ladder.core.errors import Refused
from jade_ladder.core.methods import Method
from jade_ladder.service.changes.scales import maps_on_scale, moved_cells, put_on_scale
from jade_ladder.service.changes.what_if import LevelChange, what_if_changes
from jade_ladder.service.evidence.class_evidence import WhatIf
from jade_ladder.service.outcomes.methods import change_outcome_method, own_method, with_method
from jade_ladder.service.outcomes.outcomes import (
    OutcomeWords,
    change_outcome,
    check_change,
    own_outcome,
    retire_outcome,
    words_of,
)
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import today
from jade_ladder.store.outcomes.outcomes import OutcomeRow


@dataclass(frozen=True, slots=True)
class OutcomeChanges:
    """What to change of each outcome: None leaves it as it is.

    `method` holds the method of its own, `class_method` says that it takes the class's again, from
    a day on (`since`) or altogether;
    `no_strand` says that it leaves its strand.
    """

    method: Method | None = None
    class_method: bool = False
    since: date | None = None
    minimum: int | None = None
    scale_id: int | None = None
    strand_id: int | None = None
    no_strand: bool = False
    retired: bool | None = None


def change_outcomes(
    caller: Teacher, class_id: int, outcome_ids: list[int], changes: OutcomeChanges
) -> list[int]:
    """Change outcomes of a class, all of them or none. Gives the numbers in the log by which
    changes of method are undone.
    """
    with caller.transaction() as db:
        entries = [
            _change(db, caller, class_id, outcome_id, changes)
            for outcome_id in _chosen(outcome_ids)
        ]
    return [number for number in entries if number is not None]


def _chosen(outcome_ids: list[int]) -> list[int]:
    if not outcome_ids:
        raise Refused("Choose the outcomes to change", "outcome_ids")
    return list(dict.fromkeys(outcome_ids))


def _change(
    db: sqlite3.Connection, caller: Teacher, class_id: int, outcome_id: int, changes: OutcomeChanges
) -> int | None:
    outcome = own_outcome(db, caller, class_id, outcome_id)
    method, minimum = _method(outcome, changes)
    entry = change_outcome_method(caller, class_id, outcome_id, method, minimum, changes.since)
    if changes.scale_id is not None:
        put_on_scale(caller, class_id, outcome_id, changes.scale_id)
    words = _words(outcome, changes)
    if words != words_of(outcome):
        change_outcome(caller, class_id, outcome_id, words)
    if _retires(outcome, changes):
        retire_outcome(caller, class_id, outcome_id, bool(changes.retired))
    return entry


def _method(outcome: OutcomeRow, changes: OutcomeChanges) -> tuple[Method | None, int]:
    method = None if changes.class_method else changes.method or own_method(outcome)
    return method, outcome.minimum if changes.minimum is None else changes.minimum


def _words(outcome: OutcomeRow, changes: OutcomeChanges) -> OutcomeWords:
    strand_id = None if changes.no_strand else changes.strand_id or outcome.strand_id
    return replace(words_of(outcome), strand_id=strand_id)


def _retires(outcome: OutcomeRow, changes: OutcomeChanges) -> bool:
    """Whether it would be retired, or restored."""
    return changes.retired is not None and changes.retired != (outcome.active_until is not None)


def preview_changes(
    caller: Teacher, class_id: int, outcome_ids: list[int], changes: OutcomeChanges
) -> tuple[LevelChange, ...]:
    """Say whose level changing these outcomes would move, in the caller's classes; nothing is
    changed, and nobody who saves waits for it. Raises what changing them would.
    """
    chosen = _chosen(outcome_ids)
    taught: dict[tuple[int, int], OutcomeRow] = {}
    cells: dict[tuple[int, int], int | None] = {}
    with caller.reading() as db:
        for outcome_id in chosen:
            outcome = own_outcome(db, caller, class_id, outcome_id)
            row = with_method(outcome, *_method(outcome, changes))
            if changes.scale_id is not None:
                cells |= moved_cells(maps_on_scale(db, caller, outcome, changes.scale_id))
            words = _words(outcome, changes)
            if words != words_of(outcome):
                check_change(db, caller, class_id, outcome, words)
            if _retires(outcome, changes):
                row = replace(row, active_until=today(db, caller) if changes.retired else None)
            taught[class_id, outcome_id] = row
        on_scale = {} if changes.scale_id is None else dict.fromkeys(chosen, changes.scale_id)
        what = WhatIf(on_scale=on_scale, taught=taught, cells=cells)
        return what_if_changes(db, caller, chosen, what).changes
