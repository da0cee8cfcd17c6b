"""Revisions over the API: side by side, what one would do, applying it, and the desk meanwhile."""

from __future__ import annotations

from typing import Any

import pytest
from fastapi.testclient import TestClient

from tests.builders import Small


def revised(teacher: TestClient, made: Small, **changes: Any) -> dict[str, Any]:
    """Open the rubric for changes and change its first criterion."""
    path = f"/api/rubrics/{made.rubric_id}"
    version = teacher.get(path).json()["version"]
    draft = teacher.post(f"{path}/draft", json={"version": version}).json()
    first, *others = [as_sent(one) for one in draft["criteria"]]
    body = {
        "version": draft["version"],
        "title": draft["title"],
        "criteria": [{**first, **changes}, *others],
    }
    answer = teacher.put(path, json=body)
    assert answer.status_code == 200
    saved: dict[str, Any] = answer.json()
    return saved


def as_sent(criterion: dict[str, Any]) -> dict[str, Any]:
    ties = [
        {**tie, "cells": [cell if cell["by_hand"] else None for cell in tie["cells"]]}
        for tie in criterion["alignments"]
    ]
    return {**criterion, "alignments": ties}


def test_two_revisions_are_read_side_by_side(teacher: TestClient, made: Small) -> None:
    path = f"/api/rubrics/{made.rubric_id}/revisions"
    alone = teacher.get(path).json()
    assert (alone["old"], alone["new"], len(alone["revisions"])) == (1, 1, 1)
    assert [one["structure"] for one in alone["criteria"]] == [[], []]
    revised(teacher, made, title="Reads anew", half_way=False)
    found = teacher.get(path).json()
    assert [(one["number"], one["tasks"]) for one in found["revisions"]] == [(1, 1), (2, 0)]
    assert found["revisions"][0]["final_at"]
    assert found["revisions"][1]["final_at"] is None
    first = found["criteria"][0]
    assert (first["title"], first["structure"]) == ("Reads anew", ["is of a different kind"])
    assert (first["old"]["title"], first["new"]["title"]) == ("Criterion a", "Reads anew")
    assert first["old"]["key"] == first["new"]["key"]
    backwards = teacher.get(path, params={"old": 2, "new": 1}).json()
    assert backwards["criteria"][0]["old"]["title"] == "Reads anew"
    assert teacher.get(path, params={"new": 7}).status_code == 404
    assert teacher.get(path, params={"new": "x"}).status_code == 422


def test_effects_are_told_and_then_done(teacher: TestClient, made: Small) -> None:
    student = made.students[0]
    made.mark(student, 2, 3)
    cells = [None, {"value": "2.5"}, None, None]
    tie = {"outcome_id": made.outcomes[0], "weight": 1, "cells": cells}
    draft = revised(teacher, made, alignments=[tie])
    path = f"/api/rubrics/{made.rubric_id}/revisions"
    told = teacher.post(f"{path}/2/effects", json={}).json()
    (task,) = told["tasks"]
    assert (told["only_words"], told["elsewhere"]) == (False, 0)
    assert (task["revision"], task["marks"], task["carried"], task["staying"]) == (1, 1, 1, [])
    assert (task["points_before"], task["points_after"], task["totals"]) == ("8", "8", [])
    (klass,) = told["together"]["classes"]
    assert klass == task["moves"]["classes"][0]
    (change,) = klass["changes"]
    assert (change["code"], change["before"]["value"], change["after"]["value"]) == (
        "W1",
        "2.50",
        "2.75",
    )
    nothing = teacher.post(f"{path}/2/effects", json={"tasks": []}).json()
    assert (nothing["together"], len(nothing["tasks"])) == ({"classes": [], "elsewhere": 0}, 1)
    body = {"version": draft["version"], "tasks": [made.task_id]}
    assert teacher.post(f"{path}/2/apply", json={**body, "version": 1}).status_code == 409
    applied = teacher.post(f"{path}/2/apply", json=body).json()
    assert (applied["number"], applied["final"]) == (2, True)
    assert [use["revision"] for use in applied["tasks"]] == [2]
    task_out = teacher.get(f"/api/tasks/{made.task_id}").json()
    assert (task_out["rubric"]["revision"], task_out["rubric"]["newest_revision"]) == (2, 2)
    wall = teacher.get(f"/api/classes/{made.class_id}/mastery").json()
    assert "2.75" in wall["value"]


