"""Proficiency scales: the school's library of them."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from jade_ladder.core.alignment import Cell, moved_to_scale, moved_with_scale
from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.core.scale import CutPreset, Scale, ScaleLevel, preset_cuts
from jade_ladder.service.caller import Caller, check_version, needed, own_class
from jade_ladder.service.effects import Effects, supposed_changes
from jade_ladder.service.outcomes import own_outcome
from jade_ladder.store import classes as class_store
from jade_ladder.store import criteria as criterion_store
from jade_ladder.store import log
from jade_ladder.store import scales as store
from jade_ladder.store.criteria import CellOnScale
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
    known = store.scales(db)
    return next(iter(known), 0) or store.add_scale(db, "School scale", starting_scale())


@dataclass(frozen=True, slots=True)
class ScaleInLibrary:
    """A scale with what uses it."""

    stored: StoredScale
    use: ScaleUse


def scales(caller: Caller) -> list[ScaleInLibrary]:
    """List the school's scales."""
    with caller.reading() as db:
        uses = store.scale_uses(db)
        return [ScaleInLibrary(one, uses[one.id]) for one in store.scales(db).values()]


def add_scale(caller: Caller, name: str, scale: Scale) -> int:
    """Add a scale to the library; gives its number."""
    with caller.deed() as db:
        name = _free_name(db, name)
        _check_descriptions(scale)
        return store.add_scale(db, name, scale)


def change_scale(caller: Caller, scale_id: int, based_on: int, name: str, scale: Scale) -> int:
    """Change a scale; the alignment cells that follow it move with it. Gives how many did.

    Levels cannot be added or taken away once criteria are aligned to an outcome on it.
    """
    with caller.deed() as db:
        stored = _scale(db, scale_id)
        check_version(based_on, stored.version, "The scale")
        name = _free_name(db, name, scale_id)
        _check_descriptions(scale)
        if len(scale.levels) != len(stored.scale.levels) and store.scale_is_aligned(db, scale_id):
            raise Refused(
                "Rubrics are aligned to outcomes on this scale, so that it keeps its "
                f"{len(stored.scale.levels)} levels; names, values and cut scores can change. "
                "For other levels make a new scale and put the outcomes on it",
                "levels",
            )
        store.change_scale(db, scale_id, name, scale)
        moved = 0
        if len(scale.levels) == len(stored.scale.levels):
            moved = _move_cells(db, scale_id, stored.scale, scale)
        log.add_entry(
            db,
            caller.now,
            caller.person_id,
            "scale",
            scale_id,
            described(stored.scale),
            described(scale),
        )
        return moved


@dataclass(frozen=True, slots=True)
class ScaleEffects:
    """What changing a scale would do: to levels, and to how many cells of alignment maps."""

    effects: Effects
    cells: int


def preview_scale(
    caller: Caller, scale_id: int, based_on: int, name: str, scale: Scale
) -> ScaleEffects:
    """Say whose level a change of a scale would move; nothing is changed."""
    cells = 0

    def change() -> None:
        nonlocal cells
        cells = change_scale(caller, scale_id, based_on, name, scale)

    with caller.reading() as db:
        outcome_ids = store.outcomes_on_scale(db, scale_id)
    effects = supposed_changes(caller, outcome_ids, change)
    return ScaleEffects(effects, cells)


def remove_scale(caller: Caller, scale_id: int) -> None:
    """Remove a scale from the library; refused while an outcome or class uses it."""
    with caller.deed() as db:
        stored = _scale(db, scale_id)
        use = store.scale_uses(db)[scale_id]
        if use.outcomes or use.classes:
            raise Refused(
                f"“{stored.name}” is used by {use.outcomes} outcomes, and new outcomes of "
                f"{use.classes} classes take it: put them on another scale first"
            )
        store.remove_scale(db, scale_id)


def choose_class_scale(caller: Caller, class_id: int, based_on: int, scale_id: int) -> None:
    """Choose the scale that the new outcomes of a class take; those there keep theirs."""
    with caller.deed() as db:
        klass = own_class(db, caller, class_id)
        check_version(based_on, klass.version, "The class")
        _scale(db, scale_id, field="scale_id")
        class_store.change_scale(db, class_id, scale_id)
        log.add_entry(
            db, caller.now, caller.person_id, "class-scale", class_id, klass.scale_id, scale_id
        )


def put_on_scale(caller: Caller, class_id: int, outcome_id: int, scale_id: int) -> None:
    """Put an outcome on another scale; its alignment maps are made anew, and cells written by
    hand keep their place between the ends of the scale.
    """
    with caller.deed() as db:
        outcome = own_outcome(db, caller, class_id, outcome_id)
        new = _scale(db, scale_id, field="scale_id")
        if outcome.scale_id == scale_id:
            return
        if outcome.owner_id not in (None, caller.person_id):
            raise Refused("This outcome is another teacher's, and keeps its scale", "scale_id")
        old = _scale(db, outcome.scale_id)
        for tie in criterion_store.alignments_of_outcome(db, outcome_id):
            cells = moved_to_scale(tie.criterion, tie.map, old.scale, new.scale)
            criterion_store.set_alignment_map(db, tie.id, tie.level_ids, cells)
        store.move_outcomes(db, [outcome_id], scale_id)
        log.add_entry(
            db, caller.now, caller.person_id, "outcome-scale", outcome_id, old.id, scale_id
        )


def _scale(db: sqlite3.Connection, scale_id: int, field: str = "") -> StoredScale:
    stored = store.scales(db).get(scale_id)
    if stored is None:
        if field:
            raise Refused("There is no such scale", field)
        raise NotFound("There is no such scale")
    return stored


def _free_name(db: sqlite3.Connection, name: str, scale_id: int | None = None) -> str:
    name = needed(name, "name", "A name for the scale")
    for other in store.scales(db).values():
        if other.id != scale_id and other.name.casefold() == name.casefold():
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


def _move_cells(db: sqlite3.Connection, scale_id: int, old: Scale, new: Scale) -> int:
    moved = 0
    alignments: dict[int, list[CellOnScale]] = {}
    for stored in criterion_store.cells_on_scale(db, scale_id):
        alignments.setdefault(stored.alignment_id, []).append(stored)
    for cells in alignments.values():
        before = [Cell(cell.value, cell.follows, cell.by_hand) for cell in cells]
        after = moved_with_scale(before, old, new)
        for stored, was, now in zip(cells, before, after, strict=True):
            if was.value != now.value:
                moved += 1
                criterion_store.set_cell_value(db, stored.alignment_id, stored.level_id, now.value)
    return moved
