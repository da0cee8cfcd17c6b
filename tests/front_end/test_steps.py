"""Undo and redo in the rubric editor: every step back and every step on again."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.front_end.conftest import node

# What is edited is one text; `in` says in which field it is typed, and `after` how much later.
Ask = Callable[[Any], list[list[Any]]]
SLOW, FAST = 5000, 100


@pytest.fixture(scope="session")
def steps(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Ask]:
    folder = tmp_path_factory.mktemp("steps")
    with node(folder, ["features/rubrics/editor/useSteps.ts"], "steps.mjs", ["vue"]) as ask:
        yield lambda events: ask({"events": events})


@given(
    st.lists(
        st.one_of(
            st.tuples(st.just("write"), st.text("abc", min_size=1, max_size=2)),
            st.sampled_from([("undo",), ("redo",)]),
        ),
        max_size=20,
    )
)
@settings(max_examples=150, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_undo_and_redo_walk_over_all_that_was_written(
    steps: Ask, events: list[tuple[str, ...]]
) -> None:
    """Against two plain stacks; writing anew forgets what was undone."""
    past, future, now = [], [], "start"
    expected = []
    for name, *values in events:
        if name == "write" and values[0] != now:
            past.append(now)
            future, now = [], values[0]
        elif name == "undo" and past:
            future.append(now)
            now = past.pop()
        elif name == "redo" and future:
            past.append(now)
            now = future.pop()
        expected.append([now, bool(past), bool(future)])
    calls = [[name, *values, None, SLOW] if values else [name] for name, *values in events]
    assert steps(calls) == expected


@pytest.mark.parametrize(
    ("writing", "back"),
    [
        ([("a", "title", SLOW), ("ab", "title", FAST), ("abc", "title", FAST)], "start"),
        ([("a", "title", SLOW), ("ab", "title", SLOW)], "a"),
        ([("a", "title", SLOW), ("ab", "points", FAST)], "a"),
        ([("a", "button", SLOW), ("ab", "button", FAST)], "a"),
    ],
)
def test_what_is_typed_in_one_field_without_a_pause_is_one_step(
    steps: Ask, writing: list[tuple[str, str, int]], back: str
) -> None:
    seen = steps([*(["write", *one] for one in writing), ["undo"], ["redo"]])
    assert seen[-2][0] == back
    assert seen[-1] == [writing[-1][0], True, False]


def test_typing_on_after_an_undo_is_a_step_of_its_own(steps: Ask) -> None:
    written = [["write", "a", "title", SLOW], ["write", "ab", "title", FAST]]
    seen = steps([*written, ["undo"], ["write", "x", "title", FAST], ["undo"], ["undo"]])
    assert [text for text, *_ in seen] == ["a", "ab", "start", "x", "start", "start"]
