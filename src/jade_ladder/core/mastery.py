"""Mastery: state, trail and judgement (“Mastery”)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum
from typing import NamedTuple

from jade_ladder.core.evidence import AttemptEvidence, EvidenceKey, Gathered
from jade_ladder.core.methods import Method, mastery_value, running_values
from jade_ladder.core.numbers import Hundredths
from jade_ladder.core.scale import Scale


class State(StrEnum):
    """What can be said of one student and outcome."""

    NO_EVIDENCE = "no-evidence"
    NEEDS_EVIDENCE = "needs-evidence"
    NOT_YET = "not-yet"
    MASTERED = "mastered"


class Direction(StrEnum):
    """Now, against the point of the trail before."""

    UP = "up"
    DOWN = "down"
    LEVEL = "level"


@dataclass(frozen=True, slots=True)
class Rules:
    """By what one outcome in one class is worked out."""

    method: Method
    scale: Scale
    minimum: int = 1


@dataclass(frozen=True, slots=True)
class Judgement:
    """A level set by the teacher, with a reason; `seen` is the counted evidence at that time, as
    keys and values, so that a later change of it raises a sign.
    """

    level: int
    reason: str
    since: datetime
    seen: frozenset[tuple[EvidenceKey, Hundredths]]


@dataclass(frozen=True, slots=True)
class Mastery:
    """The value, level (an index of the scale) and state; None where there is no evidence.

    Under a judgement these are its level's, `calculated` is the value worked out beside it, and
    `evidence_changed` says that the counted evidence is not what the teacher judged by.
    """

    state: State
    value: Hundredths | None
    level: int | None
    pieces: int
    judged: bool = False
    calculated: Hundredths | None = None
    evidence_changed: bool = False

    @property
    def counts(self) -> bool:
        """Whether roll-ups take it in."""
        return self.state in (State.MASTERED, State.NOT_YET)


def state_of(rules: Rules, value: Hundredths, sources: int) -> State:
    """Give the state of a value that rests on evidence from so many different tasks or notes."""
    if sources < rules.minimum:
        return State.NEEDS_EVIDENCE
    return State.MASTERED if value >= rules.scale.mastery_cut else State.NOT_YET


def mastery_of(pieces: Sequence[AttemptEvidence], rules: Rules) -> Mastery:
    """Work out mastery from evidence in order."""
    sources = len({piece.source for piece in pieces})
    return mastery_of_values([piece.value for piece in pieces], sources, rules)


def mastery_of_values(values: Sequence[Hundredths], sources: int, rules: Rules) -> Mastery:
    """Work out mastery from the values of evidence in order, which is from so many sources."""
    if not values:
        return Mastery(State.NO_EVIDENCE, None, None, 0)
    value = mastery_value(rules.method, rules.scale, values)
    state = state_of(rules, value, sources)
    return Mastery(state, value, rules.scale.level_of(value), len(values), calculated=value)


def judged(
    mastery: Mastery, judgement: Judgement, pieces: Sequence[AttemptEvidence], scale: Scale
) -> Mastery:
    """Put a judgement over the calculation: it needs no evidence and counts everywhere."""
    value = scale.levels[judgement.level].value
    mastered = judgement.level >= scale.mastery_level
    return Mastery(
        State.MASTERED if mastered else State.NOT_YET,
        value,
        judgement.level,
        mastery.pieces,
        judged=True,
        calculated=mastery.value,
        evidence_changed=judgement.seen != counted_evidence(pieces),
    )


def counted_evidence(
    pieces: Sequence[AttemptEvidence],
) -> frozenset[tuple[EvidenceKey, Hundredths]]:
    """Give what a judgement remembers of the evidence it was made by."""
    return frozenset((piece.key, piece.value) for piece in pieces)


class TrailPoint(NamedTuple):
    """Mastery as it stood at a time at which evidence was added."""

    at: datetime
    value: Hundredths
    state: State


@dataclass(frozen=True, slots=True)
class Trail:
    """The replay, and what it tells.

    `first_reached`: the first point with mastery. `held_since`: the start of the present unbroken
    run. `back`: there was an earlier run, so held since is *back since*. `slipped_at`: mastered
    earlier, not now; the point that did it.
    """

    points: tuple[TrailPoint, ...]
    first_reached: datetime | None
    held_since: datetime | None
    back: bool
    slipped_at: datetime | None
    direction: Direction


def trail_of(gathered: Gathered, rules: Rules) -> Trail:
    """Replay the evidence: one point per time at which some was added.

    The last point is mastery now. Where an attempt replaces an earlier one the replay looks at
    what counted at each time.
    """
    points = _plain_points(gathered, rules) if gathered.plain else _points(gathered, rules)
    return read_trail(points)


def _plain_points(gathered: Gathered, rules: Rules) -> list[TrailPoint]:
    attempts = gathered.attempts
    if not attempts:
        return []
    values = running_values(rules.method, rules.scale, [piece.value for piece in attempts])
    points: list[TrailPoint] = []
    for count, (piece, value) in enumerate(zip(attempts, values, strict=True), start=1):
        point = TrailPoint(piece.done_at, value, state_of(rules, value, count))
        if points and points[-1].at == piece.done_at:
            points[-1] = point
        else:
            points.append(point)
    return points


def _points(gathered: Gathered, rules: Rules) -> list[TrailPoint]:
    points: list[TrailPoint] = []
    for moment in sorted({attempt.done_at for attempt in gathered.attempts}):
        mastery = mastery_of(gathered.pieces_at(moment), rules)
        if mastery.value is not None:
            points.append(TrailPoint(moment, mastery.value, mastery.state))
    return points


def read_trail(points: Sequence[TrailPoint]) -> Trail:
    """Read first reached, held since, back, slipped and direction off the points."""
    first = held = slipped = None
    runs = 0
    mastered = False
    for point in points:
        now = point.state is State.MASTERED
        if now and not mastered:
            held, slipped = point.at, None
            first = first or point.at
            runs += 1
        elif mastered and not now:
            held, slipped = None, point.at
        mastered = now
    direction = Direction.LEVEL
    if len(points) > 1 and points[-1].value != points[-2].value:
        direction = Direction.UP if points[-1].value > points[-2].value else Direction.DOWN
    return Trail(tuple(points), first, held, mastered and runs > 1, slipped, direction)


class Glance(NamedTuple):
    """What a wall shows of one student and outcome: mastery, and of the trail only its direction
    and whether it slipped (was mastered earlier, is not now).
    """

    mastery: Mastery
    direction: Direction
    slipped: bool


NOTHING_SEEN = Glance(Mastery(State.NO_EVIDENCE, None, None, 0), Direction.LEVEL, False)
"""What is seen where there is no evidence."""


def glance_at(moments: Sequence[str], values: Sequence[Hundredths], rules: Rules) -> Glance:
    """Work out what a wall shows, of evidence in order that is each from a source of its own.

    `moments` are the times of `values`, as anything that is equal where they are. The same as
    `mastery_of` and `trail_of` give, in one pass and without a point for each piece.
    """
    count = len(values)
    if not count:
        return NOTHING_SEEN
    running = running_values(rules.method, rules.scale, values)
    value = running[-1]
    state = state_of(rules, value, count)
    mastery = Mastery(state, value, rules.scale.level_of(value), count, calculated=value)
    before = count - 2
    while before >= 0 and moments[before] == moments[-1]:
        before -= 1
    direction = Direction.LEVEL
    if before >= 0 and running[before] != value:
        direction = Direction.UP if value > running[before] else Direction.DOWN
    slipped = state is not State.MASTERED and any(
        moments[at] != moments[at + 1] and state_of(rules, running[at], at + 1) is State.MASTERED
        for at in range(rules.minimum - 1, before + 1)
    )
    return Glance(mastery, direction, slipped)


def glance_of(gathered: Gathered, rules: Rules) -> Glance:
    """Work out what a wall shows of any evidence."""
    trail = trail_of(gathered, rules)
    return Glance(
        mastery_of(gathered.pieces(), rules), trail.direction, trail.slipped_at is not None
    )
