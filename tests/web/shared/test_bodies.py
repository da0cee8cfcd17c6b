"""What arrives: how much, how deep, and what is no text; and what every answer carries."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any

import pytest
from fastapi.testclient import TestClient
from hypothesis import given
from hypothesis import strategies as st

from jade_ladder.formats.plain_text import DEEPEST_JSON, fault_of, is_too_deep, safe_file_name
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import tasks
from jade_ladder.web.shared.callers import PERSON_HEADER
from jade_ladder.web.shared.safety import HEADERS, Address
from tests.builders import Small, arrived, everything
from tests.web.conftest import sign_in
from tests.web.test_who_may import CALLS, DOCUMENT, example, filled

JSON_CALLS = [
    (method, path, operation["requestBody"]["content"]["application/json"]["schema"])
    for method, path, operation in [
        *CALLS,
        *(
            (method.upper(), path, operation)
            for path in ("/api/session", "/api/session/first-teacher")
            for method, operation in DOCUMENT["paths"][path].items()
        ),
    ]
    if "application/json" in operation.get("requestBody", {}).get("content", {})
]
JSON_NAMES = [f"{method} {path}" for method, path, _ in JSON_CALLS]


def send(client: TestClient, method: str, path: str, content: bytes | Iterator[bytes]) -> Any:
    headers = {"content-type": "application/json"}
    return client.request(method, path, content=content, headers=headers)


def test_a_body_is_limited_by_what_arrives_and_not_by_what_it_says(visitor: TestClient) -> None:
    arrived = 0

    def chunks() -> Iterator[bytes]:
        nonlocal arrived
        for _ in range(150):
            arrived += 1_000_000
            yield b" " * 1_000_000

    answer = send(visitor, "POST", "/api/session", chunks())
    assert answer.status_code == 413
    assert "larger than 8 kB" in answer.json()["detail"]
    # The test client hands everything over at once; the route looked at the first piece only.
    answer = send(visitor, "POST", "/api/session", b" " * 9_000)
    assert answer.status_code == 413
    lying = {"content-type": "application/json", "content-length": "10"}
    answer = visitor.post("/api/session", content=iter([b" " * 9_000]), headers=lying)
    assert answer.status_code == 413


@pytest.mark.parametrize("opening", ["[", '{"a":', '[{"a":'])
def test_a_document_that_nests_too_deep_is_refused_before_it_is_parsed(
    teacher: TestClient, made: Small, opening: str
) -> None:
    deep = opening * 50_000
    for method, path in (("POST", "/api/session"), ("POST", "/api/classes")):
        assert send(teacher, method, path, deep.encode()[:7_000]).status_code == 422
    list_path = f"/api/classes/{made.class_id}/outcomes/list/preview"
    answer = teacher.post(list_path, data={"text": "code,title\nA,B", "columns": deep})
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["field"] == "columns"
    file = {"file": ("f.json", deep.encode())}
    path = f"/api/classes/{made.class_id}/framework/preview"
    assert teacher.post(path, files=file).status_code == 422


@given(
    st.recursive(
        st.text() | st.integers(),
        lambda one: st.lists(one, max_size=3) | st.dictionaries(st.text(), one, max_size=3),
        max_leaves=40,
    )
)
def test_depth_is_told_as_it_is(value: Any) -> None:
    def depth(one: Any) -> int:
        inner = one.values() if isinstance(one, dict) else one if isinstance(one, list) else None
        return 0 if inner is None else 1 + max(map(depth, inner), default=0)

    assert is_too_deep(json.dumps(value).encode()) is (depth(value) > DEEPEST_JSON)
    quoted = json.dumps({"a": '\\[{"' * 100, "b": value}, ensure_ascii=False)
    deep = depth(value) + 1 > DEEPEST_JSON
    assert is_too_deep(quoted.encode("utf-8", "surrogatepass")) is deep


def with_text(schema: dict[str, Any], bad: Any) -> Iterator[tuple[str, Any]]:
    """Give a body for each of its fields that are texts, with something else in that one."""
    schemas = DOCUMENT["components"]["schemas"]
    whole = schemas[schema["$ref"].rsplit("/", 1)[1]]
    for name, field in whole.get("properties", {}).items():
        kinds = [field, *field.get("anyOf", [])]
        if any(kind.get("type") == "string" and "enum" not in kind for kind in kinds):
            yield name, {**example(schema, schemas), name: bad}


@pytest.mark.parametrize(
    "bad", ["\ud800", "a\udfffb", "nul\0", "bell\a", "\x1b[31m", "\x85", "\x7f"]
)
def test_halves_of_characters_and_control_characters_are_no_text(bad: str) -> None:
    assert "Character" in fault_of(bad)
    assert not fault_of("Ünïcode 😀\tand\nbreaks\r\n\u202e")


@pytest.mark.parametrize(("method", "path", "schema"), JSON_CALLS, ids=JSON_NAMES)
def test_no_text_and_no_number_is_taken_for_a_text(
    place: tuple[TestClient, Small, Teacher], method: str, path: str, schema: dict[str, Any]
) -> None:
    """Halves of characters and control characters, a number or a list: each at its field."""
    client, made, _ = place
    sign_in(client, made.caller.database, made.students[0] if "/my/" in path else 1)
    before = everything(made.caller.database)
    for bad in ["\ud800", "nul\0", 5, ["a"]]:
        for field, body in with_text(schema, bad):
            content = json.dumps(body).encode()
            answer = send(client, method, filled(path, {}, made.class_id), content)
            assert answer.status_code in (404, 422), (field, bad, answer.text)
            if answer.status_code == 422:
                fields = [one["field"] for one in answer.json()["errors"]]
                assert field in fields, (bad, answer.text)
    assert everything(made.caller.database) == before


@pytest.mark.parametrize("bad", ["\ud800x", "nul\0"])
def test_what_a_form_or_a_file_holds_is_refused_or_replaced(
    teacher: TestClient, made: Small, bad: str
) -> None:
    path = f"/api/classes/{made.class_id}/students/list/preview"
    # A form is text in bytes: half a character cannot even be written as UTF-8.
    content = f"given_name\n{bad}".encode("utf-8", "surrogatepass")
    pasted = teacher.post(path, data={"text": "given_name\nAda\0"})
    assert pasted.status_code == 422
    assert pasted.json()["errors"][0]["field"] == "text"
    for name in ("list.csv", "\u202ecsv.exe", "../../list.csv"):
        answer = teacher.post(path, files={"file": (name, content)})
        assert answer.status_code in (200, 422)
    package = {
        "CFDocument": {"identifier": "d", "title": "D"},
        "CFItems": [
            {"identifier": "1", "humanCodingScheme": "X1", "fullStatement": f"I can {bad}"}
        ],
    }
    answer = teacher.post(
        f"/api/classes/{made.class_id}/framework/preview",
        files={"file": ("f.json", json.dumps(package).encode())},
    )
    assert answer.status_code == 200, answer.text
    assert "\ufffd" in answer.text


def test_soft_breaks_of_word_processors_become_line_breaks(
    teacher: TestClient, made: Small
) -> None:
    body = {"code": "W9", "title": "I can", "description": "one\vtwo\ffour\tfive\r\n"}
    path = f"/api/classes/{made.class_id}/outcomes"
    assert teacher.post(path, json=body).status_code == 201
    found = [one for one in teacher.get(path).json()["outcomes"] if one["code"] == "W9"]
    assert found[0]["description"].split() == ["one", "two", "four", "five"]


@pytest.mark.parametrize(
    ("name", "safe"),
    [
        ("../../etc/passwd", "etc passwd"),
        ("a\\b:c.txt", "a b c.txt"),
        ("gpj.\u202etxt.exe", "gpj.txt.exe"),
        ("work\0\n.txt", "work.txt"),
        ("\ud800", "file"),
        (" . ", "file"),
        ("Ünïcode ✓.md", "Ünïcode ✓.md"),
    ],
)
def test_a_files_name_leads_nowhere_and_looks_like_what_it_is(name: str, safe: str) -> None:
    assert safe_file_name(name) == safe


@given(st.text(max_size=400))
def test_any_name_becomes_one_that_can_be_kept(name: str) -> None:
    safe = safe_file_name(name)
    assert 0 < len(safe) <= 120
    assert not fault_of(safe)
    assert safe_file_name(safe) == safe
    assert not set(safe) & set('/\\:"<>|')


def test_the_name_of_work_that_was_handed_in_is_cleaned(teacher: TestClient, made: Small) -> None:
    path = f"/api/tasks/{made.task_id}/students/{made.students[0]}"
    sent = {"upload_id": arrived(made.caller, "..\\\u202efdp.txt", b"My route")}
    assert teacher.post(f"{path}/work/files", json=sent).status_code == 201
    assert teacher.get(f"{path}/attempts/1").json()["parts"][0]["file_name"] == "fdp.txt"


ODD = [
    ("GET", "/%00", {}),
    ("GET", "/" + "a" * 300, {}),
    ("GET", "/" + "%E2%80%AE" * 200, {}),
    ("GET", "/assets/nothing.js", {}),
    ("GET", "/api/nothing", {}),
    ("POST", "/api/session", {"origin": "http://["}),
    ("POST", "/api/session", {"origin": "null"}),
    ("POST", "/api/session", {"origin": "https://ladder.test"}),
    ("POST", "/api/session", {"content-length": "many"}),
    ("POST", "/api/session", {"content-type": "text/plain"}),
    ("PATCH", "/api/session", {}),
    ("DELETE", "/api/health", {}),
]


@pytest.mark.parametrize(
    ("method", "path", "headers"), ODD, ids=[f"{m} {p[:24]} {h}" for m, p, h in ODD]
)
def test_odd_calls_are_refused_and_every_answer_carries_the_headers(
    visitor: TestClient, method: str, path: str, headers: dict[str, str]
) -> None:
    answer = visitor.request(method, path, headers=headers)
    assert 400 <= answer.status_code < 500
    assert answer.headers["content-type"] == "application/problem+json"
    assert HEADERS.items() <= dict(answer.headers).items()


def test_a_fault_is_told_with_the_headers_and_nothing_of_its_inside(
    visitor: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(*_: object) -> None:
        raise ZeroDivisionError("secret of the inside")

    monkeypatch.setattr("jade_ladder.web.people.sessions.accounts.the_school", broken)
    with pytest.raises(ZeroDivisionError):
        visitor.get("/api/session")
    quiet = TestClient(visitor.app, "http://ladder.test", raise_server_exceptions=False)
    answer = quiet.get("/api/session")
    assert answer.status_code == 500
    assert answer.json()["title"] == "Something went wrong"
    assert "secret" not in answer.text
    assert HEADERS.items() <= dict(answer.headers).items()


LOCAL = Address("http://127.0.0.1:8000")
SCHOOL = Address("https://ladder.school.example")


@pytest.mark.parametrize(
    ("address", "host", "known"),
    [
        (LOCAL, "127.0.0.1:8000", True),
        (LOCAL, "localhost:8000", True),
        (LOCAL, "127.0.0.1", False),
        (LOCAL, "evil.example:8000", False),
        (SCHOOL, "ladder.school.example", True),
        (SCHOOL, "ladder.school.example:443", False),
        (SCHOOL, "10.0.0.5", False),
        (Address("http://ladder.example:80"), "ladder.example", True),
        (Address(), "10.0.0.5:8000", True),
        (Address(), "[fe80::1]:8000", True),
        (Address(), "localhost:8000", True),
        (Address(), "evil.example", False),
        (Address(), "[", False),
        (Address(), "", False),
    ],
)
def test_host_is_held_against_what_the_server_was_started_for(
    address: Address, host: str, known: bool
) -> None:
    assert address.knows(host) is known


@pytest.mark.parametrize(
    ("address", "origin", "ours"),
    [
        (LOCAL, "http://localhost:8000", True),
        (LOCAL, "https://localhost:8000", False),
        (SCHOOL, "https://ladder.school.example", True),
        (SCHOOL, "http://ladder.school.example", False),
        (Address(), "http://10.0.0.5:8000", True),
        (Address(), "https://10.0.0.5:8000", False),
        (Address(), "http://10.0.0.6:8000", False),
    ],
)
def test_origin_is_compared_with_its_scheme(address: Address, origin: str, ours: bool) -> None:
    assert address.is_ours(origin, "http", "10.0.0.5:8000") is ours


@pytest.mark.parametrize("field", ["due_at", "first_day", "last_day", "done_at", "as_of"])
def test_a_year_that_cannot_be_is_refused_at_its_field_and_takes_nothing_down(
    teacher: TestClient, made: Small, field: str
) -> None:
    teacher.headers[PERSON_HEADER] = "1"
    slips = ["0026-11-20", "0001-01-01", "1989-12-31", "2101-01-01", "9999-12-31"]
    if field in ("due_at", "done_at", "as_of"):
        slips.append("2040-01-01")
    for day in slips:
        klass = {"name": "C", "first_day": "2026-09-01", "last_day": "2027-06-30"}
        task = {"title": "T", "kind": "handed-in", "rubric_id": made.rubric_id}
        where = f"/api/tasks/{made.task_id}/students/{made.students[0]}/work"
        match field:
            case "due_at":
                body = {**task, "due_at": f"{day}T10:00"}
                answer = teacher.post(f"/api/classes/{made.class_id}/tasks", json=body)
            case "done_at":
                answer = teacher.put(where, data={"text": "x", "done_at": f"{day}T10:00"})
            case "as_of":
                answer = teacher.get(f"/api/classes/{made.class_id}/mastery?as_of={day}")
            case _:
                answer = teacher.post("/api/classes", json={**klass, field: day})
        assert answer.status_code == 422, (day, answer.text)
        assert field in [one["field"] for one in answer.json()["errors"]]
    for page in ("tasks", "coverage", "mastery", "outcomes"):
        assert teacher.get(f"/api/classes/{made.class_id}/{page}").status_code == 200
    assert len(tasks.class_tasks(made.caller, made.class_id)) == 1
