"""What students see: of the thing that a page is about, the same everywhere, and what happens."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Any

from tests.walk.asking import Answer, Call, School
from tests.walk.truths.pages import Pages, agree, truth


@truth
def a_student_is_told_the_same_everywhere(pages: Pages) -> None:
    """The list of tasks, a task's page, its results, the ladder, and the teacher's view of it."""
    for student, line in pages.own_tasks():
        page = pages.see(student, f"/my/tasks/{line['id']}")
        told = {name: value for name, value in line.items() if name != "about"}
        agree(f"task {line['id']}", list=told, page=_without(page["task"], "about"))
        if line["back_number"] is not None:
            newest = pages.see(student, f"/my/tasks/{line['id']}/results")
            agree("what was handed back", list=line["back_number"], result=newest["attempt"])
            agree("when it was", list=line["back_at"], result=newest["handed_back_at"])
            agree("whether it was read", list=line["read_at"], result=newest["read_at"])
        else:
            assert pages.may_see(student, f"/my/tasks/{line['id']}/results") is None
        for outcome in page["outcomes"]:
            rungs = [
                rung
                for ladder in pages.see(student, "/my/ladder")
                if ladder["class_id"] == line["class_id"]
                for rung in ladder["rungs"]
                if rung["id"] == outcome["id"]
            ]
            for rung in rungs:
                agree("mastery", task=outcome["mastery"], ladder=rung["mastery"])
    for who, klass in pages.classes():
        for member in pages.see(who, f"/classes/{klass['id']}/students"):
            path = f"/classes/{klass['id']}/students/{member['id']}/own-ladder"
            seen = pages.see(who, path)["ladder"]
            own = [
                one
                for one in pages.see(member["id"], "/my/ladder")
                if one["class_id"] == klass["id"]
            ]
            if own:
                agree(f"the ladder of {member['name']}", own=own[0], teacher=seen)
                counted = [rung["mastery"]["state"] for rung in seen["rungs"]]
                agree(
                    "mastered of",
                    ladder=(seen["mastered"], seen["of"]),
                    rungs=(counted.count("mastered"), len(counted)),
                )


def _without(page: dict[str, Any], *names: str) -> dict[str, Any]:
    return {name: value for name, value in page.items() if name not in names}


@truth
def what_stands_on_a_page_is_of_what_it_is_about(pages: Pages) -> None:
    """Times, attempts and receipts of a result are its own."""
    now = pages.school.now
    for student, line in pages.own_tasks():
        page = pages.see(student, f"/my/tasks/{line['id']}")
        receipts = page["receipts"]
        standing = {
            one["attempt"]: one["at"] for one in reversed(receipts) if one["taken_back_at"] is None
        }
        latest = {
            attempt: max(
                (
                    one["at"]
                    for one in receipts
                    if one["attempt"] == attempt and one["taken_back_at"] is None
                ),
                key=datetime.fromisoformat,
            )
            for attempt in standing
        }
        # What a teacher entered has no receipt.
        if line["handed_in_at"] is not None and _newest_handed_in(line) in latest:
            agree(
                f"when task {line['id']} was handed in",
                list=line["handed_in_at"],
                receipt=latest.get(_newest_handed_in(line)),
            )
        newest = pages.may_see(student, f"/my/tasks/{line['id']}/results")
        for attempt in newest["attempts"] if newest else ():
            result = pages.see(student, f"/my/tasks/{line['id']}/results/{attempt}")
            agree("the attempt", asked=attempt, result=result["attempt"])
            if attempt in latest:
                agree(
                    f"when attempt {attempt} was handed in",
                    result=result["handed_in_at"],
                    receipt=latest[attempt],
                )
            assert datetime.fromisoformat(result["handed_back_at"]) <= now, result
            if result["handed_in_at"] is not None:
                assert result["handed_in_at"] <= result["handed_back_at"], result
            assert result["read_at"] is None or result["read_at"] >= result["handed_back_at"]
            assert all((one["carried_from"] or 0) < attempt for one in result["choices"]), result[
                "choices"
            ]


def _newest_handed_in(line: dict[str, Any]) -> int:
    """The attempt that was handed in last: `attempt` is the one that is open, if one is."""
    return int(line["attempt"]) - bool(line["granted"])


@truth
def the_teacher_knows_what_was_handed_back(pages: Pages) -> None:
    for who, _, task in pages.tasks():
        for row in pages.see(who, f"/tasks/{task['id']}/handing-back"):
            path = f"/my/tasks/{task['id']}/results/{row['attempt']}"
            result = pages.may_see(row["student_id"], path)
            if row["seen_at"] is None:
                assert result is None, f"{path} is seen and was not handed back"
                continue
            assert result is not None, f"{path} was handed back and is not seen"
            agree(path, teacher=row["seen_at"], student=result["handed_back_at"])
            agree("read", teacher=row["read_at"], student=result["read_at"])
            agree("the next word", teacher=row["next_word"], student=result["next_word"])


@truth
def remarks_on_passages_are_numbered_alike(pages: Pages) -> None:
    """From 1, in the order of the work, at the desk and on the page of what was handed back."""
    for who, _, task in pages.tasks():
        for row in pages.see(who, f"/tasks/{task['id']}/handing-back"):
            at = f"/tasks/{task['id']}/students/{row['student_id']}/attempts/{row['attempt']}"
            desk = pages.see(who, at)
            _numbered(desk["passages"], desk["parts"])
            path = f"/my/tasks/{task['id']}/results/{row['attempt']}"
            result = pages.may_see(row["student_id"], path)
            if result is None:
                continue
            _numbered(result["passages"], result["work"])
            if not row["changed"] and row["coming_at"] is None:
                agree(f"passages at {at}", desk=desk["passages"], result=result["passages"])


def _numbered(passages: list[dict[str, Any]], work: list[dict[str, Any]]) -> None:
    agree(
        "numbers of passages",
        these=[one["number"] for one in passages],
        should_be=list(range(1, len(passages) + 1)),
    )
    order = [one["id"] for one in work]
    places = [
        (order.index(one["part_id"]), (one["place"]["span"] or {"start": 0})["start"])
        for one in passages
    ]
    assert places == sorted(places), places


@truth
def what_a_student_is_offered_is_what_happens(pages: Pages) -> None:
    """Handing in, replacing, taking back, beginning, asking: each tried on a copy."""
    with pages.school.copy() as copy:
        offered: list[tuple[int, dict[str, Any], str, Call]] = []
        for student, line in pages.own_tasks():
            page = pages.see(student, f"/my/tasks/{line['id']}")
            for name, is_offered, call in _offers(pages, student, line, page):
                if is_offered:
                    offered.append((student, line, name, call))
                    continue
                # What is refused changes nothing, so that all of it is tried on one copy.
                answer = copy.send(call)
                assert not answer.done, f"{name} is not offered: {call.written()}, and done"
                if name in ("hand in", "write") and line["closed"]:
                    assert line["why"] in _words(answer), (line["why"], answer.content)
    for student, line, name, call in offered:
        with pages.school.copy() as copy:
            answer = copy.send(call)
            assert answer.done, f"{name} is offered: {call.written()}, and {answer.content!r}"
            if name == "hand in":
                _was_handed_in(copy, student, line)
            if name == "take back":
                after = copy.get(student, f"/my/tasks/{line['id']}")
                assert after["draft"] is not None or after["put_in"], after
                assert not after["task"]["can_take_back"] or line["attempt"] > 1, after
        if name in ("hand in", "take back") and line["present"]:
            _until_when(pages, student, line, name, call)


def _until_when(pages: Pages, student: int, line: dict[str, Any], name: str, call: Call) -> None:
    """What can be done until a time can be done at that moment, and not the next."""
    until = line["due_at"] if name == "take back" else line["closes_at"]
    if until is None or (name == "hand in" and line["has_work"]):
        return
    moment = datetime.fromisoformat(until)
    if moment < pages.school.now or moment - pages.school.now > timedelta(days=10):
        return
    for late, expected in ((timedelta(), True), (timedelta(microseconds=1), False)):
        with pages.school.copy() as copy:
            copy.now = moment + late
            answer = copy.send(call)
            assert answer.done == expected, (
                f"{name} until {until}, at {copy.now}: {call.written()}, {answer.content!r}"
            )


def _words(answer: Answer) -> str:
    return str(answer.json().get("detail"))


def _was_handed_in(school: School, student: int, before: dict[str, Any]) -> None:
    task = school.get(student, f"/my/tasks/{before['id']}")["task"]
    assert task["has_work"], task
    assert datetime.fromisoformat(task["handed_in_at"]) == school.now, task
    agree("which attempt it is", page=task["attempt"], said=before["attempt"])


def _offers(
    pages: Pages, student: int, line: dict[str, Any], page: dict[str, Any]
) -> list[tuple[str, bool, Call]]:
    at = f"/my/tasks/{line['id']}"
    draft = page["draft"]
    version = 0 if draft is None else draft["version"]
    standing = [one for one in page["receipts"] if one["taken_back_at"] is None]
    # What would be replaced is what stands at the newest attempt, unless another one is begun.
    replaced = max(
        (one["number"] for one in standing if one["attempt"] == line["attempt"]), default=None
    )
    handed = {
        "text": "Another way there",
        "version": version,
        "replaced": None if line["granted"] else replaced,
        "parts": [one["id"] for one in page["put_in"]],
    }
    text = {"text": "As far as I am", "version": version}
    is_open = line["closed"] is None
    offers = [
        ("hand in", is_open, Call(student, "hand_in", "POST", f"{at}/hand-in", handed)),
        ("write", is_open, Call(student, "save_own_draft", "PUT", f"{at}/draft", text)),
        (
            "take back",
            line["can_take_back"],
            Call(student, "take_own_work_back", "POST", f"{at}/take-back"),
        ),
    ]
    newest = pages.may_see(student, f"{at}/results")
    if newest is not None:
        # As the page of a result offers it.
        wish = (
            not newest["wish"]
            and newest["task"]["present"]
            and newest["attempt"] == newest["task"]["attempt"]
            and newest["task"]["kind"] != "other-evidence"
        )
        path = f"{at}/results/{newest['attempt']}/wish"
        offers.append(("ask", wish, Call(student, "ask_again", "POST", path, {"words": ""})))
    return offers


@truth
def messages_lead_somewhere(pages: Pages) -> None:
    """A message is not of the future, and what it leads to was there when it was sent."""
    for student in pages.students():
        for message in pages.see(student, "/my/messages"):
            assert datetime.fromisoformat(message["at"]) <= pages.school.now, message
            assert message["path"].startswith("/my"), message
