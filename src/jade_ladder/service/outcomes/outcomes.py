"""Outcomes of a class and their strands."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass, replace

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.formats.outcome_list import check_outcome
from jade_ladder.service.outcomes.codes import check_codes
from jade_ladder.service.outcomes.strands import own_strand
from jade_ladder.service.shared.caller import Administrator, Teacher
from jade_ladder.service.shared.days import today
from jade_ladder.service.shared.forms import check_order
from jade_ladder.service.shared.guards import own_class
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.outcomes import outcomes as store
from jade_ladder.store.outcomes import strands as strand_store
from jade_ladder.store.outcomes.outcomes import OutcomeElsewhere, OutcomeRow, OwnOutcome
from jade_ladder.store.outcomes.strands import StrandRow
from jade_ladder.store.shared.log import LogSubject
from jade_ladder.store.shared.rows import new_guid


@dataclass(frozen=True, slots=True)
class OutcomeWords:
    """What a teacher writes of an outcome; `strand_id` None: in no strand."""

    code: str
    title: str
    description: str
    strand_id: int | None


@dataclass(frozen=True, slots=True)
class ClassOutcomes:
    """The teacher's strands and all outcomes of a class, retired ones too, in order;
    `also_taught` names the other classes that teach an outcome.
    """

    strands: list[StrandRow]
    outcomes: list[OutcomeRow]
    also_taught: dict[int, list[str]]


def outcomes_of_class(caller: Teacher, class_id: int) -> ClassOutcomes:
    """Give the strands and outcomes of a class."""
    with caller.reading() as db:
        own_class(db, caller, class_id)
        return ClassOutcomes(
            strand_store.strands(db, caller.person_id),
            store.class_outcomes(db, class_id),
            store.also_taught(db, class_id),
        )


def own_outcomes(caller: Teacher) -> list[OwnOutcome]:
    """List the outcomes that the caller may align criteria to."""
    with caller.reading() as db:
        return store.own_outcomes(db, caller.person_id)


def add_outcome(caller: Teacher, class_id: int, words: OutcomeWords) -> int:
    """Add an outcome to a class; gives its number. It takes the class's scale."""
    with caller.transaction() as db:
        klass = own_class(db, caller, class_id)
        _check_words(db, caller, class_id, words)
        return _add(db, caller, klass, words)


