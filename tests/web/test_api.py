"""The API: sign-in everywhere, writes from here only, errors at their field."""

from __future__ import annotations

from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from jade_ladder.service.shared.caller import Teacher
from jade_ladder.store.shared.connection import Database
from jade_ladder.web.application import api_document
from jade_ladder.web.shared.callers import COOKIE
from tests.builders import Small
from tests.web.conftest import client_of


def test_the_document_tells_of_every_call_and_its_errors() -> None:
    document = api_document()
    calls = [call for path in document["paths"].values() for call in path.values()]
    assert len(calls) > 80
    for call in calls:
        assert call["description"] or call["summary"]
        for codes in ("4XX", "5XX"):
            name = call["responses"][codes]["$ref"].rsplit("/", 1)[1]
            content = document["components"]["responses"][name]["content"]
            assert set(content) == {"application/problem+json"}
    assert "HTTPValidationError" not in document["components"]["schemas"]


def test_the_session_cookie_is_not_for_scripts_or_other_sites(teacher: TestClient) -> None:
    sign_in = {"email": "ilse@tern.example", "password": "a long password"}
    cookie = teacher.post("/api/session", json=sign_in).headers["set-cookie"]
    assert cookie.startswith(COOKIE)
    assert "HttpOnly" in cookie
    assert "SameSite=lax" in cookie


def test_a_made_up_cookie_is_nobody(visitor: TestClient) -> None:
    visitor.cookies.set(COOKIE, "guessed")
    assert visitor.get("/api/classes").status_code == 401
    assert visitor.get("/api/session").json()["person"] is None


def test_signing_out_ends_the_session_on_the_server(teacher: TestClient) -> None:
    token = teacher.cookies[COOKIE]
    teacher.delete("/api/session")
    teacher.cookies.set(COOKIE, token)
    assert teacher.get("/api/classes").status_code == 401


def test_guessing_is_slowed_down(visitor: TestClient) -> None:
    guess = {"email": "ilse@tern.example", "password": "a guess at it"}
    codes = [visitor.post("/api/session", json=guess).status_code for _ in range(6)]
    assert codes == [401] * 5 + [429]
    right = {**guess, "password": "a long password"}
    waiting = visitor.post("/api/session", json=right)
    assert waiting.status_code == 429
    assert 0 < int(waiting.headers["retry-after"]) <= 31
    elsewhere = {**guess, "email": "jun@tern.example"}
    assert visitor.post("/api/session", json=elsewhere).status_code == 401


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({"origin": "http://ladder.test"}, 201),
        ({}, 201),
        ({"origin": "http://elsewhere.test"}, 403),
        ({"origin": "http://ladder.test.elsewhere.test"}, 403),
        ({"origin": "null"}, 403),
        ({"sec-fetch-site": "cross-site"}, 403),
        ({"sec-fetch-site": "same-origin"}, 201),
        ({"content-length": "9000000"}, 413),
    ],
)
def test_writes_come_from_this_site_only(
    teacher: TestClient, headers: dict[str, str], status: int
) -> None:
    body = {"name": "C", "first_day": "2026-09-01", "last_day": "2027-06-01"}
    answer = teacher.post("/api/classes", json=body, headers=headers)
    assert answer.status_code == status
    assert len(teacher.get("/api/classes").json()) == (status == 201)


def test_every_answer_carries_the_safety_headers(teacher: TestClient) -> None:
    for answer in (teacher.get("/api/classes"), teacher.get("/api/nothing"), teacher.get("/")):
        policy = answer.headers["content-security-policy"]
        assert "script-src" not in policy
        assert "default-src 'self'" in policy
        assert answer.headers["x-content-type-options"] == "nosniff"
        assert "strict-transport-security" not in answer.headers
    secure = teacher.get("https://ladder.test/api/health")
    assert secure.headers["strict-transport-security"] == "max-age=31536000"


