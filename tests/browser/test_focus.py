"""Where the focus goes: into what opens, back when it closes, to what is wrong; never nowhere."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server

Open = Callable[..., Page]
# What opens: the page, the button, the name of its first field, and how it is closed.
OPENERS = {
    "class": ("/", "New class", "Name", "Cancel"),
    "student": ("/classes/1/students", "Add a student", "Given name", "Cancel"),
    "class list": ("/classes/1/students", "Import a class list", "Text of a class list", "Close"),
    "outcome": ("/classes/1/outcomes", "Add an outcome", "Code", "Close"),
    "strand": ("/classes/1/outcomes", "Add a strand", "Title of the new strand", "Cancel"),
    "rubric": ("/classes/1/rubrics", "New rubric", "Title of the new rubric", "Cancel"),
    "task": ("/classes/1/tasks", "Set a task", "Title", "Close"),
    "grid": ("/classes/1/rubrics/5", "Paste a grid", "Cells of the grid", "Cancel"),
}


def focused(page: Page) -> str:
    """The name of what has the focus."""
    name: str = page.evaluate(
        """() => {
          const one = document.activeElement
          const label = one.labels?.[0]?.textContent ?? one.textContent
          return (one.getAttribute('aria-label') ?? label ?? one.tagName).trim()
        }"""
    )
    return name


@pytest.mark.parametrize("opener", OPENERS.values(), ids=OPENERS)
def test_what_opens_takes_the_focus_every_time_and_gives_it_back(
    demo_server: Server, open_page: Open, opener: tuple[str, str, str, str]
) -> None:
    path, button, field, close = opener
    page = open_page(demo_server, path)
    # Twice: an attribute of HTML would do it for the first time only.
    for _ in range(2):
        page.get_by_role("button", name=button).first.focus()
        page.keyboard.press("Enter")
        expect(page.locator(":focus")).to_have_js_property("tagName", tag_of(field))
        assert focused(page).startswith(field)
        page.get_by_role("button", name=close, exact=True).first.click()
        expect(page.get_by_role("button", name=button).first).to_be_focused()


def tag_of(field: str) -> str:
    return "TEXTAREA" if field.startswith(("Cells", "Text")) else "INPUT"


def test_a_refusal_puts_the_focus_into_the_first_wrong_field(
    demo_server: Server, open_page: Open
) -> None:
    page = open_page(demo_server, "/classes/1/students")
    page.get_by_role("button", name="Add a student").click()
    page.get_by_label("Given name").fill("Aino")
    page.get_by_label("E-mail").fill("nowhere")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_label("E-mail")).to_be_focused()
    page.get_by_label("E-mail").fill("aino@tern.example")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("button", name="Add a student")).to_be_focused()


def test_the_desk_by_tab_and_out_of_a_remark(demo_server: Server, open_page: Open) -> None:
    page = open_page(demo_server, "/classes/1/marking/8")
    expect(page.get_by_role("button", name="Plans for trouble")).to_be_focused()
    page.keyboard.press("Tab")
    expect(page.get_by_role("radio", name="A way out for each leg")).to_be_focused()
    page.keyboard.press("ArrowLeft")
    expect(page.get_by_role("radio", name="One way out")).to_be_focused()
    # One stop: the next is beyond the levels.
    page.keyboard.press("Tab")
    expect(page.get_by_label("not assessed")).to_be_focused()
    page.keyboard.press("c")
    page.keyboard.type("Which way?")
    page.keyboard.press("Escape")
    page.keyboard.press("2")
    expect(page.get_by_role("radio", name="One way out")).to_be_checked()
    expect(page.get_by_label("Remark C")).to_have_value("Which way?")
    page.keyboard.press(".")
    expect(page.get_by_text("“Plans for trouble” has no half-way.")).to_be_visible()


def test_the_tab_of_the_browser_says_where_one_is(demo_server: Server, open_page: Open) -> None:
    page = open_page(demo_server, "/classes/1/outcomes")
    expect(page).to_have_title("Outcomes · Map Room · Year 9 · Jade Ladder")
    page.get_by_role("link", name="Tasks").click()
    expect(page).to_have_title("Tasks · Map Room · Year 9 · Jade Ladder")
    page.goto("/classes/1/tasks/8")
    expect(page).to_have_title("Route card for Gull Head · Map Room · Year 9 · Jade Ladder")
