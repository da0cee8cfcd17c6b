"""That what would reach mastery does, and that what is imagined comes."""

from __future__ import annotations

from typing import Any

from tests.walk.asking import Call, School
from tests.walk.ways import NothingThere, Walker


class NotSo(AssertionError):
    """What was tried did not come out as it should."""


def some_trail(walker: Walker) -> Call:
    """Draw a student and an outcome."""
    who, class_id, student, outcome = walker.cell()
    return Call(who, "read_trail", "GET", f"/classes/{class_id}/mastery/{student}/{outcome}")


def _numbers(call: Call) -> tuple[int, int, int]:
    """The class, the student and the outcome that a call is about."""
    parts = call.path.split("/")
    return int(parts[2]), int(parts[4]), int(parts[5])


def try_next_piece(school: School, call: Call) -> str:
    """Write the note that is said to reach mastery, and the one a step below it."""
    who = call.who
    class_id, student, outcome = _numbers(call)
    trail = school.get(who, call.path)
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


def some_attempt_imagined(walker: Walker) -> Call:
    """Draw another attempt at a task that there is evidence from, at a level."""
    drawn = some_trail(walker)
    class_id, _, _ = _numbers(drawn)
    trail = walker.school.get(drawn.who, drawn.path)
    if trail is None or trail["not_expected"]:
        raise NothingThere
    tasks = [
        piece["task_id"]
        for piece in trail["pieces"]
        if piece["task_id"] and piece["counted"] and piece["class_id"] == class_id
    ]
    task = walker.pick(sorted(set(tasks)))
    level = walker.dice.number(0, len(trail["scale"]["levels"]) - 1)
    body = {"pieces": [{"level": level, "half_way": False, "task_id": task}]}
    return Call(drawn.who, "imagine", "POST", f"{drawn.path}/imagine", body)


def try_another_attempt(school: School, call: Call) -> str:
    """Open another attempt at a task, and mark it at the level that is imagined."""
    who, at = call.who, call.path.removesuffix("/imagine")
    _, student, outcome = _numbers(call)
    trail = school.get(who, at)
    piece = call.json["pieces"][0]
    if trail is None or piece["level"] >= len(trail["scale"]["levels"]):
        raise NothingThere
    task, level = piece["task_id"], piece["level"]
    value = trail["scale"]["levels"][level]["value"]
    with school.copy() as copy:
        imagined = copy.send(call)
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
