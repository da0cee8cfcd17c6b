"""The queue of saves: whatever the server does and whenever the page is left, nothing is lost."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

import pytest
from hypothesis import HealthCheck, example, given, settings
from hypothesis import strategies as st

from tests.front_end.conftest import node

ANSWERS = [200, 200, 200, 0, -1, 401, 408, 409, 422, 429, 500, 503, "other"]
# A server that answers when the events say so.
Ask = Callable[[Any], Any]


@pytest.fixture(scope="session")
def queue(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Ask]:
    modules = ["shared/saving/saves.ts", "api/client.ts"]
    with node(tmp_path_factory.mktemp("saves"), modules, "browser.mjs saves.mjs") as ask:
        yield ask


def save(student: int, kind: str, criterion: int | None, value: int) -> list[Any]:
    """Add a save; `value` tells it from every other."""
    place = {"studentId": student, "kind": kind, "criterionId": criterion}
    chosen = {"level_id": value, "half_way": False, "not_assessed": False, "text": str(value)}
    return ["add", {"attempt": 1, **place, **chosen}]


@st.composite
def scenarios(draw: st.DrawFn) -> list[list[Any]]:
    """Saves for two students and two criteria, answers of every kind, and pages left."""
    events: list[list[Any]] = []
    for value in range(draw(st.integers(1, 14))):
        kind = draw(st.sampled_from(["choice", "choice", "choice", "remark", "finish"]))
        criterion = None if kind == "finish" else draw(st.integers(1, 2))
        events.append(save(draw(st.integers(1, 2)), kind, criterion, value))
        events += draw(
            st.lists(
                st.one_of(
                    st.tuples(st.just("reply"), st.sampled_from(ANSWERS)),
                    st.tuples(st.just("decide"), st.booleans()),
                    st.sampled_from([("retry",), ("reload",)]),
                ).map(list),
                max_size=4,
            )
        )
    return events


def place(one: dict[str, Any]) -> tuple[Any, ...]:
    return one["studentId"], one["kind"], one["criterionId"]


@given(scenarios())
@example([save(1, "choice", 1, 0), save(1, "finish", None, 1), save(1, "choice", 1, 2)])
@example([save(1, "choice", 1, 0), save(1, "choice", 1, 1), ["reply", 409], ["decide", False]])
@settings(max_examples=150, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_the_last_save_for_a_place_is_with_the_server_or_waits_for_the_teacher(
    queue: Ask, events: list[list[Any]]
) -> None:
    done = queue({"events": events})
    assert done["waiting"] == []
    assert done["kept"] == len(done["refused"])
    added = [values[0] for name, *values in events if name == "add"]
    reached = {place(one): one["level_id"] for one in done["log"]}
    refused = {place(one): one["level_id"] for one in done["refused"]}
    let_go = ["decide", False] in events
    for last in {place(one): one for one in added}.values():
        known = {reached.get(place(last)), refused.get(place(last))}
        assert last["level_id"] in known or let_go


@given(scenarios())
@settings(max_examples=100, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_what_was_chosen_before_a_finish_is_with_the_server_before_it(
    queue: Ask, events: list[list[Any]]
) -> None:
    """Unless it was refused: then the server says what is unfinished."""
    events = [event for event in events if event[1:] not in ([409], [422]) and event[0] != "decide"]
    log = queue({"events": events})["log"]
    added = [values[0] for name, *values in events if name == "add"]
    for at, finish in enumerate(log):
        if finish["kind"] != "finish":
            continue
        before = [one["level_id"] for one in log[:at]]
        made = next(n for n, one in enumerate(added) if one["level_id"] == finish["level_id"])
        earlier = {
            place(one): one for one in added[:made] if one["studentId"] == finish["studentId"]
        }
        for one in earlier.values():
            later = [two["level_id"] for two in added if place(two) == place(one)]
            later = later[later.index(one["level_id"]) :]
            assert set(later) & set(before) or one["kind"] == "finish"


def test_a_save_knows_the_version_that_the_one_before_it_gave(queue: Ask) -> None:
    events = [
        save(1, "choice", 1, 0),
        save(1, "choice", 2, 1),
        save(2, "choice", 1, 2),
        ["reply", 200],
        ["reply", 200],
        ["reply", 200],
    ]
    log = queue({"events": events})["log"]
    assert [(one["level_id"], one["version"]) for one in log] == [(0, 0), (1, 1), (2, 0)]


@pytest.mark.parametrize(("again", "sent"), [(True, [0]), (False, [])])
def test_what_was_refused_waits_and_is_sent_again_only_if_the_teacher_says_so(
    queue: Ask, again: bool, sent: list[int]
) -> None:
    refused = [save(1, "choice", 1, 0), ["reply", 409]]
    kept = queue({"events": refused})
    assert [one["refused"] for one in kept["refused"]] == [{"message": "no", "stale": True}]
    assert kept["log"] == []
    after = queue({"events": [*refused, ["reload"], ["decide", again], ["reply", 200]]})
    assert [one["level_id"] for one in after["log"]] == sent
    assert [one["version"] for one in after["log"]] == [9] * len(sent)
    assert (after["refused"], after["kept"]) == ([], 0)


@pytest.mark.parametrize("status", [0, 401, 408, 429, 500, 502, 503, 504, "other"])
def test_what_is_not_refused_waits_and_is_sent_again(queue: Ask, status: int | str) -> None:
    """A busy server, a session that ended, another person at the browser: none is a refusal."""
    done = queue({"events": [save(1, "choice", 1, 7), ["reply", status], ["reply", 200]]})
    assert [one["level_id"] for one in done["log"]] == [7]
    assert (done["refused"], done["waiting"]) == ([], [])


@pytest.mark.parametrize("status", [400, 403, 404, 413, 422])
def test_any_other_answer_is_a_refusal(queue: Ask, status: int) -> None:
    done = queue({"events": [save(1, "choice", 1, 7), ["reply", status]]})
    assert [one["refused"]["stale"] for one in done["refused"]] == [False]
    assert done["log"] == []


def test_what_an_earlier_version_kept_is_sent_as_of_the_first_attempt(queue: Ask) -> None:
    """A record from before attempts had numbers, and saves knew when they were made."""
    _, made = save(1, "choice", 1, 7)
    record = {"classId": 1, "taskId": 1, "version": 0, **made}
    del record["attempt"]
    done = queue({"events": [["kept", record], ["reload"], ["reply", 200]]})
    assert [(one["attempt"], one["level_id"]) for one in done["log"]] == [(1, 7)]
    assert (done["waiting"], done["kept"]) == ([], 0)


TAPS = st.lists(
    st.one_of(
        st.tuples(st.just("add"), st.integers(1, 2), st.sampled_from(["seen", "said", "absent"])),
        st.tuples(st.just("reply"), st.sampled_from([200, 200, 0, -1, 503])),
        st.sampled_from([("retry",), ("reload",)]),
    ),
    max_size=24,
)


@given(TAPS)
@settings(max_examples=100, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_every_tap_reaches_the_server_in_the_order_it_was_made_under_its_own_key(
    queue: Ask, events: list[tuple[Any, ...]]
) -> None:
    """None is replaced by a later one: each says what the page showed before it."""
    made = [
        save(event[1], event[2], 1, number) if event[0] == "add" else list(event)
        for number, event in enumerate(events)
    ]
    done = queue({"events": made})
    assert (done["waiting"], done["refused"], done["kept"]) == ([], [], 0)
    reached = [one["level_id"] for one in done["log"]]
    # What was stored without an answer is sent again under the same key, next in line.
    once = [value for at, value in enumerate(reached) if at == 0 or reached[at - 1] != value]
    assert once == [one[1]["level_id"] for one in made if one[0] == "add"]
    keys = {(one["id"], one["level_id"]) for one in done["log"]}
    assert len(keys) == len({key for key, _ in keys}) == len(once)


def test_what_a_full_storage_did_not_take_is_told_and_sent_while_the_page_is_open(
    queue: Ask,
) -> None:
    events = [
        *(save(1, "seen", 1, 0), ["reply", 0], save(1, "seen", 1, 1)),
        *(["full", True], save(1, "seen", 1, 2), save(2, "seen", 1, 3)),
    ]
    done = queue({"events": events})
    assert done["unkept"] == 2
    assert [one["level_id"] for one in done["log"]] == [0, 1, 2, 3]
    # After a reload what was kept is there; what was only in the page was said to be.
    done = queue({"events": [*events, ["full", False], ["reload"]]})
    assert [one["level_id"] for one in done["log"]] == [0, 1]
