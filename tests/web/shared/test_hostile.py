"""Hostile input: whatever is sent, the answer is a refusal with a place, never a fault."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from hypothesis import given, settings
from hypothesis import strategies as st

from jade_ladder.outside import clock
from jade_ladder.service.people.accounts import NewTeacher, make_first_teacher
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.store.shared.connection import Database
from jade_ladder.web.application import Settings, create_app
from tests.builders import Small, small

scalars = st.one_of(
    st.none(),
    st.booleans(),
    st.integers(-(2**70), 2**70),
    st.floats(allow_nan=False, allow_infinity=False),
    st.text(max_size=30),
    st.sampled_from(
        ["", "-1", "1e9", "NaN", "2026-02-30", "٣", "\u0000", "😀" * 40, "'; DROP TABLE"]
    ),
)
anything = st.recursive(
    scalars,
    lambda inner: (
        st.lists(inner, max_size=4) | st.dictionaries(st.text(max_size=8), inner, max_size=4)
    ),
    max_leaves=8,
)


@pytest.fixture(scope="module")
def place(tmp_path_factory: pytest.TempPathFactory) -> Iterator[tuple[TestClient, Small]]:
    """A class of one's own, behind the API."""
    database = Database(Path(tmp_path_factory.mktemp("hostile")) / "jade-ladder.sqlite3")
    teacher = NewTeacher("Ilse", "Varga", "ilse@tern.example", "a long password")
    number = make_first_teacher(database, "School", "Europe/Lisbon", teacher)
    made = small(Teacher(database, number, clock.now()))
    with TestClient(create_app(Settings(database)), base_url="http://ladder.test") as client:
        body = {"email": "ilse@tern.example", "password": "a long password"}
        assert client.post("/api/session", json=body).status_code == 204
        yield client, made


def check(answer: object) -> None:
    """Accept what went well or was refused; a refusal of input says where."""
    status = answer.status_code  # type: ignore[attr-defined]
    assert status < 500, answer.text  # type: ignore[attr-defined]
    if status == 422:
        details = answer.json()  # type: ignore[attr-defined]
        assert details["detail"]
        assert details["errors"]


def bodies(**fields: st.SearchStrategy[object]) -> st.SearchStrategy[dict[str, object]]:
    """Bodies with the right fields and anything in them, some left out."""
    return st.fixed_dictionaries({}, optional={**fields, "something": anything})


LEVEL = bodies(key=anything, name=anything, points=anything, descriptor=anything)
CELL = st.one_of(st.none(), bodies(value=anything), anything)
TIE = bodies(outcome_id=anything, weight=anything, cells=st.lists(CELL, max_size=3) | anything)
CRITERION = bodies(
    key=anything,
    title=anything,
    kind=st.sampled_from(["levels", "yes-no", "other"]),
    bonus=anything,
    half_way=anything,
    weight=anything,
    levels=st.lists(LEVEL, max_size=3) | anything,
    alignments=st.lists(TIE, max_size=2) | anything,
)
CALLS: dict[str, tuple[str, str, st.SearchStrategy[object]]] = {
    "class": ("POST", "/api/classes", bodies(name=anything, first_day=anything, last_day=anything)),
    "method": ("PUT", "/api/classes/{c}/method", bodies(method=anything, version=anything)),
    "method preview": (
        "POST",
        "/api/classes/{c}/method/preview",
        bodies(kind=anything, newest=anything, last=anything),
    ),
    "student": (
        "POST",
        "/api/classes/{c}/students",
        bodies(given_name=anything, family_name=anything, identifier=anything, email=anything),
    ),
    "outcome": (
        "POST",
        "/api/classes/{c}/outcomes",
        bodies(code=anything, title=anything, description=anything, strand_id=anything),
    ),
    "outcome whole": (
        "PUT",
        "/api/classes/{c}/outcomes/{o}",
        bodies(
            code=anything,
            title=anything,
            description=anything,
            strand_id=anything,
            version=st.just(1) | anything,
            method=bodies(kind=anything, newest=anything, last=anything),
            minimum=anything,
        ),
    ),
    "order": ("PUT", "/api/classes/{c}/outcomes/order", bodies(order=anything)),
    "scale": (
        "PUT",
        "/api/scales/1",
        bodies(name=anything, levels=anything, mastery_level=anything, version=anything),
    ),
    "scale preview": (
        "POST",
        "/api/scales/1/preview",
        bodies(
            name=anything,
            levels=st.lists(
                bodies(name=anything, code=anything, value=anything, cut=anything), max_size=3
            ),
            mastery_level=anything,
            version=st.just(1) | anything,
        ),
    ),
    "class scale": ("PUT", "/api/classes/{c}/scale", bodies(scale_id=anything, version=anything)),
    "strand": ("POST", "/api/strands", bodies(title=anything, parent_id=anything)),
    "place": (
        "PUT",
        "/api/classes/{c}/outcomes/{o}/place",
        bodies(strand_id=anything, before_id=anything),
    ),
    "bulk": (
        "PUT",
        "/api/classes/{c}/outcomes/bulk",
        bodies(
            outcome_ids=st.lists(st.just(1) | anything, max_size=3),
            method=bodies(kind=anything, newest=anything, last=anything) | anything,
            minimum=anything,
            scale_id=anything,
            strand_id=anything,
            retired=anything,
        ),
    ),
    "rules preview": (
        "POST",
        "/api/classes/{c}/outcomes/{o}/rules/preview",
        bodies(method=anything, minimum=st.just(1) | anything, scale_id=anything),
    ),
    "teach": (
        "POST",
        "/api/classes/{c}/outcomes/teach",
        bodies(outcome_ids=st.lists(anything, max_size=3)),
    ),
    "copy": (
        "POST",
        "/api/classes/{c}/outcomes/copy",
        bodies(outcome_ids=st.lists(anything, max_size=3)),
    ),
    "not expected": (
        "PUT",
        "/api/classes/{c}/mastery/{s}/{o}/not-expected",
        bodies(reason=anything),
    ),
    "grid": (
        "POST",
        "/api/rubrics/grid",
        bodies(
            text=st.text(alphabet='ab\t\n"<td>/1(,', max_size=60) | anything,
            levels_in_first_row=anything,
            best_first=anything,
        ),
    ),
    "tags": ("PUT", "/api/rubrics/{r}/tags", bodies(tags=st.lists(anything, max_size=3))),
    "archived": ("PUT", "/api/rubrics/{r}/archived", bodies(archived=anything)),
    "shared": ("PUT", "/api/rubrics/{r}/shared", bodies(shared=anything)),
    "effects": ("POST", "/api/rubrics/{r}/revisions/1/effects", bodies(tasks=anything)),
    "apply": (
        "POST",
        "/api/rubrics/{r}/revisions/1/apply",
        bodies(version=st.integers(0, 5), tasks=st.lists(anything, max_size=3)),
    ),
    "cuts": ("POST", "/api/scales/cuts", bodies(values=st.lists(anything), preset=anything)),
    "draft": (
        "PUT",
        "/api/rubrics/{r}",
        bodies(version=st.integers(0, 5), title=anything, criteria=st.lists(CRITERION, max_size=3)),
    ),
    "task": (
        "POST",
        "/api/classes/{c}/tasks",
        bodies(
            title=anything,
            instructions=anything,
            kind=st.sampled_from(["handed-in", "observed", "else"]),
            rubric_id=anything,
            due_at=anything,
            points=anything,
            practice=anything,
        ),
    ),
    "choice": (
        "PUT",
        "/api/tasks/{t}/students/{s}/attempts/1/choices/1",
        bodies(level_id=anything, half_way=anything, not_assessed=anything, version=anything),
    ),
    "remark": (
        "PUT",
        "/api/tasks/{t}/students/{s}/attempts/1/remark",
        bodies(text=anything, version=anything),
    ),
    "session": ("POST", "/api/session", bodies(email=anything, password=anything)),
}


