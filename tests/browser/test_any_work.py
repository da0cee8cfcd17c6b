"""Any kind of work: put in by a student on a phone, read where it is marked."""

from __future__ import annotations

import re
import sqlite3
from collections.abc import Callable
from contextlib import closing
from datetime import timedelta

from playwright.sync_api import Page, Route, expect

from jade_ladder.outside import clock
from tests.browser.conftest import ME, Server
from tests.samples import docx, jpeg, locked_pdf, pdf, zipped

FARIDA = 14
VISITOR = 9
"""The demo's task that is due, and a student of the demo."""


def as_farida(page: Page, path: str) -> None:
    assert page.request.post("/api/session/demo", data={"person_id": FARIDA}).ok
    page.goto(path)


def files() -> list[dict[str, object]]:
    """A document, a PDF and a photograph."""
    return [
        {
            "name": "route card.docx",
            "mimeType": "application/octet-stream",
            "buffer": docx("Leg one keeps the wall left", body="<m:oMath><m:r/></m:oMath>"),
        },
        {
            "name": "plan.pdf",
            "mimeType": "application/pdf",
            "buffer": pdf([f"Page {n} of the plan" for n in range(1, 11)]),
        },
        {
            "name": "<b>sketch.jpg",
            "mimeType": "image/jpeg",
            "buffer": jpeg(size=(300, 200), turned=6),
        },
    ]


def test_work_of_every_kind_goes_from_the_students_phone_to_the_desk(
    demo_server: Server, open_page: Callable[..., Page], violations: Callable[..., list[str]]
) -> None:
    page = open_page(demo_server, signed_in=False, width=390, touch=True)
    as_farida(page, f"/my/tasks/{VISITOR}")
    page.get_by_label("Write here").fill("One page for an afternoon.")
    lost = iter([True, True])

    def unsteady(route: Route) -> None:
        route.abort() if next(lost, False) else route.continue_()

    page.route("**/bytes?*", unsteady)
    page.get_by_label("Add files").set_input_files(files())  # type: ignore[arg-type]
    there = page.get_by_role("list", name="Put in")
    expect(there.get_by_role("listitem")).to_have_count(3)
    expect(page.get_by_role("list", name="Files on their way")).to_have_count(0)
    page.get_by_role("button", name="Add a link").click()
    page.get_by_label("Address of the link").fill("tern.example")
    page.get_by_role("button", name="Add", exact=True).click()
    expect(page.get_by_text("An address that begins with https://")).to_be_visible()
    page.get_by_label("Address of the link").fill("https://tern.example/map")
    page.get_by_role("button", name="Add", exact=True).click()
    expect(there.get_by_role("listitem")).to_have_count(4)
    page.reload()
    expect(there.get_by_role("listitem")).to_have_count(4)
    assert violations(page) == []
    page.get_by_role("button", name="Hand in …").click()
    expect(page.get_by_role("dialog")).to_contain_text("4 files and links")
    page.get_by_role("button", name="Hand in", exact=True).click()
    expect(page.get_by_role("heading", name="Handed in")).to_be_visible()
    page.get_by_text("Receipt").click()
    expect(page.get_by_text("sketch.jpg SHA-256:")).to_be_visible()
    page.get_by_role("tab", name="sketch.jpg").click()
    expect(page.get_by_role("img", name="sketch.jpg")).to_be_visible()

    desk = open_page(demo_server, f"/classes/1/marking/{VISITOR}/{FARIDA}")
    expect(desk.get_by_role("tab", name="Text")).to_have_attribute("aria-selected", "true")
    desk.get_by_role("tab", name="Text").press("ArrowRight")
    expect(desk.get_by_text("Leg one keeps the wall left")).to_be_visible()
    expect(desk.get_by_text("1 equation is not shown")).to_be_visible()
    desk.keyboard.press("ArrowRight")
    first = desk.get_by_text("Page 1 of the plan", exact=True)
    expect(first).to_be_attached()
    assert desk.locator("canvas").count() < 10, "only the pages that are looked at are drawn"
    desk.get_by_label("Search in this PDF").fill("9 of the plan")
    expect(desk.get_by_text("Page 9: 1 of 1 page")).to_be_visible()
    expect(desk.locator(".hit")).to_have_text("Page 9 of the plan")
    desk.get_by_role("tab", name="plan.pdf").press("ArrowRight")
    sketch = desk.get_by_role("img", name="sketch.jpg")
    expect(sketch).to_have_js_property("naturalWidth", 200)
    desk.get_by_role("button", name="Rotate").click()
    expect(sketch.locator("..")).to_have_attribute("style", re.compile("90deg"))
    assert violations(desk) == []
    desk.get_by_role("tab", name="sketch.jpg").press("ArrowRight")
    link = desk.get_by_role("link", name="https://tern.example/map")
    expect(link).to_have_attribute("rel", "noopener noreferrer")
    with desk.expect_download() as download:
        desk.get_by_role("tab", name="plan.pdf").click()
        desk.get_by_role("link", name="Download").click()
    assert download.value.suggested_filename == "plan.pdf"
    # What is marked by digits goes on, whatever part is looked at.
    desk.get_by_role("radio", name="Arrived").first.focus()
    desk.keyboard.press("3")
    expect(desk.get_by_role("radio", checked=True)).to_contain_text("Arrived")


