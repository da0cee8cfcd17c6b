"""Whose turn it is at the desk, whom it goes on with, and keys that are quicker than the server."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

import pytest

from tests.front_end.conftest import node

Ask = Callable[..., dict[str, Any]]


@pytest.fixture(scope="session")
def turn(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Ask]:
    modules = ["features/marking/desk/useTurn.ts"]
    with node(tmp_path_factory.mktemp("turn"), modules, "turn.mjs", ["vue"]) as ask:
        yield lambda waits, *events, **more: ask({"where": set_of(waits), "events": events, **more})


def set_of(waits: str) -> list[dict[str, Any]]:
    """Students 1, 2, …: `w` waits, `d` is done, `n` has handed nothing in yet, `m` is missing."""
    states = {"w": "waiting", "d": "done", "n": "not-yet", "m": "missing"}
    return [
        {"id": number, "waits": one == "w", "state": states[one]}
        for number, one in enumerate(waits, start=1)
    ]


@pytest.mark.parametrize(
    ("waits", "events", "current"),
    [
        ("dww", [], 2),
        ("ddd", [], 1),
        ("dww", [("ask", 3)], 3),
        ("dww", [("ask", 9)], 2),
        ("dww", [("step", 1)], 3),
        ("dww", [("step", -1)], 1),
        ("dww", [("step", 1), ("step", 1)], 3),
        ("www", [("ask", 1), ("finished", 1)], 1),
    ],
)
def test_whose_turn_it_is(
    turn: Ask, waits: str, events: list[tuple[str, int]], current: int
) -> None:
    assert turn(waits, *events, ("go", 0))["current"] == current


@pytest.mark.parametrize(
    ("waits", "asked", "more", "following"),
    [
        ("www", 1, {}, 2),
        ("wdw", 1, {}, 3),
        ("wdw", 3, {}, 1),
        ("ddd", 2, {}, None),
        # On paper nobody waits who has not handed in: on with the next of whom nothing is here.
        ("dnm", 1, {}, 2),
        ("ndm", 2, {}, 3),
        ("dnm", 1, {"written": [1]}, None),
        ("dnm", 1, {"kind": "observed"}, None),
    ],
)
def test_with_whom_it_goes_on(
    turn: Ask, waits: str, asked: int, more: dict[str, Any], following: int | None
) -> None:
    assert turn(waits, ("ask", asked), ("arrives", asked), **more)["next"] == following


def test_the_work_of_who_comes_next_is_fetched_ahead(turn: Ask) -> None:
    fetched = turn("wdw", ("arrives", 1))["fetched"]
    assert fetched[0] == 1
    assert set(fetched[1:]) == {3, 2}


@pytest.mark.parametrize(("left", "at"), [([1, 2, 3], 0), ([3], 2), ([2, 3], 1), ([], 0)])
def test_the_first_criterion_that_is_left_is_open(turn: Ask, left: list[int], at: int) -> None:
    assert turn("w", ("arrives", 1), left={"1": left})["at"] == at


@pytest.mark.parametrize(("steps", "at"), [([1], 1), ([1, 1, 1, 1], 2), ([-1], 0), ([1, -1], 0)])
def test_criteria_are_walked_and_not_beyond(turn: Ask, steps: list[int], at: int) -> None:
    assert turn("w", ("arrives", 1), *(("go", by) for by in steps))["at"] == at


def test_keys_before_the_work_is_here_are_kept_in_order_for_whom_they_were_pressed(
    turn: Ask,
) -> None:
    early = [("key", "a"), ("key", "b")]
    assert turn("ww", *early)["acted"] == []
    assert turn("ww", *early, ("arrives", 1), ("key", "c"))["acted"] == ["1a", "1b", "1c"]
    gone_on = turn("ww", *early, ("step", 1), ("key", "c"), ("arrives", 2))
    assert gone_on["acted"] == ["2c"]
