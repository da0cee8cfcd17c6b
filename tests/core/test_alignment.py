"""From a criterion to a value: default maps, cells by hand, half-way choices."""

from __future__ import annotations

import itertools
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jade_ladder.core.alignment import (
    AlignmentMap,
    Basis,
    Cell,
    check_cell,
    chosen_points,
    chosen_value,
    default_map,
    moved_to_scale,
    moved_with_scale,
    with_hand_cells,
)
from jade_ladder.core.errors import Refused
from jade_ladder.core.rubric import Criterion, CriterionKind, CriterionLevel
from jade_ladder.core.scale import CutPreset, Scale
from tests.strategies import four_levels, scale_of, scales

NAMES = [level.name for level in four_levels.levels]


def criterion(
    names: list[str],
    points: list[int],
    kind: CriterionKind = CriterionKind.LEVELS,
    half: bool = True,
) -> Criterion:
    levels = tuple(
        CriterionLevel(str(n), name, at * 100)
        for n, (name, at) in enumerate(zip(names, points, strict=True))
    )
    return Criterion("c", "Title", levels, kind, half_way=half)


@pytest.mark.parametrize(
    ("made", "basis", "values"),
    [
        (criterion(["Level 1", "LEVEL 3"], [0, 1]), Basis.NAMES, [200, 400]),
        (criterion(NAMES[::-1], [1, 2, 3, 4]), Basis.NAMES, [400, 300, 200, 100]),
        (criterion(list("abcd"), [0, 0, 9, 9]), Basis.POSITIONS, [100, 200, 300, 400]),
        (criterion(["No", "Yes"], [0, 1], CriterionKind.YES_NO), Basis.YES, [None, 300]),
        (criterion(list("abc"), [0, 2, 5]), Basis.PROPORTION, [100, 220, 400]),
        (criterion(list("abc"), [0, 1, 7]), Basis.PROPORTION, [100, 143, 400]),
        (criterion(list("abc"), [1, 1, 2]), Basis.EVEN, [100, 250, 400]),
        (criterion(list("abcde"), [5, 4, 3, 2, 1]), Basis.EVEN, [100, 175, 250, 325, 400]),
    ],
)
def test_the_first_rule_that_fits_makes_the_default(
    made: Criterion, basis: Basis, values: list[int | None]
) -> None:
    found = default_map(made, four_levels)
    assert (found.basis, [cell.value for cell in found.cells]) == (basis, values)


@given(st.lists(st.integers(0, 50), min_size=2, max_size=10), scales())
def test_a_default_never_leaves_the_scale(points: list[int], scale: Scale) -> None:
    made = criterion([f"n{n}" for n in range(len(points))], points)
    for cell in default_map(made, scale).cells:
        check_cell(cell.value, scale, "cell")


def test_cells_by_hand_lie_over_the_default_and_stay_when_the_scale_moves() -> None:
    default = default_map(criterion(list("abcd"), [1, 2, 3, 4]), four_levels)
    hand = [None, Cell(None, by_hand=True), Cell(250, by_hand=True), None]
    laid = with_hand_cells(default, hand)
    assert [cell.value for cell in laid.cells] == [100, None, 250, 400]
    wider = scale_of([100, 200, 300, 500], CutPreset.THREE_QUARTERS, 2)
    moved = moved_with_scale(laid.cells, four_levels, wider)
    assert [cell.value for cell in moved] == [100, None, 250, 500]


def test_a_spread_cell_keeps_its_place_between_the_ends() -> None:
    spread = AlignmentMap(Basis.PROPORTION, (Cell(100), Cell(220), Cell(400)))
    ten_times = scale_of([1000, 2000, 3000, 4000], CutPreset.THREE_QUARTERS, 2)
    moved = moved_with_scale(spread.cells, four_levels, ten_times)
    assert [cell.value for cell in moved] == [1000, 2200, 4000]


@pytest.mark.parametrize("value", [99, 401])
def test_a_cell_off_the_scale_is_refused(value: int) -> None:
    with pytest.raises(Refused, match="between 1 and 4"):
        check_cell(value, four_levels, "cells.0")


@pytest.mark.parametrize(
    ("level", "half", "value"),
    [(0, False, Fraction(1)), (0, True, None), (1, False, None), (2, True, Fraction("3.215"))],
)
def test_half_way_is_exact_and_none_if_a_neighbour_is(
    level: int, half: bool, value: Fraction | None
) -> None:
    assert chosen_value([100, None, 243, 400], level, half) == value


def test_half_way_points_and_where_there_are_none() -> None:
    levels = criterion(list("abc"), [0, 1, 4])
    assert chosen_points(levels, 1, half_way=True) == Fraction(5, 2)
    with pytest.raises(Refused, match="nothing above"):
        chosen_points(levels, 2, half_way=True)
    yes_no = criterion(["No", "Yes"], [0, 1], CriterionKind.YES_NO)
    with pytest.raises(Refused, match="no half-way"):
        chosen_points(yes_no, 0, half_way=True)


@st.composite
def aligned(draw: st.DrawFn) -> tuple[Criterion, Scale, AlignmentMap]:
    """A criterion aligned to an outcome on a scale, with some cells written by hand."""
    scale = draw(scales())
    points = draw(st.lists(st.integers(0, 900), min_size=2, max_size=6, unique=True))
    levels = tuple(CriterionLevel(str(n), f"Step {n}", p) for n, p in enumerate(sorted(points)))
    criterion = Criterion("c", "Criterion", levels)
    value = st.none() | st.integers(scale.lowest, scale.highest)
    cell = st.none() | st.builds(Cell, value, by_hand=st.just(True))
    by_hand = [draw(cell) for _ in levels]
    return criterion, scale, with_hand_cells(default_map(criterion, scale), by_hand)


@given(aligned(), scales())
def test_on_another_scale_defaults_are_made_anew_and_hand_cells_keep_their_place(
    tie: tuple[Criterion, Scale, AlignmentMap], new: Scale
) -> None:
    criterion, old, before = tie
    after = moved_to_scale(criterion, before, old, new)
    default = default_map(criterion, new)
    assert after.basis is default.basis
    for was, now, made in zip(before.cells, after.cells, default.cells, strict=True):
        assert now.by_hand == was.by_hand
        if not was.by_hand:
            assert now == made
        elif was.value is None:
            assert now.value is None
        else:
            assert now.value is not None
            assert new.lowest <= now.value <= new.highest
            if was.value in (old.lowest, old.highest):
                assert now.value in (new.lowest, new.highest)
    hand = [
        (was.value, now.value)
        for was, now in zip(before.cells, after.cells, strict=True)
        if was.by_hand and was.value is not None and now.value is not None
    ]
    for (low, moved_low), (high, moved_high) in itertools.permutations(hand, 2):
        assert low > high or moved_low <= moved_high
    assert moved_to_scale(criterion, before, old, old).cells == before.cells