def test_a_teacher_puts_files_in_and_removes_them(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, f"/classes/1/tasks/{VISITOR}")
    page.get_by_role("button", name="More on Leif Aasen").click()
    page.get_by_role("menuitem", name="Enter work").click()
    page.get_by_label("Add files").set_input_files(files()[:2])  # type: ignore[arg-type]
    there = page.get_by_role("list", name="Files of Leif Aasen")
    expect(there.get_by_role("listitem")).to_have_count(2)
    page.get_by_role("button", name="Remove plan.pdf").click()
    expect(there.get_by_role("listitem")).to_have_count(1)
    page.get_by_role("button", name="Save the work").click()
    expect(page.get_by_text("The work of Leif Aasen is saved")).to_be_visible()
    work = page.request.get(f"/api/tasks/{VISITOR}/students/2/attempts/1", headers=ME).json()
    assert [part["file_name"] for part in work["parts"]] == ["route card.docx"]


def test_a_set_is_collected_from_an_archive_and_undone(
    demo_server: Server, open_page: Callable[..., Page], violations: Callable[..., list[str]]
) -> None:
    page = open_page(demo_server, f"/classes/1/tasks/{VISITOR}")
    page.get_by_role("button", name="Add work").click()
    content = zipped(
        {
            "Aasen Leif/card.txt": b"Leg one",
            "juno_abara.md": b"# Leg two",
            "essay.txt": b"Whose?",
            "../Dema.txt": b"elsewhere",
        }
    )
    archive = {"name": "all.zip", "mimeType": "application/zip", "buffer": content}
    page.get_by_label("Choose files").set_input_files([archive])  # type: ignore[list-item]
    status = page.get_by_text("4 files: 2 matched")
    expect(status).to_contain_text("1 not matched")
    expect(page.get_by_role("row", name="Dema.txt")).to_contain_text("leads out of the archive")
    page.get_by_label("Student of essay.txt").select_option("Ilir Dema")
    assert violations(page, within="[aria-label='Add work']") == []
    page.get_by_role("button", name="Put 3 files in").click()
    expect(page.get_by_text("3 files put in")).to_be_visible()
    expect(page.get_by_role("button", name="Waiting 3")).to_be_visible()
    expect(page.get_by_role("row", name="Juno Abara")).to_contain_text("juno_abara.md")
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("3 files removed again")).to_be_visible()
    expect(page.get_by_role("button", name="Not yet 26")).to_be_visible()


