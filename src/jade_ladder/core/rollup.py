"""Roll-ups from rounded values (“Roll-ups”).

Judgements count; what is not expected has been left out by the caller; what needs evidence is
left out and counted apart.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from enum import StrEnum

from jade_ladder.core.mastery import Mastery, State
from jade_ladder.core.numbers import Hundredths, half_up
from jade_ladder.core.scale import Scale


class StrandRollup(StrEnum):
    """How a class makes one value of the outcomes of a strand."""

    MEAN = "mean"
    LOWEST = "lowest"


@dataclass(frozen=True, slots=True)
class StudentRollUp:
    """A student in a class, or in a strand: mastered `mastered` of `of` outcomes, of which some
    have no evidence or need more.
    """

    mastered: int
    of: int
    without: int
    needing: int


def roll_up_student(masteries: Iterable[Mastery]) -> StudentRollUp:
    """Count one student's outcomes; `of` is all that are expected."""
    states = [mastery.state for mastery in masteries]
    return StudentRollUp(
        states.count(State.MASTERED),
        len(states),
        states.count(State.NO_EVIDENCE),
        states.count(State.NEEDS_EVIDENCE),
    )


def strand_value(
    masteries: Sequence[Mastery], scales: Sequence[Scale], rollup: StrandRollup
) -> Hundredths | None:
    """Give the mean or lowest of a student's outcomes in a strand at any depth, rounded once.

    None where the outcomes do not share one scale, or nothing counts. A mean is never
    shown as mastered.
    """
    if any(scale != scales[0] for scale in scales):
        return None
    values = [m.value for m in masteries if m.counts and m.value is not None]
    if not values:
        return None
    if rollup is StrandRollup.LOWEST:
        return min(values)
    return half_up(sum(values), len(values))


@dataclass(frozen=True, slots=True)
class ClassPicture:
    """An outcome in a class: students at each level (lowest first), how many mastered, need
    evidence and are without; the median (of an even number, the lower middle) and the mean.
    """

    at_level: tuple[int, ...]
    mastered: int
    needing: int
    without: int
    median: Hundredths | None
    mean: Hundredths | None

    @property
    def counted(self) -> int:
        """How many students the class ladder stands for."""
        return sum(self.at_level)


def class_picture(scale: Scale, masteries: Iterable[Mastery]) -> ClassPicture:
    """Count where the students of a class stand on one outcome."""
    at_level = [0] * len(scale.levels)
    values: list[Hundredths] = []
    mastered = needing = without = 0
    for mastery in masteries:
        if mastery.state is State.NO_EVIDENCE:
            without += 1
        elif mastery.state is State.NEEDS_EVIDENCE:
            needing += 1
        elif mastery.value is not None and mastery.level is not None:
            at_level[mastery.level] += 1
            values.append(mastery.value)
            mastered += mastery.state is State.MASTERED
    values.sort()
    median = values[(len(values) - 1) // 2] if values else None
    mean = half_up(sum(values), len(values)) if values else None
    return ClassPicture(tuple(at_level), mastered, needing, without, median, mean)
