"""Who may do what: the route table, walked as a stranger, a student, and another teacher."""

from __future__ import annotations

import re
from datetime import timedelta
from typing import Any

import pytest
from fastapi.testclient import TestClient

from jade_ladder.formats.class_list import StudentLine
from jade_ladder.service.classes import classes, students
from jade_ladder.service.marking import handing_back
from jade_ladder.service.people.sessions import token_hash
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.store.people.guests import add_guest_link, guest_link, withdraw_guest_link
from jade_ladder.store.people.people import add_person
from jade_ladder.web.application import SUBJECTS, api_document
from jade_ladder.web.people import sessions as session
from jade_ladder.web.shared.callers import GUEST_COOKIE, GUEST_PATH, PERSON_HEADER
from tests.builders import Small, everything
from tests.web.conftest import sign_in

WAYS_IN = ("", "/first-teacher", "/demo", "/invited", "/join")
# Anybody may ask these: they are how one comes in, or say nothing of anybody.
OPEN = {"/api/health", *(f"/api/session{way}" for way in WAYS_IN), GUEST_PATH}
NOBODYS = 999_999


DOCUMENT = api_document()


def documented() -> list[tuple[str, str, dict[str, Any]]]:
    """Every operation of the API's document."""
    return [
        (method.upper(), path, operation)
        for path, operations in DOCUMENT["paths"].items()
        for method, operation in operations.items()
    ]


CALLS = [(method, path, op) for method, path, op in documented() if path not in OPEN]
NAMES = [f"{method} {path}" for method, path, _ in CALLS]
STUDENTS = [call for call in CALLS if call[1].startswith("/api/my/")]
TEACHERS = [call for call in CALLS if call not in STUDENTS]


def named(calls: list[tuple[str, str, dict[str, Any]]]) -> list[str]:
    return [f"{method} {path}" for method, path, _ in calls]


def example(schema: dict[str, Any], schemas: dict[str, Any]) -> Any:
    """Make a value that a schema allows, so that a body is never what is refused."""
    if "$ref" in schema:
        return example(schemas[schema["$ref"].rsplit("/", 1)[1]], schemas)
    if "anyOf" in schema:
        return example(schema["anyOf"][0], schemas)
    if "enum" in schema:
        return schema["enum"][0]
    match schema.get("type"):
        case "object":
            wanted = schema.get("required", [])
            return {name: example(schema["properties"][name], schemas) for name in wanted}
        case "array":
            return []
        case "integer":
            return 1
        case "boolean":
            return True
        case _:
            texts = {"date": "2026-11-25", "date-time": "2026-11-25T10:00:00Z"}
            return texts.get(schema.get("format", ""), "1")


def body_of(operation: dict[str, Any]) -> dict[str, Any]:
    """Give the arguments with which a client sends a body that the operation allows."""
    content = operation.get("requestBody", {}).get("content", {})
    schemas = DOCUMENT["components"]["schemas"]
    if "application/json" in content:
        return {"json": example(content["application/json"]["schema"], schemas)}
    if "multipart/form-data" in content:
        return {"files": {"file": ("f.csv", b"code,title\nX9,I can\n", "text/csv")}}
    return {}


def filled(path: str, numbers: dict[str, int], otherwise: int) -> str:
    return re.sub(r"\{(\w+)\}", lambda name: str(numbers.get(name[1], otherwise)), path)


def test_the_document_knows_every_route_and_it_is_walked() -> None:
    """The walk below goes by the document; a route that is hidden from it would not be walked."""
    hidden = {
        (subject.router.prefix, route.name)
        for subject in (*SUBJECTS, session)
        for route in subject.router.routes
        if not getattr(route, "include_in_schema", False)
    }
    assert hidden == set()
    names = {route.name for one in SUBJECTS for route in one.router.routes}  # type: ignore[attr-defined]
    assert {operation["operationId"] for _, _, operation in CALLS} == names


@pytest.fixture
def secret(place: tuple[TestClient, Small, Teacher]) -> str:
    """The secret of a link for a student, which leads somewhere for a day."""
    _, made, _ = place
    now = made.caller.now
    with made.caller.database.transaction() as db:
        db.execute("DELETE FROM guest_link")
        until = now + timedelta(days=1)
        add_guest_link(db, made.students[0], token_hash("secret"), 1, now, until)
    return "secret"


def test_a_guest_may_do_nothing_until_an_operation_names_them(
    place: tuple[TestClient, Small, Teacher], secret: str
) -> None:
    """Of all calls none is answered, even where the browser sent the cookie there; what names them
    is read, and nothing is written in it.
    """
    client, made, _ = place
    client.cookies.clear()
    assert client.post(GUEST_PATH, json={"token": secret}).status_code == 204
    assert client.get(GUEST_PATH).json()["student"] == "Aino Berg"
    (cookie,) = client.cookies.jar
    assert (cookie.name, cookie.path) == (GUEST_COOKIE, GUEST_PATH)
    client.cookies.clear()
    client.cookies.set(GUEST_COOKIE, secret)
    before = everything(made.caller.database)
    for method, path, operation in CALLS:
        answer = client.request(method, filled(path, {}, 1), **body_of(operation))
        assert answer.status_code == 401, (method, path, answer.text)
    assert everything(made.caller.database) == before


