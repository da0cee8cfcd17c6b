"""Proficiency scales: the school's library of them."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from jade_ladder.core.errors import NotAllowed, NotFound, Refused
from jade_ladder.core.scale import CutPreset, Scale, ScaleLevel, preset_cuts
from jade_ladder.service.shared.caller import Administrator, Teacher
from jade_ladder.service.shared.forms import check_version, needed
from jade_ladder.service.shared.guards import own_class
from jade_ladder.store.classes import classes as class_store
from jade_ladder.store.outcomes import scales as store
from jade_ladder.store.outcomes.scales import ScaleUse, StoredScale
from jade_ladder.store.shared.log import LogSubject

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
    """Give the number of the school's first scale, made when there is none. Part of a
    transaction.
    """
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
            ScaleInLibrary(one, uses[one.id], may_change(caller, one))
            for one in store.scales(db).values()
            if one.id in sight
        ]


def owner_of_new(caller: Teacher) -> int | None:
    """Give who owns a scale that the caller adds: the administrator adds to the school's."""
    return None if isinstance(caller, Administrator) else caller.person_id


def may_change(caller: Teacher, stored: StoredScale) -> bool:
    """Whether a scale is the caller's to change."""
    return stored.owner_id == owner_of_new(caller) or stored.owner_id == caller.person_id


def add_scale(caller: Teacher, name: str, scale: Scale) -> int:
    """Add a scale: the administrator to the school's, anybody else one of their own. Gives its
    number.
    """
    with caller.transaction() as db:
        name = free_name(db, caller, name)
        check_descriptions(scale)
        return store.add_scale(db, name, scale, owner_of_new(caller))


def remove_scale(caller: Teacher, scale_id: int) -> None:
    """Remove a scale from the library; refused while an outcome or class uses it."""
    with caller.transaction() as db:
        stored = changeable_scale(db, caller, scale_id)
        use = store.scale_uses(db)[scale_id]
        if use.outcomes or use.classes:
            raise Refused(
                f"“{stored.name}” is used by {use.outcomes} outcomes, and new outcomes of "
                f"{use.classes} classes take it: put them on another scale first"
            )
        store.remove_scale(db, scale_id)


def choose_class_scale(caller: Teacher, class_id: int, based_on: int, scale_id: int) -> None:
    """Choose the scale that the new outcomes of a class take; those there keep theirs."""
    with caller.transaction() as db:
        klass = own_class(db, caller, class_id)
        check_version(based_on, klass.version, "The class")
        scale_in_sight(db, caller, scale_id, field="scale_id")
        class_store.change_scale(db, class_id, scale_id)
        caller.log(db, LogSubject.CLASS_SCALE, class_id, klass.scale_id, scale_id)


def scale_in_sight(
    db: sqlite3.Connection, caller: Teacher, scale_id: int, field: str = ""
) -> StoredScale:
    """Give a scale of the school, the caller's own, or one that their classes use; NotFound, or
    Refused where a field names it, for any other. Part of a transaction or a reading.
    """
    stored = store.scales(db).get(scale_id)
    if stored is None or scale_id not in store.scales_in_sight(db, caller.person_id):
        if field:
            raise Refused("There is no such scale", field)
        raise NotFound("There is no such scale")
    return stored


def changeable_scale(db: sqlite3.Connection, caller: Teacher, scale_id: int) -> StoredScale:
    """Give a scale that the caller may change; NotAllowed for one that is only in sight."""
    stored = scale_in_sight(db, caller, scale_id)
    if not may_change(caller, stored):
        raise NotAllowed(
            f"“{stored.name}” is not yours: the administrator changes the scales of the school. "
            "Copy it, and change the copy"
        )
    return stored


def free_name(
    db: sqlite3.Connection, caller: Teacher, name: str, scale_id: int | None = None
) -> str:
    """Give a name for a scale, trimmed; refuse one that another in sight has."""
    name = needed(name, "name", "A name for the scale")
    sight = store.scales_in_sight(db, caller.person_id)
    for other in store.scales(db).values():
        same = other.name.casefold() == name.casefold()
        if same and other.id != scale_id and other.id in sight:
            raise Refused(f"There is a scale “{other.name}” already", "name")
    return name


def check_descriptions(scale: Scale) -> None:
    """Refuse a description that is too long, at its level."""
    for index, level in enumerate(scale.levels):
        if len(level.description) > LONGEST_DESCRIPTION:
            raise Refused(
                f"A description has at most {LONGEST_DESCRIPTION} characters",
                f"levels.{index}.description",
            )
