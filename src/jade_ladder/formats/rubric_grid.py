"""A grid of cells read as a rubric: criteria down the side, levels across."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from jade_ladder.core.errors import Refused
from jade_ladder.core.numbers import Hundredths, parse_hundredths
from jade_ladder.core.rubric import (
    FEWEST_CRITERION_LEVELS,
    MOST_CRITERION_LEVELS,
    CriterionLevel,
    Weight,
)
from jade_ladder.formats.grid import Grid

_CORNERS = {"", "criterion", "criteria", "aspect", "category", "level", "levels"}
# Level names are a word or two, descriptors a sentence.
_LONGEST_NAME = 30
_WEIGHTS = {"weight", "weights", "%", "weight %", "weight in %", "share"}
_POINTS = re.compile(
    r"^(?P<before>.*?)[\s(\[:–—-]*(?P<points>\d+(?:[.,]\d{1,2})?)\s*"
    r"(?:points?|pts?\.?|p\.?)?[)\]]?$"
    r"|^(?P<first>\d+(?:[.,]\d{1,2})?)\s*(?:points?|pts?\.?|p\.?)?[\s:.)–—-]+(?P<after>.+)$",
    re.IGNORECASE | re.DOTALL,
)


@dataclass(frozen=True, slots=True)
class GridCriterion:
    """A row of the grid: levels from the lowest up; their keys are empty."""

    title: str
    weight: Weight | None
    levels: tuple[CriterionLevel, ...]


@dataclass(frozen=True, slots=True)
class RubricGrid:
    """The criteria of a grid, how it was read, and what about it was odd."""

    text: str
    criteria: tuple[GridCriterion, ...]
    levels_in_first_row: bool
    best_first: bool
    notes: tuple[str, ...]


def read_rubric_grid(
    grid: Grid, levels_in_first_row: bool | None = None, best_first: bool | None = None
) -> RubricGrid:
    """Read a grid as criteria. Whether the first row names the levels, and whether the best level
    stands first, is found out where it is not said: by the corner, and by the points.

    A row that is too short is filled with blanks, and told. Raises Refused, naming the row, for
    one with more cells than there are levels, and for too few or too many levels.
    """
    rows = list(grid.rows)
    headed = levels_in_first_row
    if headed is None:
        headed = rows[0][0].strip().casefold().rstrip(":") in _CORNERS or _is_heading(rows)
    heads = list(rows[0][1:]) if headed else []
    body = rows[1:] if headed else rows
    if not body:
        raise Refused("There is only a row of level names: copy the criteria too", "text")
    weight_at = next((n for n, h in enumerate(heads) if h.casefold().strip() in _WEIGHTS), None)
    if weight_at is not None:
        del heads[weight_at]
    width = len(heads) if headed else max(len(row) for row in body) - 1
    if not FEWEST_CRITERION_LEVELS <= width <= MOST_CRITERION_LEVELS:
        raise Refused(
            f"A criterion has {FEWEST_CRITERION_LEVELS} to {MOST_CRITERION_LEVELS} levels; this "
            f"grid has {width} columns beside the titles",
            "text",
        )
    named = _names(heads, width)
    points = [found for _, found in named]
    known = [found for found in points if found is not None]
    if best_first is None:
        best_first = len(known) == width and known == sorted(known, reverse=True)
    notes: list[str] = []
    if grid.merged:
        were = "1 merged cell was" if grid.merged == 1 else f"{grid.merged} merged cells were"
        notes.append(f"{were} taken apart: the text stands in the first place, the rest is blank")
    criteria = []
    for number, row in enumerate(body, start=len(rows) - len(body) + 1):
        title, weight, cells = _parts(row, weight_at)
        if len(cells) > width:
            raise Refused(
                f"Row {number} has {len(row)} cells, but there are {width} levels: put it right "
                "below, or say whether the first row names the levels",
                "text",
            )
        if len(cells) < width:
            notes.append(f"Row {number} is short: the rest of it is left blank")
        criteria.append(_criterion(title, weight, cells, named, best_first, width))
    return RubricGrid(grid.text, tuple(criteria), headed, best_first, tuple(notes))


def _is_heading(rows: Sequence[Sequence[str]]) -> bool:
    """Whether the first row names levels, by its cells: each with points, or all of them short
    beside the descriptors below.
    """
    heads = rows[0][1:]
    below = sorted(len(cell) for row in rows[1:] for cell in row[1:] if cell)
    if not heads or not below:
        return False
    if all(points is not None for _, points in _names(list(heads), len(heads))):
        return True
    longest = max(len(head) for head in heads)
    return longest <= _LONGEST_NAME and 2 * longest <= below[len(below) // 2]


def _parts(row: Sequence[str], weight_at: int | None) -> tuple[str, Weight | None, list[str]]:
    cells = list(row[1:])
    weight = None
    if weight_at is not None and weight_at < len(cells):
        weight = _number(cells.pop(weight_at).rstrip("% "))
    while cells and not cells[-1]:
        cells.pop()
    return " ".join(row[0].split("\n")), weight, cells


def _criterion(
    title: str,
    weight: Weight | None,
    cells: list[str],
    named: list[tuple[str, Hundredths | None]],
    best_first: bool,
    width: int,
) -> GridCriterion:
    filled = [*cells, *([""] * (width - len(cells)))]
    columns = list(zip(named, filled, strict=True))
    if best_first:
        columns.reverse()
    levels = tuple(
        CriterionLevel("", name, place * 100 if points is None else points, descriptor)
        for place, ((name, points), descriptor) in enumerate(columns, start=1)
    )
    return GridCriterion(title, weight, levels)


def _names(heads: list[str], width: int) -> list[tuple[str, Hundredths | None]]:
    """Give the levels' names and points; names that would be the same keep their numbers."""
    if not heads:
        return [(f"Level {n}", None) for n in range(1, width + 1)]
    named = [_named(head) for head in heads]
    if len({name.casefold() for name, _ in named}) < len(named):
        return [
            (" ".join(head.split()), points) for head, (_, points) in zip(heads, named, strict=True)
        ]
    return named


def _named(head: str) -> tuple[str, Hundredths | None]:
    """Part a heading into the level's name and its points, where it gives any."""
    text = " ".join(head.split())
    found = _POINTS.match(text)
    if not found:
        return text, None
    points = _number(found["points"] or found["first"])
    name = (found["before"] if found["points"] else found["after"]).strip()
    return name or f"{text}", points


def _number(text: str) -> Hundredths | None:
    try:
        value = parse_hundredths(text)
    except Refused:
        return None
    return value if value >= 0 else None
