"""What would reach mastery (“Mastery”, *next piece*)."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from fractions import Fraction
from typing import NamedTuple

from jade_ladder.core.alignment import chosen_value
from jade_ladder.core.evidence import (
    AttemptEvidence,
    Combining,
    EvidenceKey,
    Gathered,
    Part,
    SourceKind,
    combine,
)
from jade_ladder.core.mastery import Rules, State, mastery_of
from jade_ladder.core.methods import MethodKind
from jade_ladder.core.numbers import Hundredths, half_up, to_fraction
from jade_ladder.core.scale import Scale


@dataclass(frozen=True, slots=True)
class NextPiece:
    """What reaches mastery: the lowest level (an index) or half-step up from it that does, with its
    value (None: no level does), the smallest value in hundredths that does (None: none does), and
    whether there is something better than that level, and all of it does too.
    """

    level: int | None
    half_way: bool
    value: Hundredths | None
    smallest: Hundredths | None
    or_better: bool


Pieces = Callable[[Hundredths], Sequence[AttemptEvidence]]
"""The evidence in order that there would be with a piece of a value."""


def next_new_piece(gathered: Gathered, rules: Rules, half_steps: bool) -> NextPiece | None:
    """Say what a piece from a new task would have to be; None when no single piece can do it."""
    pieces = gathered.pieces()
    template = _newest_of(gathered)
    return _lowest_that(lambda value: [*pieces, template._replace(value=value)], rules, half_steps)


def next_attempt(gathered: Gathered, rules: Rules, task: int, half_steps: bool) -> NextPiece | None:
    """Say what another attempt at `task` would have to be, under the task's attempts rule."""
    template = _another_of(gathered, (SourceKind.ATTEMPT, task))

    def pieces_with(value: Hundredths) -> Sequence[AttemptEvidence]:
        attempts = (*gathered.attempts, template._replace(value=value))
        return Gathered(attempts, gathered.rules).pieces()

    return _lowest_that(pieces_with, rules, half_steps)


class NextChoice(NamedTuple):
    """What a criterion has to give: its lowest level (an index) or half-step up from it that
    reaches mastery (None: none of them does), and the smallest value in hundredths that does.
    """

    level: int | None
    half_way: bool
    smallest: Hundredths | None


class Asked(NamedTuple):
    """A criterion that is asked in a further attempt, as one outcome knows it: the values of its
    levels, its alignment's weight, whether it can be half-way, and what is carried over beside it.
    """

    cells: Sequence[Hundredths | None]
    weight: int
    half_way: bool
    carried: Sequence[Part]
    combining: Combining


def next_choice(
    gathered: Gathered, rules: Rules, own: AttemptEvidence, asked: Asked
) -> NextChoice | None:
    """Say what a criterion that is asked in a further attempt would have to give, with what is
    carried over; None where nothing that it could give reaches mastery. `gathered` is without that
    attempt, and `own` is its piece, at the time that it has (its value is not read).
    """

    def pieces_with(exact: Fraction) -> Sequence[AttemptEvidence]:
        value = combine([*asked.carried, Part(exact, asked.weight)], asked.combining) or 0
        attempts = sorted(
            (*gathered.attempts, own._replace(value=value)), key=lambda one: one.order
        )
        return Gathered(tuple(attempts), gathered.rules).pieces()

    smallest = _smallest(lambda value: pieces_with(to_fraction(value)), rules)
    for level in range(len(asked.cells)):
        for half in (False, True) if asked.half_way and level + 1 < len(asked.cells) else (False,):
            exact = chosen_value(asked.cells, level, half)
            if exact is not None and _mastered(pieces_with(exact), rules):
                return NextChoice(level, half, smallest)
    return None if smallest is None else NextChoice(None, False, smallest)


class Imagined(NamedTuple):
    """A piece that is imagined: its value, and the task that it would be another attempt at; None:
    a new task.
    """

    value: Hundredths
    task: int | None = None


def with_imagined(gathered: Gathered, imagined: Sequence[Imagined]) -> Gathered:
    """Give the evidence as it would be with imagined pieces after all there is, in their order."""
    attempts = list(gathered.attempts)
    for number, one in enumerate(imagined, start=1):
        there = Gathered(tuple(attempts), gathered.rules)
        new = (SourceKind.IMAGINED, number)
        origin = new if one.task is None else (SourceKind.ATTEMPT, one.task)
        template = _another_of(there, origin)
        attempts.append(template._replace(value=one.value))
    return Gathered(tuple(attempts), gathered.rules)


