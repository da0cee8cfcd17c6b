"""Methods compared: what every setting would give, and which agrees best with judgements
(“Methods”, *Comparing*).
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import groupby
from typing import NamedTuple

from jade_ladder.core.mastery import Mastery, Rules, mastery_of_values
from jade_ladder.core.methods import (
    LAST_LEAST,
    LAST_MOST,
    NEWEST_LEAST,
    NEWEST_MOST,
    Method,
    MethodKind,
    mastery_value,
)
from jade_ladder.core.numbers import Hundredths
from jade_ladder.core.scale import Scale

SETTINGS: tuple[Method, ...] = (
    Method(MethodKind.LATEST),
    Method(MethodKind.HIGHEST),
    Method(MethodKind.MEAN),
    Method(MethodKind.MOST_FREQUENT),
    *(
        Method(MethodKind.DECAYING_AVERAGE, newest=newest)
        for newest in range(NEWEST_LEAST, NEWEST_MOST + 1)
    ),
    *(Method(MethodKind.RECENT_MEAN, last=last) for last in range(LAST_LEAST, LAST_MOST + 1)),
)
"""Every method with every setting, in the order in which they are compared."""

AGREEMENT_LEAST = 8
"""From so many judgements on it is said which setting agrees best with them."""


def under_settings(
    values: Sequence[Hundredths], sources: int, scale: Scale, minimum: int
) -> list[Mastery]:
    """Give mastery by evidence in order, which is from so many sources, under each of SETTINGS."""
    return [
        mastery_of_values(values, sources, Rules(method, scale, minimum)) for method in SETTINGS
    ]


def setting_of(method: Method) -> int:
    """Give the place of a method among SETTINGS; what it has no use for does not matter."""
    for at, one in enumerate(SETTINGS):
        if one.name == method.name:
            return at
    raise ValueError(f"{method.name} is no setting")


class JudgedEvidence(NamedTuple):
    """A level (an index of the scale) that a teacher judged, and the evidence that they judged by,
    in order and not empty.
    """

    values: Sequence[Hundredths]
    level: int
    scale: Scale


@dataclass(frozen=True, slots=True)
class Agreement:
    """How far settings agree with judgements: of so many `judgements` the `best` settings give
    `equal` levels, and the present one `present_equal`. `best` stands in the order of SETTINGS, the
    present one alone where it is among them (others that are as good: `as_good`).
    """

    judgements: int
    best: tuple[Method, ...]
    as_good: tuple[Method, ...]
    equal: int
    present_equal: int


def agreement(judged: Sequence[JudgedEvidence], present: Method) -> Agreement | None:
    """Say which setting agrees best with judgements: the most equal levels, then the least distance
    of values, then the present one. None where there are fewer than eight.
    """
    if len(judged) < AGREEMENT_LEAST:
        return None
    scores = [_score(method, judged) for method in SETTINGS]
    most = max(scores)
    best = tuple(method for method, score in zip(SETTINGS, scores, strict=True) if score == most)
    at = setting_of(present)
    now = SETTINGS[at]
    others = tuple(method for method in best if method != now)
    if now in best:
        return Agreement(len(judged), (now,), others, most[0], most[0])
    return Agreement(len(judged), best, (), most[0], scores[at][0])


def _score(method: Method, judged: Iterable[JudgedEvidence]) -> tuple[int, Hundredths]:
    """Give how many levels are equal, and (negative) how far the values are apart altogether."""
    equal = apart = 0
    for values, level, scale in judged:
        value = mastery_value(method, scale, values)
        equal += scale.level_of(value) == level
        apart += abs(value - scale.levels[level].value)
    return equal, -apart


def written_range(methods: Iterable[Method]) -> list[str]:
    """Write settings in the order of SETTINGS, those in a row as a range: "Decaying average 62% to
    70%", "Mean of the last 3 to 5".
    """
    places = list(enumerate(setting_of(method) for method in methods))
    written = []
    for _, run in groupby(places, lambda pair: (SETTINGS[pair[1]].kind, pair[1] - pair[0])):
        numbers = [place for _, place in run]
        first, last = SETTINGS[numbers[0]], SETTINGS[numbers[-1]]
        if first == last:
            written.append(first.name)
        elif first.kind is MethodKind.DECAYING_AVERAGE:
            written.append(f"{first.name} to {last.newest}%")
        else:
            written.append(f"{first.name} to {last.last}")
    return written
