"""What is chosen on the criteria of a rubric, and what it comes to."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import NamedTuple, Protocol

from jade_ladder.core.alignment import chosen_points
from jade_ladder.core.marking import unmarked
from jade_ladder.core.numbers import Hundredths
from jade_ladder.core.rubric import Criterion
from jade_ladder.core.total import (
    NO_ADJUSTMENTS,
    Adjustments,
    CriterionPoints,
    CriterionState,
    LateRule,
    Total,
    total_of,
)
from jade_ladder.store.rubrics.criteria import StoredCriterion


class Choice(NamedTuple):
    """What the teacher chose on a criterion; neither a level nor not assessed takes it back. One
    that is carried over has the number of the attempt it was made in: choosing the same anew is
    another. A named tuple, since a look at a term's marks makes ten thousand of them.
    """

    level_id: int | None
    half_way: bool = False
    not_assessed: bool = False
    carried_from: int | None = None


NOTHING = Choice(None)
"""No choice, or one that was cleared."""


class ChosenRow(Protocol):
    """A row of the store that holds a choice."""

    @property
    def level_id(self) -> int | None:
        """The level's record."""

    @property
    def half_way(self) -> bool | int:
        """Whether it is half-way up from the level."""

    @property
    def not_assessed(self) -> bool | int:
        """Whether it is not assessed."""

    @property
    def carried_from(self) -> int | None:
        """The number of the attempt it was made in, where it is carried over."""


def choice_of(row: ChosenRow | None) -> Choice:
    """Give the choice that a row holds; nothing where there is no row."""
    if row is None:
        return NOTHING
    return Choice(row.level_id, bool(row.half_way), bool(row.not_assessed), row.carried_from)


def unmarked_criteria(
    criteria: Sequence[StoredCriterion], choices: Mapping[int, Choice]
) -> list[Criterion]:
    """List the criteria that still need a choice; `choices` are by the criterion's record."""
    chosen = {
        stored.criterion.key for stored in criteria if choices.get(stored.id, NOTHING) != NOTHING
    }
    return unmarked([stored.criterion for stored in criteria], chosen)


def total_of_choices(
    criteria: Sequence[StoredCriterion],
    choices: Mapping[int, Choice],
    points: Hundredths,
    late: LateRule | None = None,
    handed_in_at: datetime | None = None,
    adjustments: Adjustments = NO_ADJUSTMENTS,
) -> Total | None:
    """Work out the total that choices come to at a task of so many points, with what it costs that
    the work was late, and what the teacher says of it.
    """
    return Totals(criteria, points).total(choices, late, handed_in_at, adjustments)


class Totals:
    """Works out the totals of many marks of one task: what a choice gives is worked out once."""

    def __init__(self, criteria: Sequence[StoredCriterion], points: Hundredths) -> None:
        self._criteria = criteria
        self._task_points = points
        self._known: dict[tuple[int, Choice], CriterionPoints] = {}

    def total(
        self,
        choices: Mapping[int, Choice],
        late: LateRule | None = None,
        handed_in_at: datetime | None = None,
        adjustments: Adjustments = NO_ADJUSTMENTS,
    ) -> Total | None:
        """Work out what choices, by the criterion's record, come to."""
        given = [self._points(stored, choices.get(stored.id, NOTHING)) for stored in self._criteria]
        cost = None if late is None else late.line(self._task_points, handed_in_at)
        return total_of(given, self._task_points, cost, adjustments)

    def _points(self, stored: StoredCriterion, choice: Choice) -> CriterionPoints:
        known = self._known.get((stored.id, choice))
        if known is None:
            known = self._known[stored.id, choice] = _points(stored, choice)
        return known


def _points(stored: StoredCriterion, choice: Choice) -> CriterionPoints:
    criterion = stored.criterion
    state, points = CriterionState.UNMARKED, None
    if choice.level_id is not None:
        level = stored.level_ids.index(choice.level_id)
        state, points = CriterionState.MARKED, chosen_points(criterion, level, choice.half_way)
    elif choice.not_assessed:
        state = CriterionState.NOT_ASSESSED
    return CriterionPoints(
        criterion.title,
        state,
        points,
        criterion.highest_points,
        criterion.weight,
        criterion.bonus,
    )
