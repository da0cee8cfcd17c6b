"""Proficiency scales: the school's library of them."""

from __future__ import annotations

import sqlite3

from jade_ladder.core.alignment import Cell, moved_with_scale
from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.core.scale import CutPreset, Scale, ScaleLevel, preset_cuts
from jade_ladder.service.caller import Caller, check_version, needed
from jade_ladder.store import criteria as criterion_store
from jade_ladder.store import log
from jade_ladder.store import scales as store
from jade_ladder.store.criteria import CellOnScale
from jade_ladder.store.scales import StoredScale

_FIRST = (("Setting out", "S"), ("On the way", "W"), ("Arrived", "A"), ("Beyond", "B"))


def starting_scale() -> Scale:
    """Make the scale a school starts with: four levels, cut three quarters of the way up."""
    values = [100, 200, 300, 400]
    cuts = preset_cuts(values, CutPreset.THREE_QUARTERS)
    levels = tuple(
        ScaleLevel(name, code, value, cut)
        for (name, code), value, cut in zip(_FIRST, values, cuts, strict=True)
    )
    return Scale(levels, mastery_level=2)


def first_scale(db: sqlite3.Connection) -> int:
    """Give the number of the school's first scale, made when there is none. Part of a deed."""
    known = store.scales(db)
    return next(iter(known), 0) or store.add_scale(db, "School scale", starting_scale())


def scales(caller: Caller) -> list[StoredScale]:
    """List the school's scales."""
    with caller.reading() as db:
        return list(store.scales(db).values())


def add_scale(caller: Caller, name: str, scale: Scale) -> int:
    """Add a scale to the library; gives its number."""
    with caller.deed() as db:
        return store.add_scale(db, needed(name, "name", "A name for the scale"), scale)


def change_scale(caller: Caller, scale_id: int, based_on: int, name: str, scale: Scale) -> None:
    """Change a scale; the alignment cells that follow it move with it.

    Levels cannot be added or taken away once criteria are aligned to an outcome on it.
    """
    name = needed(name, "name", "A name for the scale")
    with caller.deed() as db:
        stored = store.scales(db).get(scale_id)
        if stored is None:
            raise NotFound("There is no such scale")
        check_version(based_on, stored.version, "The scale")
        if len(scale.levels) != len(stored.scale.levels) and store.scale_is_aligned(db, scale_id):
            raise Refused(
                "Rubrics are aligned to outcomes on this scale, so that it keeps its "
                f"{len(stored.scale.levels)} levels; names, values and cut scores can change",
                "levels",
            )
        store.change_scale(db, scale_id, name, scale)
        if len(scale.levels) == len(stored.scale.levels):
            _move_cells(db, scale_id, stored.scale, scale)
        log.add_entry(
            db,
            caller.now,
            caller.person_id,
            "scale",
            scale_id,
            described(stored.scale),
            described(scale),
        )


def described(scale: Scale) -> dict[str, object]:
    """Describe a scale for the log."""
    levels = [[level.name, level.code, level.value, level.cut] for level in scale.levels]
    return {"levels": levels, "mastery_level": scale.mastery_level}


def _move_cells(db: sqlite3.Connection, scale_id: int, old: Scale, new: Scale) -> None:
    alignments: dict[int, list[CellOnScale]] = {}
    for stored in criterion_store.cells_on_scale(db, scale_id):
        alignments.setdefault(stored.alignment_id, []).append(stored)
    for cells in alignments.values():
        before = [Cell(cell.value, cell.follows, cell.by_hand) for cell in cells]
        after = moved_with_scale(before, old, new)
        for stored, was, now in zip(cells, before, after, strict=True):
            if was.value != now.value:
                criterion_store.set_cell_value(db, stored.alignment_id, stored.level_id, now.value)
