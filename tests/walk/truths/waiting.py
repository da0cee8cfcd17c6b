"""What waits, and who is counted."""

from __future__ import annotations

from datetime import date, datetime
from itertools import pairwise
from typing import Any

from tests.walk.truths.pages import Pages, agree, truth
from tests.walk.ways.walker import ZONE

WAITING = {"waiting", "started", "changed"}


@truth
def what_waits_is_one_number(pages: Pages) -> None:
    for who in pages.teachers():
        pile = pages.see(who, "/pile")
        today = pages.see(who, "/today")
        piled = {task["id"]: task["to_mark"] for task in pile["tasks"]}
        asking = {task["id"]: task["asking"] for task in pile["tasks"]}
        one_by_one: dict[int, set[int]] = {task: set() for task in piled}
        for line in pile["students"]:
            one_by_one[line["task_id"]].add(line["student"]["id"])
        first = {task["id"]: task["to_mark"] for task in today["waiting"]}
        listed: dict[int, int] = {}
        for klass in pages.see(who, "/classes"):
            lines = pages.see(who, f"/classes/{klass['id']}/tasks")
            agree(
                f"to mark in class {klass['id']}",
                list=sum(line["to_mark"] for line in lines),
                classes=klass["to_mark"],
            )
            if klass["set_aside"]:
                continue
            for line in lines:
                assert (line["stage"] == "to-mark") == bool(line["to_mark"]), line
                if line["to_mark"] or line["asking"]:
                    listed[line["id"]] = line["to_mark"]
                    agree("asking", list=line["asking"], pile=asking.get(line["id"]))
        agree("to mark", pile=piled, first_page=first, lists=listed)
        for task_id, number in piled.items():
            task = pages.see(who, f"/tasks/{task_id}")
            waits = {one["id"] for one in task["where"] if one["waits"]}
            agree(f"who waits at task {task_id}", page=waits, pile=one_by_one[task_id])
            desk = pages.see(who, f"/tasks/{task_id}/desk")["task"]
            agree(
                f"to mark at task {task_id}",
                pile=number,
                page=task["to_mark"],
                desk=desk["to_mark"],
                students=len(waits),
            )
            _leads_to_something(pages, who, task)
            gone = {one["id"] for one in task["where"] if one["left_on"] is not None}
            wishes = [
                row
                for row in pages.see(who, f"/tasks/{task_id}/handing-back")
                if row["wish"] is not None and row["granted"] is None
            ]
            agree(
                f"who asks for another attempt at task {task_id}",
                pile=asking[task_id],
                rows=sum(row["student_id"] not in gone for row in wishes),
            )


def _leads_to_something(pages: Pages, who: int, task: dict[str, Any]) -> None:
    """Of each who waits the mark can be looked at, and lacks something: a choice, or finishing."""
    for one in task["where"]:
        if not one["waits"]:
            continue
        path = f"/tasks/{task['id']}/students/{one['id']}/attempts/{one['attempt']}"
        work = pages.see(who, path)
        mark = work["mark"]
        assert not (mark["finished"] and mark["version"] == mark["finished_version"]), (path, mark)
        agree(f"left at {path}", page=one["left"], desk=_left(pages, who, task, mark))
    if task["kind"] == "observed":
        room = pages.see(who, f"/tasks/{task['id']}/observation")
        there = {one["student"]["id"] for one in room["students"]}
        waits = {one["id"] for one in task["where"] if one["waits"]}
        assert waits <= there, f"who waits at task {task['id']} is not in the room: {waits - there}"


def _left(pages: Pages, who: int, task: dict[str, Any], mark: dict[str, Any]) -> int:
    criteria = pages.see(who, f"/tasks/{task['id']}/desk")["criteria"]
    chosen = {
        one["criterion_id"]
        for one in mark["choices"]
        if one["level_id"] is not None or one["not_assessed"]
    }
    return sum(not one["bonus"] and one["id"] not in chosen for one in criteria)


