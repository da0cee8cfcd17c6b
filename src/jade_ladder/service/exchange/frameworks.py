"""Frameworks of outcomes and rubrics: out to a file, and in from one, held first against what is
there; an import can be undone.
"""

from __future__ import annotations

import sqlite3
import uuid
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from jade_ladder.core.alignment import Cell
from jade_ladder.formats.case import (
    Framework,
    FrameworkAlignment,
    FrameworkOutcome,
    FrameworkRubric,
    FrameworkStrand,
)
from jade_ladder.service.outcomes.codes import check_codes
from jade_ladder.service.shared.caller import Administrator, Teacher
from jade_ladder.service.shared.guards import own_class
from jade_ladder.store.exchange import frameworks as store
from jade_ladder.store.exchange.frameworks import KnownOutcome
from jade_ladder.store.outcomes import outcomes as outcome_store
from jade_ladder.store.outcomes import scales as scale_store
from jade_ladder.store.outcomes import strands as strand_store
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.outcomes.strands import StrandRow
from jade_ladder.store.people import people as people_store
from jade_ladder.store.rubrics import criteria as criterion_store
from jade_ladder.store.rubrics import rubrics as rubric_store


def class_framework(caller: Teacher, class_id: int) -> Framework:
    """Give a class's outcomes, with their strands and scales, and the rubrics of the caller's and
    of their classes that are aligned to any of them.
    """
    with caller.reading() as db:
        klass = own_class(db, caller, class_id)
        rows = [o for o in outcome_store.class_outcomes(db, class_id) if o.active_until is None]
        scales = {
            number: one
            for number, one in scale_store.scales(db).items()
            if number in {row.scale_id for row in rows}
        }
        school = people_store.school(db)
        strands = _used_strands(db, caller, rows)
        strand_guids = store.guids_of(db, "strand", [one.id for one in strands])
        return Framework(
            store.class_guid(db, class_id),
            klass.name,
            school.name if school else "",
            tuple(
                FrameworkStrand(
                    strand_guids[one.id], one.title, strand_guids.get(one.parent_id or 0)
                )
                for one in strands
            ),
            tuple(
                FrameworkOutcome(
                    row.guid,
                    row.code,
                    row.title,
                    row.description,
                    strand_guids.get(row.strand_id or 0),
                    scales[row.scale_id].name,
                )
                for row in rows
            ),
            tuple(_rubrics(db, caller, {row.id: row.guid for row in rows})),
            tuple((one.name, one.scale) for one in scales.values()),
        )


def _used_strands(
    db: sqlite3.Connection, caller: Teacher, rows: Iterable[OutcomeRow]
) -> list[StrandRow]:
    strands = strand_store.strands(db, caller.person_id)
    used = {row.strand_id for row in rows}
    used |= {strand.parent_id for strand in strands if strand.id in used}
    return [one for one in strands if one.id in used]


def _rubrics(
    db: sqlite3.Connection, caller: Teacher, outcome_guids: Mapping[int, str]
) -> list[FrameworkRubric]:
    rubrics = sorted(rubric_store.rubrics(db, caller.person_id), key=lambda row: row.id)
    guids = store.guids_of(db, "rubric", [one.id for one in rubrics])
    found = []
    for rubric in rubrics:
        criteria = [
            (
                stored.criterion,
                tuple(
                    FrameworkAlignment(
                        outcome_guids[tie.outcome_id],
                        tie.weight,
                        tuple(
                            Cell(cell.value, by_hand=True) if cell.by_hand else None
                            for cell in tie.map.cells
                        ),
                    )
                    for tie in stored.alignments
                    if tie.outcome_id in outcome_guids
                ),
            )
            for stored in criterion_store.criteria(db, rubric.in_force)
        ]
        if any(ties for _, ties in criteria):
            found.append(FrameworkRubric(guids[rubric.id], rubric.title, tuple(criteria)))
    return found


@dataclass(frozen=True, slots=True)
class ChangedOutcome:
    """An outcome that is there with other words; `was` is as it stands now. One that is not the
    caller's to change keeps its words: it is not `rewritten`.
    """

    was: KnownOutcome
    now: FrameworkOutcome
    rewritten: bool = True


@dataclass(frozen=True, slots=True)
class FrameworkComparison:
    """A framework held against what a class teaches.

    `new` are not known; `joining` are known but not taught here; `changed` are taught with other
    words; `kept` would be, and are a colleague's or the school's: they keep their words; `same`
    stay as they are; `gone` came from the same document and are not in it any more.
    """

    framework: Framework
    new: tuple[FrameworkOutcome, ...]
    joining: tuple[ChangedOutcome, ...]
    changed: tuple[ChangedOutcome, ...]
    kept: tuple[ChangedOutcome, ...]
    same: int
    gone: tuple[KnownOutcome, ...]
    new_strands: tuple[FrameworkStrand, ...]
    new_rubrics: tuple[FrameworkRubric, ...]
    strand_ids: dict[str, int]


