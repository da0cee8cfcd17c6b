"""Criteria as they are being written: what of them can be stored, and the maps they give."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace

from jade_ladder.core.alignment import (
    AlignmentMap,
    Cell,
    check_cell,
    default_again,
    default_map,
    with_hand_cells,
)
from jade_ladder.core.errors import Refused
from jade_ladder.core.numbers import LARGEST
from jade_ladder.core.rubric import MOST_CRITERION_LEVELS, WHOLE, Criterion, CriterionKind
from jade_ladder.core.scale import Scale
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.store.outcomes import outcomes as outcome_store
from jade_ladder.store.outcomes import scales as scale_store
from jade_ladder.store.outcomes.outcomes import OwnOutcome
from jade_ladder.store.rubrics.criteria import StoredAlignment, StoredCriterion

MOST_CRITERIA = 60
LONGEST_DESCRIPTOR = 4000


@dataclass(frozen=True, slots=True)
class AlignmentDraft:
    """A tie to an outcome; `by_hand` holds a cell where the teacher wrote one (its value may be
    None: says nothing), and None where the default holds; lowest level first.
    """

    outcome_id: int
    weight: int
    by_hand: tuple[Cell | None, ...]


@dataclass(frozen=True, slots=True)
class CriterionDraft:
    """A criterion as it is being written, with its alignments."""

    criterion: Criterion
    alignments: tuple[AlignmentDraft, ...]


def checked_drafts(
    db: sqlite3.Connection,
    caller: Teacher,
    drafts: Sequence[CriterionDraft],
    before: Sequence[StoredCriterion] = (),
) -> list[tuple[Criterion, list[StoredAlignment]]]:
    """Check criteria as they were written, and make their maps; ready to be stored.

    An alignment that stood `before` on the same levels keeps the rule its map was made by, so that
    a scale whose levels were renamed meanwhile moves nothing.
    Raises Refused, with the field at fault, for what cannot be stored. Part of a transaction.
    """
    if len(drafts) > MOST_CRITERIA:
        raise Refused(f"A rubric has at most {MOST_CRITERIA} criteria", "criteria")
    own = {outcome.id: outcome for outcome in outcome_store.own_outcomes(db, caller.person_id)}
    scales = {number: stored.scale for number, stored in scale_store.scales(db).items()}
    keys = [draft.criterion.key for draft in drafts]
    if len(set(keys)) != len(keys):
        raise Refused("Two criteria have the same key", "criteria")
    known = {
        (stored.criterion.key, tie.outcome_id): (stored.criterion, tie.map)
        for stored in before
        for tie in stored.alignments
    }
    checked = []
    for index, draft in enumerate(drafts):
        where = f"criteria.{index}"
        _check_criterion(draft.criterion, where)
        alignments = [
            _checked_alignment(
                draft.criterion,
                tie,
                own,
                scales,
                known.get((draft.criterion.key, tie.outcome_id)),
                f"{where}.alignments.{place}",
            )
            for place, tie in enumerate(draft.alignments)
        ]
        outcomes = [alignment.outcome_id for alignment in alignments]
        if len(set(outcomes)) != len(outcomes):
            raise Refused("An outcome is aligned once to a criterion", f"{where}.alignments")
        criterion = draft.criterion
        checked.append(
            (replace(criterion, weight=None) if criterion.bonus else criterion, alignments)
        )
    return checked


def _check_criterion(criterion: Criterion, where: str) -> None:
    if len(criterion.levels) > MOST_CRITERION_LEVELS:
        raise Refused(f"A criterion has at most {MOST_CRITERION_LEVELS} levels", f"{where}.levels")
    keys = [level.key for level in criterion.levels]
    if len(set(keys)) != len(keys):
        raise Refused("Two levels have the same key", f"{where}.levels")
    if len(criterion.title) > 300:
        raise Refused("A title has at most 300 characters", f"{where}.title")
    if criterion.weight is not None and not 0 <= criterion.weight <= WHOLE:
        raise Refused("A weight lies between 0 and 100%", f"{where}.weight")
    for number, level in enumerate(criterion.levels):
        at = f"{where}.levels.{number}"
        if not 0 <= level.points <= LARGEST:
            raise Refused("Points are between 0 and 10,000", f"{at}.points")
        if len(level.descriptor) > LONGEST_DESCRIPTOR:
            raise Refused(
                f"A descriptor has at most {LONGEST_DESCRIPTOR} characters", f"{at}.descriptor"
            )


def _checked_alignment(
    criterion: Criterion,
    draft: AlignmentDraft,
    own: dict[int, OwnOutcome],
    scales: dict[int, Scale],
    before: tuple[Criterion, AlignmentMap] | None,
    where: str,
) -> StoredAlignment:
    outcome = own.get(draft.outcome_id)
    if outcome is None:
        raise Refused("This outcome is neither yours nor the school's", f"{where}.outcome_id")
    if not 1 <= draft.weight <= 100:
        raise Refused("The weight of an alignment lies between 1 and 100", f"{where}.weight")
    if len(draft.by_hand) != len(criterion.levels):
        raise Refused("There must be one cell per level", f"{where}.cells")
    scale = scales[outcome.scale_id]
    for place, cell in enumerate(draft.by_hand):
        if cell is not None:
            check_cell(cell.value, scale, f"{where}.cells.{place}")
    cells = with_hand_cells(_default(criterion, scale, before), draft.by_hand)
    return StoredAlignment(outcome.id, draft.weight, cells)


def _default(
    criterion: Criterion, scale: Scale, before: tuple[Criterion, AlignmentMap] | None
) -> AlignmentMap:
    if before is None or _levels(before[0]) != _levels(criterion):
        return default_map(criterion, scale)
    return default_again(criterion, before[1], scale)


def _levels(criterion: Criterion) -> tuple[CriterionKind, list[tuple[str, str]]]:
    """Give what the rule that a map is made by goes by, besides points."""
    return criterion.kind, [(level.key, level.name.strip()) for level in criterion.levels]