@pytest.mark.parametrize("tasks", [[999], [0, 0], [-1]])
def test_a_task_that_cannot_go_is_refused_at_its_field(
    teacher: TestClient, made: Small, tasks: list[int]
) -> None:
    draft = revised(teacher, made, half_way=False)
    path = f"/api/rubrics/{made.rubric_id}/revisions/2"
    for call, body in (
        ("effects", {"tasks": tasks}),
        ("apply", {"tasks": tasks, "version": draft["version"]}),
    ):
        answer = teacher.post(f"{path}/{call}", json=body)
        assert answer.status_code == 422
        assert answer.json()["errors"][0]["field"] == "tasks"
    assert teacher.get(f"/api/rubrics/{made.rubric_id}").json() == draft


def test_the_desk_says_what_counts_until_a_mark_is_finished_anew(
    teacher: TestClient, made: Small
) -> None:
    student = made.students[0]
    made.mark(student, 2, 3)
    draft = revised(teacher, made)
    fresh = {**as_sent(draft["criteria"][0]), "key": "n", "title": "New", "alignments": []}
    fresh["levels"] = [{**level, "key": f"n{level['key']}"} for level in fresh["levels"]]
    body = {
        "version": draft["version"],
        "title": draft["title"],
        "criteria": [*(as_sent(one) for one in draft["criteria"]), fresh],
    }
    draft = teacher.put(f"/api/rubrics/{made.rubric_id}", json=body).json()
    apply = {"version": draft["version"], "tasks": [made.task_id]}
    path = f"/api/rubrics/{made.rubric_id}/revisions/2"
    (effect,) = teacher.post(f"{path}/effects", json={}).json()["tasks"]
    assert effect["staying"] == [{"student": "Aino Berg", "unmarked": ["New"]}]
    teacher.post(f"{path}/apply", json=apply)
    mark = f"/api/tasks/{made.task_id}/students/{student}/attempts/1"
    seen = teacher.get(mark).json()["mark"]
    assert seen["counting"] == {
        "revision": 1,
        "choices": [
            {"criterion": "Criterion a", "level": "Step 2", "half_way": False},
            {"criterion": "Criterion b", "level": "Step 3", "half_way": False},
        ],
    }
    assert (seen["finished"], seen["unmarked"]) == (False, ["n"])
    new = teacher.get(f"/api/tasks/{made.task_id}/desk").json()["criteria"][2]
    choice = {"level_id": new["levels"][0]["id"], "version": seen["version"]}
    teacher.put(f"{mark}/choices/{new['id']}", json=choice)
    done = teacher.post(f"{mark}/finish").json()
    assert (done["finished"], done["counting"]) == (True, None)


def test_a_draft_is_discarded_with_its_version(teacher: TestClient, made: Small) -> None:
    before = teacher.get(f"/api/rubrics/{made.rubric_id}").json()
    draft = revised(teacher, made, half_way=False)
    path = f"/api/rubrics/{made.rubric_id}/revisions/draft"
    assert teacher.delete(path, params={"version": 1}).status_code == 409
    assert teacher.delete(path).status_code == 422
    after = teacher.delete(path, params={"version": draft["version"]}).json()
    for left in ("version", "changed_at"):
        after.pop(left)
        before.pop(left)
    assert after == before
    assert teacher.delete(path, params={"version": draft["version"] + 1}).status_code == 422
