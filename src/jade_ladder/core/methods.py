"""The methods that make one value of many pieces of evidence (“Methods”).

All work on whole hundredths and are exact; each rounds once, at the end.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction
from functools import lru_cache
from itertools import accumulate
from math import gcd
from operator import mul

from jade_ladder.core.errors import Refused
from jade_ladder.core.numbers import (
    Hundredths,
    cut_short,
    half_up,
    to_fraction,
    write_exact,
    write_hundredths,
    write_in_full,
    write_short,
)
from jade_ladder.core.scale import Scale


class MethodKind(StrEnum):
    """The ways of calculating mastery."""

    LATEST = "latest"
    HIGHEST = "highest"
    DECAYING_AVERAGE = "decaying-average"
    MEAN = "mean"
    RECENT_MEAN = "recent-mean"
    MOST_FREQUENT = "most-frequent"


AVERAGING = frozenset({MethodKind.DECAYING_AVERAGE, MethodKind.MEAN, MethodKind.RECENT_MEAN})
"""The methods under which a value can lie between levels although no piece does."""

NEWEST_AT_FIRST, NEWEST_LEAST, NEWEST_MOST = 60, 50, 95
LAST_AT_FIRST, LAST_LEAST, LAST_MOST = 3, 2, 20


@dataclass(frozen=True, slots=True)
class Method:
    """A method with its settings: `newest` is what the newest piece counts under a decaying
    average, in whole per cent; `last` is how many pieces a recent mean takes.
    """

    kind: MethodKind
    newest: int = NEWEST_AT_FIRST
    last: int = LAST_AT_FIRST

    def __post_init__(self) -> None:
        if not NEWEST_LEAST <= self.newest <= NEWEST_MOST:
            raise Refused(
                f"What the newest piece counts is {NEWEST_LEAST} to {NEWEST_MOST} per cent, "
                f"not {self.newest}",
                "newest",
            )
        if not LAST_LEAST <= self.last <= LAST_MOST:
            raise Refused(
                f"A recent mean takes the last {LAST_LEAST} to {LAST_MOST} pieces, not {self.last}",
                "last",
            )

    @property
    def averages(self) -> bool:
        """Whether the method can give values that no piece has."""
        return self.kind in AVERAGING

    @property
    def as_used(self) -> Method:
        """The method with the settings that it does not use as they are at first: two that are
        equal so are the same method.
        """
        decays = self.kind is MethodKind.DECAYING_AVERAGE
        recent = self.kind is MethodKind.RECENT_MEAN
        return Method(
            self.kind,
            self.newest if decays else NEWEST_AT_FIRST,
            self.last if recent else LAST_AT_FIRST,
        )

    @property
    def name(self) -> str:
        """The method in words, with its setting: "Decaying average 60%"."""
        return {
            MethodKind.LATEST: "Latest",
            MethodKind.HIGHEST: "Highest",
            MethodKind.DECAYING_AVERAGE: f"Decaying average {self.newest}%",
            MethodKind.MEAN: "Mean of all",
            MethodKind.RECENT_MEAN: f"Mean of the last {self.last}",
            MethodKind.MOST_FREQUENT: "Most frequent",
        }[self.kind]


def mastery_value(method: Method, scale: Scale, values: Sequence[Hundredths]) -> Hundredths:
    """Work out the mastery value of `values`, evidence in order and not empty.

    Returns hundredths, rounded half up once. Only "most frequent" looks at `scale`.
    Raises ValueError when there is no evidence: no evidence has no value.
    """
    if not values:
        raise ValueError("no evidence has no mastery value")
    match method.kind:
        case MethodKind.LATEST:
            return values[-1]
        case MethodKind.HIGHEST:
            return max(values)
        case MethodKind.DECAYING_AVERAGE:
            return decaying_average(values, method.newest)
        case MethodKind.MEAN:
            return half_up(sum(values), len(values))
        case MethodKind.RECENT_MEAN:
            recent = values[-method.last :]
            return half_up(sum(recent), len(recent))
        case MethodKind.MOST_FREQUENT:
            return most_frequent(values, scale)


def decaying_average(values: Sequence[Hundredths], newest: int) -> Hundredths:
    """Work out v1 = a1, vk = w·ak + (1 − w)·v(k−1) with w = `newest` per cent; rounded once.

    Written out, every piece has a weight of its own over one denominator: whole numbers only.
    """
    weights, denominator = _decaying_weights(newest, len(values))
    return half_up(sum(map(mul, values, weights)), denominator)


@lru_cache(maxsize=1024)
def _decaying_weights(newest: int, count: int) -> tuple[tuple[int, ...], int]:
    """Give what each of so many pieces counts, oldest first, and of how many: for 60% and three
    pieces 4, 6 and 15 of 25.
    """
    weight, older, base = _smallest_terms(newest)
    weights = [older ** (count - 1)]
    weights += [weight * base ** (k - 1) * older ** (count - 1 - k) for k in range(1, count)]
    return tuple(weights), base ** (count - 1)


def _smallest_terms(newest: int) -> tuple[int, int, int]:
    """Give what the newest counts, what the older ones count, and of how many: 3, 2 of 5 for 60%,
    so that the whole numbers stay as small as can be.
    """
    common = gcd(newest, 100)
    return newest // common, (100 - newest) // common, 100 // common


def most_frequent(values: Sequence[Hundredths], scale: Scale) -> Hundredths:
    """Give the value of the level that occurs most; of a tie, of the one that occurred last."""
    counts = [0] * len(scale.levels)
    latest = [-1] * len(scale.levels)
    for position, value in enumerate(values):
        level = scale.level_of(value)
        counts[level] += 1
        latest[level] = position
    winner = max(range(len(counts)), key=lambda level: (counts[level], latest[level]))
    return scale.levels[winner].value


def running_values(
    method: Method, scale: Scale, values: Sequence[Hundredths]
) -> Sequence[Hundredths]:
    """Give the mastery value after every piece, in one pass where the method allows it; the last
    is the value itself.
    """
    match method.kind:
        case MethodKind.LATEST:
            return values
        case MethodKind.HIGHEST:
            return list(accumulate(values, max))
        case MethodKind.DECAYING_AVERAGE:
            return _running_decaying_average(values, method.newest)
        case MethodKind.MEAN:
            return [half_up(total, k) for k, total in enumerate(accumulate(values), start=1)]
        case _:
            return [mastery_value(method, scale, values[:k]) for k in range(1, len(values) + 1)]


def _running_decaying_average(values: Sequence[Hundredths], newest: int) -> list[Hundredths]:
    weight, older, base = _smallest_terms(newest)
    results = [values[0]]
    # Twice the value, over a denominator of its own: half up, written out, since a wall does this
    # for each piece.
    twice = 2 * values[0]
    weight *= 2
    denominator = 1
    for value in values[1:]:
        twice = weight * value * denominator + older * twice
        denominator *= base
        results.append((twice + denominator) // (denominator + denominator))
    return results


def exact_decaying_average(values: Sequence[Hundredths], newest: int) -> Fraction:
    """Give the unrounded decaying average, in units, as a person would write it."""
    weight = Fraction(newest, 100)
    result = to_fraction(values[0])
    for value in values[1:]:
        result = weight * to_fraction(value) + (1 - weight) * result
    return result


def written_sum(method: Method, scale: Scale, values: Sequence[Hundredths]) -> str:
    """Write the sum behind a mastery value with its unrounded steps, to be done again by hand:
    "0.6 × 3 + 0.4 × 2.632 = 2.8528, so 2.85". True as it stands: whoever works out what is written
    comes to the same hundredths.
    """
    result = write_hundredths(mastery_value(method, scale, values))
    count = len(values)
    if count == 1 and method.kind is not MethodKind.MOST_FREQUENT:
        return f"one piece of evidence: {result}"
    match method.kind:
        case MethodKind.LATEST:
            return f"the newest of {count} pieces: {result}"
        case MethodKind.HIGHEST:
            return f"the highest of {count} pieces: {result}"
        case MethodKind.DECAYING_AVERAGE:
            return _written_decay(values, method.newest, result)
        case MethodKind.MEAN:
            return _written_mean(values, result)
        case MethodKind.RECENT_MEAN:
            return _written_mean(values[-method.last :], result)
        case MethodKind.MOST_FREQUENT:
            levels = [scale.level_of(value) for value in values]
            winner = scale.level_of(most_frequent(values, scale))
            times = levels.count(winner)
            tied = sum(levels.count(level) == times for level in set(levels)) > 1
            tie = ", the latest of those tied" if tied else ""
            return f"{scale.levels[winner].name}, {times} of {count} pieces{tie}: {result}"


DECIMALS_SHOWN = 6


def _written_decay(values: Sequence[Hundredths], newest: int, result: str) -> str:
    """Write the last step. Where the value before it has more than six decimals, as many of them
    stand there as it takes to come to the same six decimals, and so to the same hundredths.
    """
    before = exact_decaying_average(values[:-1], newest)
    weight = Fraction(newest, 100)
    last = to_fraction(values[-1])
    exact = weight * last + (1 - weight) * before
    decimals = DECIMALS_SHOWN
    while cut_short(
        weight * last + (1 - weight) * cut_short(before, decimals), DECIMALS_SHOWN
    ) != cut_short(exact, DECIMALS_SHOWN):
        decimals += 1
    return (
        f"{write_exact(weight)} × {write_short(values[-1])} + {write_exact(1 - weight)} × "
        f"{write_exact(before, decimals)} = {write_exact(exact)}, so {result}"
    )


def written_steps(method: Method, values: Sequence[Hundredths]) -> list[str]:
    """Write the whole chain behind a decaying average, a line for each piece but the first, with
    every decimal; empty for methods that have no chain, and for fewer than three pieces.
    """
    if method.kind is not MethodKind.DECAYING_AVERAGE or len(values) < 3:
        return []
    weight = Fraction(method.newest, 100)
    shares = write_exact(weight), write_exact(1 - weight)
    before = to_fraction(values[0])
    lines = []
    for value in values[1:]:
        after = weight * to_fraction(value) + (1 - weight) * before
        lines.append(
            f"{shares[0]} × {write_short(value)} + {shares[1]} × {write_in_full(before)} = "
            f"{write_in_full(after)}"
        )
        before = after
    return lines


def _written_mean(values: Sequence[Hundredths], result: str) -> str:
    terms = " + ".join(write_short(value) for value in values)
    exact = Fraction(sum(values), 100 * len(values))
    return f"({terms}) ÷ {len(values)} = {write_exact(exact)}, so {result}"


def pieces_to_mastery(method: Method, scale: Scale) -> int | None:
    """Say how many pieces at the mastery level it takes to come back after one piece at the level
    below: the line shown when an averaging method meets cuts at the values.

    None when it never comes back (a mean with cuts at the value only nears it).
    """
    if scale.mastery_level == 0:
        return None
    values = [scale.levels[scale.mastery_level - 1].value]
    for count in range(1, 201):
        values.append(scale.levels[scale.mastery_level].value)
        if scale.is_mastery(mastery_value(method, scale, values)):
            return count
    return None
