"""The remark bank: what a teacher wrote is offered again, and looked after by them
(docs/calculations.md, “The remark bank”).
"""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass, replace

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.core.names import folded
from jade_ladder.core.remark_bank import FullName, check_fields, filled, with_fields
from jade_ladder.service.marking.bank_filling import names_of_class
from jade_ladder.service.marking.saving import criterion_of
from jade_ladder.service.marking.state import Marking
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.store.marking import remark_bank as store
from jade_ladder.store.marking.remark_bank import BankRow, OfferRow

OFFERED = 9
SHOWN = 200
LONGEST_SEARCH = 200


@dataclass(frozen=True, slots=True)
class Offer:
    """A text that is offered, and as it reads for the student."""

    row: OfferRow
    filled: str


@dataclass(frozen=True, slots=True)
class Bank:
    """The first texts of a bank, and how many there are in all."""

    rows: tuple[BankRow, ...]
    count: int


def offers(
    caller: Teacher,
    task_id: int,
    student_id: int,
    criterion_id: int | None,
    level_id: int | None,
    search: str = "",
    attempt: int = 1,
) -> list[Offer]:
    """List what the bank offers for a criterion (None: for the whole) at a level, at most nine, and
    as it reads for the student.
    """
    if len(search) > LONGEST_SEARCH:
        raise Refused(f"At most {LONGEST_SEARCH} characters", "search")
    with caller.reading() as db:
        marking = Marking.load(db, caller, task_id, student_id, attempt)
        criterion_key = level_key = ""
        if criterion_id is not None:
            stored = criterion_of(marking, criterion_id)
            criterion_key = stored.criterion.key
            level_key = stored.level_key(level_id) or ""
        rows = store.offers(
            db, caller.person_id, criterion_key, level_key, folded(search.strip()), OFFERED
        )
        own, others = names_of_class(db, task_id, student_id)
        return [
            Offer(replace(row, text=text), filled(text, own or FullName("", "")))
            for row in rows
            for text in [with_fields(row.text, own, others)]
        ]


def bank(caller: Teacher, search: str = "") -> Bank:
    """List the caller's bank, or what of it contains `search`: the first 200."""
    if len(search) > LONGEST_SEARCH:
        raise Refused(f"At most {LONGEST_SEARCH} characters", "search")
    words = folded(search.strip())
    with caller.reading() as db:
        return Bank(
            tuple(store.bank(db, caller.person_id, words, SHOWN)),
            store.count_bank(db, caller.person_id, words),
        )


def add_to_bank(caller: Teacher, text: str) -> BankRow:
    """Put a text into the caller's bank; names of students become fields."""
    with caller.transaction() as db:
        text = _checked(db, caller, text)
        number = store.add(db, caller.person_id, text, caller.now)
        return _own(db, caller, number)


def change_in_bank(caller: Teacher, remark_id: int, text: str, pinned: bool) -> BankRow:
    """Edit and pin a text of the caller's bank; remarks that were written with it stay as they are.
    Names of students become fields; where the same text is there already, the two become one.
    """
    with caller.transaction() as db:
        _own(db, caller, remark_id)
        text = _checked(db, caller, text)
        same = store.same_text(db, caller.person_id, text)
        if same is not None and same != remark_id:
            store.merge(db, same, remark_id)
        store.change(db, remark_id, text, pinned, caller.now)
        return _own(db, caller, remark_id)


def delete_from_bank(caller: Teacher, remark_id: int, deleted: bool) -> None:
    """Delete a text from the caller's bank, so that it is not offered any more, or undo that."""
    with caller.transaction() as db:
        _own(db, caller, remark_id)
        store.set_deleted(db, remark_id, deleted)


def _own(db: sqlite3.Connection, caller: Teacher, remark_id: int) -> BankRow:
    row = store.bank_remark(db, caller.person_id, remark_id)
    if row is None:
        raise NotFound("There is no such text in your bank")
    return row


def _checked(db: sqlite3.Connection, caller: Teacher, text: str) -> str:
    text = text.strip()
    check_fields(text)
    return with_fields(text, None, store.names_of_students(db, caller.person_id))
