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


def test_a_rubric_by_tab_and_arrow_keys(demo_server: Server, open_page: Open) -> None:
    """A level is one stop, its descriptor; name, points and value are above and below it."""
    page = open_page(demo_server, "/classes/1/rubrics/5")
    first = page.get_by_role("region", name="Measures the crossing")
    third = first.get_by_label("Descriptor of Arrived")
    page.get_by_label("Title of the rubric").focus()
    for _ in range(6):
        page.keyboard.press("Tab")
    expect(third).to_be_focused()
    # In a text the arrows move in the text, until there is no further.
    page.keyboard.press("Control+End")
    page.keyboard.press("ArrowUp")
    expect(third).to_be_focused()
    page.keyboard.press("Control+Home")
    page.keyboard.press("ArrowUp")
    expect(first.get_by_label("Points of Arrived")).to_be_focused()
    page.keyboard.press("ArrowUp")
    expect(first.get_by_label("Name of a level").nth(2)).to_be_focused()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Control+End")
    page.keyboard.press("ArrowDown")
    expect(first.get_by_label("Arrived is evidence of this value on R2")).to_be_focused()
    # What stands under a criterion's title likewise, and its settings close with Escape.
    page.get_by_label("Title of criterion 1").focus()
    page.keyboard.press("End")
    for _ in range(4):
        page.keyboard.press("ArrowDown")
    more = page.get_by_role("button", name="More on Measures")
    expect(more).to_be_focused()
    page.keyboard.press("Enter")
    expect(page.get_by_label("Bonus")).to_be_focused()
    page.keyboard.press("Escape")
    expect(more).to_be_focused()
    expect(page.get_by_label("Bonus")).to_be_hidden()


def test_a_menu_by_key(demo_server: Server, open_page: Open) -> None:
    page = open_page(demo_server, "/classes/1/rubrics/5")
    menu = page.get_by_role("button", name="Align to an outcome: Measures")
    menu.focus()
    page.keyboard.press("Enter")
    items = page.get_by_role("menuitem")
    expect(items.first).to_be_focused()
    page.keyboard.press("m")
    expect(page.get_by_role("menuitem", name="M1")).to_be_focused()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Escape")
    # To look is not to choose.
    expect(menu).to_be_focused()
    expect(items).to_have_count(0)
    expect(page.get_by_role("button", name="Not aligned to M2")).to_have_count(0)
    page.keyboard.press("Enter")
    expect(items.first).to_be_focused()
    page.keyboard.press("End")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Not aligned to A2")).to_be_visible()


def test_the_tab_of_the_browser_says_where_one_is(demo_server: Server, open_page: Open) -> None:
    page = open_page(demo_server, "/classes/1/outcomes")
    expect(page).to_have_title("Outcomes · Map Room · Year 9 · Jade Ladder")
    page.get_by_role("link", name="Tasks").click()
    expect(page).to_have_title("Tasks · Map Room · Year 9 · Jade Ladder")
    page.goto("/classes/1/tasks/8")
    expect(page).to_have_title("Route card for Gull Head · Map Room · Year 9 · Jade Ladder")


def test_what_was_typed_stays_when_something_else_is_opened(
    demo_server: Server, open_page: Open
) -> None:
    page = open_page(demo_server, "/classes/1/outcomes?outcome=4")
    title = page.get_by_label("Title", exact=True)
    title.fill("I can follow a bearing at night")
    page.get_by_text("I can credit my sources").click()
    expect(title).to_have_value("I can credit my sources")
    page.get_by_text("I can plot and follow a bearing").click()
    expect(title).to_have_value("I can follow a bearing at night")
    expect(page.get_by_text("What you typed here before is still here")).to_be_visible()
    # Through a reload, too, to the last letter.
    title.press("End")
    page.keyboard.type(" and in fog")
    page.reload()
    expect(title).to_have_value("I can follow a bearing at night and in fog")
    page.get_by_role("button", name="Discard it").click()
    expect(title).to_have_value("I can plot and follow a bearing")
    page.reload()
    expect(title).to_have_value("I can plot and follow a bearing")
    # Nothing of it is left for who signs in next.
    title.fill("For my eyes")
    page.get_by_role("button", name="Sign out").click()
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()
    assert page.evaluate("JSON.stringify(sessionStorage)").count("For my eyes") == 0


def test_the_last_words_of_a_remark_are_kept_through_a_reload(
    demo_server: Server, open_page: Open
) -> None:
    page = open_page(demo_server, "/classes/1/marking/8")
    expect(page.get_by_role("button", name="Plans for trouble")).to_be_focused()
    page.keyboard.press("c")
    page.keyboard.type("Which way")
    page.reload()
    expect(page.get_by_label("Remark C")).to_have_value("Which way")