@truth
def counts_are_of_those_who_stand_there(pages: Pages) -> None:
    """The figures of a task are the students of its page, less those who left."""
    for who, klass, task in pages.tasks():
        there = [one for one in task["where"] if one["left_on"] is None]
        states = [one["state"] for one in there]
        in_list = next(
            line
            for line in pages.see(who, f"/classes/{klass['id']}/tasks")
            if line["id"] == task["id"]
        )
        for name, number in {
            "students": len(there),
            "done": states.count("done"),
            "missing": states.count("missing"),
            "excused": states.count("excused"),
            "to_mark": sum(state in WAITING for state in states),
        }.items():
            agree(
                f"{name} at task {task['id']}",
                page=task[name],
                list=in_list[name],
                students=number,
            )
        assert not any(one["waits"] for one in task["where"] if one["left_on"]), task


@truth
def nobody_is_counted_where_they_should_not_be(pages: Pages) -> None:
    today = pages.school.now.astimezone(ZONE).date()
    for who, klass in pages.classes():
        number = klass["id"]
        members = pages.see(who, f"/classes/{number}/students")
        present = {one["id"] for one in members if _is_there(one, today)}
        wall = pages.see(who, f"/classes/{number}/mastery")
        agree(
            f"who is in class {number}",
            list=present,
            wall={one["id"] for one in wall["students"]},
            term={
                one["id"]
                for one in pages.see(who, f"/classes/{number}/over-term/outcomes")["students"]
            },
        )
        _one_time_after_the_other(pages, number)
        printed = pages.see(who, f"/classes/{number}/sheets/class-list")
        # Who is still to come is on the class list, too.
        listed = sum(one["until"] is None or _is_there(one, today) for one in members)
        agree(f"the class list of {number}", list=listed, print=len(printed["rows"]))
        for line in pages.see(who, f"/classes/{number}/tasks"):
            task = pages.see(who, f"/tasks/{line['id']}")
            _of_a_task(pages, task, {one["id"]: one for one in members}, present)


def _one_time_after_the_other(pages: Pages, class_id: int) -> None:
    """Who came again was not there twice at once."""
    times = pages.school.rows(
        "SELECT person_id, since, coalesce(until, '9999') FROM membership "
        "WHERE class_id = ? AND role = 'student' ORDER BY person_id, id",
        class_id,
    )
    for (person, _, until), (other, since, _) in pairwise(times):
        assert person != other or until <= since, f"{person} was twice in class {class_id}: {times}"


def _is_there(member: dict[str, Any], day: date) -> bool:
    begun = date.fromisoformat(member["since"]) <= day
    return begun and (member["until"] is None or date.fromisoformat(member["until"]) > day)


def _was_there(pages: Pages, class_id: int, student_id: int, day: date) -> bool:
    """By all of their times in the class, of which pages tell the last."""
    spans = pages.school.rows(
        "SELECT since, coalesce(until, '9999') FROM membership WHERE class_id = ? "
        "AND person_id = ? AND role = 'student'",
        class_id,
        student_id,
    )
    return any(since <= day.isoformat() < until for since, until in spans)


def _of_a_task(
    pages: Pages, task: dict[str, Any], members: dict[int, dict[str, Any]], present: set[int]
) -> None:
    for one in task["where"]:
        member = members[one["id"]]
        assert (one["left_on"] is None) == (one["id"] in present), (task["id"], one, member)
        given = task["student_ids"] is None or one["id"] in task["student_ids"]
        assert (
            given
            or one["has_work"]
            or one["finished"]
            or one["state"]
            not in (
                "missing",
                "waiting",
            )
        ), f"task {task['id']} was not given to {one['name']}: {one['state']}"
        if one["state"] != "missing":
            continue
        due = one["own_due_at"] or task["due_at"]
        assert due is not None, f"{one['name']} is missing where nothing is due"
        day = datetime.fromisoformat(due).astimezone(ZONE).date()
        assert _was_there(pages, task["class_id"], one["id"], day), (
            f"{one['name']} was not in class {task['class_id']} when task {task['id']} was due"
        )
        assert task["set_at"] is not None
        assert task["kind"] == "handed-in"
