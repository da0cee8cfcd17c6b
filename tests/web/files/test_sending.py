"""Files over HTTP: arriving in pieces, refused while they arrive, and sent so that nothing runs."""

from __future__ import annotations

import threading
import time
from collections.abc import Iterator
from typing import Any

import pytest
from fastapi.testclient import TestClient

from jade_ladder.service.files import preparing, uploads
from jade_ladder.service.shared.caller import Caller, Student, Teacher
from jade_ladder.service.work import handing_in, parts
from jade_ladder.web.files.preparer import Preparer
from jade_ladder.web.work.parts import SANDBOXED
from tests.builders import Small, arrived
from tests.samples import docx, jpeg, pdf, png
from tests.web.conftest import sign_in

KEY = "a-key-of-mine"


def begin(client: TestClient, size: int, name: str = "leg.txt", whose: str = "") -> str:
    answer = client.post(f"/api/{whose}uploads", json={"key": KEY, "name": name, "size": size})
    assert answer.status_code == 201, answer.text
    return f"/api/{whose}uploads/{answer.json()['id']}"


def test_a_file_arrives_and_is_resumed(teacher: TestClient, made: Small) -> None:
    path = begin(teacher, 7)
    assert teacher.put(f"{path}/bytes", content=b"Leg").json()["received"] == 3
    stale = teacher.put(f"{path}/bytes", content=b"Leg")
    assert (stale.status_code, stale.json()["current"]) == (409, 3)
    assert teacher.get(path).json()["received"] == 3
    assert teacher.put(f"{path}/bytes?at=3", content=b" one").json()["received"] == 7
    work = f"/api/tasks/{made.task_id}/students/{made.students[0]}/work/files"
    number = int(path.rsplit("/", 1)[1])
    part = teacher.post(work, json={"upload_id": number}).json()
    assert (part["file_name"], part["file_kind"], part["size"]) == ("leg.txt", "text", 7)
    assert teacher.get(f"/api/work-parts/{part['id']}/shown").json()["text"] == "Leg one"
    assert teacher.get(path).status_code == 404


def test_more_than_was_said_is_refused_while_it_arrives(teacher: TestClient) -> None:
    path = begin(teacher, 10)

    def undeclared() -> Iterator[bytes]:
        for _ in range(2000):
            yield b"0" * 1000

    for content in (b"0" * 11, undeclared()):
        answer = teacher.put(f"{path}/bytes", content=content)
        assert answer.status_code == 422
        assert answer.json()["errors"][0]["field"] == "file"
        assert teacher.get(path).json()["received"] == 0
    answer = teacher.post("/api/uploads", json={"key": KEY + "2", "name": "a", "size": 300_000_000})
    assert "larger than 100 MB" in answer.json()["detail"]


@pytest.mark.parametrize("place", ["-1", "x", "11", str(2**63)])
def test_a_place_that_is_none_is_refused(teacher: TestClient, place: str) -> None:
    path = begin(teacher, 10)
    assert teacher.put(f"{path}/bytes?at={place}", content=b"0").status_code in (409, 422)
    assert teacher.get(path).json()["received"] == 0


def part_of(made: Small, name: str, content: bytes) -> int:
    number = arrived(made.caller, name, content)
    part = parts.add_work_file(made.caller, made.task_id, made.students[0], number)
    until_ready(made.caller)
    return part.id


def until_ready(caller: Caller) -> None:
    """Wait for the server, which makes files ready beside everything else."""
    until = time.monotonic() + 60
    while preparing.waiting(caller.database):
        assert time.monotonic() < until
        time.sleep(0.05)


def test_a_file_that_is_being_prepared_is_told_at_once_and_asked_for_again(
    teacher: TestClient, made: Small, monkeypatch: pytest.MonkeyPatch
) -> None:
    held = threading.Event()
    prepare = preparing.prepare

    def holding(*args: Any) -> None:
        held.wait(60)
        prepare(*args)

    monkeypatch.setattr(preparing, "prepare", holding)
    number = arrived(made.caller, "map.jpg", jpeg(camera="A camera"))
    part = parts.add_work_file(made.caller, made.task_id, made.students[0], number).id
    asked = teacher.get(f"/api/work-parts/{part}/file")
    assert (asked.status_code, asked.headers["retry-after"]) == (503, "1")
    assert asked.json()["type"] == "/problems/being-prepared"
    assert teacher.get(f"/api/work-parts/{part}/shown").json()["preparing"] is True
    held.set()
    until_ready(made.caller)
    ready = teacher.get(f"/api/work-parts/{part}/file")
    assert (ready.status_code, b"A camera" in ready.content) == (200, False)


