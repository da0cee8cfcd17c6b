"""What is true of every call: what is refused changed nothing, looking changes nothing, and the
same request twice is one.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Any

from tests.walk.asking import Answer, Call, School
from tests.walk.ways.walker import DOCUMENT

READS = frozenset(
    {
        *("offer_remarks", "read_note_effects", "preview_reminder", "read_task_effects"),
        *("read_own_times_effects", "read_time_effects", "preview_class_list", "preview_outcomes"),
        *("preview_outcome", "preview_class_method", "preview_combining", "preview_outcome_list"),
        *("preview_framework", "preview_scale", "work_out_cuts", "read_grid", "imagine"),
        *("read_effects", "match_files", "read_invited", "open_link", "leave"),
    }
)
"""What is sent with a body and only looks."""

ANOTHER_EACH_TIME = frozenset(
    {
        *("make_class", "make_rubric", "make_task", "copy_task", "copy_rubric", "copy_for_class"),
        *("copy_class", "make_sample_class", "copy_outcomes", "send_reminder", "make_slips"),
        *("make_link", "add_own_link", "add_work_link", "sign_in", "sign_out"),
        *("join", "enter_work", "add_colleagues"),
    }
)
"""What makes another one each time that it is asked for, and is not sent again by itself."""
STEP_TRUTHS = (
    "a_thing_refused_changed_nothing",
    "looking_changes_nothing",
    "the_same_request_twice_is_one",
)
_OF_THE_PAGE = frozenset({"text", "criteria"})
REFUSALS = {400, 401, 403, 404, 409, 413, 415, 422, 429}


@dataclass(frozen=True, slots=True)
class Before:
    """How it was before a call."""

    stamp: int

    @classmethod
    def of(cls, school: School, call: Call) -> Before:
        """See to it that asking itself changes nothing, and take the stamp."""
        school.sign_in(call.who)
        return cls(school.stamp())


class StepUntrue(AssertionError):
    """Something is not true of a call."""


def held_by_a_step(school: School, call: Call, answer: Answer, before: Before) -> None:
    """Hold what is true of every call."""
    changed = school.stamp() != before.stamp and not school.signed_in_anew
    if not answer.done:
        _refused(call, answer, changed)
    elif call.method == "GET" or call.operation in READS:
        _hold(not changed, f"looking_changes_nothing: {call.operation} changed something")
    elif call.operation not in ANOTHER_EACH_TIME:
        _twice(school, call)


def _hold(true: bool, told: str) -> None:
    if not true:
        raise StepUntrue(told)


def _refused(call: Call, answer: Answer, changed: bool) -> None:
    said = answer.content.decode()
    name = "a_thing_refused_changed_nothing"
    _hold(answer.status in REFUSALS, f"{name}: {call.operation} {answer.status} {said}")
    _hold(not changed, f"{name}: {call.operation} {said}")
    problem = answer.json()
    _hold(bool(problem["detail"]), f"{name}: {call.operation} says nothing: {said}")
    if answer.status == 422:
        _hold(bool(problem["errors"]), f"{name}: {call.operation} says no error: {said}")
        for error in problem["errors"]:
            _hold(bool(error["message"]), f"{name}: {call.operation} says nothing: {said}")
            field, fields = error["field"].split(".")[0], _fields(call.operation)
            if field.startswith("line "):
                continue
            # What takes no field names the part of the page that it is about.
            _hold(
                not field or not fields or field in fields | _OF_THE_PAGE,
                f"{name}: {call.operation} has no field {field}: {said}",
            )


@cache
def _fields(operation: str) -> frozenset[str]:
    """The fields that an operation takes, in its body, its address and beside it."""
    schemas = DOCUMENT["components"]["schemas"]
    for operations in DOCUMENT["paths"].values():
        for one in operations.values():
            if one["operationId"] != operation:
                continue
            found = {one["name"] for one in one.get("parameters", ()) if one["in"] == "query"}
            for content in one.get("requestBody", {}).get("content", {}).values():
                name = content["schema"].get("$ref", "").rsplit("/", 1)[-1]
                found |= set(schemas.get(name, {}).get("properties", ()))
            return frozenset(found)
    return frozenset()


def _twice(school: School, call: Call) -> None:
    """Sent again, on a copy: it is refused, or it changes nothing that anybody sees."""
    with school.copy() as copy:
        before = _what_stands(copy)
        again = copy.send(call)
        after = _what_stands(copy)
        if before != after:
            tables = {
                name: [row for row in after[name] if row not in before[name]]
                or [row for row in before[name] if row not in after[name]]
                for name in after
                if after[name] != before[name]
            }
            raise StepUntrue(
                f"the_same_request_twice_is_one: {call.operation} ({again.status}): {tables}"
            )


# What tells when or how often something was said, and not what stands.
_ASIDE = ("log", "session", "evidence_stamp", "sqlite_sequence", "known_device", "tap")


def _what_stands(school: School) -> dict[str, list[Any]]:
    return school.dump(_ASIDE)
