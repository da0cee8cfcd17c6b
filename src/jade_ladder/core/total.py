"""A task's total (“A task's total”)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum
from fractions import Fraction
from zoneinfo import ZoneInfo

from jade_ladder.core.evidence import AttemptsRule
from jade_ladder.core.numbers import Hundredths, half_up, round_half_up, to_fraction, write_short
from jade_ladder.core.rubric import Weight


class CriterionState(StrEnum):
    """Whether a criterion has been looked at."""

    UNMARKED = "unmarked"
    NOT_ASSESSED = "not-assessed"
    MARKED = "marked"


@dataclass(frozen=True, slots=True)
class CriterionPoints:
    """What the total needs of one criterion: the exact points chosen, in units (None unless
    marked), its highest points, and its weight where the rubric has weights.
    """

    title: str
    state: CriterionState
    points: Fraction | None
    highest: Hundredths
    weight: Weight | None = None
    bonus: bool = False


class LineKind(StrEnum):
    """What a line of a total is."""

    RUBRIC = "rubric"
    BONUS = "bonus"
    LATE = "late"
    ADJUSTMENT = "adjustment"


@dataclass(frozen=True, slots=True)
class Line:
    """A signed line of a total, with its reason, already rounded."""

    kind: LineKind
    reason: str
    amount: Hundredths


@dataclass(frozen=True, slots=True)
class ByHand:
    """A total that was set by hand, with its reason."""

    amount: Hundredths
    reason: str


@dataclass(frozen=True, slots=True)
class Adjustments:
    """What a teacher says of a total: further lines, that the late deduction is waived (why; None:
    it is not), and the total by hand.
    """

    lines: tuple[Line, ...] = ()
    waived: str | None = None
    by_hand: ByHand | None = None


NO_ADJUSTMENTS = Adjustments()


@dataclass(frozen=True, slots=True)
class Total:
    """A task's total: its lines, their sum (never below 0; None where nothing can be totalled), and
    what it is out of, which is less than the task's points while unfinished. `waived` is the late
    deduction that is not made. A total `by_hand` is final, and the calculated one stays beside it.
    """

    lines: tuple[Line, ...]
    calculated: Hundredths | None
    out_of: Hundredths
    finished: bool
    waived: Line | None = None
    by_hand: ByHand | None = None

    @property
    def final(self) -> Hundredths | None:
        """What the total comes to once it is finished; None where nothing can be totalled."""
        return self.calculated if self.by_hand is None else self.by_hand.amount

    @property
    def value(self) -> Hundredths:
        """What counts as the total."""
        return (self.calculated or 0) if self.by_hand is None else self.by_hand.amount


TOGETHER = frozenset({AttemptsRule.HIGHEST, AttemptsRule.MEAN})
"""Rules by which a total over attempts may be another than that of the newest one."""


def over_attempts(totals: Sequence[Hundredths], rule: AttemptsRule) -> Hundredths | None:
    """Give a task's total over the final totals of its attempts, in order (“Over attempts”); None
    where there is none.
    """
    if not totals:
        return None
    if rule is AttemptsRule.HIGHEST:
        return max(totals)
    if rule is AttemptsRule.MEAN:
        return half_up(sum(totals), len(totals))
    return totals[-1]


def total_of(
    criteria: Sequence[CriterionPoints],
    task_points: Hundredths,
    late: Line | None = None,
    adjustments: Adjustments = NO_ADJUSTMENTS,
) -> Total | None:
    """Work out the total of one attempt, with what it costs that it was late.

    None when nothing can be totalled (every criterion not assessed, or none with points) and none
    was set by hand.
    """
    waived = None if adjustments.waived is None else late
    late = None if waived else late
    by_hand = adjustments.by_hand
    counting = [
        criterion
        for criterion in criteria
        if not criterion.bonus
        and criterion.highest > 0
        and criterion.state is not CriterionState.NOT_ASSESSED
    ]
    weighted = any(criterion.weight is not None for criterion in counting)
    shares = [(criterion.weight or 0) if weighted else criterion.highest for criterion in counting]
    whole = sum(shares)
    if not whole:
        if by_hand is None:
            return None
        return Total((), None, task_points, True, waived, by_hand)
    marked = sum(
        share
        for criterion, share in zip(counting, shares, strict=True)
        if criterion.points is not None
    )
    reached = _reached(counting, shares, whole)
    points = to_fraction(task_points)
    lines = [Line(LineKind.RUBRIC, "", round_half_up(reached * points)), *_bonuses(criteria)]
    lines += [line for line in (late, *adjustments.lines) if line]
    finished = all(criterion.points is not None for criterion in counting)
    return Total(
        tuple(lines),
        max(0, sum(line.amount for line in lines)),
        task_points if finished else round_half_up(Fraction(marked, whole) * points),
        finished,
        waived,
        by_hand,
    )


def _reached(counting: Sequence[CriterionPoints], shares: Sequence[int], whole: int) -> Fraction:
    """Give the share of the whole that is reached: Σ share × points / highest. Terms with the same
    denominator are added as whole numbers, since adding fractions is slow.
    """
    numerators: dict[int, int] = {}
    for criterion, share in zip(counting, shares, strict=True):
        if criterion.points is not None:
            below = criterion.highest * criterion.points.denominator
            numerators[below] = numerators.get(below, 0) + share * criterion.points.numerator
    terms = (Fraction(numerator, below) for below, numerator in numerators.items())
    return sum(terms, Fraction(0)) * 100 / whole


def _bonuses(criteria: Sequence[CriterionPoints]) -> list[Line]:
    return [
        Line(LineKind.BONUS, criterion.title, round_half_up(criterion.points))
        for criterion in criteria
        if criterion.bonus and criterion.points
    ]


@dataclass(frozen=True, slots=True)
class LateRule:
    """What late work costs at a task: so many per cent of its points per started calendar day after
    the due time, by the clock of the school, up to so many.
    """

    percent_per_day: int
    most_percent: int
    due: datetime
    time_zone: ZoneInfo

    def percent(self, handed_in_at: datetime) -> int:
        """Give how many per cent of the points work costs that was handed in at a time."""
        days = started_days_late(self.due, handed_in_at, self.time_zone)
        return min(days * self.percent_per_day, self.most_percent)

    def line(self, task_points: Hundredths, handed_in_at: datetime | None) -> Line | None:
        """Give the line that it makes of a total; None in time, without a time, or at no cost."""
        if handed_in_at is None or not self.percent(handed_in_at):
            return None
        return late_line(
            task_points,
            self.percent_per_day,
            self.most_percent,
            self.due,
            handed_in_at,
            self.time_zone,
        )


def late_rule(
    percent_per_day: int, most_percent: int, due: datetime | None, number: int, zone: ZoneInfo
) -> LateRule | None:
    """Give what late work costs at an attempt; None where it costs nothing. A further attempt,
    which was granted, has no due time.
    """
    if not percent_per_day or due is None or number > 1:
        return None
    return LateRule(percent_per_day, most_percent, due, zone)


def late_line(
    task_points: Hundredths,
    percent_per_day: int,
    most_percent: int,
    due: datetime,
    done_at: datetime,
    time_zone: ZoneInfo,
) -> Line | None:
    """Make the late deduction: so many per cent of the task's points per started calendar day
    after the due time, by the clock of the school's time zone, up to a cap. None when in time.
    """
    days = started_days_late(due, done_at, time_zone)
    if not days:
        return None
    percent = min(days * percent_per_day, most_percent)
    amount = round_half_up(to_fraction(task_points) * Fraction(percent, 100))
    most = f", at most {most_percent}%" if days * percent_per_day > most_percent else ""
    late = f"{days} started {'day' if days == 1 else 'days'} late at {percent_per_day}%{most}"
    reason = f"{late}: {percent}% of {write_short(task_points)}"
    return Line(LineKind.LATE, reason, -amount)


def started_days_late(due: datetime, done_at: datetime, time_zone: ZoneInfo) -> int:
    """Count the days begun after `due`, each from that hour to the same hour of the next calendar
    day (so that a change of clocks does not shift them).
    """
    if done_at <= due:
        return 0
    local_due = due.astimezone(time_zone)
    local_done = done_at.astimezone(time_zone)
    days = (local_done.date() - local_due.date()).days
    while days and local_done <= local_due + timedelta(days=days - 1):
        days -= 1
    while local_done > local_due + timedelta(days=days):
        days += 1
    return max(1, days)
