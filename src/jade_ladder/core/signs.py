"""Words with a number behind them (the section of that name): thin, close, wide swings, drift."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from math import isqrt

from jade_ladder.core.mastery import Mastery, State
from jade_ladder.core.numbers import Hundredths
from jade_ladder.core.scale import Scale

THIN_AT_FIRST, THIN_LEAST, THIN_MOST = 2, 2, 20
"""Evidence from fewer different sources is thin; a setting of the school."""
SWING_PIECES, SWING_LEVELS = 4, 2
DRIFT_LEAST = 10
MISSING_LEAST, MISSING_OF_LAST = 3, 5
CLOSE_LEAST = 3
UNEVEN_LEAST = 3
LATELY, REACHED_LATELY = 14, 7
"""So many days, today included."""


def is_thin(sources: int, judged: bool, fewer_than: int) -> bool:
    """Whether there is some evidence, from fewer than so many different sources, and no judgement;
    `sources` says from how many it is.

    No evidence is not thin: it is counted apart.
    """
    return 0 < sources < fewer_than and not judged


def is_close(scale: Scale, mastery: Mastery) -> bool:
    """Whether mastery is not yet there, and not further below its cut score than half the step from
    the level below: from 2.25 where the cut is 2.75 and the step goes from 2 to 3.
    """
    if mastery.state is not State.NOT_YET or mastery.value is None or not scale.mastery_level:
        return False
    step = scale.levels[scale.mastery_level].value - scale.levels[scale.mastery_level - 1].value
    return 2 * mastery.value >= 2 * scale.mastery_cut - step


def swings_widely(values: Sequence[Hundredths], scale: Scale) -> bool:
    """Whether two of the last four pieces (values in order) are two levels apart or more."""
    last = values[-SWING_PIECES:]
    if len(last) < 2:
        return False
    return scale.level_of(max(last)) - scale.level_of(min(last)) >= SWING_LEVELS


def missing_again(missing: Sequence[bool]) -> bool:
    """Whether a student is missing again: of so many of their due tasks, in order, at least three
    of the last five are missing.
    """
    return sum(missing[-MISSING_OF_LAST:]) >= MISSING_LEAST


def many_close(close: int) -> bool:
    """Whether so many students of a class are close that they are worth a look together."""
    return close >= CLOSE_LEAST


def thin_for_many(thin: int, without: int, expected: int) -> bool:
    """Whether an outcome is thin for many: somebody has evidence, and of at least half of the
    students of whom it is expected it is thin, or there is none.
    """
    return without < expected and 2 * (thin + without) >= expected


def not_got(mastered: int, counted: int, expected: int) -> bool:
    """Whether a class as a whole has not got an outcome: at least half of the students of whom it
    is expected are counted, and fewer than half of these have mastered it (“Roll-ups”).
    """
    return counted > 0 and 2 * counted >= expected and 2 * mastered < counted


def swing_ends(values: Sequence[Hundredths], scale: Scale) -> tuple[int, int] | None:
    """Give the places of the low and the high end of a wide swing among values in order; of equal
    pieces the later one. None where they do not swing widely.
    """
    if not swings_widely(values, scale):
        return None
    first = max(0, len(values) - SWING_PIECES)
    places = range(first, len(values))
    low = min(places, key=lambda at: (values[at], -at))
    high = max(places, key=lambda at: (values[at], at))
    return low, high


def reads_unevenly(times: int, swings: int) -> bool:
    """Whether a criterion that stands so often at the same end of so many swings is named."""
    return swings >= UNEVEN_LEAST and times >= UNEVEN_LEAST and 2 * times >= swings


@dataclass(frozen=True, slots=True)
class Half:
    """One half of a set, in the order of marking: how many, their mean level and its variance."""

    count: int
    mean: Fraction
    variance: Fraction

    @property
    def deviation(self) -> Hundredths:
        """The standard deviation, the root of the variance, rounded half up."""
        return (isqrt(int(self.variance * 40_000)) + 1) // 2


@dataclass(frozen=True, slots=True)
class Drift:
    """The earlier and the later half of a set on one criterion; both are always shown, and
    `drifted` says that they differ by more than chance.
    """

    earlier: Half
    later: Half
    drifted: bool


def drift(levels: Sequence[Fraction]) -> Drift | None:
    """Compare the halves of a set: `levels` are the places chosen on one criterion (0 the lowest,
    half-way in halves), in the order of the last choice; the middle one of an odd number is left
    out. None where there are fewer than ten in each half.

    Drifted: the means differ, by two standard errors or more.
    """
    half = len(levels) // 2
    if half < DRIFT_LEAST:
        return None
    earlier, later = _half(levels[:half]), _half(levels[-half:])
    apart = (earlier.mean - later.mean) ** 2
    error = earlier.variance / half + later.variance / half
    return Drift(earlier, later, apart > 0 and apart >= 4 * error)


def _half(levels: Sequence[Fraction]) -> Half:
    mean = sum(levels, Fraction(0)) / len(levels)
    squares = sum(((level - mean) ** 2 for level in levels), Fraction(0))
    return Half(len(levels), mean, squares / (len(levels) - 1))
