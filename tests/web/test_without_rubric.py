"""A kind of task that has no rubric: none of ours is one yet, so one of them becomes one here."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest
from fastapi.testclient import TestClient

from jade_ladder.core.task_kinds import KINDS, TaskKind
from jade_ladder.store.shared.connection import Database
from tests.builders import Small
from tests.web.conftest import sign_in
from tests.web.test_who_may import CALLS, filled

READS = [path for method, path, _ in CALLS if method == "GET"]


@pytest.fixture
def without_rubric(database: Database, monkeypatch: pytest.MonkeyPatch) -> dict[str, Any]:
    """What is handed in has no rubric; the words of such a task."""
    kind = TaskKind.HANDED_IN
    monkeypatch.setitem(KINDS, kind, replace(KINDS[kind], rubric=False))
    return {"title": "Talk", "kind": kind}


def test_every_page_shows_a_task_without_a_rubric(
    made: Small, teacher: TestClient, database: Database, without_rubric: dict[str, Any]
) -> None:
    """Each page of the teacher and of the student is there; what was handed in is done, and nothing
    of it waits; it is copied, taken into another year and changed.
    """
    with database.transaction() as db:
        db.execute("UPDATE task SET kind = 'observed'")
        db.execute("UPDATE task_kind SET rubric = 0 WHERE kind = 'handed-in'")
    answer = teacher.post(f"/api/classes/{made.class_id}/tasks", json=without_rubric)
    assert answer.status_code == 201, answer.text
    task, student = answer.json()["id"], made.students[0]
    numbers = {
        "task_id": task,
        "class_id": made.class_id,
        "student_id": student,
        "attempt": 1,
        "number": 1,
        "outcome_id": made.outcomes[0],
        "rubric_id": made.rubric_id,
    }

    sign_in(teacher, database, student)
    handed = teacher.post(
        f"/api/my/tasks/{task}/hand-in", json={"text": "What I said.", "version": 0}
    )
    assert handed.status_code < 300, handed.text
    shown = {path: teacher.get(filled(path, numbers, 1)).status_code for path in READS}
    assert {path for path, code in shown.items() if code >= 500} == set()
    assert [shown[f"/api/my/{page}"] for page in ("tasks", "tasks/{task_id}")] == [200, 200]

    sign_in(teacher, database, 1)
    shown = {path: teacher.get(filled(path, numbers, 1)).status_code for path in READS}
    assert {path for path, code in shown.items() if code >= 500} == set()
    of_class = {path for path in READS if path.endswith("{class_id}") or "{class_id}/" in path}
    of_class = {path for path in of_class if path.count("{") == 1 and "/sample" not in path}
    assert {path for path in of_class if shown[path] != 200} == set()
    page = teacher.get(f"/api/tasks/{task}").json()
    assert (page["rubric"], page["to_mark"], page["done"], page["criteria"]) == (None, 0, 1, [])
    assert task not in [one["id"] for one in teacher.get("/api/pile").json()["tasks"]]
    copied = teacher.post(f"/api/tasks/{task}/copy", json={"class_id": made.class_id})
    assert copied.status_code == 201, copied.text
    words = {**without_rubric, "title": "Longer talk", "version": page["version"]}
    assert teacher.put(f"/api/tasks/{task}", json=words).status_code < 300
    year = {"name": "Next", "first_day": "2030-08-01", "last_day": "2031-07-01"}
    went = teacher.post(
        f"/api/classes/{made.class_id}/next", json={**year, "students": True, "tasks": True}
    )
    assert went.status_code < 300, went.text


def test_a_task_has_a_rubric_where_its_kind_has_one(
    made: Small, teacher: TestClient, database: Database, without_rubric: dict[str, Any]
) -> None:
    path = f"/api/classes/{made.class_id}/tasks"
    for words, says in (
        ({**without_rubric, "rubric_id": made.rubric_id}, "A task of this kind has no rubric"),
        ({**without_rubric, "kind": "observed"}, "Choose one of your rubrics"),
    ):
        problem = teacher.post(path, json=words).json()
        assert [(one["field"], one["message"]) for one in problem["errors"]] == [
            ("rubric_id", says)
        ]
    # The database holds it, too.
    with pytest.raises(Exception, match="where its kind has one"), database.transaction() as db:
        db.execute("UPDATE task SET revision_id = NULL")


def test_the_database_knows_the_kinds_of_task(database: Database) -> None:
    with database.looking() as db:
        rows = db.execute("SELECT kind, rubric FROM task_kind").fetchall()
    assert dict(rows) == {kind: like.rubric for kind, like in KINDS.items()}
