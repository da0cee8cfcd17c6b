"""What tells revisions apart, and what of a mark is carried over level by level."""

from __future__ import annotations

from dataclasses import replace

import pytest

from jade_ladder.core.revision import RevisedCriterion, carried_level, compare, structural_changes
from jade_ladder.core.rubric import Criterion, CriterionKind, CriterionLevel


def criterion(keys: str, key: str = "k", half_way: bool = True, title: str = "") -> Criterion:
    """A criterion with a level for each letter, lowest first."""
    levels = tuple(CriterionLevel(one, one.upper(), n * 100) for n, one in enumerate(keys))
    return Criterion(key, title or key, levels, half_way=half_way)


@pytest.mark.parametrize(
    ("old", "level", "half_way", "new", "carried"),
    [
        ("abc", 1, False, "abc", 1),
        ("abc", 0, False, "xabc", 1),
        ("abc", 2, False, "cba", 0),
        ("abc", 1, False, "ac", None),
        ("abc", 0, True, "xab", 1),
        ("abc", 0, True, "axb", None),
        ("abc", 0, True, "ba", None),
        ("abc", 1, True, "abx", None),
        ("abc", 1, True, "xbc", 1),
    ],
)
def test_a_level_is_carried_by_its_key_and_half_way_only_between_neighbours(
    old: str, level: int, half_way: bool, new: str, carried: int | None
) -> None:
    assert carried_level(criterion(old), criterion(new), level, half_way) == carried


def test_what_a_criterion_no_longer_allows_is_not_carried() -> None:
    old = criterion("ab")
    assert carried_level(old, criterion("ab", half_way=False), 0, True) is None
    assert carried_level(old, criterion("ab", half_way=False), 0, False) == 0
    assert carried_level(old, replace(old, kind=CriterionKind.YES_NO), 0, False) is None


@pytest.mark.parametrize(
    ("old", "new", "order"),
    [
        ("abc", "abc", "abc"),
        ("abc", "cab", "cab"),
        ("abc", "ac", "abc"),
        ("abc", "c", "abc"),
        ("ab", "xby", "axby"),
        ("abc", "", "abc"),
        ("", "ab", "ab"),
    ],
)
def test_side_by_side_stands_in_the_newer_order_and_loses_nothing(
    old: str, new: str, order: str
) -> None:
    sides = [[RevisedCriterion(criterion("lm", key), {}) for key in side] for side in (old, new)]
    found = compare(*sides)
    assert [one.title for one in found] == list(order)
    for one in found:
        expected = () if one.title in old and one.title in new else None
        assert (one.structure == ()) is (expected == ())
    gone = len(set(old) - set(new))
    added = len(set(new) - set(old))
    assert len(structural_changes(*sides)) == gone + added
