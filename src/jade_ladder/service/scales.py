"""Proficiency scales: the school's library of them."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable, Mapping, Sequence
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
from jade_ladder.core.errors import NotAllowed, NotFound, Refused
from jade_ladder.core.numbers import Hundredths
from jade_ladder.core.scale import CutPreset, Scale, ScaleLevel, preset_cuts
from jade_ladder.service.caller import Administrator, Teacher, check_version, needed, own_class
from jade_ladder.service.class_evidence import WhatIf
from jade_ladder.service.effects import Effects, supposed_changes
from jade_ladder.service.evidence import Cells
from jade_ladder.service.notices import CELLS_MOVED
from jade_ladder.service.outcomes import own_outcome
from jade_ladder.store import classes as class_store
from jade_ladder.store import criteria as criterion_store
from jade_ladder.store import log
from jade_ladder.store import notices as notice_store
from jade_ladder.store import people as people_store
from jade_ladder.store import scales as store
from jade_ladder.store.criteria import OutcomeAlignment
from jade_ladder.store.outcomes import OutcomeRow
from jade_ladder.store.scales import ScaleUse, StoredScale

LONGEST_DESCRIPTION = 500

# Level names with their codes; which of them a ready scale has, by how many; where mastery lies.
_LEVELS = {
    "Looking": "L",
    "Setting out": "S",
    "On the way": "W",
    "Nearly there": "N",
    "Arrived": "A",
    "Beyond": "B",
}
_MASTERY = "Arrived"
_PRESETS = {
    2: ("On the way", "Arrived"),
    3: ("Setting out", "On the way", "Arrived"),
    4: ("Setting out", "On the way", "Arrived", "Beyond"),
    5: ("Setting out", "On the way", "Nearly there", "Arrived", "Beyond"),
    6: tuple(_LEVELS),
}


def preset_scales() -> list[Scale]:
    """Make the ready scales of 2 to 6 levels: values 1, 2, …, cut three quarters of the way up."""
    return [_preset_scale(names) for names in _PRESETS.values()]


def _preset_scale(names: Sequence[str]) -> Scale:
    values = [100 * number for number in range(1, len(names) + 1)]
    cuts = preset_cuts(values, CutPreset.THREE_QUARTERS)
    levels = tuple(
        ScaleLevel(name, _LEVELS[name], value, cut)
        for name, value, cut in zip(names, values, cuts, strict=True)
    )
    return Scale(levels, mastery_level=names.index(_MASTERY))


def starting_scale() -> Scale:
    """Make the scale a school starts with: four levels, cut three quarters of the way up."""
    return _preset_scale(_PRESETS[4])


def first_scale(db: sqlite3.Connection) -> int:
    """Give the number of the school's first scale, made when there is none. Part of a deed."""
    schools = [one.id for one in store.scales(db).values() if one.owner_id is None]
    return next(iter(schools), 0) or store.add_scale(db, "School scale", starting_scale(), None)


@dataclass(frozen=True, slots=True)
class ScaleInLibrary:
    """A scale with what uses it, and whether the caller may change it."""

    stored: StoredScale
    use: ScaleUse
    changeable: bool


def scales(caller: Teacher) -> list[ScaleInLibrary]:
    """List the scales of the school, and those of the caller."""
    with caller.reading() as db:
        uses = store.scale_uses(db)
        sight = store.scales_in_sight(db, caller.person_id)
        return [
            ScaleInLibrary(one, uses[one.id], _may_change(caller, one))
            for one in store.scales(db).values()
            if one.id in sight
        ]


def owner_of_new(caller: Teacher) -> int | None:
    """Give who owns a scale that the caller adds: the administrator adds to the school's."""
    return None if isinstance(caller, Administrator) else caller.person_id


def _may_change(caller: Teacher, stored: StoredScale) -> bool:
    return stored.owner_id == owner_of_new(caller) or stored.owner_id == caller.person_id


def add_scale(caller: Teacher, name: str, scale: Scale) -> int:
    """Add a scale: the administrator to the school's, anybody else one of their own. Gives its
    number.
    """
    with caller.deed() as db:
        name = _free_name(db, caller, name)
        _check_descriptions(scale)
        return store.add_scale(db, name, scale, owner_of_new(caller))


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
    with caller.deed() as db:
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
        log.add_entry(
            db,
            caller.now,
            caller.person_id,
            "scale",
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
    stored = _changeable(db, caller, scale_id)
    check_version(based_on, stored.version, "The scale")
    name = _free_name(db, caller, name, scale_id)
    _check_descriptions(scale)
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
            supposed_changes(db, caller, outcome_ids, plan.what),
            len(moved_cells(plan.maps)),
            tuple(plan.asked.values()),
            sum(cells for _, _, cells in plan.told.values()),
        )


