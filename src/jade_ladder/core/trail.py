"""The trail: mastery replayed over time, and what that tells (“Mastery”, *trail*)."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum
from typing import Generic, NamedTuple, TypeVar

from jade_ladder.core.evidence import AttemptEvidence, Gathered
from jade_ladder.core.mastery import (
    Judgement,
    Mastery,
    Rules,
    State,
    counted_evidence,
    judged,
    mastery_of,
    mastery_of_values,
    state_of,
)
from jade_ladder.core.methods import running_values
from jade_ladder.core.numbers import Hundredths


class Direction(StrEnum):
    """Now, against the point of the trail before."""

    UP = "up"
    DOWN = "down"
    LEVEL = "level"


class PointBy(StrEnum):
    """What made a point of the trail."""

    EVIDENCE = "evidence"
    METHOD = "method"
    JUDGED = "judged"
    LIFTED = "lifted"


@dataclass(frozen=True, slots=True)
class Course:
    """By what one student's mastery of an outcome is read over time: the rules that hold now, those
    before them (each until a time, in order), and the judgements in order, of which the last holds
    now if it was not lifted.
    """

    rules: Rules
    before: tuple[tuple[datetime, Rules], ...] = ()
    judgements: tuple[Judgement, ...] = ()

    @property
    def plain(self) -> bool:
        """Whether the same rules always held, and nothing was judged."""
        return not self.before and not self.judgements

    @property
    def judgement(self) -> Judgement | None:
        """The judgement that holds now."""
        last = self.judgements[-1] if self.judgements else None
        return last if last and last.until is None else None

    def rules_at(self, moment: datetime) -> Rules:
        """Give the rules that held at a time."""
        return next((rules for until, rules in self.before if moment < until), self.rules)

    def mastery_at(self, moment: datetime, pieces: Sequence[AttemptEvidence]) -> Mastery:
        """Work out mastery at a time, by the evidence in order that counted then."""
        return self.judged_at(moment, mastery_of(pieces, self.rules_at(moment)))

    def judged_at(self, moment: datetime, calculated: Mastery) -> Mastery:
        """Put the judgement that held at a time over what was calculated."""
        for judgement in self.judgements:
            if judgement.holds_at(moment):
                return judged(calculated, judgement, self.rules.scale)
        return calculated

    def mastery_now(self, pieces: Sequence[AttemptEvidence]) -> Mastery:
        """Work out mastery by the rules that hold now, with the sign of a judgement."""
        mastery = mastery_of(pieces, self.rules)
        judgement = self.judgement
        if judgement is None:
            return mastery
        return judged(mastery, judgement, self.rules.scale, counted_evidence(pieces))


Moment = TypeVar("Moment", datetime, str)


class TrailPoint(NamedTuple, Generic[Moment]):
    """Mastery as it stood at a time at which evidence was added, a judgement began or was lifted,
    or another method began to hold; `calculated` is the value without a judgement.
    """

    at: Moment
    value: Hundredths | None
    state: State
    by: PointBy
    calculated: Hundredths | None


@dataclass(frozen=True, slots=True)
class Trail(Generic[Moment]):
    """The replay, and what it tells.

    `first_reached`: the first point with mastery. `held_since`: the start of the present unbroken
    run. `back`: there was an earlier run, so held since is *back since*. `slipped_at`: mastered
    earlier, not now; the point that did it, and `slipped_by` what that was.
    """

    points: tuple[TrailPoint[Moment], ...]
    first_reached: Moment | None
    held_since: Moment | None
    back: bool
    slipped_at: Moment | None
    slipped_by: PointBy | None
    direction: Direction


def trail_of(gathered: Gathered, course: Course) -> Trail[datetime]:
    """Replay the evidence. The last point is mastery now. Where an attempt replaces an earlier one
    the replay looks at what counted at each time.
    """
    if not gathered.plain or course.judgements:
        return read_trail(_points(gathered, course))
    moments = [piece.done_at for piece in gathered.attempts]
    values = [piece.value for piece in gathered.attempts]
    return read_trail(_plain_points(moments, values, course.rules, course.before))


def _plain_points(
    moments: Sequence[Moment],
    values: Sequence[Hundredths],
    rules: Rules,
    before: Sequence[tuple[Moment, Rules]],
) -> list[TrailPoint[Moment]]:
    """Replay evidence in order that is each from a source of its own: one pass for each method."""
    points: list[TrailPoint[Moment]] = []
    start = 0
    spans: list[tuple[Moment | None, Rules]] = list(before)
    for at, (until, held) in enumerate([*spans, (None, rules)]):
        end = len(values) if until is None else bisect_left(moments, until)
        running = running_values(held.method, held.scale, values[:end]) if end else ()
        if at and start and (start == len(values) or moments[start] != before[at - 1][0]):
            value = running[start - 1]
            state = state_of(held, value, start)
            points.append(TrailPoint(before[at - 1][0], value, state, PointBy.METHOD, value))
        for count in range(start + 1, end + 1):
            if count == len(values) or moments[count] != moments[count - 1]:
                value = running[count - 1]
                state = state_of(held, value, count)
                done = moments[count - 1]
                points.append(TrailPoint(done, value, state, PointBy.EVIDENCE, value))
        start = end
    return points


def _points(gathered: Gathered, course: Course) -> list[TrailPoint[datetime]]:
    done = {attempt.done_at for attempt in gathered.attempts}
    moments: dict[datetime, PointBy] = {}
    if done:
        began = min(done)
        moments |= {at: PointBy.METHOD for at, _ in course.before if at > began}
    moments |= dict.fromkeys(done, PointBy.EVIDENCE)
    for one in course.judgements:
        if one.until is not None:
            moments[one.until] = PointBy.LIFTED
    moments |= {one.since: PointBy.JUDGED for one in course.judgements if one.since != one.until}
    points: list[TrailPoint[datetime]] = []
    for moment in sorted(moments):
        mastery = course.mastery_at(moment, gathered.pieces_at(moment))
        points.append(
            TrailPoint(moment, mastery.value, mastery.state, moments[moment], mastery.calculated)
        )
    return points


def read_trail(points: Sequence[TrailPoint[Moment]]) -> Trail[Moment]:
    """Read first reached, held since, back, slipped and direction off the points."""
    first: Moment | None = None
    held: Moment | None = None
    slipped: Moment | None = None
    by: PointBy | None = None
    runs = 0
    mastered = False
    for point in points:
        now = point.state is State.MASTERED
        if now and not mastered:
            held, slipped, by = point.at, None, None
            first = first or point.at
            runs += 1
        elif mastered and not now:
            held, slipped, by = None, point.at, point.by
        mastered = now
    back = mastered and runs > 1
    return Trail(tuple(points), first, held, back, slipped, by, _direction(points))


def _direction(points: Sequence[TrailPoint[Moment]]) -> Direction:
    now, before = (points[-1].value, points[-2].value) if len(points) > 1 else (None, None)
    if now is None or before is None or now == before:
        return Direction.LEVEL
    return Direction.UP if now > before else Direction.DOWN


class Glance(NamedTuple):
    """What a wall shows of one student and outcome: mastery, and of the trail only its direction
    and whether it slipped (was mastered earlier, is not now).
    """

    mastery: Mastery
    direction: Direction
    slipped: bool


NOTHING_SEEN = Glance(Mastery(State.NO_EVIDENCE, None, None, 0), Direction.LEVEL, False)
"""What is seen where there is no evidence."""


def glance_at(
    moments: Sequence[str],
    values: Sequence[Hundredths],
    rules: Rules,
    before: Sequence[tuple[str, Rules]] = (),
) -> Glance:
    """Work out what a wall shows, of evidence in order that is each from a source of its own.

    `moments` are the times of `values`, and `before` the rules that held until a time, as texts
    that sort as times do. The same as `Course.mastery_now` and `trail_of` give, in one pass and
    without a point for each piece where the same rules always held.
    """
    count = len(values)
    if not count:
        return NOTHING_SEEN
    if before:
        trail = read_trail(_plain_points(moments, values, rules, before))
        mastery = mastery_of_values(values, count, rules)
        return Glance(mastery, trail.direction, trail.slipped_at is not None)
    running = running_values(rules.method, rules.scale, values)
    value = running[-1]
    state = state_of(rules, value, count)
    mastery = Mastery(state, value, rules.scale.level_of(value), count, calculated=value)
    earlier = count - 2
    while earlier >= 0 and moments[earlier] == moments[-1]:
        earlier -= 1
    direction = Direction.LEVEL
    if earlier >= 0 and running[earlier] != value:
        direction = Direction.UP if value > running[earlier] else Direction.DOWN
    cut = rules.scale.mastery_cut
    slipped = False
    if state is not State.MASTERED:
        # From here on there is enough evidence, so that the value alone decides.
        for at in range(rules.minimum - 1, earlier + 1):
            if running[at] >= cut and moments[at] != moments[at + 1]:
                slipped = True
                break
    return Glance(mastery, direction, slipped)


def glance_of(gathered: Gathered, course: Course) -> Glance:
    """Work out what a wall shows of any evidence."""
    trail = trail_of(gathered, course)
    mastery = course.mastery_now(gathered.pieces())
    return Glance(mastery, trail.direction, trail.slipped_at is not None)
