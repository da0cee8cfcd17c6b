"""Files over the API: what goes out comes in again; what is too large is not even read."""

from __future__ import annotations

import json

from fastapi.testclient import TestClient

from tests.builders import Small


def test_outcomes_go_out_as_csv_and_come_in_again(teacher: TestClient, made: Small) -> None:
    formula = {"code": "=1+1", "title": "@home", "description": "- a\n- b"}
    path = f"/api/classes/{made.class_id}"
    assert teacher.post(f"{path}/outcomes", json=formula).status_code == 201
    answer = teacher.get(f"{path}/outcomes.csv")
    assert answer.headers["content-type"] == "text/csv; charset=utf-8"
    assert 'filename="outcomes.csv"' in answer.headers["content-disposition"]
    assert "'=1+1,'@home,\"'- a\n- b\"" in answer.text.replace("\r\n", "\n")
    files = {"file": ("outcomes.csv", answer.content)}
    read = teacher.post(f"{path}/outcomes/list/preview", files=files).json()
    assert [line["status"] for line in read["lines"]] == ["already-there"] * 3
    assert [line["code"] for line in read["lines"]] == ["W1", "W2", "=1+1"]
    assert read["lines"][2]["description"] == "- a\n- b"


def test_a_framework_comes_in_is_shown_first_and_is_taken_back(
    teacher: TestClient, made: Small
) -> None:
    path = f"/api/classes/{made.class_id}"
    package = teacher.get(f"{path}/framework.json").json()
    package["CFItems"].pop()
    package["CFItems"].append(
        {"identifier": "n", "fullStatement": "New", "humanCodingScheme": "N1"}
    )
    files = {"file": ("f.json", json.dumps(package).encode())}
    shown = teacher.post(f"{path}/framework/preview", files=files).json()
    assert (shown["new"], shown["same"], shown["gone"]) == (1, 1, 1)
    assert shown["gone_outcomes"] == [{"code": "W2", "title": "I can W2"}]
    data = {"retire_gone": "true"}
    entry = teacher.post(f"{path}/framework", files=files, data=data).json()["id"]
    found = teacher.get(f"{path}/outcomes").json()["outcomes"]
    assert {one["code"]: one["retired"] is not None for one in found} == {
        "W1": False,
        "W2": True,
        "N1": False,
    }
    kept = teacher.delete(f"{path}/framework/{entry}").json()
    assert kept == {"outcomes_kept": 0, "rubrics_kept": 0}
    found = teacher.get(f"{path}/outcomes").json()["outcomes"]
    assert [(one["code"], one["retired"]) for one in found] == [("W1", None), ("W2", None)]
    assert teacher.delete(f"{path}/framework/{entry}").status_code == 422


def test_a_framework_that_is_none_is_told_at_the_file(teacher: TestClient, made: Small) -> None:
    path = f"/api/classes/{made.class_id}/framework"
    for content, told in ((b"{", "line 1"), (b"[]", "not a CASE package")):
        answer = teacher.post(f"{path}/preview", files={"file": ("f.json", content)})
        assert answer.status_code == 422
        assert told in answer.json()["detail"]
        assert answer.json()["errors"][0]["field"] == "file"


def test_a_file_of_fifty_megabytes_is_refused_before_it_is_read(
    teacher: TestClient, made: Small
) -> None:
    path = f"/api/classes/{made.class_id}/framework"
    headers = {"content-length": str(50_000_000), "content-type": "application/json"}
    answer = teacher.post(path, headers=headers, content=b"")
    assert answer.status_code == 413
    assert "larger than 8 MB" in answer.json()["detail"]


def test_the_library_over_the_api(teacher: TestClient, made: Small) -> None:
    rubric = f"/api/rubrics/{made.rubric_id}"
    assert teacher.put(f"{rubric}/tags", json={"tags": ["b", "A", "a"]}).status_code == 204
    assert teacher.put(f"{rubric}/shared", json={"shared": True}).status_code == 204
    assert teacher.put(f"{rubric}/archived", json={"archived": True}).status_code == 204
    (line,) = teacher.get("/api/rubrics").json()
    assert (line["tags"], line["shared"], line["archived"]) == (["A", "b"], True, True)
    # One's own is not among what colleagues share.
    assert teacher.get("/api/rubrics/shared").json() == []
    fit = teacher.get(f"/api/classes/{made.class_id}/rubrics/{made.rubric_id}/fit").json()
    assert [one["key"] for one in fit.pop("criteria")] == ["a", "b"]
    assert fit == {"taught": ["W1", "W2"], "matched": [], "unmatched": []}
    refused = teacher.put(f"{rubric}/tags", json={"tags": ["x" * 41]})
    assert refused.json()["errors"][0]["field"] == "tags"
