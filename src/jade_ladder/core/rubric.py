"""Rubrics: criteria, their levels, weights, and what is missing before one is final."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from itertools import pairwise
from typing import TypeAlias

from jade_ladder.core.errors import Problem
from jade_ladder.core.numbers import LARGEST, Hundredths, half_up, write_short

Weight: TypeAlias = int
"""A share of a total in whole hundredths of a per cent: 25% is 2500."""

WHOLE: Weight = 10_000
FEWEST_CRITERION_LEVELS, MOST_CRITERION_LEVELS = 2, 10


class CriterionKind(StrEnum):
    """A criterion has levels, or is answered with yes or no (of which no is the lower)."""

    LEVELS = "levels"
    YES_NO = "yes-no"


@dataclass(frozen=True, slots=True)
class CriterionLevel:
    """A cell of a rubric: `key` is the same in every revision."""

    key: str
    name: str
    points: Hundredths
    descriptor: str = ""


@dataclass(frozen=True, slots=True)
class Criterion:
    """A row of a rubric: levels from the lowest to the highest.

    A `bonus` adds its points on top and has no weight. `half_way` allows a mark between two
    neighbouring levels, never for yes/no. `weight` is None where the rubric has no weights.
    `remarks`: whoever marks may write a remark on it. `any_order`: its points may fall as levels
    rise, on purpose.
    """

    key: str
    title: str
    levels: tuple[CriterionLevel, ...]
    kind: CriterionKind = CriterionKind.LEVELS
    bonus: bool = False
    half_way: bool = False
    weight: Weight | None = None
    remarks: bool = True
    any_order: bool = False

    @property
    def points_fall(self) -> bool:
        """Whether a higher level gives fewer points than one below it."""
        points = [level.points for level in self.levels]
        return any(below > above for below, above in pairwise(points))

    @property
    def highest_points(self) -> Hundredths:
        """The most points that a level of this criterion gives."""
        return max((level.points for level in self.levels), default=0)

    @property
    def allows_half_way(self) -> bool:
        """Whether a mark may stand between two levels."""
        return self.half_way and self.kind is CriterionKind.LEVELS


def highest_points(criteria: Sequence[Criterion]) -> Hundredths:
    """Sum the highest points of all criteria but the bonus ones: a task's points at first."""
    return sum(criterion.highest_points for criterion in criteria if not criterion.bonus)


def task_points(own: Hundredths | None, criteria: Sequence[Criterion]) -> Hundredths:
    """Give the points of a task: its own, or (None) the sum of the highest points of the criteria
    that it asks ("A task's total").
    """
    return highest_points(criteria) if own is None else own


def with_shares(criteria: Sequence[Criterion]) -> list[Criterion]:
    """Give some of a rubric's criteria with their weights scaled to 100%, rounded, to be shown: a
    total is worked out from the weights as they are ("A task's total").
    """
    whole = sum(one.weight or 0 for one in criteria if not one.bonus)
    if not whole:
        return list(criteria)
    return [
        one if one.weight is None else replace(one, weight=half_up(one.weight * WHOLE, whole))
        for one in criteria
    ]


def equal_shares(count: int) -> tuple[Weight, ...]:
    """Share 100.00% equally; the remainder goes to the first (“A task's total”)."""
    if count == 0:
        return ()
    share, remainder = divmod(WHOLE, count)
    return (share + remainder, *([share] * (count - 1)))


def share_missing(weights: Sequence[Weight | None]) -> tuple[Weight, ...]:
    """Share out what is missing to 100.00%: equally among those without a weight, or, where each
    has one, in proportion; what rounding leaves goes to the first of them.

    Weights that come to more than 100.00% are brought down in proportion.
    """
    known = [weight or 0 for weight in weights]
    missing = WHOLE - sum(known)
    without = [index for index, weight in enumerate(known) if not weight]
    if missing > 0 and without:
        share, remainder = divmod(missing, len(without))
        for index in without:
            known[index] = share
        known[without[0]] += remainder
        return tuple(known)
    total = sum(known)
    if not total:
        return tuple(known)
    scaled = [half_up(weight * WHOLE, total) for weight in known]
    scaled[known.index(max(known))] += WHOLE - sum(scaled)
    return tuple(scaled)


def missing_before_final(title: str, criteria: Sequence[Criterion]) -> list[Problem]:
    """List what keeps a rubric from being final, each with its place; empty when nothing does."""
    problems: list[Problem] = []
    if not title.strip():
        problems.append(Problem("title", "The rubric needs a title"))
    counting = [criterion for criterion in criteria if not criterion.bonus]
    if not counting:
        problems.append(Problem("criteria", "Add a criterion that is not a bonus"))
    for index, criterion in enumerate(criteria):
        problems.extend(_missing_in_criterion(criterion, f"criteria.{index}"))
    problems.extend(weight_problems(criteria))
    return problems


def _missing_in_criterion(criterion: Criterion, where: str) -> list[Problem]:
    problems: list[Problem] = []
    name = criterion.title.strip() or "This criterion"
    if not criterion.title.strip():
        problems.append(Problem(f"{where}.title", "Every criterion needs a title"))
    count = len(criterion.levels)
    if not FEWEST_CRITERION_LEVELS <= count <= MOST_CRITERION_LEVELS:
        problems.append(
            Problem(
                f"{where}.levels",
                f"{name} has {count} levels; {FEWEST_CRITERION_LEVELS} to "
                f"{MOST_CRITERION_LEVELS} are possible",
            )
        )
    if criterion.points_fall and not criterion.any_order:
        problems.append(
            Problem(
                f"{where}.points",
                f"The points of {name} fall as its levels rise: set them right, or say that it is "
                "on purpose",
            )
        )
    for number, level in enumerate(criterion.levels):
        if not level.name.strip():
            problems.append(Problem(f"{where}.levels.{number}.name", "Every level needs a name"))
        if not 0 <= level.points <= LARGEST:
            problems.append(
                Problem(f"{where}.levels.{number}.points", "Points are between 0 and 10,000")
            )
    return problems


def weight_problems(criteria: Sequence[Criterion]) -> list[Problem]:
    """Say what is wrong with the weights: all or none, and together exactly 100.00%."""
    counting = [criterion for criterion in criteria if not criterion.bonus]
    weights = [criterion.weight for criterion in counting]
    if all(weight is None for weight in weights):
        return []
    total = sum(weight or 0 for weight in weights)
    without = [
        criterion.title.strip() or "a criterion without a title"
        for criterion in counting
        if not criterion.weight
    ]
    problems = []
    if total != WHOLE:
        problems.append(
            Problem("weights", f"The weights come to {write_short(total)}%, not to 100%")
        )
    if without:
        problems.append(Problem("weights", f"Without a weight: {', '.join(without)}"))
    return problems
