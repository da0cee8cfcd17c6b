"""Bringing a framework into a class as one operation, and taking that operation back."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, TypedDict

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.formats.case import Framework, FrameworkOutcome, FrameworkRubric
from jade_ladder.service.exchange.frameworks import FrameworkComparison, compared, matches, own_copy
from jade_ladder.service.outcomes.codes import check_codes
from jade_ladder.service.outcomes.scales import owner_of_new
from jade_ladder.service.outcomes.strands import put_in_order
from jade_ladder.service.rubrics.drafts import AlignmentDraft, CriterionDraft, checked_drafts
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import today
from jade_ladder.service.shared.guards import own_class
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.exchange import frameworks as store
from jade_ladder.store.exchange.frameworks import KnownOutcome
from jade_ladder.store.outcomes import scales as scale_store
from jade_ladder.store.outcomes import strands as strand_store
from jade_ladder.store.rubrics import criteria as criterion_store
from jade_ladder.store.rubrics import rubrics as rubric_store
from jade_ladder.store.shared import log
from jade_ladder.store.shared.log import LogSubject
from jade_ladder.store.shared.rows import new_guid

SUBJECT, TAKEN_BACK = LogSubject.FRAMEWORK, LogSubject.FRAMEWORK_TAKEN_BACK


class _Made(TypedDict):
    """What a framework made and changed, as the log keeps it."""

    outcomes: list[int]
    joined: list[int]
    brought_back: list[Any]
    changed: list[list[Any]]
    retired: list[int]
    strands: list[int]
    rubrics: list[int]
    scales: list[int]


def import_framework(
    caller: Teacher, class_id: int, framework: Framework, retire_gone: bool = False
) -> int:
    """Bring a framework's outcomes, strands, scales and rubrics into a class, all or nothing;
    with `retire_gone`, outcomes that are not in the document any more are retired. Gives the
    number by which it can be undone.
    """
    with caller.transaction() as db:
        klass = own_class(db, caller, class_id)
        comparison = compared(db, caller, class_id, framework)
        made: _Made = {
            "outcomes": [],
            "joined": [],
            "brought_back": [],
            "changed": [],
            "retired": [],
            "strands": _add_strands(db, caller, comparison),
            "rubrics": [],
            "scales": [],
        }
        scale_ids = _add_scales(db, caller, framework, made)
        numbers = _write_outcomes(db, caller, klass, comparison, scale_ids, made)
        for rubric in comparison.new_rubrics:
            made["rubrics"].append(_add_rubric(db, caller, rubric, numbers))
        if retire_gone:
            made["retired"] = [one.id for one in comparison.gone]
            store.stop_teaching(db, class_id, made["retired"], today(db, caller))
        return caller.log(db, SUBJECT, class_id, None, made)


def _add_strands(
    db: sqlite3.Connection, caller: Teacher, comparison: FrameworkComparison
) -> list[int]:
    taken = store.taken_guids(db, "strand", (one.guid for one in comparison.new_strands))
    made = []
    for strand in comparison.new_strands:
        parent_id = comparison.strand_ids.get(strand.parent or "")
        guid = new_guid() if strand.guid in taken else strand.guid
        number = strand_store.add_strand(db, caller.person_id, strand.title, parent_id, guid)
        comparison.strand_ids[strand.guid] = number
        made.append(number)
    if made:
        put_in_order(db, caller)
    return made


def _add_scales(
    db: sqlite3.Connection, caller: Teacher, framework: Framework, made: _Made
) -> dict[str, int]:
    """Give the scales that the framework names; those not in the library yet are added."""
    sight = scale_store.scales_in_sight(db, caller.person_id)
    known = {
        one.name.casefold(): one.id for one in scale_store.scales(db).values() if one.id in sight
    }
    used = {outcome.scale for outcome in framework.outcomes}
    for name, scale in framework.scales:
        if name in used and name.casefold() not in known:
            number = scale_store.add_scale(db, name, scale, owner_of_new(caller))
            known[name.casefold()] = number
            made["scales"].append(known[name.casefold()])
    return known


def _write_outcomes(
    db: sqlite3.Connection,
    caller: Teacher,
    klass: ClassRow,
    comparison: FrameworkComparison,
    scale_ids: dict[str, int],
    made: _Made,
) -> dict[str, int]:
    """Add and change outcomes; give the numbers of all of the framework's, by identifier."""
    document, strand_ids = comparison.framework.guid, comparison.strand_ids
    taken = store.taken_guids(db, "outcome", (one.guid for one in comparison.new))
    made["outcomes"] = store.add_outcomes(
        db,
        [
            (
                new_guid() if one.guid in taken else one.guid,
                caller.person_id,
                strand_ids.get(one.strand or ""),
                scale_ids.get((one.scale or "").casefold(), klass.scale_id),
                one.code,
                one.title,
                one.description,
                document,
            )
            for one in comparison.new
        ],
    )
    rewritten = [one for one in (*comparison.joining, *comparison.changed) if one.rewritten]
    made["changed"] = [_undone_by(one.was) for one in rewritten]
    store.change_outcomes(
        db,
        [
            (
                one.now.code,
                one.now.title,
                one.now.description,
                strand_ids.get(one.now.strand or ""),
                document,
                one.was.id,
            )
            for one in rewritten
        ],
    )
    made["joined"] = [one.was.id for one in comparison.joining if not one.was.in_class]
    made["brought_back"] = [
        [one.was.id, one.was.retired_on] for one in comparison.joining if one.was.in_class
    ]
    first = min(klass.first_day, today(db, caller))
    taught = [*made["outcomes"], *(one.was.id for one in comparison.joining)]
    store.teach_outcomes(db, klass.id, taught, first)
    return _numbers(db, caller, klass.id, comparison.framework.outcomes)