def rubric_body(points: str = "1", version: int = 1) -> dict:
    level = {"key": "l1", "name": "Low", "points": "0", "descriptor": ""}
    criterion = {
        "key": "c1",
        "title": "Criterion",
        "kind": "levels",
        "bonus": False,
        "half_way": False,
        "weight": None,
        "levels": [level, {**level, "key": "l2", "points": points}],
        "alignments": [],
    }
    return {"version": version, "title": "Rubric", "criteria": [criterion]}


@pytest.mark.parametrize(
    ("points", "says"),
    [
        ("many", "“many” is not a number"),
        ("-3", "Points are between 0 and 10,000"),
        ("10001", "“10001” is larger than 10,000"),
        ("1.234", "more than two decimals"),
    ],
)
def test_a_bad_number_is_told_at_its_field_and_the_draft_is_kept(
    teacher: TestClient, points: str, says: str
) -> None:
    number = teacher.post("/api/rubrics", json={"title": "Rubric"}).json()["id"]
    kept = teacher.put(f"/api/rubrics/{number}", json=rubric_body("2,5")).json()
    assert kept["criteria"][0]["levels"][1]["points"] == "2.5"
    answer = teacher.put(f"/api/rubrics/{number}", json=rubric_body(points, version=2))
    assert answer.status_code == 422
    (error,) = answer.json()["errors"]
    assert error["field"] == "criteria.0.levels.1.points"
    assert says in error["message"]
    assert teacher.get(f"/api/rubrics/{number}").json() == kept


def test_a_stale_save_is_a_conflict_with_the_version_there_is(teacher: TestClient) -> None:
    number = teacher.post("/api/rubrics", json={"title": "Rubric"}).json()["id"]
    teacher.put(f"/api/rubrics/{number}", json=rubric_body())
    answer = teacher.put(f"/api/rubrics/{number}", json=rubric_body("9"))
    assert answer.status_code == 409
    assert answer.json()["current"] == 2


@pytest.mark.parametrize(
    ("body", "field", "says"),
    [
        (
            {"name": "C", "first_day": "soon", "last_day": "2027-06-01"},
            "first_day",
            "written like 2026-11-25",
        ),
        (
            {"name": "C", "first_day": "2026-02-30", "last_day": "2027-06-01"},
            "first_day",
            "not a date",
        ),
        (
            {"name": "C", "first_day": "2027-09-01", "last_day": "2027-06-01"},
            "last_day",
            "after the first",
        ),
        ({"name": " ", "first_day": "2026-09-01", "last_day": "2027-06-01"}, "name", "needed"),
        ({"first_day": "2026-09-01", "last_day": "2027-06-01"}, "name", "This is needed"),
    ],
)
def test_a_class_is_refused_at_its_field(
    teacher: TestClient, body: dict[str, str], field: str, says: str
) -> None:
    answer = teacher.post("/api/classes", json=body)
    assert answer.status_code == 422
    error = answer.json()["errors"][0]
    assert error["field"] == field
    assert says in error["message"]


FORMS = [
    (
        "/api/session/first-teacher",
        {
            "school": "",
            "time_zone": "Tern/Island",
            "given_name": " ",
            "family_name": "",
            "email": "ilse",
            "password": "short",
        },
        ["school", "time_zone", "given_name", "family_name", "email", "password"],
    ),
    (
        "/api/classes",
        {"name": " ", "first_day": "2027-09-01", "last_day": "2027-06-01"},
        ["name", "last_day"],
    ),
    (
        "/api/classes/1/tasks",
        {"title": "", "kind": "observed", "rubric_id": 0, "points": "-1"},
        ["title", "rubric_id", "points"],
    ),
]


@pytest.mark.parametrize(("path", "body", "fields"), FORMS, ids=[form[0] for form in FORMS])
def test_all_that_is_wrong_with_a_form_is_told_at_once(
    teacher: TestClient, made: Small, path: str, body: dict[str, str], fields: list[str]
) -> None:
    refused = teacher.post(path, json=body)
    assert refused.status_code == 422
    assert [error["field"] for error in refused.json()["errors"]] == fields


