"""A task's total (“A task's total”)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum
from fractions import Fraction
from zoneinfo import ZoneInfo

from jade_ladder.core.numbers import Hundredths, round_half_up, to_fraction
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
class Total:
    """A task's total: its lines, their sum (never below 0), and what it is out of, which is less
    than the task's points while unfinished. `by_hand` is a total set with a reason; it is final
    and the calculated one stays beside it.
    """

    lines: tuple[Line, ...]
    calculated: Hundredths
    out_of: Hundredths
    finished: bool
    by_hand: Hundredths | None = None

    @property
    def value(self) -> Hundredths:
        """What counts as the total."""
        return self.calculated if self.by_hand is None else self.by_hand


def total_of(
    criteria: Sequence[CriterionPoints],
    task_points: Hundredths,
    adjustments: Sequence[Line] = (),
    by_hand: Hundredths | None = None,
) -> Total | None:
    """Work out the total of one attempt; `adjustments` are the late and other lines.

    None when nothing can be totalled: every criterion not assessed, or none with points.
    """
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
        return None
    marked = sum(
        share
        for criterion, share in zip(counting, shares, strict=True)
        if criterion.points is not None
    )
    reached = _reached(counting, shares, whole)
    points = to_fraction(task_points)
    lines = [Line(LineKind.RUBRIC, "", round_half_up(reached * points)), *_bonuses(criteria)]
    lines += adjustments
    finished = all(criterion.points is not None for criterion in counting)
    return Total(
        tuple(lines),
        max(0, sum(line.amount for line in lines)),
        task_points if finished else round_half_up(Fraction(marked, whole) * points),
        finished,
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

    def lines(self, task_points: Hundredths, handed_in_at: datetime | None) -> tuple[Line, ...]:
        """Give the line that it makes of a total; none in time, without a time, or at no cost."""
        if handed_in_at is None or not self.percent(handed_in_at):
            return ()
        line = late_line(
            task_points,
            self.percent_per_day,
            self.most_percent,
            self.due,
            handed_in_at,
            self.time_zone,
        )
        return () if line is None else (line,)


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
    return Line(LineKind.LATE, f"{days} started {'day' if days == 1 else 'days'} late", -amount)


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
