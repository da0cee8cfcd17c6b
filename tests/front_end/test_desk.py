"""The marking desk's own state: what is chosen is seen at once, whenever and however the server
answers, and in the end the desk shows what the server has.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

import pytest
from hypothesis import HealthCheck, example, given, settings
from hypothesis import strategies as st

from tests.front_end.conftest import IN_PAGE, node

# A server of one task: two students, three criteria (the last a bonus), marks by version.
Ask = Callable[[Any], Any]
STUDENTS = st.sampled_from([1, 2])
EVENTS = st.one_of(
    st.tuples(st.sampled_from(["load", "reply", "gone", "slow", "arrive"])),
    st.tuples(st.just("fetch"), STUDENTS),
    st.tuples(st.just("choose"), STUDENTS, st.integers(1, 3), st.sampled_from([11, 12])),
    st.tuples(st.just("remark"), STUDENTS, st.sampled_from(["Which sheet?", "Good", ""])),
    st.tuples(
        st.just("passage"),
        STUDENTS,
        st.sampled_from(["first", "second"]),
        st.sampled_from(["Where?", "Name it", ""]),
    ),
    st.tuples(st.just("finish"), STUDENTS),
)
# Most of the time the desk is open, with the work of both.
OPEN = [("load",), ("fetch", 1), ("fetch", 2), ("load",), ("load",)]


@pytest.fixture(scope="session")
def desk(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Ask]:
    modules = ["features/marking/desk/useDesk.ts", "shared/saving/useSaves.ts"]
    with node(tmp_path_factory.mktemp("desk"), modules, "browser.mjs desk.mjs", IN_PAGE) as ask:
        yield ask


def standing(passages: dict[str, str]) -> dict[str, str]:
    """Those that were not deleted."""
    return {key: text for key, text in passages.items() if text}


@settings(max_examples=60, suppress_health_check=[HealthCheck.function_scoped_fixture])
@example([("fetch", 1), ("slow",), ("choose", 1, 1, 11), ("reply",), ("arrive",)])
@example([("choose", 1, 1, 11), ("choose", 1, 2, 12), ("finish", 1), ("choose", 1, 3, 11)])
@example([("fetch", 1), ("slow",), ("passage", 1, "first", "Where?"), ("reply",), ("arrive",)])
@given(st.lists(EVENTS, max_size=16))
def test_what_is_marked_is_seen_at_once_and_is_what_the_server_has_in_the_end(
    desk: Ask, events: list[tuple[Any, ...]]
) -> None:
    events = OPEN + events
    answer = desk({"events": events})
    chosen: dict[int, dict[str, int]] = {1: {}, 2: {}}
    remarks = {1: "", 2: ""}
    passages: dict[int, dict[str, str]] = {1: {}, 2: {}}
    finished = {1: False, 2: False}
    for (name, *values), seen in zip(events, answer["seen"], strict=True):
        if values and seen[values[0] - 1]:
            student = values[0]
            if name == "choose":
                chosen[student][str(values[1])] = values[2]
                finished[student] = False
            elif name == "remark":
                remarks[student] = values[1]
            elif name == "passage":
                passages[student] |= {values[1]: values[2]}
            elif name == "finish":
                finished[student] = finished[student] or {"1", "2"} <= set(chosen[student])
        for student in (1, 2):
            shown = seen[student - 1]
            if shown is not None:
                assert shown["choices"] == chosen[student]
                assert shown["remark"] == remarks[student]
                assert shown["passages"] == standing(passages[student])
                assert shown["finished"] == finished[student]
                assert shown["left"] == [one for one in (1, 2) if str(one) not in chosen[student]]
    for student in (1, 2):
        server, last = answer["server"][student - 1], answer["last"][student - 1]
        assert server["choices"] == chosen[student] == last["choices"]
        assert standing(passages[student]) == last["passages"]
        assert standing(passages[student]) == standing(
            {one["key"]: one["text"] for one in server["passages"].values()}
        )
        assert server["finished"] == finished[student] == last["finished"]
        assert server["remarks"].get("null", "") == remarks[student] == last["remark"]
        assert answer["waits"][student - 1] is not finished[student]
