"""What the rubric editor does to a criterion: each value stays with its level, whatever is done."""

from __future__ import annotations

from typing import Any

import pytest
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.builders import Small
from tests.front_end.conftest import Run
from tests.web.conftest import made, teacher, visitor

__all__ = ["made", "teacher", "visitor"]


def criterion(points: list[str], outcomes: int = 2, title: str = "Reads") -> dict[str, Any]:
    """A criterion as the editor holds it; each cell says which level and outcome it is of."""
    levels = [
        {"key": f"k{n}", "name": f"Level {n}", "points": text, "descriptor": f"What {n} is"}
        for n, text in enumerate(points)
    ]
    return {
        "key": "c",
        "title": title,
        "kind": "levels",
        "bonus": False,
        "half_way": False,
        "remarks": True,
        "any_order": False,
        "weight": None,
        "levels": levels,
        "alignments": [
            {
                "outcome_id": outcome,
                "weight": 1,
                "cells": [{"value": f"{outcome}k{n}", "by_hand": True} for n in range(len(points))],
            }
            for outcome in range(outcomes)
        ],
    }


steps = st.lists(
    st.one_of(
        st.tuples(st.just("addLevel"), st.integers(0, 5)),
        st.tuples(st.just("removeLevel"), st.integers(0, 5)),
        st.tuples(st.just("moveLevel"), st.integers(0, 5), st.sampled_from([-1, 1, 2])),
        st.tuples(st.just("align"), st.integers(0, 3)),
        st.tuples(st.just("unalign"), st.integers(0, 3)),
    ),
    max_size=12,
)


@given(levels=st.integers(2, 5), done=steps)
@settings(max_examples=150, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_every_value_stays_with_its_level_and_outcome(
    criteria_module: Run, levels: int, done: list[tuple[Any, ...]]
) -> None:
    """Against a plain model: the keys of the levels in order, and the outcomes in order."""
    keys = [f"k{n}" for n in range(levels)]
    outcomes = {0: set(keys), 1: set(keys)}
    calls = []
    for name, place, *by in done:
        if name == "addLevel" and place <= len(keys):
            keys.insert(place, "new")
        elif name == "removeLevel" and place < len(keys):
            del keys[place]
        elif name == "moveLevel" and place < len(keys):
            if 0 <= place + by[0] < len(keys):
                keys.insert(place + by[0], keys.pop(place))
        elif name == "align":
            outcomes.setdefault(place, set())
        elif name == "unalign":
            outcomes.pop(place, None)
        else:
            continue
        calls.append([name, place, *by])
    left, _ = criteria_module(criterion([str(n) for n in range(levels)]), *calls)
    found = [level["key"] if level["key"].startswith("k") else "new" for level in left["levels"]]
    assert found == keys
    assert [tie["outcome_id"] for tie in left["alignments"]] == list(outcomes)
    for tie in left["alignments"]:
        written = outcomes[tie["outcome_id"]]
        assert [cell["value"] for cell in tie["cells"]] == [
            f"{tie['outcome_id']}{key}" if key in written else "" for key in keys
        ]
        assert [cell["by_hand"] for cell in tie["cells"]] == [key in written for key in keys]


@pytest.mark.parametrize(
    ("points", "place", "given_points"),
    [
        (["1", "2"], 2, "3"),
        (["1", "2"], 1, "1.5"),
        (["1", "2"], 0, "0.5"),
        (["0,5", "2,25"], 1, "1.38"),
        (["", "2"], 1, "1"),
        (["1", "many"], 2, "1"),
    ],
)
def test_a_level_put_in_lies_between_its_neighbours(
    criteria_module: Run, points: list[str], place: int, given_points: str
) -> None:
    left, _ = criteria_module(criterion(points), ["addLevel", place])
    assert left["levels"][place]["points"] == given_points


@pytest.mark.parametrize(
    ("points", "falls"),
    [
        (["1", "2", "3"], False),
        (["2,5", "3,5"], False),
        (["3,5", "2,5"], True),
        (["1", "1.0", "2"], False),
        (["", ""], False),
        (["1", "two", "0"], False),
    ],
)
def test_points_with_a_comma_are_compared_as_numbers(
    criteria_module: Run, points: list[str], falls: bool
) -> None:
    _, answers = criteria_module(criterion(points), ["pointsFall"])
    assert answers == [falls]


def test_a_copy_has_keys_of_its_own_and_all_else_alike(criteria_module: Run) -> None:
    one = criterion(["1", "2", "3"])
    left, (copy,) = criteria_module(one, ["copyOf"])
    assert left == one
    keys = [copy["key"], *(level["key"] for level in copy["levels"])]
    assert len({*keys, "c", "k0", "k1", "k2"}) == 8
    for level, was in zip(copy["levels"], one["levels"], strict=True):
        assert {**level, "key": was["key"]} == was
    assert copy["alignments"] == one["alignments"]


def test_names_are_the_same_among_criteria_with_as_many_levels(criteria_module: Run) -> None:
    three, other, two = (
        criterion(points) for points in (["1", "2", "3"], ["0", "5", "9"], ["0", "1"])
    )
    rows = [three, other, {**two, "levels": [{**one, "name": "X"} for one in two["levels"]]}]
    assert criteria_module(rows, ["haveSameNames"])[1] == [True]
    changed = {
        **three,
        "levels": [{**one, "name": f"Step {one['name']}"} for one in three["levels"]],
    }
    rows[0] = changed
    left, answers = criteria_module(
        rows, ["haveSameNames"], ["renameEverywhere", changed, 2], ["renameEverywhere", changed, 7]
    )
    assert answers[0] is False
    assert [[level["name"] for level in one["levels"]] for one in left] == [
        ["Step Level 0", "Step Level 1", "Step Level 2"],
        ["Level 0", "Level 1", "Step Level 2"],
        ["X", "X"],
    ]


def test_what_the_server_gives_comes_back_unchanged(
    criteria_module: Run, teacher: TestClient, made: Small
) -> None:
    """Opened in the editor and saved as it is, a rubric is the same to the last cell."""
    number = teacher.post(f"/api/rubrics/{made.rubric_id}/copy").json()["id"]
    before = teacher.get(f"/api/rubrics/{number}").json()
    before["criteria"][0]["alignments"][0]["cells"][1] = {"value": "1.50", "by_hand": True}
    before["criteria"][1]["alignments"][0]["cells"][0] = {"value": None, "by_hand": True}
    bodies = []
    for one in before["criteria"]:
        _, (draft,) = criteria_module(one, ["toDraft"])
        _, (body,) = criteria_module(draft, ["toBody"])
        bodies.append(body)
    sent = {"version": before["version"], "title": before["title"], "criteria": bodies}
    after = teacher.put(f"/api/rubrics/{number}", json=sent).json()

    def plain(criteria: list[dict[str, Any]]) -> list[dict[str, Any]]:
        return [
            {**one, "id": 0, "levels": [{**level, "id": 0} for level in one["levels"]]}
            for one in criteria
        ]

    assert plain(after["criteria"]) == plain(before["criteria"])
