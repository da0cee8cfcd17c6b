"""Weights, what keeps a rubric from being final, the desk's states, and totals."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime, timedelta
from fractions import Fraction
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jade_ladder.core.marking import DeskState, Progress, desk_state
from jade_ladder.core.rubric import (
    WHOLE,
    Criterion,
    CriterionLevel,
    equal_shares,
    highest_points,
    missing_before_final,
    share_missing,
)
from jade_ladder.core.total import (
    Adjustments,
    ByHand,
    CriterionPoints,
    CriterionState,
    Line,
    LineKind,
    late_line,
    started_days_late,
    total_of,
)

MARKED, OPEN, SKIPPED = CriterionState.MARKED, CriterionState.UNMARKED, CriterionState.NOT_ASSESSED
AUCKLAND = ZoneInfo("Pacific/Auckland")


@given(st.integers(1, 60))
def test_equal_shares_come_to_a_hundred_and_the_first_takes_the_rest(count: int) -> None:
    shares = equal_shares(count)
    assert sum(shares) == WHOLE
    assert set(shares[1:]) <= {WHOLE // count}


@pytest.mark.parametrize(
    ("weights", "shared"),
    [
        ([2500, 4000, 2500, None], (2500, 4000, 2500, 1000)),
        ([5000, None, None, 0], (5000, 1668, 1666, 1666)),
        ([3000, 3000], (5000, 5000)),
        ([9000, 3000], (7500, 2500)),
        ([None, None, None], (3334, 3333, 3333)),
    ],
)
def test_what_is_missing_is_shared_out(weights: list[int | None], shared: tuple[int, ...]) -> None:
    assert share_missing(weights) == shared


@given(st.lists(st.one_of(st.none(), st.integers(1, WHOLE)), min_size=1, max_size=20))
def test_sharing_always_comes_to_a_hundred(weights: list[int | None]) -> None:
    assert sum(share_missing(weights)) == WHOLE


def criterion(title: str = "Title", weight: int | None = None, bonus: bool = False) -> Criterion:
    levels = (CriterionLevel("a", "Low", 0), CriterionLevel("b", "High", 400))
    return Criterion(title, title, levels, bonus=bonus, weight=weight)


@pytest.mark.parametrize(
    ("title", "criteria", "fields"),
    [
        ("Fine", [criterion()], []),
        ("Fine", [criterion(weight=6000), criterion("B", 4000)], []),
        ("Fine", [criterion(weight=WHOLE), criterion("Extra", bonus=True)], []),
        ("", [criterion()], ["title"]),
        ("Fine", [], ["criteria"]),
        ("Fine", [criterion(bonus=True)], ["criteria"]),
        ("Fine", [criterion("")], ["criteria.0.title"]),
        ("Fine", [criterion(weight=6000), criterion("B", 3999)], ["weights"]),
        ("Fine", [criterion(weight=WHOLE), criterion("B")], ["weights"]),
        ("Fine", [replace(criterion(), levels=criterion().levels[:1])], ["criteria.0.levels"]),
        (
            "Fine",
            [
                replace(
                    criterion(), levels=(CriterionLevel("a", "", -1), CriterionLevel("b", "B", 1))
                )
            ],
            ["criteria.0.levels.0.name", "criteria.0.levels.0.points"],
        ),
    ],
)
def test_what_is_missing_before_a_rubric_is_final(
    title: str, criteria: list[Criterion], fields: list[str]
) -> None:
    assert [problem.field for problem in missing_before_final(title, criteria)] == fields


def test_a_bonus_adds_nothing_to_the_highest_points() -> None:
    assert highest_points([criterion(), criterion("B", bonus=True)]) == 400


@pytest.mark.parametrize(
    ("progress", "observed", "due", "state"),
    [
        (Progress(False, True, None, None), False, False, DeskState.WAITING),
        (Progress(False, False, None, None), False, True, DeskState.MISSING),
        (Progress(False, False, None, None), False, False, DeskState.NOT_YET),
        # Nobody owes what was due before they came.
        (Progress(False, False, None, None, False, False), False, True, DeskState.NOT_YET),
        (Progress(False, False, None, None), True, True, DeskState.WAITING),
        (Progress(False, False, None, None), True, False, DeskState.NOT_YET),
        (Progress(False, False, 2, None), False, True, DeskState.STARTED),
        (Progress(False, True, 4, 4), False, True, DeskState.DONE),
        (Progress(False, True, 5, 4), False, True, DeskState.CHANGED),
        (Progress(True, True, 5, 4), False, True, DeskState.EXCUSED),
    ],
)
def test_where_a_student_stands(
    progress: Progress, observed: bool, due: bool, state: DeskState
) -> None:
    assert desk_state(progress, observed, due) is state


def points(
    standing: CriterionState,
    got: float | None,
    highest: int,
    weight: int | None = None,
    bonus: bool = False,
) -> CriterionPoints:
    exact = None if got is None else Fraction(str(got))
    return CriterionPoints("C", standing, exact, highest * 100, weight, bonus)


WEIGHTED = [points(MARKED, 3, 4, 4000), points(MARKED, 2, 4, 4000), points(MARKED, 1, 1, 2000)]
BONUS = points(MARKED, 1, 1, bonus=True)
LATE = Line(LineKind.LATE, "2 started days late at 5%: 10% of 20", -200)
GIFT = Line(LineKind.ADJUSTMENT, "Led the group", 150)
TAKEN = Line(LineKind.ADJUSTMENT, "No sources", -5000)


@pytest.mark.parametrize(
    ("criteria", "late", "lines", "value", "out_of"),
    [
        (WEIGHTED, None, (), 1400, 2000),
        ([*WEIGHTED, BONUS], LATE, (), 1300, 2000),
        ([*WEIGHTED, BONUS], LATE, (GIFT,), 1450, 2000),
        (WEIGHTED, LATE, (GIFT, TAKEN), 0, 2000),
        ([points(MARKED, 3, 4), points(MARKED, 1, 4)], None, (), 1000, 2000),
        ([points(MARKED, 3, 4), points(OPEN, None, 4)], None, (), 750, 1000),
        ([points(MARKED, 3, 4), points(OPEN, None, 4)], None, (GIFT,), 900, 1000),
        ([points(MARKED, 3, 4, 2500), points(OPEN, None, 4, 7500)], None, (), 375, 500),
        ([points(MARKED, 3, 4, 2500), points(SKIPPED, None, 4, 7500)], None, (), 1500, 2000),
        ([points(MARKED, 3, 4), points(MARKED, 0, 0)], None, (), 1500, 2000),
        ([points(MARKED, 0, 4)], LATE, (), 0, 2000),
        ([points(MARKED, 2.5, 4)], None, (), 1250, 2000),
    ],
)
def test_totals(
    criteria: list[CriterionPoints],
    late: Line | None,
    lines: tuple[Line, ...],
    value: int,
    out_of: int,
) -> None:
    total = total_of(criteria, 2000, late, Adjustments(lines))
    assert total is not None
    assert (total.value, total.out_of) == (value, out_of)


def test_the_lines_of_the_documents_example() -> None:
    total = total_of([*WEIGHTED, BONUS], 2000, LATE)
    assert total is not None
    assert [line.amount for line in total.lines] == [1400, 100, -200]


@pytest.mark.parametrize(
    "criteria", [[], [points(SKIPPED, None, 4)], [points(MARKED, 0, 0)], [BONUS]]
)
def test_nothing_to_total(criteria: list[CriterionPoints]) -> None:
    assert total_of(criteria, 2000) is None
    by_hand = total_of(criteria, 2000, None, Adjustments(by_hand=ByHand(900, "Spoken")))
    assert by_hand is not None
    assert (by_hand.value, by_hand.calculated, by_hand.lines) == (900, None, ())


def test_a_total_set_by_hand_is_final_and_the_calculated_one_stays() -> None:
    total = total_of(WEIGHTED, 2000, LATE, Adjustments((GIFT,), None, ByHand(1900, "Spoken")))
    assert total is not None
    assert (total.value, total.calculated) == (1900, 1350)


def test_a_late_deduction_that_is_waived_makes_no_line_and_is_told() -> None:
    total = total_of(WEIGHTED, 2000, LATE, Adjustments(waived=""))
    assert total is not None
    assert (total.value, total.waived) == (1400, LATE)
    assert [line.kind for line in total.lines] == [LineKind.RUBRIC]
    in_time = total_of(WEIGHTED, 2000, None, Adjustments(waived="Ill"))
    assert in_time is not None
    assert in_time.waived is None


DUE = datetime(2026, 11, 20, 17, 0, tzinfo=AUCKLAND)


@pytest.mark.parametrize(
    ("late", "days"),
    [
        (timedelta(0), 0),
        (timedelta(minutes=1), 1),
        (timedelta(days=1), 1),
        (timedelta(days=1, minutes=1), 2),
        (timedelta(days=2), 2),
    ],
)
def test_started_days_late(late: timedelta, days: int) -> None:
    done = (DUE + late).astimezone(UTC)
    assert started_days_late(DUE.astimezone(UTC), done, AUCKLAND) == days


def test_a_day_of_23_hours_is_a_day() -> None:
    """The clocks go forward in Auckland on 27 September 2026, at two in the night."""
    due = datetime(2026, 9, 26, 17, 0, tzinfo=AUCKLAND).astimezone(UTC)
    next_day = datetime(2026, 9, 27, 17, 0, tzinfo=AUCKLAND).astimezone(UTC)
    assert next_day - due == timedelta(hours=23)
    assert started_days_late(due, next_day, AUCKLAND) == 1
    assert started_days_late(due, next_day + timedelta(minutes=1), AUCKLAND) == 2


def test_the_late_line_has_a_cap() -> None:
    in_time = late_line(2000, 5, 20, DUE, DUE, AUCKLAND)
    two_days = late_line(2000, 5, 20, DUE, DUE + timedelta(hours=30), AUCKLAND)
    a_week = late_line(2000, 5, 20, DUE, DUE + timedelta(days=7), AUCKLAND)
    assert in_time is None
    assert two_days == LATE
    assert a_week is not None
    assert a_week.amount == -400
    assert a_week.reason == "7 started days late at 5%, at most 20%: 20% of 20"