@pytest.mark.parametrize("name", CALLS)
@settings(max_examples=20)
@given(data=st.data())
def test_no_body_is_a_fault(
    place: tuple[TestClient, Small], name: str, data: st.DataObject
) -> None:
    client, made = place
    method, path, body = CALLS[name]
    concrete = path.format(
        c=made.class_id, o=made.outcomes[0], r=made.rubric_id, t=made.task_id, s=made.students[0]
    )
    check(client.request(method, concrete, json=data.draw(body | anything)))


NUMBERS = st.one_of(st.integers(-(2**80), 2**80), st.text(max_size=12))


@pytest.mark.parametrize(
    "path",
    [
        "/api/classes/{}/mastery",
        "/api/classes/{}/mastery/{}/{}",
        "/api/classes/{}/students",
        "/api/rubrics/{}",
        "/api/classes/{}/outcomes/{}",
        "/api/classes/{}/coverage",
        "/api/classes/{}/framework.json",
        "/api/classes/{}/outcomes.csv",
        "/api/classes/{}/rubrics/{}/fit",
        "/api/tasks/{}/desk",
        "/api/tasks/{}/students/{}/attempts/1",
    ],
)
@settings(max_examples=12)
@given(data=st.data())
def test_no_address_is_a_fault(
    place: tuple[TestClient, Small], path: str, data: st.DataObject
) -> None:
    client, _ = place
    parts = [data.draw(NUMBERS) for _ in range(path.count("{}"))]
    quoted = [
        str(part).encode("utf-8", "replace").hex() if isinstance(part, str) else part
        for part in parts
    ]
    answer = client.get(path.format(*quoted))
    assert answer.status_code in (200, 404, 422)


@settings(max_examples=40)
@given(text=st.text(max_size=200), columns=st.one_of(st.just("{}"), st.text(max_size=20)))
def test_no_table_is_a_fault(place: tuple[TestClient, Small], text: str, columns: str) -> None:
    client, made = place
    for subject in ("students", "outcomes"):
        path = f"/api/classes/{made.class_id}/{subject}/list/preview"
        clean = {
            "text": text.encode("utf-8", "replace").decode(),
            "columns": columns.encode("utf-8", "replace").decode(),
        }
        check(client.post(path, data=clean))


@settings(max_examples=40)
@given(content=st.binary(max_size=300))
def test_no_file_is_a_fault(place: tuple[TestClient, Small], content: bytes) -> None:
    client, made = place
    files = {"file": ("list.csv", content)}
    check(client.post(f"/api/classes/{made.class_id}/students/list/preview", files=files))
    check(client.post(f"/api/classes/{made.class_id}/framework/preview", files=files))
    check(client.post(f"/api/classes/{made.class_id}/framework", files=files))
    work = f"/api/tasks/{made.task_id}/students/{made.students[0]}/work"
    check(client.put(work, files=files))