def _undone_by(was: KnownOutcome) -> list[object]:
    """Give what an outcome was, and which version it has once it is changed."""
    return [
        *(was.id, was.code, was.title, was.description, was.strand_id, was.framework),
        was.version + 1,
    ]


def _numbers(
    db: sqlite3.Connection, caller: Teacher, class_id: int, outcomes: Sequence[FrameworkOutcome]
) -> dict[str, int]:
    known = store.known_outcomes(db, caller.person_id, class_id)
    return {guid: one.id for guid, one in matches(known, outcomes).items()}


def _add_rubric(
    db: sqlite3.Connection, caller: Teacher, rubric: FrameworkRubric, numbers: dict[str, int]
) -> int:
    """Add a rubric as a draft."""
    taken = store.taken_guids(db, "rubric", [rubric.guid])
    guid = own_copy(caller.person_id, rubric.guid) if taken else rubric.guid
    number = rubric_store.add_rubric(db, caller.person_id, rubric.title, caller.now, guid)
    drafts = [
        CriterionDraft(
            criterion,
            tuple(
                AlignmentDraft(numbers[tie.outcome], tie.weight, tie.by_hand)
                for tie in ties
                if tie.outcome in numbers
            ),
        )
        for criterion, ties in rubric.criteria
    ]
    row = rubric_store.rubric(db, number, caller.person_id)
    if row is None:
        raise NotFound("There is no such rubric among yours")
    checked = checked_drafts(db, caller, drafts)
    criterion_store.replace_criteria(db, row.revision_id, checked)
    return number


@dataclass(frozen=True, slots=True)
class UndoneImport:
    """What undoing an import left alone, since it was used or changed after it came."""

    outcomes_kept: int
    rubrics_kept: int


def undo_framework_import(caller: Teacher, class_id: int, entry: int) -> UndoneImport:
    """Undo the import of a framework, once; what was used or changed since is kept."""
    with caller.transaction() as db:
        own_class(db, caller, class_id)
        found = log.entry(db, entry, caller.person_id, SUBJECT)
        if found is None or found[0] != class_id:
            raise NotFound("There is no such import in this class")
        if log.has_entry(db, TAKEN_BACK, entry):
            raise Refused("This import was undone already")
        made: _Made = found[2]
        rubrics_kept = _remove_rubrics(db, caller, made["rubrics"])
        kept = store.aligned_outcomes(db, made["outcomes"])
        free = [number for number in made["outcomes"] if number not in kept]
        store.forget_outcomes(db, class_id, [*free, *made["joined"]])
        # Imports of before say only which.
        day = today(db, caller)
        were = [one if isinstance(one, list) else (one, day) for one in made["brought_back"]]
        store.retire_again(db, class_id, [(number, since) for number, since in were])
        store.delete_outcomes(db, store.unused_outcomes(db, free))
        kept_words = _put_words_back(db, caller, class_id, made["changed"])
        store.teach_outcomes(db, class_id, made["retired"], today(db, caller))
        for strand_id in reversed(made["strands"]):
            if not strand_store.strand_is_used(db, strand_id):
                strand_store.delete_strand(db, strand_id)
        uses = scale_store.scale_uses(db)
        for scale_id in made["scales"]:
            if scale_id in uses and not (uses[scale_id].outcomes or uses[scale_id].classes):
                scale_store.remove_scale(db, scale_id)
        caller.log(db, TAKEN_BACK, entry, None, None)
        return UndoneImport(len(kept) + kept_words, rubrics_kept)


def _remove_rubrics(db: sqlite3.Connection, caller: Teacher, rubric_ids: Iterable[int]) -> int:
    kept = 0
    for number in rubric_ids:
        row = rubric_store.rubric(db, number, caller.person_id)
        if row is None:
            continue
        if row.version > 1 or row.tasks:
            kept += 1
        else:
            rubric_store.delete_rubric(db, number)
    return kept


def _put_words_back(
    db: sqlite3.Connection, caller: Teacher, class_id: int, changed: list[list[Any]]
) -> int:
    """Give outcomes their words again, where nobody changed them since or has taken their code;
    gives how many not.
    """
    versions = {one.id: one.version for one in store.known_outcomes(db, caller.person_id, class_id)}
    codes = {
        number: str(code)
        for number, code, *_, version in changed
        if versions.get(number) == version
    }
    # Two that have changed codes with each other are free together, and not one by one.
    if not _are_free(db, caller, class_id, codes):
        codes = {
            number: code
            for number, code in codes.items()
            if _are_free(db, caller, class_id, {number: code})
        }
    rows = [
        (code, title, description, strand_id, framework, number)
        for number, code, title, description, strand_id, framework, _ in changed
        if number in codes
    ]
    store.change_outcomes(db, rows)
    return len(changed) - len(rows)


def _are_free(
    db: sqlite3.Connection, caller: Teacher, class_id: int, codes: Mapping[int, str]
) -> bool:
    try:
        check_codes(db, caller, class_id, codes)
    except Refused:
        return False
    return True