def _another_of(gathered: Gathered, origin: tuple[SourceKind, int]) -> AttemptEvidence:
    """Make a stand-in for another attempt at a task, or a first one at an imagined task."""
    numbers = [attempt.number for attempt in gathered.attempts if attempt.origin == origin]
    return _newest_of(gathered)._replace(origin=origin, number=max(numbers, default=0) + 1)


_A_MOMENT = timedelta(microseconds=1)


def _newest_of(gathered: Gathered) -> AttemptEvidence:
    """Make a stand-in that is done now, after all there is, and shares its origin with nothing."""
    attempts = gathered.attempts
    # A moment later than the last, which may be a note: that comes after an attempt of its time.
    done = max((attempt.done_at for attempt in attempts), default=datetime.min) + _A_MOMENT
    record = max((attempt.key.source for attempt in attempts), default=0) + 1
    key = EvidenceKey(SourceKind.ATTEMPT, record, 0)
    return AttemptEvidence(key, (SourceKind.IMAGINED, 0), 1, 0, done, done)


def _mastered(pieces: Sequence[AttemptEvidence], rules: Rules) -> bool:
    return mastery_of(pieces, rules).state is State.MASTERED


def _lowest_that(pieces_with: Pieces, rules: Rules, half_steps: bool) -> NextPiece | None:
    smallest = _smallest(pieces_with, rules)
    steps = _steps(rules.scale, half_steps)
    reached = [_mastered(pieces_with(value), rules) for _, _, value in steps]
    if True not in reached:
        return None if smallest is None else NextPiece(None, False, None, smallest, False)
    at = reached.index(True)
    level, half_way, value = steps[at]
    better = reached[at + 1 :]
    rising = rules.method.kind is not MethodKind.MOST_FREQUENT
    or_better = bool(better) and (rising or all(better))
    return NextPiece(level, half_way, value, smallest, or_better)


def _steps(scale: Scale, half_steps: bool) -> list[tuple[int, bool, Hundredths]]:
    steps: list[tuple[int, bool, Hundredths]] = []
    for index, level in enumerate(scale.levels):
        steps.append((index, False, level.value))
        if half_steps and index + 1 < len(scale.levels):
            steps.append((index, True, half_up(level.value + scale.levels[index + 1].value, 2)))
    return steps


def _smallest(pieces_with: Pieces, rules: Rules) -> Hundredths | None:
    """Find the smallest value of the scale with which mastery is reached."""

    def reaches(value: Hundredths) -> bool:
        return _mastered(pieces_with(value), rules)

    scale = rules.scale
    if rules.method.kind is not MethodKind.MOST_FREQUENT:
        return _smallest_by_halving(reaches, scale.lowest, scale.highest)

    def seen_as(value: Hundredths) -> list[tuple[EvidenceKey, int]]:
        return [(piece.key, scale.level_of(piece.value)) for piece in pieces_with(value)]

    return _smallest_by_spans(reaches, seen_as, scale.lowest, scale.highest)


def _smallest_by_halving(
    reaches: Callable[[Hundredths], bool], low: Hundredths, high: Hundredths
) -> Hundredths | None:
    """Find the smallest value that reaches, where a better piece never does worse."""
    if not reaches(high):
        return None
    while low < high:
        middle = (low + high) // 2
        if reaches(middle):
            high = middle
        else:
            low = middle + 1
    return low


def _smallest_by_spans(
    reaches: Callable[[Hundredths], bool],
    seen_as: Callable[[Hundredths], object],
    low: Hundredths,
    high: Hundredths,
) -> Hundredths | None:
    """Find it where only the levels and the order of the pieces matter (`seen_as`): as the value
    rises, a piece goes up level by level and at most once to another place, so that where both ends
    of a span are seen as the same, all between are.
    """
    if seen_as(low) == seen_as(high):
        return low if reaches(low) else None
    middle = (low + high) // 2
    found = _smallest_by_spans(reaches, seen_as, low, middle)
    return _smallest_by_spans(reaches, seen_as, middle + 1, high) if found is None else found