def test_a_task_is_set_in_full_and_a_total_is_adjusted(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    """Set for two students, with a late rule and a file; one is late, which is waived, and then the
    total is set by hand. The student reads both.
    """
    page = open_page(demo_server, "/classes/1/tasks")
    page.get_by_role("button", name="Set a task").click()
    page.get_by_label("Title").fill("Sketch of the slip")
    page.get_by_label("Starting text").fill("What I saw:")
    page.get_by_label("Rubric", exact=True).select_option("Argument from a map")
    yesterday = clock.now() - timedelta(days=1, hours=12)
    page.get_by_label("Due", exact=True).fill(yesterday.strftime("%Y-%m-%dT%H:%M"))
    page.get_by_label("Late costs, % a day").fill("10")
    page.get_by_text("Chosen students").click()
    students = page.get_by_role("group", name="Chosen students")
    students.get_by_label("Farida Nasser").check()
    students.get_by_label("Leif Aasen").check()
    page.get_by_label("Category").fill("Sketches")
    page.get_by_role("button", name="Set the task").click()
    expect(page.get_by_role("heading", name="Sketch of the slip")).to_be_visible()
    expect(page.get_by_text("2 chosen students")).to_be_visible()
    page.get_by_label("Attach files").set_input_files(files()[1])  # type: ignore[arg-type]
    attached = page.get_by_role("region", name="Files of the task")
    expect(attached.get_by_role("link", name="plan.pdf")).to_be_visible()
    task = int(page.url.rsplit("/", 1)[1])

    student = open_page(demo_server, signed_in=False, width=390, touch=True)
    as_farida(student, f"/my/tasks/{task}")
    expect(student.get_by_label("Write here")).to_have_value("What I saw:")
    expect(student.get_by_role("link", name="plan.pdf")).to_be_visible()
    expect(student.get_by_text("% of the points")).to_be_visible()
    student.get_by_role("button", name="Hand in …").click()
    student.get_by_role("button", name="Hand in", exact=True).click()
    expect(student.get_by_role("heading", name="Handed in")).to_be_visible()

    page = open_page(demo_server, f"/classes/1/marking/{task}/{FARIDA}")
    for place in range(4):
        page.get_by_role("radio").first.focus()
        page.keyboard.press("3")
        if place < 3:
            page.keyboard.press("ArrowDown")
    foot = page.get_by_role("region", name="Rubric")
    expect(foot.get_by_text("late −")).to_be_visible()
    page.get_by_role("button", name="Adjust").click()
    page.get_by_text("Waive the late deduction").click()
    page.get_by_label("Why (if you wish)").fill("The ferry did not sail")
    page.get_by_role("button", name="Save the total").click()
    expect(foot.get_by_text(", waived")).to_be_visible()
    page.get_by_role("button", name="Adjust").click()
    page.get_by_text("Set the total by hand").click()
    page.get_by_label("Total", exact=True).fill("12,5")
    page.get_by_role("button", name="Save the total").click()
    expect(page.get_by_text("Say why: the student reads it")).to_be_visible()
    page.get_by_label("Reason").fill("Spoken account")
    page.get_by_role("button", name="Save the total").click()
    expect(foot.get_by_text("set by hand, calculated")).to_be_visible()
    expect(foot.get_by_text("12.50")).to_be_visible()


def test_what_was_seen_is_entered_and_marked_entry_by_entry(
    demo_server: Server, open_page: Callable[..., Page], violations: Callable[..., list[str]]
) -> None:
    """A talk that asks one criterion: two entries of one student, with words and without; then the
    task becomes practice, which says first whose levels that moves, and is undone.
    """
    page = open_page(demo_server, "/classes/1/tasks")
    page.get_by_role("button", name="Set a task").click()
    page.get_by_label("Title").fill("Talk at the slip")
    page.get_by_label("Kind").select_option("Other evidence")
    page.get_by_label("Rubric", exact=True).select_option("Argument from a map")
    page.get_by_text("Chosen criteria").click()
    criteria = page.get_by_role("group", name="Chosen criteria")
    criteria.get_by_label("Credits sources").uncheck()
    criteria.get_by_label("Reads the map rightly").uncheck()
    page.get_by_role("button", name="Set the task").click()
    expect(page.get_by_text("1 of 3 criteria (Supports the claim)")).to_be_visible()
    page.get_by_role("button", name="More on Leif Aasen").click()
    page.get_by_role("menuitem", name="New entry").click()
    page.get_by_label("What you saw").fill("Held the map against his own claim")
    assert violations(page, within="section.work") == []
    page.get_by_role("button", name="Save the entry").click()
    expect(page.get_by_text("The entry of Leif Aasen is saved")).to_be_visible()
    expect(page.get_by_text("Held the map against")).to_be_visible()
    expect(page.get_by_role("heading", name="1 to mark")).to_be_visible()
    page.get_by_role("radio").first.focus()
    page.keyboard.press("1")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_role("heading", name="All marked")).to_be_visible()
    # A second one, of which only the level is noted.
    page.keyboard.press("e")
    expect(page.get_by_label("What you saw")).to_be_focused()
    page.keyboard.press("Escape")
    page.keyboard.press("4")
    page.keyboard.press("Control+Enter")
    entries = page.get_by_role("group", name="Entries").get_by_role("button")
    expect(entries).to_have_count(3)
    entries.first.click()
    expect(page.get_by_role("radio", checked=True)).to_contain_text("Setting out")
    page.get_by_role("link", name="Tasks").click()
    page.get_by_role("link", name="Talk at the slip").click()
    row = page.get_by_role("row", name="Leif Aasen")
    expect(row.get_by_role("link")).to_have_count(3)
    expect(row).to_contain_text("done")
    expect(row).to_contain_text("4.00 / 4")
    page.get_by_role("button", name="Change the task").click()
    page.get_by_text("Practice: marked, but no evidence").click()
    page.get_by_label("Points").fill("10")
    page.get_by_role("button", name="Save").click()
    told = page.get_by_role("status").filter(has_text="This changes what is marked")
    expect(told).to_contain_text("2 totals change; no student sees them yet")
    expect(told).to_contain_text("A1")
    page.get_by_role("button", name="Save, with these changes").click()
    expect(row).to_contain_text("10.00 / 10")
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("The task is as it was before")).to_be_visible()
    expect(row).to_contain_text("4.00 / 4")