def test_a_scale_that_does_not_rise_is_told_at_the_level(teacher: TestClient, made: Small) -> None:
    scale, _ = teacher.get("/api/scales").json()
    scale["levels"][2]["value"] = "1.5"
    answer = teacher.put(f"/api/scales/{scale['id']}", json=scale)
    assert answer.json()["errors"][0]["field"] == "levels.2.value"


def test_cut_scores_by_preset(teacher: TestClient) -> None:
    body = {"values": ["1", "2", "3,5"], "preset": "three-quarters"}
    cuts = teacher.post("/api/scales/cuts", json=body).json()["cuts"]
    assert cuts == ["1.00", "1.75", "3.13"]


def test_a_class_list_by_file_and_its_problems(teacher: TestClient, made: Small) -> None:
    path = f"/api/classes/{made.class_id}/students/list"
    content = "Förnamn;Surname;ID\nÅsa;Öberg;S7\nKai;Nord;S7\n".encode("cp1252")
    send = {
        "files": {"file": ("list.csv", content)},
        "data": {"columns": '{"given_name":"Förnamn"}'},
    }
    preview = teacher.post(f"{path}/preview", **send).json()
    assert preview["columns"]["given_name"] == "Förnamn"
    assert (preview["adding"], preview["problems"]) == (1, 1)
    assert preview["lines"][0]["given_name"] == "Åsa"
    refused = teacher.post(path, **send)
    assert refused.json()["errors"][0]["field"] == "line 3"
    text = preview["text"].replace("Kai;Nord;S7", "Kai;Nord;S8")
    added = teacher.post(path, data={"text": text, "columns": '{"given_name":"Förnamn"}'})
    assert (added.json()["added"], added.json()["left_out"]) == (2, "")


@pytest.mark.parametrize("columns", ["nonsense", "[]", '{"given_name": 3}'])
def test_a_choice_of_columns_that_is_none(teacher: TestClient, made: Small, columns: str) -> None:
    path = f"/api/classes/{made.class_id}/students/list/preview"
    answer = teacher.post(path, data={"text": "Name\nA B\n", "columns": columns})
    assert answer.json()["errors"][0]["field"] == "columns"


def test_a_page_from_before_attempts_had_numbers_still_saves(
    teacher: TestClient, made: Small
) -> None:
    """It may be open, with saves that wait, while the server is renewed."""
    criteria = teacher.get(f"/api/tasks/{made.task_id}/desk").json()["criteria"]
    before = f"/api/tasks/{made.task_id}/students/{made.students[0]}"
    for criterion in criteria:
        body = {"level_id": criterion["levels"][1]["id"], "version": 0}
        answer = teacher.put(f"{before}/choices/{criterion['id']}", json=body)
        assert answer.status_code == 200
    remark = {"text": "Well read", "version": 9}
    assert teacher.put(f"{before}/remark", json=remark).status_code == 200
    path = f"{before}/remarks/{criteria[0]['id']}"
    assert teacher.put(path, json=remark).status_code == 200
    assert teacher.post(f"{before}/finish").json()["finished"] is True
    mark = teacher.get(f"{before}/attempts/1").json()["mark"]
    assert (mark["version"], mark["finished"], len(mark["remarks"])) == (4, True, 2)
    for wrong in ("attempts/2", "attempts/0", "attempts/-1"):
        assert teacher.get(f"{before}/{wrong}").status_code == 404
        assert teacher.post(f"{before}/{wrong}/finish").status_code == 404


def test_a_picture_is_no_class_list(teacher: TestClient, made: Small) -> None:
    picture = {"file": ("list.png", b"\x89PNG\r\n\x1a\n\0\0\0")}
    path = f"/api/classes/{made.class_id}/students/list/preview"
    assert teacher.post(path, files=picture).json()["errors"][0]["field"] == "file"