def remove_scale(caller: Teacher, scale_id: int) -> None:
    """Remove a scale from the library; refused while an outcome or class uses it."""
    with caller.deed() as db:
        stored = _changeable(db, caller, scale_id)
        use = store.scale_uses(db)[scale_id]
        if use.outcomes or use.classes:
            raise Refused(
                f"“{stored.name}” is used by {use.outcomes} outcomes, and new outcomes of "
                f"{use.classes} classes take it: put them on another scale first"
            )
        store.remove_scale(db, scale_id)


def choose_class_scale(caller: Teacher, class_id: int, based_on: int, scale_id: int) -> None:
    """Choose the scale that the new outcomes of a class take; those there keep theirs."""
    with caller.deed() as db:
        klass = own_class(db, caller, class_id)
        check_version(based_on, klass.version, "The class")
        _scale(db, caller, scale_id, field="scale_id")
        class_store.change_scale(db, class_id, scale_id)
        log.add_entry(
            db, caller.now, caller.person_id, "class-scale", class_id, klass.scale_id, scale_id
        )


def put_on_scale(caller: Teacher, class_id: int, outcome_id: int, scale_id: int) -> None:
    """Put an outcome on another scale; its alignment maps are made anew, and cells written by
    hand keep their place between the ends of the scale.
    """
    with caller.deed() as db:
        outcome = own_outcome(db, caller, class_id, outcome_id)
        maps = maps_on_scale(db, caller, outcome, scale_id)
        if outcome.scale_id == scale_id:
            return
        for tie, after in maps:
            criterion_store.set_alignment_map(db, tie.id, tie.level_ids, after)
        store.move_outcomes(db, [outcome_id], scale_id)
        log.add_entry(
            db,
            caller.now,
            caller.person_id,
            "outcome-scale",
            outcome_id,
            outcome.scale_id,
            scale_id,
        )


def maps_on_scale(
    db: sqlite3.Connection, caller: Teacher, outcome: OutcomeRow, scale_id: int
) -> list[tuple[OutcomeAlignment, AlignmentMap]]:
    """Give an outcome's alignments with their maps as they would be on another scale; raises what
    putting it there would. Part of a deed or reading.
    """
    new = _scale(db, caller, scale_id, field="scale_id")
    if outcome.scale_id == scale_id:
        return []
    if outcome.owner_id not in (None, caller.person_id):
        raise Refused("This outcome is another teacher's, and keeps its scale", "scale_id")
    old = store.scales(db)[outcome.scale_id]
    return [
        (tie, moved_to_scale(tie.criterion, tie.map, old.scale, new.scale))
        for tie in criterion_store.alignments_of_outcomes(db, [outcome.id])
    ]


def _scale(db: sqlite3.Connection, caller: Teacher, scale_id: int, field: str = "") -> StoredScale:
    stored = store.scales(db).get(scale_id)
    if stored is None or scale_id not in store.scales_in_sight(db, caller.person_id):
        if field:
            raise Refused("There is no such scale", field)
        raise NotFound("There is no such scale")
    return stored


def _changeable(db: sqlite3.Connection, caller: Teacher, scale_id: int) -> StoredScale:
    stored = _scale(db, caller, scale_id)
    if not _may_change(caller, stored):
        raise NotAllowed(
            f"“{stored.name}” is not yours: the administrator changes the scales of the school. "
            "Copy it, and change the copy"
        )
    return stored


def _free_name(
    db: sqlite3.Connection, caller: Teacher, name: str, scale_id: int | None = None
) -> str:
    name = needed(name, "name", "A name for the scale")
    sight = store.scales_in_sight(db, caller.person_id)
    for other in store.scales(db).values():
        same = other.name.casefold() == name.casefold()
        if same and other.id != scale_id and other.id in sight:
            raise Refused(f"There is a scale “{other.name}” already", "name")
    return name


def _check_descriptions(scale: Scale) -> None:
    for index, level in enumerate(scale.levels):
        if len(level.description) > LONGEST_DESCRIPTION:
            raise Refused(
                f"A description has at most {LONGEST_DESCRIPTION} characters",
                f"levels.{index}.description",
            )


def described(scale: Scale) -> dict[str, object]:
    """Describe a scale for the log."""
    levels = [
        [level.name, level.code, level.value, level.cut, level.description]
        for level in scale.levels
    ]
    return {"levels": levels, "mastery_level": scale.mastery_level}