def test_a_link_replaces_no_session_and_ends(
    place: tuple[TestClient, Small, Teacher], secret: str
) -> None:
    """It needs nobody's name; who is signed in stays so, and is no guest by that. Wrong, withdrawn
    or run out, it leads nowhere, in the same words; so does the cookie that was set by it.
    """
    client, made, _ = place
    sign_in(client, made.caller.database, 1)
    del client.headers[PERSON_HEADER]
    assert client.get(GUEST_PATH).status_code == 401
    assert client.post(GUEST_PATH, json={"token": secret}).status_code == 204
    assert client.get(GUEST_PATH).status_code == 200
    assert client.get("/api/session").json()["person"]["id"] == 1
    assert client.delete(GUEST_PATH).status_code == 204
    assert client.get(GUEST_PATH).status_code == 401
    assert client.get("/api/session").json()["person"]["id"] == 1

    gone = client.post(GUEST_PATH, json={"token": "another"})
    assert gone.status_code == 404
    for ending in (
        "UPDATE guest_link SET expires_at = ?",
        "UPDATE guest_link SET withdrawn_at = ?, expires_at = '9999'",
        "UPDATE person SET ended_at = ? WHERE id = (SELECT student_id FROM guest_link)",
    ):
        client.cookies.set(GUEST_COOKIE, secret)
        with pytest.raises(_Undo), made.caller.database.transaction() as db:
            db.execute(ending, (made.caller.now,))
            assert guest_link(db, token_hash(secret), made.caller.now) is None
            raise _Undo
    with made.caller.database.transaction() as db:
        withdraw_guest_link(db, 1, made.caller.now)
    assert client.get(GUEST_PATH).status_code == 401
    again = client.post(GUEST_PATH, json={"token": secret})
    assert (again.status_code, again.json()) == (404, gone.json())


class _Undo(Exception):
    pass


@pytest.mark.parametrize(("method", "path", "operation"), CALLS, ids=NAMES)
def test_a_stranger_is_asked_to_sign_in(
    place: tuple[TestClient, Small, Teacher], method: str, path: str, operation: dict[str, Any]
) -> None:
    client, made, _ = place
    client.cookies.clear()
    before = everything(made.caller.database)
    answer = client.request(method, filled(path, {}, 1), **body_of(operation))
    assert answer.status_code == 401
    assert answer.headers["content-type"] == "application/problem+json"
    assert everything(made.caller.database) == before


@pytest.mark.parametrize(("method", "path", "operation"), TEACHERS, ids=named(TEACHERS))
def test_a_student_may_do_nothing_that_is_for_teachers(
    place: tuple[TestClient, Small, Teacher], method: str, path: str, operation: dict[str, Any]
) -> None:
    client, made, _ = place
    sign_in(client, made.caller.database, made.students[0])
    before = everything(made.caller.database)
    answer = client.request(method, filled(path, {}, 1), **body_of(operation))
    assert answer.status_code == 403, answer.text
    assert everything(made.caller.database) == before


@pytest.mark.parametrize(("method", "path", "operation"), STUDENTS, ids=named(STUDENTS))
def test_a_students_own_is_for_students_and_nobody_elses_is_there(
    place: tuple[TestClient, Small, Teacher], method: str, path: str, operation: dict[str, Any]
) -> None:
    """For a teacher it is not allowed; for a student of another class the answer about a task that
    is there is, to the letter, that about one that nobody has.
    """
    client, made, colleague = place
    sign_in(client, colleague.database, colleague.person_id)
    before = everything(colleague.database)
    answer = client.request(method, filled(path, {}, 1), **body_of(operation))
    assert answer.status_code == 403, answer.text
    assert everything(colleague.database) == before
    if "task_id" not in path:
        return
    stranger = student_elsewhere(colleague)
    made.mark(made.students[0], 3, 3)
    handing_back.hand_back(made.caller, made.task_id, [made.students[0]], True)
    sign_in(client, colleague.database, stranger)
    before = everything(colleague.database)
    theirs = client.request(
        method, filled(path, {"task_id": made.task_id}, 1), **body_of(operation)
    )
    none = client.request(method, filled(path, {"task_id": NOBODYS}, 1), **body_of(operation))
    assert theirs.status_code in (404, 422), theirs.text
    assert (theirs.status_code, theirs.json()) == (none.status_code, none.json())
    assert everything(colleague.database) == before


def test_who_neither_teaches_nor_learns_may_do_nothing(
    place: tuple[TestClient, Small, Teacher],
) -> None:
    """Nobody is a student by default: of all calls none is answered, and nothing changes."""
    client, made, _ = place
    with made.caller.database.transaction() as db:
        nobody = add_person(db, "Pip", "Elsewhere", None, None)
    sign_in(client, made.caller.database, nobody)
    before = everything(made.caller.database)
    for method, path, operation in CALLS:
        numbers = {"task_id": made.task_id, "class_id": made.class_id}
        answer = client.request(method, filled(path, numbers, 1), **body_of(operation))
        assert answer.status_code == 403, (method, path, answer.text)
    assert everything(made.caller.database) == before


