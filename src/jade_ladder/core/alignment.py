"""From a criterion to a value on the outcome's scale (the section of that name)."""

from __future__ import annotations

import itertools
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from fractions import Fraction

from jade_ladder.core.errors import Refused
from jade_ladder.core.numbers import Hundredths, half_up, round_half_up, write_short
from jade_ladder.core.rubric import Criterion, CriterionKind
from jade_ladder.core.scale import Scale


class Basis(StrEnum):
    """How the default map of an alignment was made."""

    NAMES = "names"
    POSITIONS = "positions"
    YES = "yes"
    PROPORTION = "proportion"
    EVEN = "even"


@dataclass(frozen=True, slots=True)
class Cell:
    """What one level of a criterion is evidence of: a value on the outcome's scale, or None.

    `follows` is the index of the scale level whose value it keeps to, unless it is `by_hand`: then
    the teacher wrote it, and no rule moves it.
    """

    value: Hundredths | None
    follows: int | None = None
    by_hand: bool = False


@dataclass(frozen=True, slots=True)
class AlignmentMap:
    """One cell per level of the criterion, lowest first, and how the defaults came about."""

    basis: Basis
    cells: tuple[Cell, ...]


def default_map(criterion: Criterion, scale: Scale) -> AlignmentMap:
    """Make the map that an alignment starts with; the first of five rules that fits is taken."""
    names = [level.name.strip().casefold() for level in criterion.levels]
    known = {level.name.strip().casefold(): index for index, level in enumerate(scale.levels)}
    if names and len(set(names)) == len(names) and all(name in known for name in names):
        return AlignmentMap(Basis.NAMES, _following(scale, [known[name] for name in names]))
    if len(names) == len(scale.levels):
        return AlignmentMap(Basis.POSITIONS, _following(scale, range(len(names))))
    if criterion.kind is CriterionKind.YES_NO and len(names) == 2:
        return AlignmentMap(Basis.YES, _yes(scale))
    points = [level.points for level in criterion.levels]
    if _rises(points):
        return AlignmentMap(Basis.PROPORTION, _spread(scale, points))
    return AlignmentMap(Basis.EVEN, _spread(scale, range(len(points))))


def _yes(scale: Scale) -> tuple[Cell, ...]:
    return Cell(None), *_following(scale, [scale.mastery_level])


def _rises(points: Sequence[Hundredths]) -> bool:
    return len(points) > 1 and all(a < b for a, b in itertools.pairwise(points))


def _following(scale: Scale, levels: Sequence[int]) -> tuple[Cell, ...]:
    return tuple(Cell(scale.levels[level].value, follows=level) for level in levels)


def _spread(scale: Scale, places: Sequence[int]) -> tuple[Cell, ...]:
    """Lay rising `places` out in proportion between the scale's end values."""
    if len(places) < 2:
        return tuple(Cell(scale.lowest) for _ in places)
    first, span = places[0], places[-1] - places[0]
    width = scale.highest - scale.lowest
    return tuple(Cell(scale.lowest + half_up((p - first) * width, span)) for p in places)


def with_hand_cells(default: AlignmentMap, by_hand: Sequence[Cell | None]) -> AlignmentMap:
    """Lay the cells that the teacher wrote over the default ones; None keeps the default. A cell by
    hand remembers what level its default follows.
    """
    laid = zip(default.cells, by_hand, strict=True)
    return AlignmentMap(
        default.basis,
        tuple(cell if own is None else replace(own, follows=cell.follows) for cell, own in laid),
    )


def made_again(criterion: Criterion, cells: AlignmentMap, scale: Scale) -> AlignmentMap:
    """Give the map by the rule it was made by, worked out anew: after the scale changed (with as
    many levels), or the points of the criterion did. Cells written by hand stay as they are.

    A cell made by proportion or spread is worked out from the points or places, never from a
    rounded value; one that follows a level follows it; a *yes* follows the mastery level. Where
    that rule fits no longer, the map is made as at the start.
    """
    by_hand = [cell if cell.by_hand else None for cell in cells.cells]
    return with_hand_cells(default_again(criterion, cells, scale), by_hand)


def default_again(criterion: Criterion, cells: AlignmentMap, scale: Scale) -> AlignmentMap:
    """Give what `made_again` does without the cells by hand."""
    return _by_basis(criterion, cells, scale) or default_map(criterion, scale)


