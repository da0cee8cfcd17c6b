"""The remark bank fills itself: what is remarked is taken into it as it is saved
(docs/calculations.md, “The remark bank”).
"""

from __future__ import annotations

import sqlite3

from jade_ladder.core.remark_bank import SHORTEST, FullName, with_fields
from jade_ladder.service.marking.state import Marking
from jade_ladder.store.marking import remark_bank as store
from jade_ladder.store.marking.remark_bank import BankPlace
from jade_ladder.store.rubrics.criteria import StoredCriterion


def names_of_class(
    db: sqlite3.Connection, task_id: int, student_id: int
) -> tuple[FullName | None, list[FullName]]:
    """Give a student's names, and those of everybody else who is or was in the class of a task."""
    names = store.class_names(db, task_id)
    own = next((name for number, name in names if number == student_id), None)
    return own, [name for number, name in names if number != student_id]


def bank_remark(marking: Marking, stored: StoredCriterion | None, text: str) -> None:
    """Take a remark on a criterion, or (None) on the whole, that is being saved into the bank of
    who saves it; an empty one frees its place. Part of a transaction.
    """
    key = None if stored is None else stored.criterion.key
    _take(marking, BankPlace.of_criterion(key, _level_key(marking, stored)), text)


def bank_passage(marking: Marking, key: str, criterion_key: str | None, text: str) -> None:
    """Take a remark on a passage that is being saved into the bank, likewise."""
    tied = (one for one in marking.criteria if one.criterion.key == criterion_key)
    level = _level_key(marking, next(tied, None))
    _take(marking, BankPlace.of_passage(key, criterion_key, level), text)


def _level_key(marking: Marking, stored: StoredCriterion | None) -> str | None:
    if stored is None:
        return None
    choice = marking.standing.choices.get(stored.id)
    return stored.level_key(choice.level_id) if choice else None


def _take(marking: Marking, place: BankPlace, text: str) -> None:
    if not marking.counts:
        # What others say of work fills nobody's bank.
        return
    at = marking.place
    assert at.mark.id is not None, "what is remarked is remarked in a mark"
    if len(text) < SHORTEST:
        text = ""
    if text:
        text = with_fields(text, *names_of_class(marking.db, at.task.id, at.student.id))
    caller = marking.caller
    store.use(marking.db, caller.person_id, at.mark.id, place, text, caller.now)
