"""A rubric that marks were given by is changed: words at once, structure task by task."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from playwright.sync_api import Page, expect

from tests.browser.conftest import Server

Open = Callable[..., Page]
SCHOOLYARD, LAST_MAP = "Map of the schoolyard", "Map for a visitor"


def wall(page: Page) -> Any:
    return page.request.get("/api/classes/1/mastery").json()


def marks(page: Page, task_id: int) -> list[object]:
    """All that is marked on a task: choices, remarks and totals of every student."""
    students = page.request.get(f"/api/tasks/{task_id}").json()["where"]
    found = []
    for student in students:
        path = f"/api/tasks/{task_id}/students/{student['id']}/attempts/1"
        mark = page.request.get(path).json()["mark"]
        remarks = sorted((one["text"], one["criterion_id"]) for one in mark["remarks"])
        found.append((mark["choices"], remarks, mark["total"], mark["finished"]))
    return found


def mastery(page: Page, code: str) -> dict[str, str]:
    """Every student's value on an outcome, as the wall has it."""
    page.goto("/classes/1/mastery")
    found = wall(page)
    place = next(n for n, outcome in enumerate(found["outcomes"]) if outcome["code"] == code)
    across = len(found["outcomes"])
    names = [student["name"] for student in found["students"]]
    values = [value or "no evidence" for value in found["value"][place::across]]
    return dict(zip(names, values, strict=True))


def task_number(page: Page, title: str) -> int:
    tasks = page.request.get("/api/classes/1/tasks").json()
    return next(task["id"] for task in tasks if task["title"] == title)


def test_only_words_change_in_place(demo_server: Server, open_page: Open) -> None:
    page = open_page(demo_server, "/classes/1/rubrics/1")
    before = wall(page)
    page.get_by_role("button", name="Change it").click()
    title = page.get_by_label("Title of criterion 1")
    title.fill("")
    page.get_by_role("button", name="See what it does").click()
    expect(page.get_by_text("Before revision 2 can be applied")).to_be_visible()
    expect(page.get_by_text("Every criterion needs a title")).to_be_visible()
    expect(page.get_by_role("button", name="Change the words")).to_be_disabled()
    page.get_by_role("link", name="Back to the rubric").click()
    title.fill("Reads the land from contours")
    page.get_by_role("button", name="See what it does").click()
    expect(page.get_by_role("heading", name="Only words change")).to_be_visible()
    expect(page.locator("ins")).to_have_text("Reads the land from contours")
    page.get_by_role("button", name="Change the words").click()
    expect(page.get_by_text("The words are changed")).to_be_visible()
    expect(page.get_by_role("button", name="Change it")).to_be_visible()
    assert wall(page) == before
    page.goto("/classes/1/marking/8")
    expect(page.get_by_text("Reads the land from contours").first).to_be_visible()
    expect(page.get_by_text("14 to mark")).to_be_visible()


def test_a_task_stays_to_the_last_digit_and_another_goes_as_was_told(
    demo_server: Server, open_page: Open
) -> None:
    page = open_page(demo_server, "/classes/1/rubrics/2")
    stays, goes = task_number(page, SCHOOLYARD), task_number(page, "Survey of the boat field")
    before = marks(page, stays)
    page.get_by_role("button", name="See what it does").click()
    row = page.get_by_role("row", name="Survey of the boat field")
    expect(page.get_by_role("checkbox", name=LAST_MAP)).to_be_checked()
    expect(row.get_by_role("checkbox")).not_to_be_checked()
    expect(row).to_contain_text("25 of 25 carried over whole")
    row.get_by_role("checkbox").check()
    expect(row).to_contain_text("goes from revision 1 to 2")
    page.get_by_text("With the 2 chosen tasks").click()
    expect(page.locator(".together li").filter(has_text="M2")).to_have_count(25)
    told = page.locator(".together li").all_inner_texts()
    page.get_by_role("button", name="Apply revision 2 to 2 tasks").click()
    expect(page.get_by_text("2 tasks are marked by revision 2 now")).to_be_visible()
    expect(page.get_by_text("Map Room · Year 9, revision 2")).to_have_count(2)
    assert marks(page, stays) == before
    for name, value in mastery(page, "M2").items():
        line = next((line for line in told if name in line), None)
        if line is not None and value in line.split("→")[0]:
            # The value stays; what moves is whether there is enough evidence.
            assert line.split("→")[1].strip() in ("enough evidence", "needs evidence")
        else:
            assert line is None or line.split("→")[1].strip() == value
    assert sum(finished for *_, finished in marks(page, goes)) == 25
    page.goto(f"/classes/1/tasks/{stays}")
    page.get_by_role("link", name="see revision 2").click()
    expect(page.get_by_role("button", name="on revision 2")).to_have_count(0)
    page.get_by_role("checkbox", name=SCHOOLYARD).check()
    page.get_by_role("button", name="Put 1 task on revision 2").click()
    expect(page.get_by_text("Map Room · Year 9, revision 2")).to_have_count(3)
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("1 task is marked as before")).to_be_visible()
    expect(page.get_by_role("heading", name="What revision 2 does to tasks")).to_be_visible()
    expect(page.get_by_role("checkbox", name=SCHOOLYARD)).not_to_be_checked()
    assert marks(page, stays) == before


def test_changes_are_discarded(demo_server: Server, open_page: Open) -> None:
    page = open_page(demo_server, "/classes/1/rubrics/2")
    page.get_by_role("button", name="Discard the changes").click()
    page.get_by_role("button", name="Discard them").click()
    expect(page.get_by_role("button", name="Change it")).to_be_visible()
    expect(page.get_by_text("Keeps to scale", exact=True)).to_be_visible()


def test_a_new_criterion_is_marked_before_the_new_revision_counts(
    demo_server: Server, open_page: Open
) -> None:
    page = open_page(demo_server, "/classes/1/rubrics/2")
    before = wall(page)
    page.get_by_role("button", name="Add a criterion").click()
    page.keyboard.type("Is kept up to date")
    expect(page.locator(".save")).to_contain_text("Saved")
    page.get_by_role("button", name="See what it does").click()
    row = page.get_by_role("row", name=SCHOOLYARD)
    row.get_by_text("25 marks count as now").click()
    expect(row.get_by_text("Is kept up to date")).to_have_count(25)
    row.get_by_role("checkbox").check()
    page.get_by_role("button", name="Apply revision 2").click()
    expect(page.get_by_text("tasks are marked by revision 2 now")).to_be_visible()
    assert wall(page) == before
    page.goto(f"/classes/1/marking/{task_number(page, SCHOOLYARD)}")
    expect(page.get_by_text("25 to mark")).to_be_visible()
    page.get_by_text("Marked under revision 1 of the rubric").click()
    expect(page.locator(".notice li")).not_to_have_count(0)
    for _ in range(6):
        page.keyboard.press("ArrowDown")
    page.keyboard.press("2")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_text("24 to mark")).to_be_visible()
