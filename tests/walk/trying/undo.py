"""That undo leaves every page of everybody as before."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

from tests.walk.asking import Answer, Call, School
from tests.walk.trying.everything import Everything, everybodys_pages
from tests.walk.ways import WAYS, NothingThere, Walker, call_of


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
    # What is judged already is not judged again: its undo is that of the first time.
    (at,) = done.school.rows("SELECT at FROM log WHERE id = ?", done.made["entry"])
    _only(at == done.school.now.isoformat(timespec="microseconds"))
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
    # One that no task uses is the same draft again: there is nothing to discard.
    _only(done.made["number"] > 1)
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
    remarks = done.page("/bank")["remarks"]
    _only(any(one["id"] == int(done.at[1]) for one in remarks))
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


def something_undone(walker: Walker) -> Call:
    """Draw something that can be undone."""
    operation = walker.pick(sorted(UNDO))
    return call_of(operation, WAYS[operation](walker))


def try_undo(school: School, call: Call) -> str:
    """Do something on a copy and undo it. Gives what was not as before, or nothing."""
    with school.copy() as copy:
        before = everybodys_pages(copy)
        answer = copy.send(call)
        if not answer.done:
            raise NothingThere
        undo = UNDO[call.operation](Done(copy, call, answer, before))
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