def _add(
    db: sqlite3.Connection,
    caller: Teacher,
    klass: ClassRow,
    words: OutcomeWords,
    scale_id: int | None = None,
) -> int:
    number = store.add_outcome(
        db,
        new_guid(),
        caller.person_id,
        words.strand_id,
        scale_id or klass.scale_id,
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


def change_outcome(caller: Teacher, class_id: int, outcome_id: int, words: OutcomeWords) -> None:
    """Change an outcome's words and strand; only one's own."""
    with caller.transaction() as db:
        outcome = own_outcome(db, caller, class_id, outcome_id)
        check_change(db, caller, class_id, outcome, words)
        store.change_outcome(
            db, outcome_id, words.strand_id, words.code, words.title, words.description
        )


def check_change(
    db: sqlite3.Connection,
    caller: Teacher,
    class_id: int,
    outcome: OutcomeRow,
    words: OutcomeWords,
) -> None:
    """Refuse what cannot be written of an outcome of a class. Part of a transaction or a
    reading.
    """
    if outcome.owner_id is None and not isinstance(caller, Administrator):
        raise Refused("This outcome is the school's: an administrator changes it")
    if outcome.owner_id not in (None, caller.person_id):
        raise Refused("This outcome is another teacher's; only its method can be changed here")
    _check_words(db, caller, class_id, words, outcome.id)


def own_outcome(
    db: sqlite3.Connection, caller: Teacher, class_id: int, outcome_id: int
) -> OutcomeRow:
    """Give an outcome of a class the caller teaches; NotFound for any other. Part of a
    transaction.
    """
    own_class(db, caller, class_id)
    outcome = store.class_outcome(db, class_id, outcome_id)
    if outcome is None:
        raise NotFound("There is no such outcome in this class")
    return outcome


def _check_words(
    db: sqlite3.Connection,
    caller: Teacher,
    class_id: int,
    words: OutcomeWords,
    outcome_id: int | None = None,
) -> None:
    problem, field = check_outcome(words.code.strip(), words.title.strip(), words.description)
    if problem:
        raise Refused(problem, field)
    if words.strand_id is not None:
        own_strand(db, caller, words.strand_id, "strand_id")
    if outcome_id is None:
        check_codes(db, caller, class_id, {}, [words.code])
    else:
        check_codes(db, caller, class_id, {outcome_id: words.code})


def retire_outcome(caller: Teacher, class_id: int, outcome_id: int, retired: bool) -> None:
    """Retire an outcome from today (it stays on record and in the past), or restore it."""
    with caller.transaction() as db:
        own_outcome(db, caller, class_id, outcome_id)
        day = today(db, caller) if retired else None
        store.retire_outcome(db, class_id, outcome_id, day)


def set_schools_outcome(
    caller: Administrator, class_id: int, outcome_id: int, schools: bool
) -> None:
    """Make an outcome that a class of the caller's teaches the school's: everybody can teach it,
    administrators change its words. Or make it the caller's own again, while no class of others
    has taught it.
    """
    with caller.transaction() as db:
        outcome = own_outcome(db, caller, class_id, outcome_id)
        if (outcome.owner_id is None) == schools:
            return
        others = [] if schools else store.taught_without(db, outcome_id, caller.person_id)
        if others:
            raise Refused(
                f"{outcome.code} is taught in {', '.join(others)}, too, and stays the school's"
            )
        store.set_owner(db, outcome_id, None if schools else caller.person_id)
        caller.log(
            db, LogSubject.OUTCOME_OWNER, outcome_id, {"school": not schools}, {"school": schools}
        )


def order_outcomes(caller: Teacher, class_id: int, outcome_ids: list[int]) -> None:
    """Put a class's outcomes in the order given, which names each once."""
    with caller.transaction() as db:
        own_class(db, caller, class_id)
        check_order(outcome_ids, {row.id for row in store.class_outcomes(db, class_id)})
        store.order_outcomes(db, class_id, outcome_ids)


def place_outcome(
    caller: Teacher, class_id: int, outcome_id: int, strand_id: int | None, before_id: int | None
) -> None:
    """Move an outcome into a strand, before another of the class or, with None, to its end."""
    with caller.transaction() as db:
        outcome = own_outcome(db, caller, class_id, outcome_id)
        if outcome.strand_id != strand_id:
            change_outcome(
                caller, class_id, outcome_id, replace(words_of(outcome), strand_id=strand_id)
            )
        order = [row.id for row in store.class_outcomes(db, class_id) if row.id != outcome_id]
        if before_id is not None and before_id not in order:
            raise Refused("There is no such outcome to put it before", "before_id")
        order.insert(len(order) if before_id is None else order.index(before_id), outcome_id)
        store.order_outcomes(db, class_id, order)


def outcomes_elsewhere(caller: Teacher, class_id: int) -> list[OutcomeElsewhere]:
    """List the caller's outcomes that a class could teach too, or copy."""
    with caller.reading() as db:
        own_class(db, caller, class_id)
        return store.outcomes_elsewhere(db, caller.person_id, class_id)


def teach_outcomes(caller: Teacher, class_id: int, outcome_ids: list[int]) -> None:
    """Let a class teach outcomes of the caller's other classes: the same ones, so that evidence
    counts in all of them.
    """
    with caller.transaction() as db:
        klass = own_class(db, caller, class_id)
        for found in _free_elsewhere(db, caller, class_id, outcome_ids):
            first = min(klass.first_day, today(db, caller))
            store.teach_outcome(db, class_id, found.id, first)


def copy_outcomes(caller: Teacher, class_id: int, outcome_ids: list[int]) -> list[int]:
    """Copy outcomes of the caller's other classes, to be changed here; gives the new numbers.
    Evidence stays with the old ones.
    """
    with caller.transaction() as db:
        klass = own_class(db, caller, class_id)
        return [
            _add(
                db,
                caller,
                klass,
                OutcomeWords(found.code, found.title, found.description, found.strand_id),
                found.scale_id,
            )
            for found in _free_elsewhere(db, caller, class_id, outcome_ids)
        ]


def _free_elsewhere(
    db: sqlite3.Connection, caller: Teacher, class_id: int, outcome_ids: list[int]
) -> list[OutcomeElsewhere]:
    elsewhere = {one.id: one for one in store.outcomes_elsewhere(db, caller.person_id, class_id)}
    taken = {row.code.casefold() for row in store.class_outcomes(db, class_id)}
    found = []
    for outcome_id in dict.fromkeys(outcome_ids):
        one = elsewhere.get(outcome_id)
        if one is None:
            raise NotFound("There is no such outcome in your other classes")
        if one.code.casefold() in taken:
            raise Refused(f"This class has an outcome {one.code} already", "outcome_ids")
        taken.add(one.code.casefold())
        found.append(one)
    return found