def test_pdfs_that_are_locked_scripted_or_very_long_are_met(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, f"/classes/1/tasks/{VISITOR}")
    page.get_by_role("button", name="More on Juno Abara").click()
    page.get_by_role("menuitem", name="Enter work").click()
    long = pdf([f"Page {n} of many" for n in range(1, 2001)])
    scripted = pdf(["Harmless to read"], "/OpenAction << /S /JavaScript /JS (app.alert(1)) >>")
    sent = {"locked.pdf": locked_pdf(), "long.pdf": long, "scripted.pdf": scripted}
    page.get_by_label("Add files").set_input_files(
        [
            {"name": name, "mimeType": "application/pdf", "buffer": content}
            for name, content in sent.items()
        ]
    )
    there = page.get_by_role("list", name="Files of Juno Abara")
    expect(there.get_by_role("listitem")).to_have_count(3)
    page.get_by_role("button", name="Save the work").click()
    page.get_by_role("link", name="Juno Abara").click()
    expect(page.get_by_text("3 parts", exact=True)).to_be_visible()
    expect(page.get_by_text("opens only with a password")).to_be_visible()
    page.get_by_role("tab", name="long.pdf").click()
    expect(page.get_by_text("Page 1 of many", exact=True)).to_be_attached()
    assert page.locator("canvas").count() < 10
    page.get_by_label("Search in this PDF").fill("1987 of many")
    expect(page.get_by_text("Page 1987: 1 of 1 page")).to_be_visible()
    expect(page.locator(".hit")).to_have_text("Page 1987 of many")
    assert page.locator("canvas").count() < 10
    said = []
    page.on("dialog", lambda dialog: (said.append(dialog.message), dialog.dismiss()))
    page.get_by_role("tab", name="scripted.pdf").click()
    expect(page.get_by_text("Harmless to read", exact=True)).to_be_attached()
    assert said == []


def test_a_set_of_every_kind_is_marked_by_keyboard(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    """A document, a photograph, a PDF, Markdown and a table, each seen before it is marked: those
    that an older version made ready are made ready again, and are shown once they are.
    """
    with closing(sqlite3.connect(demo_server.data / "jade-ladder.sqlite3", timeout=20)) as db, db:
        db.execute("UPDATE shown_document SET converter = 0")
    page = open_page(demo_server, "/classes/2/marking/11")
    expect(page.get_by_text("This file is being prepared")).to_be_visible()
    names = page.get_by_role("navigation", name="Students")
    work = page.get_by_role("region", name="Work")
    seen = {
        "Ida Blom": work.get_by_text("The lower path lay under water"),
        "Mateo Cruz": work.get_by_role("img", name="slip at ebb.jpg"),
        "Saga Eklund": work.get_by_text("was under water until 09:50", exact=False),
        "Yusuf Karim": work.get_by_role("heading", name="Tide walk"),
        "Pavel Novotny": work.get_by_role("cell", name="height in m"),
    }
    expect(page.get_by_role("heading", name="5 to mark")).to_be_visible()
    for left, (name, shown) in enumerate(seen.items()):
        expect(names.locator("[aria-current=true]")).to_contain_text(name)
        # Files are made ready after everything else that the machine does, a full suite too.
        expect(shown.first).to_be_attached(timeout=90_000)
        # Seen first, then a level for each criterion: 2, 3, and the yes of the last.
        for press in ("2", "ArrowDown", "3", "ArrowDown", "2"):
            page.keyboard.press(press)
        page.keyboard.press("Control+Enter")
        to_mark = f"{4 - left} to mark" if left < 4 else "All marked"
        expect(page.get_by_role("heading", name=to_mark)).to_be_visible()
    expect(page.get_by_text("That was the last one that waited")).to_be_visible()
