"""From marks and attempts to evidence (“Marks, attempts, evidence”)."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum
from fractions import Fraction
from typing import NamedTuple

from jade_ladder.core.alignment import chosen_value
from jade_ladder.core.numbers import Hundredths, half_up, round_half_up
from jade_ladder.core.scale import Scale


class Combining(StrEnum):
    """How a class makes one piece of evidence of several criteria in one attempt."""

    MEAN = "mean"
    HIGHEST = "highest"
    LOWEST = "lowest"


class AttemptsRule(StrEnum):
    """Which attempts at a task count."""

    LATEST = "latest"
    HIGHEST = "highest"
    MEAN = "mean"
    EVERY = "every"


class SourceKind(StrEnum):
    """Where a piece of evidence comes from; `IMAGINED` is what is not there, and only thought of to
    say what it would do.
    """

    ATTEMPT = "attempt"
    NOTE = "note"
    IMAGINED = "imagined"


class EvidenceKey(NamedTuple):
    """What a piece of evidence is known by for ever: its kind of source, source and outcome."""

    kind: SourceKind
    source: int
    outcome: int


class Part(NamedTuple):
    """What one criterion says about one outcome: the exact value, its alignment's weight, and
    whether it was carried over from an earlier attempt.
    """

    value: Fraction
    weight: int = 1
    carried: bool = False


def part_of(
    cells: Sequence[Hundredths | None],
    level: int,
    half_way: bool,
    weight: int,
    carried: bool = False,
) -> Part | None:
    """Give what a choice on a criterion says about an outcome that its alignment gives these cells
    (lowest level first); None where it says nothing.
    """
    value = chosen_value(cells, level, half_way)
    return None if value is None else Part(value, weight, carried)


def combine(parts: Sequence[Part], combining: Combining = Combining.MEAN) -> Hundredths | None:
    """Make the evidence of one attempt for one outcome, rounded once.

    None when nothing was said, or when all that was said is carried over: then the earlier piece
    stands as it was.
    """
    if all(part.carried for part in parts):
        return None
    if combining is Combining.HIGHEST:
        return round_half_up(max(part.value for part in parts))
    if combining is Combining.LOWEST:
        return round_half_up(min(part.value for part in parts))
    if len(parts) == 1:
        return round_half_up(parts[0].value)
    weights = sum(part.weight for part in parts)
    return round_half_up(sum((p.value * p.weight for p in parts), Fraction(0)) / weights)


def combine_by_outcome(
    said: Iterable[tuple[int, Part]], combining: Combining
) -> dict[int, Hundredths]:
    """Make the evidence of one attempt of all that its choices say, each with the number of the
    outcome that it is said of; outcomes of which there is none are left out.
    """
    parts: dict[int, list[Part]] = {}
    for outcome, part in said:
        parts.setdefault(outcome, []).append(part)
    found = {outcome: combine(of, combining) for outcome, of in parts.items()}
    return {outcome: value for outcome, value in found.items() if value is not None}


def is_met(
    values: Iterable[tuple[Fraction | None, Scale]], level: int, levels: int, half_way: bool
) -> bool:
    """Whether a criterion was met, so that a further attempt carries it over.

    `values` are what it gives for each aligned outcome, with that outcome's scale: met when it
    gives any and every one is mastery. Without an alignment: the top level of `levels`, in full.
    """
    pairs = list(values)
    if not pairs:
        return level == levels - 1 and not half_way
    given = [(value, scale) for value, scale in pairs if value is not None]
    return bool(given) and all(scale.is_mastery(round_half_up(value)) for value, scale in given)


def note_value(level: int, levels: int, half_way: bool, values: Sequence[Hundredths]) -> Hundredths:
    """Give the evidence that an observation note is: its level (0 the lowest) of so many `levels`,
    on a scale with these values (“Observation note”).
    """
    if len(values) == levels:
        if half_way:
            return half_up(values[level] + values[level + 1], 2)
        return values[level]
    # As on a line from one end to the other, in half steps.
    return values[half_up((2 * level + half_way) * (len(values) - 1), 2 * (levels - 1))]


class AttemptEvidence(NamedTuple):
    """What one attempt (or note) says about one outcome for one student, and all that the filters
    ask. `origin` is the task that the attempt is at, or the note itself: pieces of one origin are
    not "different tasks or notes". A named tuple, since a wall makes ten thousand of them.
    """

    key: EvidenceKey
    origin: tuple[SourceKind, int]
    number: int
    value: Hundredths
    done_at: datetime
    finished_at: datetime
    excused: bool = False
    practice: bool = False
    set_aside: bool = False

    @property
    def order(self) -> tuple[datetime, datetime, bool, int]:
        """The order of evidence: when it was done, when first finished, notes after attempts, the
        record's number.
        """
        is_note = self.key.kind is SourceKind.NOTE
        return self.done_at, self.finished_at, is_note, self.key.source


@dataclass(frozen=True, slots=True)
class View:
    """Until when evidence is looked at.

    `until` is the end of the as-of day (not included); `shown_until` the end of the student's
    time in the class that shows it, if it has ended.
    """

    until: datetime
    shown_until: datetime | None = None


def counts(excused: bool, practice: bool, set_aside: bool) -> bool:
    """Say whether what a mark or a note says counts, whoever looks and on whatever day (“Filter
    first, then the rule”); of what is kept, the store says the same in SQL.
    """
    return not (excused or practice or set_aside)


def is_counted(evidence: AttemptEvidence, view: View) -> bool:
    """Apply the filters to one piece: they come before the attempts rule."""
    return (
        counts(evidence.excused, evidence.practice, evidence.set_aside)
        and evidence.done_at < view.until
        and (view.shown_until is None or evidence.done_at < view.shown_until)
    )


def apply_attempts_rule(
    attempts: Sequence[AttemptEvidence], rule: AttemptsRule
) -> list[AttemptEvidence]:
    """Choose or make the pieces of evidence of one task and outcome, of attempts that count."""
    if len(attempts) <= 1 or rule is AttemptsRule.EVERY:
        return list(attempts)
    by_number = sorted(attempts, key=lambda attempt: attempt.number)
    last = by_number[-1]
    if rule is AttemptsRule.LATEST:
        return [last]
    if rule is AttemptsRule.HIGHEST:
        return [max(by_number, key=lambda attempt: attempt.value)]
    mean = half_up(sum(attempt.value for attempt in attempts), len(attempts))
    return [last._replace(value=mean)]


@dataclass(frozen=True, slots=True)
class Gathered:
    """All that counts for one student and outcome, before the attempts rules; `rules` says which
    rule an origin has where it is not the default.
    """

    attempts: tuple[AttemptEvidence, ...]
    rules: dict[tuple[SourceKind, int], AttemptsRule]

    def pieces(self) -> list[AttemptEvidence]:
        """Give the evidence in order, after the attempts rules."""
        return pieces_of(self.attempts, self.rules)

    def pieces_at(self, moment: datetime) -> list[AttemptEvidence]:
        """Give the evidence as it stood at `moment`, included."""
        earlier = [attempt for attempt in self.attempts if attempt.done_at <= moment]
        return pieces_of(earlier, self.rules)

    @property
    def plain(self) -> bool:
        """Whether no origin has two attempts, so that evidence only ever grows."""
        return len({attempt.origin for attempt in self.attempts}) == len(self.attempts)


def gather(
    attempts: Iterable[AttemptEvidence],
    view: View,
    rules: dict[tuple[SourceKind, int], AttemptsRule],
) -> Gathered:
    """Filter first, in order; the attempts rules are applied to what is left."""
    counted = [attempt for attempt in attempts if is_counted(attempt, view)]
    counted.sort(key=lambda attempt: attempt.order)
    return Gathered(tuple(counted), rules)


def pieces_of(
    attempts: Sequence[AttemptEvidence],
    rules: dict[tuple[SourceKind, int], AttemptsRule],
) -> list[AttemptEvidence]:
    """Apply each origin's attempts rule and put the pieces in order."""
    if len({attempt.origin for attempt in attempts}) == len(attempts):
        return list(attempts)
    by_origin: dict[tuple[SourceKind, int], list[AttemptEvidence]] = {}
    for attempt in attempts:
        by_origin.setdefault(attempt.origin, []).append(attempt)
    pieces: list[AttemptEvidence] = []
    for origin, of_origin in by_origin.items():
        pieces += apply_attempts_rule(of_origin, rules.get(origin, AttemptsRule.LATEST))
    return sorted(pieces, key=lambda piece: piece.order)
