"""Outcomes of a class and their strands."""

from __future__ import annotations

import sqlite3
import uuid
from dataclasses import dataclass

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.formats.outcome_list import OutcomeLine, check_outcome, read_outcome_list
from jade_ladder.formats.table import Table
from jade_ladder.service.caller import Caller, needed, own_class, today
from jade_ladder.service.lists import LineStatus, ListPreview, ReadLine, bad
from jade_ladder.store import outcomes as store
from jade_ladder.store.classes import ClassRow
from jade_ladder.store.outcomes import OutcomeRow, OwnOutcome, StrandRow


@dataclass(frozen=True, slots=True)
class OutcomeWords:
    """What a teacher writes of an outcome; `strand_id` None: in no strand."""

    code: str
    title: str
    description: str
    strand_id: int | None


def outcomes_of_class(caller: Caller, class_id: int) -> tuple[list[StrandRow], list[OutcomeRow]]:
    """Give the caller's strands and all outcomes of a class, retired ones too, in order."""
    with caller.reading() as db:
        own_class(db, caller, class_id)
        return store.strands(db, caller.person_id), store.class_outcomes(db, class_id)


def own_outcomes(caller: Caller) -> list[OwnOutcome]:
    """List the outcomes that the caller may align criteria to."""
    with caller.reading() as db:
        return store.own_outcomes(db, caller.person_id)


def add_strand(caller: Caller, title: str) -> int:
    """Add a strand; gives its number."""
    with caller.deed() as db:
        return _add_strand(db, caller, title)


def _add_strand(db: sqlite3.Connection, caller: Caller, title: str) -> int:
    title = needed(title, "title", "A title for the strand")
    known = {strand.title.casefold() for strand in store.strands(db, caller.person_id)}
    if title.casefold() in known:
        raise Refused(f"There is a strand “{title}” already", "title")
    return store.add_strand(db, caller.person_id, title)


def rename_strand(caller: Caller, strand_id: int, title: str) -> None:
    """Rename a strand."""
    title = needed(title, "title", "A title for the strand")
    with caller.deed() as db:
        _own_strand(db, caller, strand_id)
        for strand in store.strands(db, caller.person_id):
            if strand.id != strand_id and strand.title.casefold() == title.casefold():
                raise Refused(f"There is a strand “{title}” already", "title")
        store.change_strand(db, strand_id, title)


def order_strands(caller: Caller, strand_ids: list[int]) -> None:
    """Put the caller's strands in the order given, which names each once."""
    with caller.deed() as db:
        known = {strand.id for strand in store.strands(db, caller.person_id)}
        _check_order(strand_ids, known)
        store.order_strands(db, strand_ids)


def delete_strand(caller: Caller, strand_id: int) -> None:
    """Delete a strand that holds no outcome."""
    with caller.deed() as db:
        _own_strand(db, caller, strand_id)
        if store.strand_is_used(db, strand_id):
            raise Refused("There are outcomes in this strand: move them first")
        store.delete_strand(db, strand_id)


def _own_strand(db: sqlite3.Connection, caller: Caller, strand_id: int) -> None:
    if all(strand.id != strand_id for strand in store.strands(db, caller.person_id)):
        raise NotFound("There is no such strand")


def add_outcome(caller: Caller, class_id: int, words: OutcomeWords) -> int:
    """Add an outcome to a class; gives its number. It takes the class's scale."""
    with caller.deed() as db:
        klass = own_class(db, caller, class_id)
        _check_words(db, caller, class_id, words)
        return _add(db, caller, klass, words)


def _add(db: sqlite3.Connection, caller: Caller, klass: ClassRow, words: OutcomeWords) -> int:
    number = store.add_outcome(
        db,
        str(uuid.uuid4()),
        caller.person_id,
        words.strand_id,
        klass.scale_id,
        words.code,
        words.title,
        words.description,
    )
    # Taught from the class's first day: work already done may be marked towards it.
    store.teach_outcome(db, klass.id, number, min(klass.first_day, today(db, caller)))
    return number


def words_of(outcome: OutcomeRow) -> OutcomeWords:
    """Give what stands written of an outcome."""
    return OutcomeWords(outcome.code, outcome.title, outcome.description, outcome.strand_id)


def change_outcome(caller: Caller, class_id: int, outcome_id: int, words: OutcomeWords) -> None:
    """Change an outcome's words and strand; only one's own."""
    with caller.deed() as db:
        outcome = own_outcome(db, caller, class_id, outcome_id)
        if outcome.owner_id not in (None, caller.person_id):
            raise Refused("This outcome is another teacher's; only its method can be changed here")
        _check_words(db, caller, class_id, words, outcome_id)
        store.change_outcome(
            db, outcome_id, words.strand_id, words.code, words.title, words.description
        )


