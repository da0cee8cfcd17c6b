"""What is tried on a copy, since it needs a look before and after: that undo leaves every page of
everybody as before, that a preview says what then happens, and that what would reach mastery does.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

from tests.walk.asking import Answer, Call, School
from tests.walk.truths.mastery import cells
from tests.walk.truths.pages import Pages
from tests.walk.ways import WAYS, NothingThere, Walker, call_of

Everything = dict[tuple[int, str], Any]
# What tells when or how often something was changed, and not what stands.
_PASSING = {"version", "class_version", "saved_at", "current", "taken_back_at", "corrected_at"}


class NotSo(AssertionError):
    """What was tried did not come out as it should."""


def everybodys_pages(school: School) -> Everything:
    """All that anybody sees."""
    pages = Pages(school)
    for who in pages.teachers():
        for path in ("/pile", "/today", "/rubrics", "/rubrics/shared", "/scales", "/bank"):
            pages.see(who, path)
        for klass in pages.see(who, "/classes"):
            at = f"/classes/{klass['id']}"
            for path in ("", "/mastery", "/outcomes", "/coverage", "/over-term/tasks", "/tasks"):
                pages.see(who, f"{at}{path}")
            for path in ("/over-term/outcomes", "/slips", "/students"):
                pages.see(who, f"{at}{path}")
            for task in pages.see(who, f"{at}/tasks"):
                one = f"/tasks/{task['id']}"
                for path in ("", "/desk", "/handing-back", "/totals", "/set-aside", "/work"):
                    pages.see(who, f"{one}{path}")
                if task["kind"] == "observed":
                    pages.see(who, f"{one}/observation")
    for student in pages.students():
        for path in ("/my/tasks", "/my/ladder", "/my/account"):
            pages.may_see(student, path)
        for task in pages.see(student, "/my/tasks"):
            pages.see(student, f"/my/tasks/{task['id']}")
            newest = pages.may_see(student, f"/my/tasks/{task['id']}/results")
            for attempt in newest["attempts"] if newest else ():
                pages.see(student, f"/my/tasks/{task['id']}/results/{attempt}")
    return {place: _standing(page) for place, page in pages.read.items()}


def _standing(page: Any) -> Any:
    if isinstance(page, dict):
        return {name: _standing(one) for name, one in page.items() if name not in _PASSING}
    return [_standing(one) for one in page] if isinstance(page, list) else page


TRIED = (
    "undo_leaves_all_as_before",
    "a_preview_says_what_happens",
    "what_would_reach_mastery_does",
)
"""The truths that are held here."""

# Undo.


@dataclass(frozen=True, slots=True)
class Done:
    """What was done: on which copy, as it was asked, what came back, and all pages before."""

    school: School
    call: Call
    answer: Answer
    before: Everything

    def again(self, **body: Any) -> Call:
        """The same request with another body."""
        return replace(self.call, json={**(self.call.json or {}), **body})

    def other(self, operation: str, method: str, path: str, body: Any = None) -> Call:
        """Another request of the same person."""
        return Call(self.call.who, operation, method, path, body)

    def page(self, path: str) -> Any:
        """A page of the same person as it was before."""
        return self.before[self.call.who, path]

    @property
    def at(self) -> list[str]:
        """The parts of the path."""
        return self.call.path.split("/")[1:]

    @property
    def made(self) -> Any:
        """What came back."""
        return self.answer.json()

    def of_student(self) -> dict[str, Any]:
        """Where the student of the path stood at the task of the path."""
        page = self.page(f"/tasks/{self.at[1]}")
        return next(one for one in page["where"] if one["id"] == int(self.at[3]))


def _only(holds: bool) -> None:
    if not holds:
        raise NothingThere


def _excused(done: Done) -> Call:
    was = done.of_student()["state"] == "excused"
    return done.again(excused=was)


def _taken_back(done: Done) -> Call:
    page = done.school.get(done.call.who, f"/my/tasks/{done.at[2]}")
    receipt = max(one["number"] for one in page["receipts"] if one["taken_back_at"] is not None)
    return done.other(
        "undo_taking_back", "POST", f"/my/tasks/{done.at[2]}/take-back/undo", {"receipt": receipt}
    )


def _methods(done: Done) -> Call:
    entries = done.made.get("entries") or [done.made.get("entry")]
    _only(entries != [None] and entries != [])
    path = f"/classes/{done.at[1]}/method/undo"
    return done.other("undo_method_changes", "POST", path, {"entries": entries})


def _judged(done: Done) -> Call:
    path = f"/classes/{done.at[1]}/judgements/undo"
    return done.other("undo_judging", "POST", path, {"entry": done.made["entry"]})


def _lifted(done: Done) -> Call:
    path = f"/classes/{done.at[1]}/judgements/undo-lifting"
    return done.other("undo_lifting", "POST", path, {"entry": done.made["entry"]})


def _aside(done: Done) -> Call:
    was = done.page(f"/tasks/{done.at[1]}/set-aside")
    _only(not was)
    body = {name: value for name, value in done.call.json.items() if name != "reason"}
    return done.other("count_evidence_again", "POST", f"/tasks/{done.at[1]}/counted-again", body)


def _not_expected(done: Done) -> Call:
    return done.other("expect_again", "DELETE", done.call.path)


def _listed(done: Done) -> Call:
    path = f"/classes/{done.at[1]}/students/list/{done.made['id']}"
    return done.other("undo_class_list", "DELETE", path)


def _imported(done: Done) -> Call:
    path = f"/classes/{done.at[1]}/framework/{done.made['id']}"
    return done.other("undo_framework_import", "DELETE", path)


def _left(done: Done) -> Call:
    there = done.page(f"/classes/{done.at[1]}/students")
    was = next(one for one in there if one["id"] == int(done.at[3]))["until"]
    _only(was is None and done.call.json["left_on"] is not None)
    return done.again(left_on=None)


def _withdrawn(done: Done) -> Call:
    now = done.school.get(done.call.who, f"/notes/{done.at[1]}")
    (version,) = done.school.rows("SELECT version FROM note WHERE id = ?", int(done.at[1]))
    _only(now is not None and done.call.json["withdrawn"])
    _only(version > done.call.json["version"])
    return done.again(withdrawn=False, version=version)


def _retired(done: Done) -> Call:
    outcomes = done.page(f"/classes/{done.at[1]}/outcomes")["outcomes"]
    was = next((one for one in outcomes if one["id"] == int(done.at[3])), None)
    _only(was is not None and was["retired"] is None and done.call.json["retired"])
    return done.again(retired=False)


def _toggled(name: str) -> Callable[[Done], Call]:
    def undo(done: Done) -> Call:
        rubrics = done.page("/rubrics")
        was = next(one for one in rubrics if one["id"] == int(done.at[1]))
        stood = was["shared"] if name == "shared" else was["archived"]
        _only(bool(stood) != done.call.json[name])
        return done.again(**{name: bool(stood)})

    return undo


def _opened(done: Done) -> Call:
    student = done.call.json["student_ids"][0]
    path = f"/tasks/{done.at[1]}/students/{student}/opened-attempt"
    return done.other("withdraw_attempt", "DELETE", path)


def _set_aside_class(done: Done) -> Call:
    _only(done.call.json["aside"])
    return done.again(aside=False)


def _revised(done: Done) -> Call:
    version = done.made["version"]
    path = f"/rubrics/{done.at[1]}/revisions/draft?version={version}"
    return done.other("discard_revision", "DELETE", path)


def _own_times(done: Done) -> Call:
    page = done.page(f"/tasks/{done.at[1]}")
    some = done.call.json["student_ids"]
    were = [one for one in page["where"] if one["id"] in some]
    _only(all(one["own_due_at"] is None and one["own_closes_at"] is None for one in were))
    return done.again(due_at=None, closes_at=None)


def _corrected(done: Done) -> Call:
    page = done.page(f"/tasks/{done.at[1]}")
    were = [one for one in page["where"] if one["id"] in done.call.json["student_ids"]]
    _only(not any(one["corrected"] for one in were))
    _only(done.call.json["done_at"] is not None)
    return done.again(done_at=None)


def _collected(done: Done) -> Call:
    path = f"/tasks/{done.at[1]}/collect/undo"
    return done.other("undo_collecting", "POST", path, {"batch": done.call.json["batch"]})


def _removed(done: Done) -> Call:
    path = f"/my/removed-parts/{done.made['number']}/put-back"
    return done.other("put_own_part_back", "POST", path)


def _deleted_from_bank(done: Done) -> Call:
    return done.other("restore_in_bank", "POST", f"{done.call.path}/restore")


UNDO: dict[str, Callable[[Done], Call]] = {
    "excuse": _excused,
    "take_own_work_back": _taken_back,
    "remove_own_part": _removed,
    "change_class_method": _methods,
    "change_outcome_methods": _methods,
    "judge": _judged,
    "lift_judgement": _lifted,
    "set_evidence_aside": _aside,
    "lift_outcome": _not_expected,
    "import_class_list": _listed,
    "import_framework": _imported,
    "import_outcome_list": _imported,
    "set_left": _left,
    "withdraw_note": _withdrawn,
    "retire_outcome": _retired,
    "archive_rubric": _toggled("archived"),
    "share_rubric": _toggled("shared"),
    "open_attempts": _opened,
    "set_class_aside": _set_aside_class,
    "revise": _revised,
    "set_own_times": _own_times,
    "correct_times": _corrected,
    "collect_file": _collected,
    "delete_from_bank": _deleted_from_bank,
}
"""How what was done is undone, as the interface offers it."""


def try_undo(walker: Walker, operation: str) -> str:
    """Do something on a copy and undo it. Gives what was not as before, or nothing."""
    call = call_of(operation, WAYS[operation](walker))
    with walker.school.copy() as copy:
        before = everybodys_pages(copy)
        answer = copy.send(call)
        if not answer.done:
            raise NothingThere
        undo = UNDO[operation](Done(copy, call, answer, before))
        undone = copy.send(undo)
        if not undone.done:
            return f"{call.written()} cannot be undone by {undo.written()}: {undone.content!r}"
        after = everybodys_pages(copy)
    other = _differences(before, after)
    return f"after {call.written()} and {undo.written()}: {other}" if other else ""


def _differences(before: Everything, after: Everything) -> list[str]:
    return [
        f"{place}: {_first_difference(before.get(place), after.get(place))}"
        for place in (*before, *(place for place in after if place not in before))
        if before.get(place) != after.get(place)
    ][:4]


def _first_difference(one: Any, other: Any, where: str = "") -> str:
    if isinstance(one, dict) and isinstance(other, dict):
        for name in (*one, *(name for name in other if name not in one)):
            if one.get(name) != other.get(name):
                return _first_difference(one.get(name), other.get(name), f"{where}.{name}")
    if isinstance(one, list) and isinstance(other, list) and len(one) == len(other):
        for at, (first, second) in enumerate(zip(one, other, strict=True)):
            if first != second:
                return _first_difference(first, second, f"{where}[{at}]")
    return f"{where}: {str(one)[:200]} and then {str(other)[:200]}"


# Previews.


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


def try_preview(walker: Walker, operation: str) -> str:
    """Ask what something would do, and do it on a copy. Gives what came otherwise, or nothing."""
    call = call_of(operation, WAYS[operation](walker))
    preview = PREVIEWS[operation]
    body = preview.body(call)
    asked = Call(
        call.who,
        preview.operation,
        "GET" if body is None else "POST",
        preview.path(call),
        body,
    )
    with walker.school.copy() as copy:
        before = _walls(copy, call.who)
        said = copy.send(asked)
        if not copy.send(call).done:
            raise NothingThere
        if not said.done:
            return f"{call.written()} is done, and its preview refused: {said.content!r}"
        after = _walls(copy, call.who)
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
    wrong = [
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


# What is imagined.


def try_next_piece(walker: Walker) -> str:
    """Write the note that is said to reach mastery, and the one a step below it."""
    school = walker.school
    who, class_id, student, outcome = walker.cell()
    trail = school.get(who, f"/classes/{class_id}/mastery/{student}/{outcome}")
    if trail is None or trail["next_piece"] is None or trail["judgement"]:
        raise NothingThere
    said = trail["next_piece"]
    levels = trail["scale"]["levels"]
    names = [one["name"] for one in levels]
    level = names.index(said["level"])
    cut = float(trail["scale"]["mastery_cut"])
    reached = _with_note(school, who, class_id, student, outcome, level, said["half_way"])
    if reached is not None and not (reached >= cut):
        return f"{said} of {student} on {outcome} comes to {reached}, and not to {cut}"
    below = (level, False) if said["half_way"] else (level - 1, False)
    if below[0] >= 0:
        lower = _with_note(school, who, class_id, student, outcome, *below)
        if lower is not None and lower >= cut:
            return f"{said} is not the lowest for {student} on {outcome}: {below} makes {lower}"
    return ""


def _with_note(
    school: School,
    who: int,
    class_id: int,
    student: int,
    outcome: int,
    level: int,
    half_way: bool,
) -> float | None:
    with school.copy() as copy:
        body = {"level": level, "half_way": half_way}
        place = f"/classes/{class_id}/mastery/{student}/{outcome}"
        imagined = copy.send(Call(who, "imagine", "POST", f"{place}/imagine", {"pieces": [body]}))
        note = {"key": "imagined-note", "student_ids": [student], "outcome_id": outcome, **body}
        answer = copy.send(Call(who, "write_notes", "POST", f"/classes/{class_id}/notes", note))
        if not answer.done:
            return None
        after = copy.get(who, place)["calculated"]
        if imagined.done:
            last = imagined.json()[-1]
            if (last["value"], last["state"]) != (after["value"], after["state"]):
                raise NotSo(f"imagined {last}, and it came to {after}")
        return None if after["value"] is None else float(after["value"])


def try_another_attempt(walker: Walker) -> str:
    """Open another attempt at a task, and mark it at the level that is imagined."""
    school = walker.school
    who, class_id, student, outcome = walker.cell()
    at = f"/classes/{class_id}/mastery/{student}/{outcome}"
    trail = school.get(who, at)
    if trail is None or trail["not_expected"]:
        raise NothingThere
    tasks = [
        piece["task_id"]
        for piece in trail["pieces"]
        if piece["task_id"] and piece["counted"] and piece["class_id"] == class_id
    ]
    task = walker.pick(sorted(set(tasks)))
    level = walker.dice.number(0, len(trail["scale"]["levels"]) - 1)
    value = trail["scale"]["levels"][level]["value"]
    body = {"pieces": [{"level": level, "half_way": False, "task_id": task}]}
    with school.copy() as copy:
        imagined = copy.send(Call(who, "imagine", "POST", f"{at}/imagine", body))
        if not imagined.done:
            raise NothingThere
        _do_again(copy, who, task, student, outcome, float(value))
        after = copy.get(who, at)["calculated"]
    last = imagined.json()[-1]
    if (last["value"], last["state"]) != (after["value"], after["state"]):
        return f"another attempt of {student} at task {task} at {value}: {last}, and it is {after}"
    said = next((one for one in trail["next_attempts"] if one["task_id"] == task), None)
    if said and said["piece"] and said["piece"]["level"] == trail["scale"]["levels"][level]["name"]:
        reached = after["value"] is not None and float(after["value"]) >= float(
            trail["scale"]["mastery_cut"]
        )
        if not reached and not said["piece"]["half_way"]:
            return f"another attempt at task {task}: {said} was to reach mastery, and it is {after}"
    return ""


def _do_again(
    school: School, who: int, task: int, student: int, outcome: int, value: float
) -> None:
    """Another attempt, marked with the same value on each criterion that is about an outcome."""
    there = school.get(who, f"/tasks/{task}")
    if there is None or there["kind"] == "other-evidence" or there["practice"]:
        raise NothingThere
    before = next(one for one in there["where"] if one["id"] == student)
    opened = Call(
        who,
        "open_attempts",
        "POST",
        f"/tasks/{task}/attempts",
        {"student_ids": [student], "words": "", "due_at": None, "carries": False},
    )
    if not school.send(opened).done:
        raise NothingThere
    path = f"/tasks/{task}/students/{student}/attempts/{before['attempt'] + 1}"
    for criterion in school.get(who, f"/tasks/{task}/desk")["criteria"]:
        ties = [tie for tie in criterion["alignments"] if tie["outcome_id"] == outcome]
        choice: dict[str, Any] = {"level_id": None, "not_assessed": True}
        if ties:
            values = [cell["value"] for cell in ties[0]["cells"]]
            same = [at for at, one in enumerate(values) if one is not None and float(one) == value]
            if not same:
                raise NothingThere
            choice = {"level_id": criterion["levels"][same[0]]["id"]}
        body = {**choice, "version": 10_000}
        chosen = Call(who, "choose", "PUT", f"{path}/choices/{criterion['id']}", body)
        if not school.send(chosen).done:
            raise NothingThere
    if not school.send(Call(who, "finish", "POST", f"{path}/finish")).done:
        raise NothingThere
