"""That what the desk says a criterion of a further attempt needs reaches mastery, and no less."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from tests.walk.asking import Call, School
from tests.walk.ways import NothingThere, Walker

Level = tuple[int, bool]


def some_further_attempt(walker: Walker) -> Call:
    """Draw a further attempt, begun or only opened, as the desk shows it."""
    task, class_id, student, number = walker.one(
        """SELECT t.id, t.class_id, ts.student_id, a.number FROM attempt a
           JOIN task_student ts ON ts.id = a.task_student_id JOIN task t ON t.id = ts.task_id
           WHERE a.number > 1
           UNION SELECT t.id, t.class_id, ts.student_id, a.number + 1 FROM wish w
           JOIN attempt a ON a.id = w.attempt_id
           JOIN task_student ts ON ts.id = a.task_student_id JOIN task t ON t.id = ts.task_id
           WHERE w.granted = 1 ORDER BY 1, 3, 4 DESC"""
    )
    path = f"/tasks/{task}/students/{student}/attempts/{number}"
    return Call(walker.teacher(class_id), "read_work_at_desk", "GET", path)


def try_needs(school: School, call: Call) -> str:
    """Give a criterion what it is said to need, and nothing else, and the step below that."""
    work = school.get(call.who, call.path)
    needs = [one for one in work["needs"] if one["level"] is not None] if work else []
    if not needs:
        raise NothingThere
    desk = school.get(call.who, f"/tasks/{call.path.split('/')[2]}/desk")
    for need in needs[:2]:
        criterion = next(one for one in desk["criteria"] if one["id"] == need["criterion_id"])
        tie = _tie(desk, criterion, need["code"])
        said = need["level"], need["half_way"]
        if _state_with(school, call, desk, work, need, tie, said) != "mastered":
            return f"{need} does not reach mastery"
        below = _below(criterion, tie, said)
        if below and _state_with(school, call, desk, work, need, tie, below) == "mastered":
            return f"{need} is not the lowest: {below} does, too"
    return ""


def _tie(desk: dict[str, Any], criterion: dict[str, Any], code: str) -> dict[str, Any]:
    (outcome,) = (one["id"] for one in desk["outcomes"] if one["code"] == code)
    return dict(next(tie for tie in criterion["alignments"] if tie["outcome_id"] == outcome))


def _below(criterion: dict[str, Any], tie: dict[str, Any], said: Level) -> Level | None:
    """The step below a level that gives evidence."""

    def steps() -> Iterator[Level]:
        values = [cell["value"] for cell in tie["cells"]]
        for level, value in enumerate(values):
            if value is not None:
                yield level, False
            if criterion["half_way"] and None not in values[level : level + 2]:
                yield level, True

    below = [one for one in steps() if one < said]
    return below[-1] if below else None


def _state_with(
    school: School,
    call: Call,
    desk: dict[str, Any],
    work: dict[str, Any],
    need: dict[str, Any],
    tie: dict[str, Any],
    level: Level,
) -> str:
    """The state that is calculated when a criterion is so and the others say nothing."""
    carried = {one["criterion_id"] for one in work["mark"]["choices"] if one["carried_from"]}
    with school.copy() as copy:
        for one in desk["criteria"]:
            if one["id"] in carried:
                continue
            choice: dict[str, Any] = {"level_id": None, "not_assessed": True}
            if one["id"] == need["criterion_id"]:
                choice = {"level_id": one["levels"][level[0]]["id"], "half_way": level[1]}
            path = f"{call.path}/choices/{one['id']}"
            body = {**choice, "version": 10_000}
            if not copy.send(Call(call.who, "choose", "PUT", path, body)).done:
                raise NothingThere
        if not copy.send(Call(call.who, "finish", "POST", f"{call.path}/finish")).done:
            raise NothingThere
        student = call.path.split("/")[4]
        at = f"/classes/{desk['task']['class_id']}/mastery/{student}/{tie['outcome_id']}"
        return str(copy.get(call.who, at)["calculated"]["state"])
