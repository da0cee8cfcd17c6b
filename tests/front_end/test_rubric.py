"""The rubric editor: its draft is saved as it grows, and nothing typed is lost, whatever comes."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

import pytest
from hypothesis import HealthCheck, example, given, settings
from hypothesis import strategies as st

from tests.front_end.conftest import IN_PAGE, node

Ask = Callable[[Any], Any]
TYPED = st.one_of(
    st.tuples(st.just("type"), st.sampled_from(["first", "second", "third", ""])),
    st.tuples(st.just("points"), st.booleans()),
)
MINE = st.one_of(TYPED, st.sampled_from([("reply",), ("gone",), ("lost",), ("share",)]))


@pytest.fixture(scope="session")
def rubric(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Ask]:
    modules = ["features/rubrics/editor/useRubric.ts", "api/client.ts"]
    scripts = "browser.mjs rubric.mjs"
    with node(tmp_path_factory.mktemp("rubric"), modules, scripts, IN_PAGE) as ask:
        yield lambda events: ask({"events": events})


@settings(max_examples=40, suppress_health_check=[HealthCheck.function_scoped_fixture])
@example([("type", "second"), ("share",), ("reply",), ("type", "third"), ("reply",)])
@example([("type", "second"), ("lost",), ("type", "first"), ("reply",)])
@given(st.lists(MINE, max_size=10))
def test_what_is_typed_stays_and_is_saved_in_the_end(
    rubric: Ask, events: list[tuple[Any, ...]]
) -> None:
    answer = rubric(events)
    title, points = "first", True
    for (name, *values), seen in zip(events, answer["seen"], strict=True):
        title = values[0] if name == "type" else title
        points = values[0] if name == "points" else points
        assert seen[:2] == [title, points]
        assert seen[2] in ("saved", "waiting", "saving", "gone")
    assert answer["kept"] == [title, points]
    assert answer["last"] == [title, points, "saved"]


def test_what_is_refused_is_told_and_kept_and_saved_once_it_is_mended(rubric: Ask) -> None:
    mended = rubric([("type", ""), ("refuse",), ("type", "second"), ("reply",)])
    assert mended["seen"][1] == ["", True, "refused"]
    assert mended["last"] == ["second", True, "saved"]
    assert mended["kept"] == ["second", True]
    taken_back = rubric([("type", ""), ("refuse",), ("type", "first")])
    assert taken_back["last"] == ["first", True, "saved"]


@pytest.mark.parametrize("also", [[], [("share",)]])
def test_what_another_tab_changed_is_never_written_over(
    rubric: Ask, also: list[tuple[str]]
) -> None:
    events = [("other", "theirs"), ("type", "mine"), *also, ("reply",), ("type", "more")]
    answer = rubric(events)
    assert answer["last"] == ["more", True, "stale"]
    assert answer["kept"] == ["theirs", True]