def test_the_whole_job_through_the_api(teacher: TestClient, made: Small) -> None:
    desk = teacher.get(f"/api/tasks/{made.task_id}/desk").json()
    place = f"/api/tasks/{made.task_id}/students/{made.students[0]}/attempts/1"
    for criterion in desk["criteria"]:
        level = criterion["levels"][2]["id"]
        body = {"level_id": level, "version": 0}
        mark = teacher.put(f"{place}/choices/{criterion['id']}", json=body).json()
    assert mark["unmarked"] == []
    assert mark["total"]["value"] == "6.00"
    assert [move["after"]["value"] for move in mark["moves"]] == ["3.00", "3.00"]
    assert teacher.post(f"{place}/finish").json()["finished"] is True
    wall = teacher.get(f"/api/classes/{made.class_id}/mastery").json()
    row = [student["name"] for student in wall["students"]].index("Aino Berg")
    width = len(wall["outcomes"])
    assert wall["value"][row * width : (row + 1) * width] == ["3.00", "3.00"]
    trail = teacher.get(
        f"/api/classes/{made.class_id}/mastery/{made.students[0]}/{made.outcomes[0]}"
    ).json()
    assert trail["mastery"]["state"] == "mastered"
    assert [one["value"] for one in trail["methods"]] == ["3.00"] * 6


def test_as_of_a_day_that_is_none_or_to_come(teacher: TestClient, made: Small) -> None:
    path = f"/api/classes/{made.class_id}/mastery"
    for day in ("yesterday", "2999-01-01"):
        answer = teacher.get(path, params={"as_of": day})
        assert answer.status_code == 422
        assert answer.json()["errors"][0]["field"] == "as_of"


def test_the_demo_people_are_offered_in_the_demo_only(database: Database, caller: Teacher) -> None:
    with client_of(database, demo=True) as client:
        people = client.get("/api/session").json()["demo_people"]
        assert [person["name"] for person in people] == ["Ilse Varga"]
        assert client.post("/api/session/demo", json={"person_id": 99}).status_code == 404
        assert client.post("/api/session/demo", json={"person_id": 1}).status_code == 204
    again = Database(database.path)
    with client_of(again) as client:
        assert client.get("/api/session").json()["demo_people"] == []
        assert client.post("/api/session/demo", json={"person_id": 1}).status_code == 404


def test_the_first_start(database: Database) -> None:
    with client_of(database) as client:
        assert client.get("/api/session").json()["first_start"] is True
        body = {
            "school": "Tern Island School",
            "time_zone": "Nowhere/Land",
            "given_name": "Ilse",
            "family_name": "Varga",
            "email": "ilse@tern.example",
            "password": "a long password",
        }
        refused = client.post("/api/session/first-teacher", json=body)
        assert refused.json()["errors"][0]["field"] == "time_zone"
        made = client.post("/api/session/first-teacher", json={**body, "time_zone": "UTC"})
        assert made.status_code == 204
        assert client.get("/api/classes").json() == []


def test_the_front_end_is_served_and_nothing_beside_it(database: Database, tmp_path: Path) -> None:
    static = tmp_path / "static"
    (static / "assets").mkdir(parents=True)
    (static / "index.html").write_text("<title>Jade Ladder</title>")
    (static / "assets" / "a-1.js").write_text("1")
    (tmp_path / "secret.txt").write_text("secret")
    with client_of(database, static=static) as client:
        assert "immutable" in client.get("/assets/a-1.js").headers["cache-control"]
        for path in ("/", "/classes/1/mastery", "/..%2fsecret.txt", "/%2e%2e/secret.txt"):
            answer = client.get(path)
            assert answer.text == "<title>Jade Ladder</title>"
            assert answer.headers["cache-control"] == "no-cache"
        assert client.get("/api/nothing").status_code == 404
        assert client.get("/api/health").json()["status"] == "ok"


def test_a_missing_build_is_said(database: Database, tmp_path: Path) -> None:
    with client_of(database, static=tmp_path) as client:
        answer = client.get("/")
        assert answer.status_code == 503
        assert "make setup" in answer.json()["detail"]