def student_elsewhere(colleague: Teacher) -> int:
    """A student of a class of the colleague's."""
    first = colleague.now.date() - timedelta(days=10)
    class_id = classes.make_class(colleague, "Elsewhere", first, first + timedelta(days=200))
    return students.add_student(colleague, class_id, StudentLine(1, "Kai", "Nord", "K1"))


# Those that name something of somebody's; the school's scales have a test of their own below.
OWNED = [call for call in TEACHERS if "{" in call[1] and not call[1].startswith("/api/scales/")]


@pytest.mark.parametrize(
    ("method", "path", "operation"), OWNED, ids=[f"{method} {path}" for method, path, _ in OWNED]
)
def test_another_teachers_things_are_as_if_they_were_not_there(
    place: tuple[TestClient, Small, Teacher], method: str, path: str, operation: dict[str, Any]
) -> None:
    """The same answer, to the letter, for what is another teacher's and for what nobody has."""
    client, made, colleague = place
    sign_in(client, made.caller.database, made.caller.person_id)
    with colleague.database.looking() as db:
        own_session = db.execute("SELECT max(id) FROM session").fetchone()[0]
    sign_in(client, colleague.database, colleague.person_id)
    theirs = {
        "class_id": made.class_id,
        "student_id": made.students[0],
        "outcome_id": made.outcomes[0],
        "rubric_id": made.rubric_id,
        "task_id": made.task_id,
        "person_id": made.caller.person_id,
        "number": own_session,
    }
    before = everything(colleague.database)
    own = client.request(method, filled(path, theirs, 1), **body_of(operation))
    none = client.request(method, filled(path, {}, NOBODYS), **body_of(operation))
    # A body that says nothing is refused before anybody looks whose it would be about, and what is
    # for administrators before that.
    assert own.status_code in (403, 404, 422), own.text
    assert (own.status_code, own.json()) == (none.status_code, none.json())
    assert everything(colleague.database) == before


def test_a_write_names_its_person_and_another_ones_changes_nothing(
    place: tuple[TestClient, Small, Teacher],
) -> None:
    client, made, colleague = place
    sign_in(client, made.caller.database, 1)
    before = everything(made.caller.database)
    for named in (str(colleague.person_id), "", "one"):
        client.headers[PERSON_HEADER] = named
        for method, path, operation in CALLS:
            if method == "GET":
                continue
            answer = client.request(method, filled(path, {}, 1), **body_of(operation))
            assert (answer.status_code, answer.json()["type"]) == (409, "/problems/other-person")
    del client.headers[PERSON_HEADER]
    assert client.post("/api/rubrics", json={"title": "Nobody's"}).status_code == 409
    assert everything(made.caller.database) == before
    # Reading says nothing in anybody's name.
    assert client.get("/api/rubrics").status_code == 200


def test_who_may_teach_no_longer_is_asked_at_each_call(
    place: tuple[TestClient, Small, Teacher],
) -> None:
    client, _, colleague = place
    sign_in(client, colleague.database, colleague.person_id)
    assert client.get("/api/classes").status_code == 200
    with colleague.database.transaction() as db:
        db.execute("UPDATE person SET may_teach = 0 WHERE id = ?", (colleague.person_id,))
    assert client.get("/api/classes").status_code == 403
    with colleague.database.transaction() as db:
        db.execute("UPDATE person SET may_teach = 1 WHERE id = ?", (colleague.person_id,))


def test_the_schools_scales_are_changed_by_the_administrator_and_copied_by_anybody(
    place: tuple[TestClient, Small, Teacher],
) -> None:
    client, made, colleague = place
    sign_in(client, colleague.database, colleague.person_id)
    school = client.get("/api/scales").json()[0]
    assert (school["changeable"], school["own"]) == (False, False)
    body = {key: school[key] for key in ("name", "levels", "mastery_level", "version")}
    path = f"/api/scales/{school['id']}"
    for answer in (client.put(path, json=body), client.delete(path)):
        assert answer.status_code == 403
        assert "administrator" in answer.json()["detail"]
    copied = client.post("/api/scales", json={**body, "name": "Mine"})
    assert copied.status_code == 201
    mine = {**body, "name": "Mine, changed", "version": 1}
    assert client.put(f"/api/scales/{copied.json()['id']}", json=mine).status_code == 204
    assert client.put("/api/school", json={"thin": 3}).status_code == 403
    # Another teacher's own scale is not there for the administrator.
    sign_in(client, made.caller.database, 1)
    assert "Mine, changed" not in [one["name"] for one in client.get("/api/scales").json()]
    theirs = client.put(f"/api/scales/{copied.json()['id']}", json=mine)
    none = client.put(f"/api/scales/{NOBODYS}", json=mine)
    assert (theirs.status_code, theirs.json()) == (404, none.json())
    assert client.put("/api/school", json={"thin": 3}).status_code == 204
