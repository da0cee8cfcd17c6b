"""That a preview names whose level or total is another one afterwards, and nobody else."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from tests.walk.asking import Call, School
from tests.walk.truths.mastery import cells
from tests.walk.truths.pages import Pages
from tests.walk.trying.totals import TaskSeen, said_of, tasks_of, totals_otherwise
from tests.walk.ways import WAYS, NothingThere, Walker, call_of


def _body(*names: str) -> Callable[[Call], Any]:
    return lambda call: {name: call.json[name] for name in names}


def _all_but(*names: str) -> Callable[[Call], Any]:
    return lambda call: {name: one for name, one in call.json.items() if name not in names}


@dataclass(frozen=True, slots=True)
class Preview:
    """How what an operation would do is asked for: where (beside the path's own), with what."""

    operation: str
    path: Callable[[Call], str]
    body: Callable[[Call], Any]


def _beside(end: str, up: int = 0) -> Callable[[Call], str]:
    return lambda call: "/".join(call.path.split("/")[: len(call.path.split("/")) - up]) + end


PREVIEWS: dict[str, Preview] = {
    "change_class_method": Preview(
        "preview_class_method", _beside("/preview"), lambda call: call.json["method"]
    ),
    "change_outcome": Preview(
        "preview_outcome", _beside("/rules/preview"), _body("method", "minimum", "scale_id")
    ),
    "change_outcomes": Preview("preview_outcomes", _beside("/preview"), _all_but()),
    "change_combining_of_class": Preview(
        "preview_combining", _beside("/preview"), _body("combining")
    ),
    "change_scale": Preview("preview_scale", _beside("/preview"), _all_but()),
    "apply_revision": Preview("read_effects", _beside("/effects", 1), _body("tasks")),
    "change_task": Preview("read_task_effects", _beside("/effects"), _all_but("version")),
    "set_own_times": Preview("read_own_times_effects", _beside("/effects"), _all_but()),
    "correct_times": Preview("read_time_effects", _beside("/effects"), _all_but()),
    "write_notes": Preview("read_note_effects", _beside("/effects"), _all_but("key")),
    "excuse": Preview(
        "read_excuse_effects",
        lambda call: f"{call.path}/effects?excused={str(call.json['excused']).lower()}",
        lambda call: None,
    ),
}
"""How it is asked beforehand what an operation would do to whose levels."""


def something_previewed(walker: Walker) -> Call:
    """Draw something that has a preview."""
    operation = walker.pick(sorted(PREVIEWS))
    return call_of(operation, WAYS[operation](walker))


def try_preview(school: School, call: Call) -> str:
    """Ask what something would do, and do it on a copy. Gives what came otherwise, or nothing."""
    preview = PREVIEWS[call.operation]
    body = preview.body(call)
    asked = Call(
        call.who,
        preview.operation,
        "GET" if body is None else "POST",
        preview.path(call),
        body,
    )
    with school.copy() as copy:
        before = _walls(copy, call.who)
        said = copy.send(asked)
        tasks = {one: TaskSeen.of(copy, call.who, one) for one in tasks_of(call)}
        if not copy.send(call).done:
            raise NothingThere
        if not said.done:
            return f"{call.written()} is done, and its preview refused: {said.content!r}"
        after = _walls(copy, call.who)
        wrong = [
            told
            for one, was in tasks.items()
            for told in totals_otherwise(
                said_of(said.json(), one), was, TaskSeen.of(copy, call.who, one)
            )
        ]
    told = {
        (one["class_id"], one["student"], one["code"]): (_seen(one["before"]), _seen(one["after"]))
        for one in _changes(said.json())
    }
    # With another number of levels it is the level's name that would be another.
    happened = {
        place: (before[place], after[place])
        for place in before
        if place in after and _is_other(before[place], after[place])
    }
    wrong += [
        f"{place}: told {told.get(place)}, happened {happened.get(place)}"
        for place in (*told, *(place for place in happened if place not in told))
        if not _agrees(told.get(place), happened.get(place), before.get(place), after.get(place))
    ]
    return f"{asked.written()} before {call.written()}: {wrong[:3]}" if wrong else ""


_Cell = tuple[Any, ...]


def _is_other(before: _Cell, after: _Cell) -> bool:
    """Whether level or state is another: a level by its place, or, with another number of levels,
    by its name.
    """
    (count, place, name), (new_count, new_place, new_name) = before[3], after[3]
    same = place == new_place if count == new_count else name == new_name
    return before[4] != after[4] or not same


def _agrees(
    told: tuple[_Cell, _Cell] | None,
    happened: tuple[_Cell, _Cell] | None,
    before: _Cell | None,
    after: _Cell | None,
) -> bool:
    """Judged cells are left out: previews speak of what is calculated."""
    if before is None or after is None or before[5] or after[5]:
        return True
    if told is None:
        return happened is None
    return (told[0], told[1]) == (before[:3], after[:3])


def _seen(mastery: dict[str, Any]) -> _Cell:
    return mastery["value"], mastery["level"], mastery["state"]


def _changes(said: Any) -> list[dict[str, Any]]:
    """The changes of levels in a preview, of whatever kind."""
    if isinstance(said, list):
        return said
    for name in ("levels", "together"):
        if name in said:
            return _changes(said[name])
    if "classes" in said:
        return [change for klass in said["classes"] for change in klass["changes"]]
    return list(said["changes"])


def _walls(school: School, who: int) -> dict[tuple[int, str, str], _Cell]:
    """What stands on the walls of somebody's classes: value, level, state, the level as it is
    told apart (by its name where scales differ), state, and whether judged.
    """
    pages = Pages(school)
    found = {}
    for klass in pages.see(who, "/classes"):
        wall = pages.see(who, f"/classes/{klass['id']}/mastery")
        names = {one["id"]: one["name"] for one in wall["students"]}
        codes = {one["id"]: one["code"] for one in wall["outcomes"]}
        judged = {(one["student_id"], one["outcome_id"]) for one in wall["judged"]}
        levels = {one["id"]: [level["name"] for level in one["levels"]] for one in wall["scales"]}
        names_of = {one["id"]: levels[one["scale_id"]] for one in wall["outcomes"]}
        for (student, outcome), cell in cells(wall).items():
            if cell["expected"]:
                place = klass["id"], names[student], codes[outcome]
                name = None if cell["level"] is None else names_of[outcome][cell["level"]]
                level = (len(names_of[outcome]), cell["level"], name)
                seen = _seen(cell)
                found[place] = (*seen, level, cell["state"], (student, outcome) in judged)
    return found
