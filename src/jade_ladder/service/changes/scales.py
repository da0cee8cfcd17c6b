"""Changing scales, and what that does to the alignment maps made on them."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from typing import NamedTuple

from jade_ladder.core.alignment import (
    AlignmentMap,
    check_cell,
    doubtful_cells,
    made_again,
    moved_to_scale,
    with_cells_moved,
)
from jade_ladder.core.errors import Refused
from jade_ladder.core.numbers import Hundredths
from jade_ladder.core.scale import Scale
from jade_ladder.service.changes.what_if import Effects, what_if_changes
from jade_ladder.service.evidence.class_evidence import WhatIf
from jade_ladder.service.evidence.evidence import Cells
from jade_ladder.service.outcomes.outcomes import own_outcome
from jade_ladder.service.outcomes.scales import (
    changeable_scale,
    check_descriptions,
    free_name,
    scale_in_sight,
)
from jade_ladder.service.people.notices import CELLS_MOVED
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.forms import check_version
from jade_ladder.store.outcomes import scales as store
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.outcomes.scales import StoredScale
from jade_ladder.store.people import notices as notice_store
from jade_ladder.store.people import people as people_store
from jade_ladder.store.rubrics import criteria as criterion_store
from jade_ladder.store.rubrics.criteria import OutcomeAlignment
from jade_ladder.store.shared.log import LogSubject


class CellKey(NamedTuple):
    """Which cell written by hand; the same in every revision of its rubric that says the same."""

    rubric_id: int
    criterion: str
    level: str
    outcome_id: int
    value: Hundredths


@dataclass(frozen=True, slots=True)
class AskedCell:
    """A cell by hand in one of the caller's rubrics that would be at another level, or outside the
    scale: what it is called, and the value that has the same place on the changed scale.
    """

    key: CellKey
    rubric: str
    criterion: str
    level: str
    offered: Hundredths


@dataclass(frozen=True, slots=True)
class _ScalePlan:
    """A change of a scale before it is made: the maps as they would be, which cells by hand are
    asked for, and how many move in rubrics of other teachers (by rubric: owner, title, cells).
    """

    before: StoredScale
    after: StoredScale
    maps: tuple[tuple[OutcomeAlignment, AlignmentMap], ...]
    asked: dict[CellKey, AskedCell]
    told: dict[int, tuple[int, str, int]]

    @property
    def what(self) -> WhatIf:
        """What would be otherwise."""
        return WhatIf(scales={self.after.id: self.after}, cells=moved_cells(self.maps))


def moved_cells(maps: Iterable[tuple[OutcomeAlignment, AlignmentMap]]) -> Cells:
    """Give the cells that would be at another value."""
    return {
        (level_id, tie.outcome_id): now.value
        for tie, after in maps
        for level_id, was, now in zip(tie.level_ids, tie.map.cells, after.cells, strict=True)
        if was.value != now.value
    }


def change_scale(
    caller: Teacher,
    scale_id: int,
    based_on: int,
    name: str,
    scale: Scale,
    decided: Mapping[CellKey, Hundredths] | None = None,
) -> int:
    """Change a scale; the alignment maps that a rule made are made by it again. Gives how many
    cells moved (docs/calculations.md, “When a scale changes”).

    `decided` says of cells by hand what they are evidence of now; those whose level would change
    are refused without it. In rubrics of other teachers they keep their place between the ends,
    and the teachers are told. Levels cannot be added or taken away once criteria are aligned to an
    outcome on the scale.
    """
    with caller.transaction() as db:
        plan = _planned(db, caller, scale_id, based_on, name, scale, decided or {})
        undecided = [cell for key, cell in plan.asked.items() if key not in (decided or {})]
        if undecided:
            raise Refused(
                "Values written by hand would mean another level on the changed scale. Say for "
                f"each what it is evidence of: {undecided[0].level} of “{undecided[0].criterion}” "
                f"in “{undecided[0].rubric}”"
                + (f" and {len(undecided) - 1} more" if len(undecided) > 1 else ""),
                "cells",
            )
        store.change_scale(db, scale_id, plan.after.name, scale)
        for tie, after in plan.maps:
            if after != tie.map:
                criterion_store.set_alignment_map(db, tie.id, tie.level_ids, after)
        _tell(db, caller, plan)
        caller.log(
            db,
            LogSubject.SCALE,
            scale_id,
            described(plan.before.scale),
            described(scale),
        )
        return len(moved_cells(plan.maps))


def _planned(
    db: sqlite3.Connection,
    caller: Teacher,
    scale_id: int,
    based_on: int,
    name: str,
    scale: Scale,
    decided: Mapping[CellKey, Hundredths],
) -> _ScalePlan:
    stored = changeable_scale(db, caller, scale_id)
    check_version(based_on, stored.version, "The scale")
    name = free_name(db, caller, name, scale_id)
    check_descriptions(scale)
    for index, value in enumerate(decided.values()):
        check_cell(value, scale, f"cells.{index}.value")
    ties = criterion_store.alignments_of_outcomes(db, store.outcomes_on_scale(db, scale_id))
    if ties and len(scale.levels) != len(stored.scale.levels):
        raise Refused(
            "Rubrics are aligned to outcomes on this scale, so that it keeps its "
            f"{len(stored.scale.levels)} levels; names, values and cut scores can change. "
            "For other levels make a new scale and put the outcomes on it",
            "levels",
        )
    after = replace(stored, name=name, version=stored.version + 1, scale=scale)
    maps = []
    asked: dict[CellKey, AskedCell] = {}
    told: dict[int, tuple[int, str, int]] = {}
    for tie in ties:
        cells = made_again(tie.criterion, tie.map, scale)
        moves: dict[int, Hundredths] = {}
        for cell in doubtful_cells(tie.map, stored.scale, scale):
            level = tie.criterion.levels[cell.place]
            key = CellKey(tie.rubric_id, tie.criterion.key, level.key, tie.outcome_id, cell.value)
            moves[cell.place] = cell.offered
            if tie.owner_id == caller.person_id:
                moves[cell.place] = decided.get(key, cell.offered)
                asked[key] = AskedCell(
                    key, tie.rubric, tie.criterion.title, level.name, cell.offered
                )
        if moves and tie.owner_id != caller.person_id:
            count = told.get(tie.rubric_id, (0, "", 0))[2] + len(moves)
            told[tie.rubric_id] = (tie.owner_id, tie.rubric, count)
        maps.append((tie, with_cells_moved(cells, moves)))
    return _ScalePlan(stored, after, tuple(maps), asked, told)


def _tell(db: sqlite3.Connection, caller: Teacher, plan: _ScalePlan) -> None:
    by = people_store.person(db, caller.person_id)
    for rubric_id, (owner_id, title, cells) in plan.told.items():
        details = {
            "rubric_id": rubric_id,
            "rubric": title,
            "scale": plan.after.name,
            "cells": cells,
            "by": by.name if by else "",
        }
        notice_store.add_notice(db, owner_id, caller.now, CELLS_MOVED, details)


@dataclass(frozen=True, slots=True)
class ScaleEffects:
    """What changing a scale would do: to levels, to how many cells of alignment maps, which cells
    by hand have to be decided, and how many move in rubrics of other teachers; `before` is the
    scale as it is.
    """

    before: Scale
    effects: Effects
    cells: int
    asked: tuple[AskedCell, ...]
    elsewhere: int


def preview_scale(
    caller: Teacher,
    scale_id: int,
    based_on: int,
    name: str,
    scale: Scale,
    decided: Mapping[CellKey, Hundredths] | None = None,
) -> ScaleEffects:
    """Say whose level a change of a scale would move, with cells by hand as `decided`, and else in
    the place that is offered; nothing is changed, and nobody who saves waits for it.
    """
    with caller.reading() as db:
        plan = _planned(db, caller, scale_id, based_on, name, scale, decided or {})
        outcome_ids = store.outcomes_on_scale(db, scale_id)
        return ScaleEffects(
            plan.before.scale,
            what_if_changes(db, caller, outcome_ids, plan.what),
            len(moved_cells(plan.maps)),
            tuple(plan.asked.values()),
            sum(cells for _, _, cells in plan.told.values()),
        )


def put_on_scale(caller: Teacher, class_id: int, outcome_id: int, scale_id: int) -> None:
    """Put an outcome on another scale; its alignment maps are made anew, and cells written by
    hand keep their place between the ends of the scale.
    """
    with caller.transaction() as db:
        outcome = own_outcome(db, caller, class_id, outcome_id)
        maps = maps_on_scale(db, caller, outcome, scale_id)
        if outcome.scale_id == scale_id:
            return
        for tie, after in maps:
            criterion_store.set_alignment_map(db, tie.id, tie.level_ids, after)
        store.move_outcomes(db, [outcome_id], scale_id)
        caller.log(
            db,
            LogSubject.OUTCOME_SCALE,
            outcome_id,
            outcome.scale_id,
            scale_id,
        )


def maps_on_scale(
    db: sqlite3.Connection, caller: Teacher, outcome: OutcomeRow, scale_id: int
) -> list[tuple[OutcomeAlignment, AlignmentMap]]:
    """Give an outcome's alignments with their maps as they would be on another scale; raises what
    putting it there would. Part of a transaction or a reading.
    """
    new = scale_in_sight(db, caller, scale_id, field="scale_id")
    if outcome.scale_id == scale_id:
        return []
    if outcome.owner_id not in (None, caller.person_id):
        raise Refused("This outcome is another teacher's, and keeps its scale", "scale_id")
    old = store.scales(db)[outcome.scale_id]
    return [
        (tie, moved_to_scale(tie.criterion, tie.map, old.scale, new.scale))
        for tie in criterion_store.alignments_of_outcomes(db, [outcome.id])
    ]


def described(scale: Scale) -> dict[str, object]:
    """Describe a scale for the log."""
    levels = [
        [level.name, level.code, level.value, level.cut, level.description]
        for level in scale.levels
    ]
    return {"levels": levels, "mastery_level": scale.mastery_level}
