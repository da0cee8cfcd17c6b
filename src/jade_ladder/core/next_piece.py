"""What would reach mastery (“Mastery”, *next piece*)."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime
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
from jade_ladder.core.numbers import Hundredths, half_up, round_half_up, to_fraction
from jade_ladder.core.scale import Scale


@dataclass(frozen=True, slots=True)
class NextPiece:
    """The lowest level (an index) or half-step up from it that reaches mastery, its value, the
    smallest value that does, and whether everything better does too.
    """

    level: int
    half_way: bool
    value: Hundredths
    smallest: Hundredths
    or_better: bool


def next_new_piece(gathered: Gathered, rules: Rules, half_steps: bool) -> NextPiece | None:
    """Say what a piece from a new task would have to be; None when no single piece can do it."""
    pieces = gathered.pieces()
    template = _new_piece(gathered)

    def reaches(value: Hundredths) -> bool:
        return _mastered([*pieces, template._replace(value=value)], rules)

    return _lowest_that(reaches, rules, half_steps)


def next_attempt(gathered: Gathered, rules: Rules, task: int, half_steps: bool) -> NextPiece | None:
    """Say what another attempt at `task` would have to be, under the task's attempts rule."""
    source = (SourceKind.ATTEMPT, task)
    numbers = [attempt.number for attempt in gathered.attempts if attempt.source == source]
    template = _new_piece(gathered)._replace(source=source, number=max(numbers, default=0) + 1)

    def reaches(value: Hundredths) -> bool:
        attempts = (*gathered.attempts, template._replace(value=value))
        return _mastered(Gathered(attempts, gathered.rules).pieces(), rules)

    return _lowest_that(reaches, rules, half_steps)


class NextChoice(NamedTuple):
    """What a criterion has to give: its lowest level (an index) or half-step up from it that
    reaches mastery, and the smallest value that would.
    """

    level: int
    half_way: bool
    smallest: Hundredths


class Asked(NamedTuple):
    """A criterion that is asked in a further attempt, as one outcome knows it: the values of its
    levels, its alignment's weight, whether it can be half-way, and what is carried over beside it.
    """

    cells: Sequence[Hundredths | None]
    weight: int
    half_way: bool
    carried: Sequence[Part]
    combining: Combining


def next_choice(gathered: Gathered, rules: Rules, task: int, asked: Asked) -> NextChoice | None:
    """Say what a criterion that is asked in another attempt at `task` would have to give, with what
    is carried over; None where no level of it reaches mastery. `gathered` is without that attempt.
    """
    source = (SourceKind.ATTEMPT, task)
    numbers = [attempt.number for attempt in gathered.attempts if attempt.source == source]
    template = _new_piece(gathered)._replace(source=source, number=max(numbers, default=0) + 1)

    def reaches(exact: Fraction) -> bool:
        value = combine([*asked.carried, Part(exact, asked.weight)], asked.combining) or 0
        attempts = (*gathered.attempts, template._replace(value=value))
        return _mastered(Gathered(attempts, gathered.rules).pieces(), rules)

    for level in range(len(asked.cells)):
        for half in (False, True) if asked.half_way and level + 1 < len(asked.cells) else (False,):
            exact = chosen_value(asked.cells, level, half)
            if exact is None or not reaches(exact):
                continue
            by_level = rules.method.kind is MethodKind.MOST_FREQUENT
            search = _smallest_by_level if by_level else _smallest_by_halving
            smallest = search(lambda value: reaches(to_fraction(value)), rules.scale)
            return NextChoice(level, half, round_half_up(exact) if smallest is None else smallest)
    return None


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
        template = _new_piece(Gathered(tuple(attempts), gathered.rules))
        source = SourceKind.ATTEMPT, -number if one.task is None else one.task
        tries = [attempt.number for attempt in attempts if attempt.source == source]
        attempts.append(
            template._replace(source=source, number=max(tries, default=0) + 1, value=one.value)
        )
    return Gathered(tuple(attempts), gathered.rules)


def _new_piece(gathered: Gathered) -> AttemptEvidence:
    """Make a stand-in that comes after all there is and shares a source with nothing."""
    last = max((attempt.done_at for attempt in gathered.attempts), default=datetime.min)
    finished = max((attempt.finished_at for attempt in gathered.attempts), default=last)
    record = max((attempt.key.source for attempt in gathered.attempts), default=0) + 1
    key = EvidenceKey(SourceKind.ATTEMPT, record, 0)
    return AttemptEvidence(key, (SourceKind.ATTEMPT, -1), 1, 0, last, finished)


def _mastered(pieces: Sequence[AttemptEvidence], rules: Rules) -> bool:
    return mastery_of(pieces, rules).state is State.MASTERED


def _lowest_that(
    reaches: Callable[[Hundredths], bool], rules: Rules, half_steps: bool
) -> NextPiece | None:
    scale = rules.scale
    rising = rules.method.kind is not MethodKind.MOST_FREQUENT
    smallest = (
        _smallest_by_halving(reaches, scale) if rising else _smallest_by_level(reaches, scale)
    )
    if smallest is None:
        return None
    steps = _steps(scale, half_steps)
    reached = [reaches(value) for _, _, value in steps]
    if True not in reached:
        return None
    at = reached.index(True)
    level, half_way, value = steps[at]
    return NextPiece(level, half_way, value, smallest, or_better=rising or all(reached[at:]))


def _steps(scale: Scale, half_steps: bool) -> list[tuple[int, bool, Hundredths]]:
    steps: list[tuple[int, bool, Hundredths]] = []
    for index, level in enumerate(scale.levels):
        steps.append((index, False, level.value))
        if half_steps and index + 1 < len(scale.levels):
            steps.append((index, True, half_up(level.value + scale.levels[index + 1].value, 2)))
    return steps


def _smallest_by_halving(reaches: Callable[[Hundredths], bool], scale: Scale) -> Hundredths | None:
    """Find the smallest value that reaches, where a better piece never does worse."""
    low, high = scale.lowest, scale.highest
    if not reaches(high):
        return None
    while low < high:
        middle = (low + high) // 2
        if reaches(middle):
            high = middle
        else:
            low = middle + 1
    return low


def _smallest_by_level(reaches: Callable[[Hundredths], bool], scale: Scale) -> Hundredths | None:
    """Find it where only the level of a piece matters: the lowest value of each level will do."""
    lowest_of_levels = (max(scale.lowest, level.cut) for level in scale.levels)
    return next((value for value in lowest_of_levels if reaches(value)), None)