def _by_basis(criterion: Criterion, cells: AlignmentMap, scale: Scale) -> AlignmentMap | None:
    levels = len(criterion.levels)
    points = [level.points for level in criterion.levels]
    match cells.basis:
        case Basis.YES if levels == 2 and criterion.kind is CriterionKind.YES_NO:
            return AlignmentMap(Basis.YES, _yes(scale))
        case Basis.PROPORTION if _rises(points):
            return AlignmentMap(Basis.PROPORTION, _spread(scale, points))
        case Basis.EVEN:
            return AlignmentMap(Basis.EVEN, _spread(scale, range(levels)))
        case Basis.POSITIONS if levels == len(scale.levels):
            return AlignmentMap(Basis.POSITIONS, _following(scale, range(levels)))
        case Basis.NAMES:
            followed = [cell.follows for cell in cells.cells]
            known = [one for one in followed if one is not None and one < len(scale.levels)]
            if len(known) == levels:
                return AlignmentMap(Basis.NAMES, _following(scale, known))
    return None


@dataclass(frozen=True, slots=True)
class DoubtfulCell:
    """A cell written by hand that would be at another level, or outside the scale, if the scale
    changed: at `place`, with what it is evidence of now and what has the same place between the
    ends of the changed scale.
    """

    place: int
    value: Hundredths
    offered: Hundredths


def doubtful_cells(cells: AlignmentMap, old: Scale, new: Scale) -> list[DoubtfulCell]:
    """List the cells by hand that somebody has to look at when a scale changes from `old` to `new`,
    with as many levels: those whose level would change, and those outside the new ends.
    """
    return [
        DoubtfulCell(place, cell.value, _same_place(cell.value, old, new))
        for place, cell in enumerate(cells.cells)
        if cell.by_hand
        and cell.value is not None
        and (
            old.level_of(cell.value) != new.level_of(cell.value)
            or not new.lowest <= cell.value <= new.highest
        )
    ]


def with_cells_moved(cells: AlignmentMap, to: Mapping[int, Hundredths]) -> AlignmentMap:
    """Give the map with the cells by hand at these places at other values."""
    moved = enumerate(cells.cells)
    return replace(
        cells,
        cells=tuple(
            replace(cell, value=to[place]) if place in to else cell for place, cell in moved
        ),
    )


def moved_to_scale(
    criterion: Criterion, cells: AlignmentMap, old: Scale, new: Scale
) -> AlignmentMap:
    """Give the map after the outcome was put on another scale: the default is made anew; a cell
    written by hand keeps its place between the ends of the scale, and stays by hand.
    """
    by_hand = [
        None
        if not cell.by_hand
        else Cell(None if cell.value is None else _same_place(cell.value, old, new), by_hand=True)
        for cell in cells.cells
    ]
    return with_hand_cells(default_map(criterion, new), by_hand)


def _same_place(value: Hundredths, old: Scale, new: Scale) -> Hundredths:
    place = Fraction(value - old.lowest, old.highest - old.lowest)
    exact = Fraction(new.lowest, 100) + place * Fraction(new.highest - new.lowest, 100)
    return round_half_up(exact)


def check_cell(value: Hundredths | None, scale: Scale, field: str) -> None:
    """Refuse a cell's value outside the outcome's scale, naming `field`."""
    if value is not None and not scale.lowest <= value <= scale.highest:
        raise Refused(
            f"The value lies between {write_short(scale.lowest)} and "
            f"{write_short(scale.highest)}, the ends of the outcome's scale",
            field,
        )


def chosen_value(
    cells: Sequence[Hundredths | None], level: int, half_way: bool = False
) -> Fraction | None:
    """Give the exact value, in units, of a choice: at `level`, or half-way up from it to the next.

    None where the level says nothing about the outcome, or one of the two neighbours does not.
    """
    value = cells[level]
    if not half_way:
        return None if value is None else Fraction(value, 100)
    above = cells[level + 1]
    return None if value is None or above is None else Fraction(value + above, 200)


def chosen_points(criterion: Criterion, level: int, half_way: bool = False) -> Fraction:
    """Give the exact points, in units, of a choice; half-way where the criterion allows it.

    Raises Refused for a half-way choice that cannot be.
    """
    points = criterion.levels[level].points
    if not half_way:
        return Fraction(points, 100)
    if not criterion.allows_half_way:
        raise Refused(f"{criterion.title} has no half-way marks", "half_way")
    if level + 1 >= len(criterion.levels):
        raise Refused(f"There is nothing above {criterion.levels[level].name}", "half_way")
    return Fraction(points + criterion.levels[level + 1].points, 200)
