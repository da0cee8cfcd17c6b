"""A note of what was seen, from anywhere: on the trail, changed, set aside, shown."""

from __future__ import annotations

import re
from collections.abc import Callable

from playwright.sync_api import Page, expect

from tests.browser.conftest import Server, choose

Open = Callable[..., Page]
TRAIL = "/classes/1/mastery?student=2&outcome=4"


def test_a_note_is_written_by_keys_and_stands_on_the_trail(
    demo_server: Server, open_page: Open, violations: Callable[..., list[str]]
) -> None:
    page = open_page(demo_server, "/classes/1/tasks")
    expect(page.get_by_role("heading", name="Tasks")).to_be_visible()
    page.keyboard.press("w")
    dialog = page.get_by_role("dialog", name="Write a note")
    expect(dialog.get_by_label("Student")).to_be_focused()
    page.keyboard.type("leif")
    page.keyboard.press("Enter")
    expect(dialog.get_by_role("button", name="Not of Leif Aasen")).to_be_visible()
    dialog.get_by_label("Outcome").select_option("4")
    # What is refused is told where it is, and nothing that was typed is lost.
    dialog.get_by_label("What you saw").fill("Held the line through the gully")
    page.keyboard.press("Control+Enter")
    expect(dialog.get_by_text("Choose a level of the outcome's scale")).to_be_visible()
    dialog.get_by_role("radio", name="1 Setting out").click()
    expect(dialog.get_by_text("1 mastery value would change")).to_be_visible()
    assert violations(page) == []
    # Closed half written, it is there again.
    dialog.get_by_role("button", name="Close").click()
    page.reload()
    page.get_by_role("button", name="Write a note").click()
    expect(dialog.get_by_label("What you saw")).to_have_value("Held the line through the gully")
    with page.expect_file_chooser() as chooser:
        dialog.get_by_text("Photograph").click()
    chooser.value.set_files({"name": "gully.txt", "mimeType": "text/plain", "buffer": b"A gully"})
    dialog.get_by_role("button", name="Note it").click()
    expect(page.get_by_text("Noted of 1 student")).to_be_visible()

    page.goto(TRAIL)
    trail = page.get_by_role("complementary", name="Evidence trail")
    expect(trail).to_contain_text("Held the line through the gully")
    expect(trail.get_by_role("link", name="gully.txt")).to_be_visible()
    before = trail.locator(".value").inner_text()
    choose(page, "More on the note of", "Change")
    form = trail.get_by_role("form", name="Change the note")
    form.get_by_role("radio", name="4 Beyond").click()
    expect(form.get_by_text("1 mastery value would change")).to_be_visible()
    assert violations(page, within="[aria-label='Evidence trail']") == []
    form.get_by_role("button", name="Save").click()
    expect(form).to_have_count(0)
    expect(trail.locator(".value")).not_to_have_text(before)
    choose(page, "More on the note of", "History")
    expect(
        trail.get_by_role("list", name="History of the note").get_by_role("listitem")
    ).to_have_count(2)

    # Set aside it is crossed out here and signed on the wall; then it counts again.
    note = trail.get_by_role("listitem").filter(has_text="Held the line").first
    note.get_by_role("button", name="Set aside").click()
    note.get_by_label("Why does it not count?").fill("It was her sister")
    note.get_by_role("button", name="Set it aside").click()
    expect(note).to_contain_text("It was her sister")
    cell = page.get_by_role("gridcell", selected=True)
    expect(cell).to_have_accessible_name(re.compile("1 piece set aside"))
    note.get_by_role("button", name="Count it again").click()
    expect(cell).not_to_have_accessible_name(re.compile("set aside"))

    # Withdrawn, and restored by Undo.
    choose(page, "More on the note of", "Withdraw")
    expect(trail).not_to_contain_text("Held the line")
    page.get_by_role("button", name="Undo").click()
    expect(trail).to_contain_text("Held the line through the gully")


def test_a_student_sees_a_note_that_is_shown_and_one_is_found_by_name(
    demo_server: Server, open_page: Open
) -> None:
    page = open_page(demo_server, "/classes/1/students")
    expect(page.get_by_role("heading", name="Class list")).to_be_visible()
    page.keyboard.press("Control+k")
    find = page.get_by_role("dialog", name="Find anything")
    find.get_by_label("A student, outcome, rubric, task or command").fill("farida")
    expect(find.get_by_text("note on Farida Nasser")).to_be_visible()
    page.keyboard.press("Shift+Enter")
    dialog = page.get_by_role("dialog", name="Write a note")
    expect(dialog.get_by_role("button", name="Not of Farida Nasser")).to_be_visible()
    dialog.get_by_label("Outcome").select_option("4")
    dialog.get_by_role("radio", name="3 Arrived").click()
    dialog.get_by_label("What you saw").fill("Led the others home")
    dialog.get_by_role("button", name="Note it").click()
    expect(dialog).to_have_count(0)
    page.request.post("/api/session/demo", data={"person_id": 14})
    page.goto("/my/ladder")
    expect(page.get_by_text("I can plot and follow a bearing")).to_be_visible()
    expect(page.get_by_text("note of what was seen")).to_have_count(0)
    page.request.post("/api/session/demo", data={"person_id": 1})
    page.goto("/classes/1/mastery?student=14&outcome=4")
    choose(page, "More on the note of", "Show it to the student")
    expect(page.get_by_text("The student sees this note now")).to_be_visible()
    page.request.post("/api/session/demo", data={"person_id": 14})
    page.goto("/my/ladder")
    page.get_by_text("1 note of what was seen").click()
    expect(page.get_by_text("Led the others home")).to_be_visible()