def test_people_take_turns_and_nobody_has_two_in_hand(
    caller: Teacher, other_teacher: Teacher, made: Small
) -> None:
    """A flood of one person's files holds another's back by one of them at most."""
    preparer = Preparer(caller.database)
    for number in range(4):
        sent = arrived(caller, f"{number}.docx", docx(f"Leg {number}"))
        parts.add_work_file(caller, made.task_id, made.students[0], sent)
    theirs = uploads.bring_in(other_teacher, arrived(other_teacher, "late.docx", docx("Late")))
    with caller.transaction() as db:
        theirs.named(db, other_teacher)
    first, second = preparer._take(), preparer._take()
    assert first is not None
    assert second is not None
    assert {first[0], second[0]} == {caller.person_id, other_teacher.person_id}
    assert preparer._take() is None, "one in hand of each"


SCRIPT = "/OpenAction << /S /JavaScript /JS (app.alert) >>"
SENT = [
    ("<script>.html", b"<script>alert(1)</script>", "application/octet-stream"),
    ("a.svg", b"<svg onload='alert(1)' xmlns='http://www.w3.org/2000/svg'/>", None),
    ("map.html", png(), "image/png"),
    (
        "plan.pdf",
        pdf(["Leg"], "/OpenAction << /S /JavaScript /JS (app.alert) >>"),
        "application/pdf",
    ),
    ("card.docx", docx("Leg one"), None),
    ('../../etc/pass\u202ewd"; x=y.txt', b"Leg one", None),
]


@pytest.mark.parametrize(("name", "content", "media_type"), SENT, ids=[one[0] for one in SENT])
def test_a_file_is_sent_to_be_saved_and_runs_nowhere(
    teacher: TestClient, made: Small, name: str, content: bytes, media_type: str | None
) -> None:
    answer = teacher.get(f"/api/work-parts/{part_of(made, name, content)}/file")
    assert answer.status_code == 200
    headers = answer.headers
    assert headers["content-type"] == (media_type or "application/octet-stream")
    assert headers["content-disposition"].startswith("attachment; filename")
    assert not set("/\\\n\u202e") & set(headers["content-disposition"])
    assert headers["content-security-policy"] == SANDBOXED
    assert "sandbox" in SANDBOXED
    assert headers["x-content-type-options"] == "nosniff"
    assert "no-store" in headers["cache-control"]


def test_a_recording_is_sent_in_pieces(teacher: TestClient, made: Small) -> None:
    part = part_of(made, "leg.wav", b"RIFF\0\0\0\0WAVEfmt " + b"0" * 1000)
    answer = teacher.get(f"/api/work-parts/{part}/file", headers={"range": "bytes=8-11"})
    assert (answer.status_code, answer.content) == (206, b"WAVE")


def test_each_look_asks_whether_one_may_see_it_now(
    place: tuple[TestClient, Small, Teacher],
) -> None:
    client, made, colleague = place
    own = Student(made.caller.database, made.students[0], made.caller.now)
    task_id = made.new_task()
    sent = arrived(own, "card.docx", docx("Leg", picture=png()))
    number = parts.add_own_file(own, task_id, sent).id
    until_ready(own)
    looks = ("file", "shown", "pictures/1")

    def answers(person: int, whose: str) -> list[int]:
        sign_in(client, colleague.database, person)
        path = f"/api/{whose}work-parts/{number}"
        return [client.get(f"{path}/{look}").status_code for look in looks]

    assert answers(made.students[0], "my/") == [200] * 3
    assert answers(made.students[1], "my/") == [404] * 3
    assert answers(made.caller.person_id, "") == [404] * 3, "it is not handed in yet"
    handing_in.hand_in(own, task_id, "", 0, None, [number])
    assert answers(made.caller.person_id, "") == [200] * 3
    assert answers(colleague.person_id, "") == [404] * 3
    with colleague.database.transaction() as db:
        db.execute("DELETE FROM work_part")
    assert answers(made.caller.person_id, "") == [404] * 3


def test_a_file_that_is_gone_from_the_disk_is_told(teacher: TestClient, made: Small) -> None:
    number = part_of(made, "card.txt", b"Leg one")
    parts.part_file(made.caller, number).path.unlink()
    answer = teacher.get(f"/api/work-parts/{number}/file")
    assert answer.status_code == 404
    assert "not in the data folder" in answer.json()["detail"]
