"""Strands: named groups of outcomes; a strand may stand within another, one deep."""

from __future__ import annotations

import sqlite3

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.service.shared.caller import Administrator, Teacher
from jade_ladder.service.shared.forms import check_order, needed
from jade_ladder.store.outcomes import strands as store
from jade_ladder.store.outcomes.strands import StrandRow


def strands(caller: Teacher) -> list[StrandRow]:
    """List the caller's strands in order, each before those within it."""
    with caller.reading() as db:
        return store.strands(db, caller.person_id)


def add_strand(caller: Teacher, title: str, parent_id: int | None = None) -> int:
    """Add a strand, within another if one is given; gives its number."""
    title = needed(title, "title", "A title for the strand")
    with caller.transaction() as db:
        _check_title(db, caller, title)
        _check_parent(db, caller, None, parent_id)
        number = store.add_strand(db, caller.person_id, title, parent_id)
        put_in_order(db, caller)
        return number


def change_strand(
    caller: Teacher, strand_id: int, title: str, parent_id: int | None = None
) -> None:
    """Rename a strand, and put it within another or, with None, within none."""
    title = needed(title, "title", "A title for the strand")
    with caller.transaction() as db:
        _check_may_change(caller, own_strand(db, caller, strand_id))
        _check_title(db, caller, title, strand_id)
        _check_parent(db, caller, strand_id, parent_id)
        store.change_strand(db, strand_id, title, parent_id)
        put_in_order(db, caller)


def order_strands(caller: Teacher, strand_ids: list[int]) -> None:
    """Put the caller's strands in the order given, which names each once; those within another
    stay after it.
    """
    with caller.transaction() as db:
        known = {strand.id for strand in store.strands(db, caller.person_id)}
        check_order(strand_ids, known)
        store.order_strands(db, strand_ids)
        put_in_order(db, caller)


def delete_strand(caller: Teacher, strand_id: int) -> None:
    """Delete a strand that holds no outcome and no other strand."""
    with caller.transaction() as db:
        _check_may_change(caller, own_strand(db, caller, strand_id))
        if store.strand_is_used(db, strand_id):
            raise Refused("There are outcomes or strands in this strand: move them first")
        store.delete_strand(db, strand_id)


def _check_may_change(caller: Teacher, strand: StrandRow) -> None:
    if strand.schools and not isinstance(caller, Administrator):
        raise Refused(f"“{strand.title}” is the school's: an administrator changes it")


def own_strand(
    db: sqlite3.Connection, caller: Teacher, strand_id: int, field: str = ""
) -> StrandRow:
    """Give a strand of the caller's or the school's; NotFound, or Refused where a field names it.
    Part of a transaction.
    """
    for strand in store.strands(db, caller.person_id):
        if strand.id == strand_id:
            return strand
    if field:
        raise Refused("There is no such strand", field)
    raise NotFound("There is no such strand")


def _check_title(
    db: sqlite3.Connection, caller: Teacher, title: str, strand_id: int | None = None
) -> None:
    for strand in store.strands(db, caller.person_id):
        if strand.id != strand_id and strand.title.casefold() == title.casefold():
            raise Refused(f"There is a strand “{title}” already", "title")


def _check_parent(
    db: sqlite3.Connection, caller: Teacher, strand_id: int | None, parent_id: int | None
) -> None:
    if parent_id is None:
        return
    parent = own_strand(db, caller, parent_id, "parent_id")
    if parent.parent_id is not None or parent_id == strand_id:
        raise Refused(f"“{parent.title}” cannot hold a strand: strands nest one deep", "parent_id")
    within = [s for s in store.strands(db, caller.person_id) if s.parent_id == strand_id]
    if strand_id is not None and within:
        raise Refused("This strand holds other strands, so it cannot go inside one", "parent_id")


def put_in_order(db: sqlite3.Connection, caller: Teacher) -> None:
    """Number the strands so that each stands right before those within it. Part of a
    transaction.
    """
    rows = store.strands(db, caller.person_id)
    order: list[int] = []
    for top in (row for row in rows if row.parent_id is None):
        order += [top.id, *(row.id for row in rows if row.parent_id == top.id)]
    store.order_strands(db, order)