def compare_framework(caller: Teacher, class_id: int, framework: Framework) -> FrameworkComparison:
    """Say what importing a framework into a class would do; nothing is changed.

    An outcome is known by its identifier, or by its code in the class: first what is there.
    Refused where the class would then have a code twice.
    """
    with caller.reading() as db:
        own_class(db, caller, class_id)
        return compared(db, caller, class_id, framework)


def compared(
    db: sqlite3.Connection, caller: Teacher, class_id: int, framework: Framework
) -> FrameworkComparison:
    """Hold a framework against what is there. Part of a transaction."""
    known = store.known_outcomes(db, caller.person_id, class_id)
    there = matches(known, framework.outcomes)
    strand_ids = _known_strands(db, caller, framework)
    new: list[FrameworkOutcome] = []
    joining: list[ChangedOutcome] = []
    changed: list[ChangedOutcome] = []
    kept: list[ChangedOutcome] = []
    met = {found.id for found in there.values()}
    for outcome in framework.outcomes:
        found = there.get(outcome.guid)
        if found is None:
            new.append(outcome)
            continue
        change = ChangedOutcome(found, outcome, _may_rewrite(caller, found))
        if not found.taught:
            joining.append(change)
        elif _differs(found, outcome, strand_ids):
            (changed if change.rewritten else kept).append(change)
    after = {
        one.was.id: one.now.code if one.rewritten else one.was.code for one in (*joining, *changed)
    }
    check_codes(db, caller, class_id, after, [one.code for one in new], "file")
    same = len(met) - len(joining) - len(changed) - len(kept)
    whole = framework.guid == store.class_guid(db, class_id)
    gone = [
        one
        for one in known
        if one.taught and one.id not in met and (whole or one.framework == framework.guid)
    ]
    rubrics = store.own_guids(db, "rubric", caller.person_id)
    return FrameworkComparison(
        framework,
        tuple(new),
        tuple(joining),
        tuple(changed),
        tuple(kept),
        same,
        tuple(gone),
        tuple(strand for strand in framework.strands if strand.guid not in strand_ids),
        tuple(
            rubric
            for rubric in framework.rubrics
            if rubric.guid not in rubrics and own_copy(caller.person_id, rubric.guid) not in rubrics
        ),
        strand_ids,
    )


def matches(
    known: Sequence[KnownOutcome], outcomes: Sequence[FrameworkOutcome]
) -> dict[str, KnownOutcome]:
    """Give what the outcomes of a framework are, by their identifiers there: outcomes of the class
    with the same identifier, or with the same code, and then what is known elsewhere.
    """
    here = {one.guid: one for one in known if one.in_class}
    found = {one.guid: here[one.guid] for one in outcomes if one.guid in here}
    met = {one.id for one in found.values()}
    by_code = {one.code.casefold(): one for one in here.values() if one.id not in met}
    elsewhere = {one.guid: one for one in known if not one.in_class}
    for outcome in outcomes:
        if outcome.guid in found:
            continue
        match = by_code.pop(outcome.code.casefold(), None) or elsewhere.get(outcome.guid)
        if match is not None:
            found[outcome.guid] = match
    return found


def own_copy(person_id: int, guid: str) -> str:
    """Give the identifier of somebody's copy of a rubric whose own is taken by somebody else's:
    the same each time, so that it is known when the rubric is imported again.
    """
    return str(uuid.uuid5(uuid.NAMESPACE_OID, f"{person_id} {guid}"))


def _may_rewrite(caller: Teacher, outcome: KnownOutcome) -> bool:
    if outcome.owner_id is None:
        return isinstance(caller, Administrator)
    return outcome.owner_id == caller.person_id


def _known_strands(db: sqlite3.Connection, caller: Teacher, framework: Framework) -> dict[str, int]:
    """Give the strands of a framework that are there, by its identifiers: the same, or the same
    title.
    """
    own = store.own_guids(db, "strand", caller.person_id)
    titles = {row.title.casefold(): row.id for row in strand_store.strands(db, caller.person_id)}
    found = {}
    for strand in framework.strands:
        number = own.get(strand.guid) or titles.get(strand.title.casefold())
        if number:
            found[strand.guid] = number
    return found


def _differs(known: KnownOutcome, outcome: FrameworkOutcome, strand_ids: Mapping[str, int]) -> bool:
    strand_id = None if outcome.strand is None else strand_ids.get(outcome.strand, 0)
    return (known.code, known.title, known.description, known.strand_id) != (
        outcome.code,
        outcome.title,
        outcome.description,
        strand_id,
    )
