"""Proficiency scales: levels, cut scores, and the level of a value (“Scale and level”)."""

from __future__ import annotations

import itertools
from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property

from jade_ladder.core.errors import Refused
from jade_ladder.core.numbers import LARGEST, Hundredths, half_up, write_hundredths

FEWEST_LEVELS, MOST_LEVELS = 2, 10


@dataclass(frozen=True, slots=True)
class ScaleLevel:
    """A step of a scale: `value` is what work at this level is worth, `cut` the lowest mastery
    value that still counts as it; `description` says what it means, for people.
    """

    name: str
    code: str
    value: Hundredths
    cut: Hundredths
    description: str = ""


class CutPreset(StrEnum):
    """The two ready ways to set cut scores."""

    AT_THE_VALUE = "at-the-value"
    THREE_QUARTERS = "three-quarters"


@dataclass(frozen=True)
class Scale:
    """Levels from the lowest to the highest; `mastery_level` is the index of the mastery level.

    Refuses what is not a scale: too few or many levels, values or cut scores that do not rise,
    a cut score outside its step, names or codes that stand twice.
    """

    levels: tuple[ScaleLevel, ...]
    mastery_level: int

    def __post_init__(self) -> None:
        if not FEWEST_LEVELS <= len(self.levels) <= MOST_LEVELS:
            raise Refused(
                f"A scale has {FEWEST_LEVELS} to {MOST_LEVELS} levels, not {len(self.levels)}",
                "levels",
            )
        if not 0 <= self.mastery_level < len(self.levels):
            raise Refused("Choose which level is mastery", "mastery_level")
        for index, level in enumerate(self.levels):
            _check_level(level, self.levels[index - 1] if index else None, f"levels.{index}")
        _check_no_twins([level.name for level in self.levels], "name")
        _check_no_twins([level.code for level in self.levels], "code")

    @cached_property
    def cuts(self) -> tuple[Hundredths, ...]:
        """The cut scores, rising."""
        return tuple(level.cut for level in self.levels)

    @cached_property
    def mastery_cut(self) -> Hundredths:
        """The lowest mastery value that is mastery."""
        return self.levels[self.mastery_level].cut

    @property
    def lowest(self) -> Hundredths:
        """The value of the lowest level."""
        return self.levels[0].value

    @property
    def highest(self) -> Hundredths:
        """The value of the highest level."""
        return self.levels[-1].value

    @property
    def cuts_at_values(self) -> bool:
        """Whether mastery needs the full value of its level, which hurts under averages."""
        return self.mastery_cut == self.levels[self.mastery_level].value

    def level_of(self, value: Hundredths) -> int:
        """Give the index of the highest level whose cut score is at or below `value`; below all
        of them, the lowest level's.
        """
        return max(0, bisect_right(self.cuts, value) - 1)

    def is_mastery(self, value: Hundredths) -> bool:
        """Whether `value` is at or above the mastery level's cut score."""
        return value >= self.mastery_cut


def _check_level(level: ScaleLevel, below: ScaleLevel | None, where: str) -> None:
    if not level.name.strip():
        raise Refused("Every level needs a name", f"{where}.name")
    if not level.code.strip():
        raise Refused("Every level needs a short code", f"{where}.code")
    if not 0 <= level.value <= LARGEST:
        raise Refused("A level's value lies between 0 and 10,000", f"{where}.value")
    if below is not None and level.value <= below.value:
        raise Refused(
            f"Values must rise: {level.name} has {write_hundredths(level.value)}, not more than "
            f"{below.name}'s {write_hundredths(below.value)}",
            f"{where}.value",
        )
    if level.cut > level.value:
        raise Refused(
            f"The cut score of {level.name}, {write_hundredths(level.cut)}, is above its value, "
            f"{write_hundredths(level.value)}",
            f"{where}.cut",
        )
    if level.cut < 0:
        raise Refused("A cut score is not below 0", f"{where}.cut")
    if below is not None and level.cut <= below.value:
        raise Refused(
            f"The cut score of {level.name}, {write_hundredths(level.cut)}, must be above the "
            f"value of {below.name}, {write_hundredths(below.value)}",
            f"{where}.cut",
        )


def _check_no_twins(texts: Sequence[str], field: str) -> None:
    seen: set[str] = set()
    for index, text in enumerate(texts):
        if text.casefold() in seen:
            raise Refused(f"“{text}” is the name of two levels", f"levels.{index}.{field}")
        seen.add(text.casefold())


def preset_cuts(values: Sequence[Hundredths], preset: CutPreset) -> tuple[Hundredths, ...]:
    """Work out the cut scores for rising `values` by a preset; the lowest stays at its value.

    Three quarters of the way up from the level below is rounded half up to hundredths, and is
    at least one hundredth above the level below.
    """
    if preset is CutPreset.AT_THE_VALUE:
        return tuple(values)
    steps = itertools.pairwise(values)
    return (values[0], *(max(half_up(low + 3 * high, 4), low + 1) for low, high in steps))
