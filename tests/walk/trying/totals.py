"""That a preview of what would be done to tasks names whose total and lateness are others, too."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from typing import Any

from tests.walk.asking import Call, School

_OVER = ", over attempts"
Total = tuple[Any, ...]


@dataclass(frozen=True, slots=True)
class TaskSeen:
    """What a task's marks come to, by student and attempt and over attempts, by student; its
    points; and who is late.
    """

    totals: dict[tuple[str, int], Total]
    over_attempts: dict[str, Any]
    points: Any
    late: frozenset[str]

    @classmethod
    def of(cls, school: School, who: int, task_id: int) -> TaskSeen:
        """See a task as it stands."""
        task = school.get(who, f"/tasks/{task_id}")
        names = {one["id"]: one["name"] for one in task["where"]}
        lines = school.get(who, f"/tasks/{task_id}/totals")
        return cls(
            {
                (names[one["student_id"]], one["attempt"]): (one["value"], one["out_of"])
                for one in lines
            },
            {names[one["student_id"]]: one["over_attempts"] for one in lines},
            task["points"],
            frozenset(
                one["name"] for one in task["where"] if one["attempt"] == 1 and one["late_minutes"]
            ),
        )


def tasks_of(call: Call) -> list[int]:
    """The tasks that something is done to, where it is done to tasks."""
    if call.operation == "apply_revision":
        return list(call.json["tasks"])
    first, number, *_ = call.path.strip("/").split("/")
    return [int(number)] if first == "tasks" else []


def said_of(said: Any, task_id: int) -> dict[str, Any]:
    """What a preview says of one task, of itself or among others."""
    if isinstance(said, dict) and "tasks" in said:
        return dict(next(one for one in said["tasks"] if one["id"] == task_id))
    return dict(said) if isinstance(said, dict) else {}


def totals_otherwise(said: dict[str, Any], before: TaskSeen, after: TaskSeen) -> list[str]:
    """What came otherwise than a preview said of a task."""
    told = Counter(
        (one["student"], (one["before"], one["before_of"]), (one["after"], one["after_of"]))
        for one in said.get("totals", ())
        if not one["student"].endswith(_OVER)
    )
    happened = Counter(
        (name, before.totals[name, attempt], total)
        for (name, attempt), total in after.totals.items()
        if (name, attempt) in before.totals and before.totals[name, attempt] != total
    )
    wrong = [f"{one} was said to be another" for one in told - happened]
    wrong += [f"{one} was not said to be another" for one in happened - told]
    wrong += _over_attempts_otherwise(said, before, after)
    if "late" in said:
        for name, which in {
            "late": after.late - before.late,
            "not_late": before.late - after.late,
        }.items():
            if set(said[name]) != which:
                wrong.append(f"{name}: told {said[name]}, happened {sorted(which)}")
    return wrong


def _over_attempts_otherwise(said: dict[str, Any], before: TaskSeen, after: TaskSeen) -> list[str]:
    told = {
        one["student"].removesuffix(_OVER): (one["before"], one["after"])
        for one in said.get("totals", ())
        if one["student"].endswith(_OVER)
    }
    wrong = []
    for name, value in after.over_attempts.items():
        was = before.over_attempts.get(name)
        # Where the rule takes the newest attempt, the task says nothing over attempts.
        if value is None or was is None:
            continue
        happened = None if (was, before.points) == (value, after.points) else (was, value)
        if told.get(name) != happened:
            wrong.append(f"over attempts of {name}: told {told.get(name)}, happened {happened}")
    return wrong
