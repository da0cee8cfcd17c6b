"""Changing many outcomes of a class at once."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass, replace

from jade_ladder.core.errors import Refused
from jade_ladder.core.methods import Method
from jade_ladder.service.caller import Caller
from jade_ladder.service.effects import LevelChange, supposed_changes
from jade_ladder.service.methods import change_outcome_method, own_method
from jade_ladder.service.outcomes import change_outcome, own_outcome, retire_outcome, words_of
from jade_ladder.service.scales import put_on_scale


@dataclass(frozen=True, slots=True)
class OutcomeChanges:
    """What to change of each outcome: None leaves it as it is.

    `method` holds the method of its own, `class_method` says that it takes the class's again;
    `no_strand` says that it leaves its strand.
    """

    method: Method | None = None
    class_method: bool = False
    minimum: int | None = None
    scale_id: int | None = None
    strand_id: int | None = None
    no_strand: bool = False
    retired: bool | None = None


def change_outcomes(
    caller: Caller, class_id: int, outcome_ids: list[int], changes: OutcomeChanges
) -> None:
    """Change outcomes of a class, all of them or none."""
    if not outcome_ids:
        raise Refused("Choose the outcomes to change", "outcome_ids")
    with caller.deed() as db:
        for outcome_id in dict.fromkeys(outcome_ids):
            _change(db, caller, class_id, outcome_id, changes)


def _change(
    db: sqlite3.Connection, caller: Caller, class_id: int, outcome_id: int, changes: OutcomeChanges
) -> None:
    outcome = own_outcome(db, caller, class_id, outcome_id)
    method = None if changes.class_method else changes.method or own_method(outcome)
    minimum = outcome.minimum if changes.minimum is None else changes.minimum
    change_outcome_method(caller, class_id, outcome_id, method, minimum)
    if changes.scale_id is not None:
        put_on_scale(caller, class_id, outcome_id, changes.scale_id)
    strand_id = None if changes.no_strand else changes.strand_id or outcome.strand_id
    if strand_id != outcome.strand_id:
        words = replace(words_of(outcome), strand_id=strand_id)
        change_outcome(caller, class_id, outcome_id, words)
    if changes.retired is not None and changes.retired != (outcome.active_until is not None):
        retire_outcome(caller, class_id, outcome_id, changes.retired)


def preview_changes(
    caller: Caller, class_id: int, outcome_ids: list[int], changes: OutcomeChanges
) -> tuple[LevelChange, ...]:
    """Say whose level changing these outcomes would move, in the caller's classes; nothing is
    changed.
    """
    effects = supposed_changes(
        caller, outcome_ids, lambda: change_outcomes(caller, class_id, outcome_ids, changes)
    )
    return effects.changes
