"""From a criterion to a value: default maps, cells by hand, half-way choices."""

from __future__ import annotations

import itertools
from dataclasses import replace
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
    doubtful_cells,
    made_again,
    moved_to_scale,
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
        # While it is written, there may be one of them.
        (criterion(["Yes"], [1], CriterionKind.YES_NO), Basis.EVEN, [100]),
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
    made = criterion(list("abcd"), [1, 2, 3, 4])
    hand = [None, Cell(None, by_hand=True), Cell(250, by_hand=True), None]
    laid = with_hand_cells(default_map(made, four_levels), hand)
    assert [cell.value for cell in laid.cells] == [100, None, 250, 400]
    wider = scale_of([100, 200, 300, 500], CutPreset.THREE_QUARTERS, 2)
    moved = made_again(made, laid, wider)
    assert [cell.value for cell in moved.cells] == [100, None, 250, 500]


def test_a_cell_in_proportion_is_worked_out_from_the_points_and_not_from_a_rounded_value() -> None:
    made = criterion(list("abc"), [0, 1, 7])
    first = default_map(made, four_levels)
    assert [cell.value for cell in first.cells] == [100, 143, 400]
    hundred = scale_of([100, 3400, 6700, 10000], CutPreset.THREE_QUARTERS, 2)
    assert [c.value for c in made_again(made, first, hundred).cells] == [100, 1514, 10000]
    narrow = scale_of([100, 101, 102, 103], CutPreset.AT_THE_VALUE, 2)
    there = made_again(made, first, narrow)
    assert [cell.value for cell in there.cells] == [100, 100, 103]
    assert made_again(made, there, four_levels) == first


def test_a_yes_follows_the_mastery_level_when_that_moves() -> None:
    yes_no = criterion(["No", "Yes"], [0, 1], CriterionKind.YES_NO)
    first = default_map(yes_no, four_levels)
    assert [cell.value for cell in first.cells] == [None, 300]
    lower = Scale(four_levels.levels, mastery_level=1)
    assert [cell.value for cell in made_again(yes_no, first, lower).cells] == [None, 200]


def renamed(scale: Scale) -> Scale:
    levels = tuple(replace(level, name=f"{level.name} anew") for level in scale.levels)
    return Scale(levels, scale.mastery_level)


@pytest.mark.parametrize("names", [["Beyond", "On the way", "Arrived"], ["a", "b", "c", "d"]])
def test_renaming_levels_keeps_the_rule_a_map_was_made_by(names: list[str]) -> None:
    named = ["Setting out", "On the way", "Arrived", "Beyond"]
    levels = zip(four_levels.levels, named, strict=True)
    scale = Scale(tuple(replace(level, name=name) for level, name in levels), 2)
    made = criterion(names, list(range(len(names))))
    first = default_map(made, scale)
    assert made_again(made, first, renamed(scale)) == first


@given(st.data())
def test_a_map_by_rule_keeps_to_its_rule_there_and_back(data: st.DataObject) -> None:
    """Whatever scale with as many levels it goes to: what is by rule is as if made there by the
    same rule, and back on the old scale everything is as it was.
    """
    made, old, before = data.draw(aligned())
    new = data.draw(scales(len(old.levels)))
    after = made_again(made, before, new)
    assert after.basis is before.basis
    for was, now in zip(before.cells, after.cells, strict=True):
        assert now == was if was.by_hand else new.lowest <= (now.value or 0) <= new.highest
    if not any(cell.by_hand for cell in before.cells):
        assert made_again(made, after, new) == after
    assert made_again(made, after, old) == before


@given(st.data())
def test_a_cell_by_hand_is_asked_for_when_its_level_would_change(data: st.DataObject) -> None:
    _, old, before = data.draw(aligned())
    new = data.draw(scales(len(old.levels)))
    asked = {cell.place: cell for cell in doubtful_cells(before, old, new)}
    for place, cell in enumerate(before.cells):
        if not cell.by_hand or cell.value is None:
            assert place not in asked
            continue
        inside = new.lowest <= cell.value <= new.highest
        same = inside and old.level_of(cell.value) == new.level_of(cell.value)
        assert (place in asked) is not same
    for one in asked.values():
        assert new.lowest <= one.offered <= new.highest


@pytest.mark.parametrize(
    ("value", "ends", "offered"),
    # 3.9 on a scale that now ends at 2.5 stands outside; 2.5 on one that ends at 100 is the lowest.
    [(390, [100, 150, 200, 250], 245), (250, [100, 3400, 6700, 10000], 5050)],
)
def test_the_place_offered_lies_as_far_between_the_ends(
    value: int, ends: list[int], offered: int
) -> None:
    cells = AlignmentMap(Basis.EVEN, (Cell(100), Cell(value, by_hand=True)))
    new = scale_of(ends, CutPreset.THREE_QUARTERS, 2)
    (asked,) = doubtful_cells(cells, four_levels, new)
    assert (asked.place, asked.value, asked.offered) == (1, value, offered)


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