def own_outcome(
    db: sqlite3.Connection, caller: Caller, class_id: int, outcome_id: int
) -> OutcomeRow:
    """Give an outcome of a class the caller teaches; NotFound for any other. Part of a deed."""
    own_class(db, caller, class_id)
    outcome = store.class_outcome(db, class_id, outcome_id)
    if outcome is None:
        raise NotFound("There is no such outcome in this class")
    return outcome


def _check_words(
    db: sqlite3.Connection,
    caller: Caller,
    class_id: int,
    words: OutcomeWords,
    outcome_id: int | None = None,
) -> None:
    problem, field = check_outcome(words.code.strip(), words.title.strip(), words.description)
    if problem:
        raise Refused(problem, field)
    if words.strand_id is not None:
        _own_strand(db, caller, words.strand_id)
    for other in store.class_outcomes(db, class_id):
        if other.id != outcome_id and other.code.casefold() == words.code.strip().casefold():
            raise Refused(f"{other.code} is the code of “{other.title}” already", "code")


def retire_outcome(caller: Caller, class_id: int, outcome_id: int, retired: bool) -> None:
    """Retire an outcome from today (it stays on record and in the past), or bring it back."""
    with caller.deed() as db:
        own_outcome(db, caller, class_id, outcome_id)
        day = today(db, caller) if retired else None
        store.retire_outcome(db, class_id, outcome_id, day)


def order_outcomes(caller: Caller, class_id: int, outcome_ids: list[int]) -> None:
    """Put a class's outcomes in the order given, which names each once."""
    with caller.deed() as db:
        own_class(db, caller, class_id)
        _check_order(outcome_ids, {row.id for row in store.class_outcomes(db, class_id)})
        store.order_outcomes(db, class_id, outcome_ids)


def _check_order(given: list[int], known: set[int]) -> None:
    if len(given) != len(set(given)) or set(given) != known:
        raise Refused("The order must name each once; reload to see what was added", "order")


@dataclass(frozen=True)
class OutcomeListPreview(ListPreview[OutcomeLine]):
    """What a list of outcomes would do, and which strands it would make."""

    new_strands: tuple[str, ...] = ()


def preview_outcome_list(
    caller: Caller, class_id: int, table: Table, columns: dict[str, str] | None = None
) -> OutcomeListPreview:
    """Read a list of outcomes and say what it would do; nothing is changed."""
    with caller.reading() as db:
        own_class(db, caller, class_id)
        return _preview(db, caller, class_id, table, columns)


def bring_in_outcome_list(
    caller: Caller, class_id: int, table: Table, columns: dict[str, str] | None = None
) -> int:
    """Add a list's outcomes and strands, all or, when a line has a problem, none; gives how many
    outcomes. Those whose code is there already stay as they are.
    """
    with caller.deed() as db:
        klass = own_class(db, caller, class_id)
        preview = _preview(db, caller, class_id, table, columns)
        preview.refuse_problems()
        for title in preview.new_strands:
            _add_strand(db, caller, title)
        strands = {s.title.casefold(): s.id for s in store.strands(db, caller.person_id)}
        for read in preview.adding:
            line = read.line
            strand_id = strands.get(line.strand.casefold())
            _add(
                db,
                caller,
                klass,
                OutcomeWords(line.code, line.title, line.description, strand_id),
            )
        return len(preview.adding)


def _preview(
    db: sqlite3.Connection,
    caller: Caller,
    class_id: int,
    table: Table,
    columns: dict[str, str] | None,
) -> OutcomeListPreview:
    found, lines = read_outcome_list(table, columns)
    present = {row.code.casefold() for row in store.class_outcomes(db, class_id)}
    seen: dict[str, int] = {}
    read: list[ReadLine[OutcomeLine]] = []
    for line in lines:
        code = line.code.casefold()
        if line.problem:
            read.append(bad(line, line.problem, line.field))
        elif code in seen:
            text = f"The code {line.code} stands in line {seen[code]} already"
            read.append(bad(line, text, "code"))
        else:
            there = code in present
            read.append(ReadLine(line, LineStatus.ALREADY_THERE if there else LineStatus.NEW))
        seen.setdefault(code, line.number)
    known = {strand.title.casefold() for strand in store.strands(db, caller.person_id)}
    titles = {
        line.strand.casefold(): line.strand
        for line in reversed(lines)
        if line.strand and line.strand.casefold() not in known
    }
    ordered = tuple(
        dict.fromkeys(titles[k.strand.casefold()] for k in lines if k.strand.casefold() in titles)
    )
    return OutcomeListPreview(found, tuple(table.headings), tuple(read), ordered)
