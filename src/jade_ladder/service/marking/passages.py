"""Remarks on passages of the work (docs/calculations.md, “Passages”)."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from jade_ladder.core.errors import NotFound, Refused, Stale
from jade_ladder.core.passage import Place, in_reading_order
from jade_ladder.formats.annotation import write_place
from jade_ladder.service.files.showing import check_ready
from jade_ladder.service.marking.bank_filling import bank_passage
from jade_ladder.service.marking.saving import LONGEST_REMARK, begin, criterion_of
from jade_ladder.service.marking.state import Marking, MarkState
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.forms import check_key
from jade_ladder.store.marking import passages as store
from jade_ladder.store.marking.passages import Passage, PassageRow
from jade_ladder.store.rubrics.criteria import StoredCriterion
from jade_ladder.store.work import parts as part_store
from jade_ladder.store.work import placed_parts as placed_store
from jade_ladder.store.work.parts import WorkPart

MOST_PASSAGES = 2_000


@dataclass(frozen=True, slots=True)
class NewPassage:
    """A remark on a passage as it is sent: `criterion_id` None is the work as a whole."""

    part_id: int
    criterion_id: int | None
    text: str
    place: Place


@dataclass(frozen=True, slots=True)
class NumberedPassage:
    """A passage with its number in the mark; the criterion is the record of the revision that is
    shown, None where it has none of that key.
    """

    number: int
    row: PassageRow
    criterion_id: int | None


def remark_on_passage(
    caller: Teacher,
    task_id: int,
    student_id: int,
    key: str,
    new: NewPassage | None,
    based_on: int,
    attempt: int = 1,
) -> MarkState:
    """Save a remark on a passage, or (None) delete it; gives the mark as it then stands. The same
    sent twice is one.

    Raises Stale when this very passage was changed after version `based_on`, which is that of the
    mark in which it was last seen (0: it is new).
    """
    text = "" if new is None else _checked(key, new)
    with caller.transaction() as db:
        marking = Marking.load(db, caller, task_id, student_id, attempt)
        wanted = None if new is None else _wanted(marking, new, text)
        attempt_id, mark_id = marking.place.attempt.id, marking.place.mark.id
        there, since = (None, 0) if mark_id is None else store.last_said(db, mark_id, key)
        if _same(there, wanted):
            return marking.state()
        if since > based_on:
            said = "changed" if there else "deleted"
            raise Stale(f"This remark was {said} in another tab", marking.place.mark.version or 0)
        if wanted is not None:
            if attempt_id is None or not store.is_of_attempt(db, wanted.part_id, attempt_id):
                raise NotFound("There is no such work of this student")
            file = placed_store.file_of_part(db, wanted.part_id)
            if file is not None:
                check_ready(db, file)
            many = store.count_passages(db, mark_id) if mark_id and there is None else 0
            if many >= MOST_PASSAGES:
                raise Refused(f"A mark has at most {MOST_PASSAGES:,} remarks on passages")
        mark_id = begin(marking, choosing=False)
        part_id = wanted.part_id if wanted else there.part_id if there else 0
        version = store.append_passage(
            db, mark_id, key, wanted, part_id, caller.now, caller.person_id
        )
        marking.saved("mark", version=version, changed_at=caller.now)
        bank_passage(marking, key, wanted.criterion_key if wanted else None, text)
        return marking.state()


def _checked(key: str, new: NewPassage) -> str:
    check_key(key)
    text = new.text.strip()
    if not text:
        raise Refused("Write what you remark on the passage", "text")
    if len(text) > LONGEST_REMARK:
        raise Refused(f"A remark has at most {LONGEST_REMARK} characters", "text")
    return text


def _wanted(marking: Marking, new: NewPassage, text: str) -> Passage:
    key = None
    if new.criterion_id is not None:
        key = criterion_of(marking, new.criterion_id).criterion.key
    return Passage(new.part_id, key, text, new.place)


def _same(there: Passage | None, wanted: Passage | None) -> bool:
    if there is None or wanted is None:
        return there is wanted
    said = [
        (one.part_id, one.criterion_key, one.text, write_place(one.place))
        for one in (there, wanted)
    ]
    return said[0] == said[1]


def numbered(
    rows: Iterable[PassageRow], parts: Sequence[WorkPart], criteria: Iterable[StoredCriterion]
) -> tuple[NumberedPassage, ...]:
    """Give passages in the order of their numbers."""
    by_key = {row.key: row for row in rows}
    records = {stored.criterion.key: stored.id for stored in criteria}
    order = in_reading_order(
        [(row.key, row.part_id, row.place) for row in by_key.values()], [part.id for part in parts]
    )
    return tuple(
        NumberedPassage(number, by_key[key], records.get(by_key[key].criterion_key or ""))
        for number, key in enumerate(order, 1)
    )


def with_replaced(
    db: sqlite3.Connection, attempt_id: int, rows: Iterable[PassageRow]
) -> tuple[WorkPart, ...]:
    """List the parts of an attempt, and behind them those that were replaced and have passages."""
    parts = part_store.work_parts(db, attempt_id)
    missing = {row.part_id for row in rows} - {part.id for part in parts}
    replaced = part_store.replaced_parts(db, attempt_id, missing) if missing else []
    return (*parts, *replaced)
