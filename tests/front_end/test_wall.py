"""What is shown of a wall, and in which order; and the days that its slider steps through."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.front_end.conftest import node

SCALE = {"levels": [{"cut": "1.00"}, {"cut": "1.75"}, {"cut": "2.75"}, {"cut": "3.75"}]}
values = st.none() | st.sampled_from(["1.00", "2.20", "2.25", "3.00", "10.00"])


@pytest.fixture(scope="module")
def ask(tmp_path_factory: pytest.TempPathFactory) -> Any:
    modules = ["features/mastery/wall.ts", "features/mastery/days.ts"]
    with node(tmp_path_factory.mktemp("wall"), modules, "calls.mjs") as asking:

        def called(given: Any, *calls: list[Any]) -> list[Any]:
            answers: list[Any] = asking({"given": given, "calls": calls})["answers"]
            return answers

        yield called


def cell(value: str | None, **more: Any) -> dict[str, Any]:
    plain = {"expected": True, "level": None, "state": "not-yet", "judged": None}
    signs = dict.fromkeys(("close", "slipped", "thin", "swings"), False)
    return {**plain, **signs, "value": value, **more}


def row(number: int, cells: list[dict[str, Any]], mastered: int = 0) -> dict[str, Any]:
    student = {"id": number, "name": f"Student {number}", "mastered": mastered}
    return {"student": student, "cells": cells, "strands": {}}


def column(at: int) -> dict[str, Any]:
    return {"outcome": {"id": at + 1}, "at": at, "strandId": None, "starts": False}


@given(st.lists(values, max_size=8), st.sampled_from(["o1", "-o1"]))
@settings(max_examples=40, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_who_has_no_value_stands_last_whichever_way_round(
    ask: Any, found: list[str | None], sort: str
) -> None:
    rows = [row(number, [cell(value)]) for number, value in enumerate(found)]
    view = {"sort": sort, "sign": "", "on": None, "name": ""}
    (shown,) = ask(rows, ["shownRows", [column(0)], view])
    there = [(float(value), at) for at, value in enumerate(found) if value is not None]
    down = sort.startswith("-")
    there.sort(key=lambda one: (-one[0] if down else one[0], one[1]))
    without = [at for at, value in enumerate(found) if value is None]
    assert [one["student"]["id"] for one in shown] == [at for _, at in there] + without


def test_levels_of_several_scales_are_told_apart(ask: Any) -> None:
    scales = [
        {"id": 3, "name": "Steps", "levels": [{"name": "Low"}, {"name": "High"}]},
        {"id": 7, "name": "Marks", "levels": [{"name": "No"}, {"name": "Yes"}]},
    ]
    (alone,) = ask({"scales": scales[:1]}, ["levelsOf"])
    assert [one["sign"] for one in alone] == ["level0", "level1"]
    (both,) = ask({"scales": scales}, ["levelsOf"])
    assert [one["sign"] for one in both] == ["level0-3", "level1-3", "level0-7", "level1-7"]
    assert both[3]["name"] == "Yes of Marks"
    here, there = cell("2.00", level=1, scaleId=3), cell("2.00", level=1, scaleId=7)
    assert ask(here, ["matches", "level1-3"], ["matches", "level1-7"]) == [True, False]
    assert ask(there, ["matches", "level1"]) == [True]


@pytest.mark.parametrize(
    ("sign", "more"),
    [
        ("close", {"close": True}),
        ("slipped", {"slipped": True}),
        ("thin", {"thin": True}),
        ("swings", {"swings": True}),
        ("needs", {"state": "needs-evidence"}),
        ("none", {"state": "no-evidence"}),
        ("judged", {"judged": {"calculated": None, "evidence_changed": False}}),
        ("level2", {"level": 2}),
        ("level2-7", {"level": 2, "scaleId": 7}),
    ],
)
def test_a_filter_keeps_rows_with_such_a_cell_in_a_column_that_is_shown(
    ask: Any, sign: str, more: dict[str, Any]
) -> None:
    such, other = cell("2.20", **more), cell("2.20", level=1)
    rows = [row(1, [such, other]), row(2, [other, such]), row(3, [other, other])]
    lifted = row(4, [cell("2.20", **{**more, "expected": False}), other])
    view = {"sort": "name", "sign": sign, "on": None, "name": ""}
    both, first, only = ask(
        [*rows, lifted],
        ["shownRows", [column(0), column(1)], view],
        ["shownRows", [column(0)], view],
        ["shownRows", [column(0), column(1)], {**view, "on": 2}],
    )
    assert [one["student"]["id"] for one in both] == [1, 2]
    assert [one["student"]["id"] for one in first] == [1]
    assert [one["student"]["id"] for one in only] == [2]


def test_what_goes_on_paper_is_what_is_shown(ask: Any) -> None:
    rows = [row(2, []), row(1, [])]
    wall = {"students": [{"id": 1}, {"id": 2}], "outcomes": [{"id": at + 1} for at in range(3)]}
    folded = {"outcome": None, "title": "", "ats": [0, 2], "starts": True, "strandId": 5}
    every, some, turned = ask(
        wall,
        ["paperPart", rows, [column(1), folded], {"sort": "name"}, ""],
        ["paperPart", rows[:1], [folded], {"sort": "name"}, "2026-11-20"],
        ["paperPart", rows, [column(0), column(1), column(2)], {"sort": "-mastered"}, ""],
    )
    assert every == {"asOf": ""}
    assert some == {"asOf": "2026-11-20", "students": [2], "outcomes": [1, 3]}
    assert turned == {"asOf": "", "students": [2, 1]}


def test_a_value_is_cut_short_only_where_no_cut_score_asks_for_more(ask: Any) -> None:
    tenths = {"levels": [{"cut": "1.00"}, {"cut": "2.50"}]}
    for value, scale, shown in (
        ("2.99", SCALE, "2.99"),
        ("2.99", tenths, "2.9"),
        ("10.05", tenths, "10.0"),
    ):
        assert ask(value, ["tight", scale]) == [shown]


def test_the_slider_steps_through_every_day_leap_days_too(ask: Any) -> None:
    day, before = date(2027, 12, 28), None
    while day < date(2028, 3, 3):
        (number,) = ask(day.isoformat(), ["numberOfDay"])
        assert ask(number, ["dayOfNumber"]) == [day.isoformat()]
        assert before in (None, number - 1)
        day, before = day + timedelta(days=1), number
    assert ask("2028-02-29", ["numberOfDay"]) == [(date(2028, 2, 29) - date(1970, 1, 1)).days]
