"""One thing changed in two tabs: nothing is written over unseen, nothing typed is lost."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import Server


@dataclass(frozen=True, slots=True)
class Form:
    """Where a form is, what its field and button are called, and what stands in the field."""

    path: str
    field: str
    before: str
    save: str = "Save"
    opened_by: str | None = None

    def of(self, page: Page) -> Locator:
        return page.get_by_label(self.field, exact=True)

    def press(self, page: Page) -> None:
        press(page, self.save)


def press(page: Page, name: str) -> None:
    """Press a button in a tab that is brought to the front: behind it a tab draws but seldom."""
    page.bring_to_front()
    page.get_by_role("button", name=name, exact=True).click()


FORMS = {
    "class": Form("/classes/1/students", "Name", "Map Room · Year 9"),
    "outcome": Form("/classes/1/outcomes?outcome=4", "Title", "I can plot and follow a bearing"),
    "scale": Form(
        "/classes/1/scales?scale=1", "Name of the scale", "School scale", "Save the scale"
    ),
    "task": Form(
        "/classes/1/tasks/8",
        "Title",
        "Route card for Gull Head",
        opened_by="Change the task",
    ),
}


@pytest.mark.parametrize(
    ("form", "mine"), list(zip(FORMS.values(), [True, False, True, False], strict=True)), ids=FORMS
)
def test_what_another_tab_changed_is_told_and_the_teacher_chooses(
    demo_server: Server, open_page: Callable[..., Page], form: Form, mine: bool
) -> None:
    first = open_page(demo_server, form.path)
    second = open_page(demo_server, form.path, context=first.context)
    for page in (first, second):
        if form.opened_by:
            press(page, form.opened_by)
        expect(form.of(page)).to_have_value(form.before)
    form.of(first).fill("Mine")
    form.of(second).fill("Theirs")
    form.press(second)
    expect(second.get_by_text(SAID[form.save])).to_be_visible()
    form.press(first)
    told = first.get_by_role("alert").filter(has_text="This was changed in the meantime")
    expect(told).to_contain_text("What you typed is still here")
    expect(form.of(first)).to_have_value("Mine")
    press(first, "Keep mine, to be saved over it" if mine else "Show what is there now")
    expect(told).to_be_hidden()
    expect(form.of(first)).to_have_value("Mine" if mine else "Theirs")
    if mine:
        form.press(first)
        expect(first.get_by_text(SAID[form.save])).to_be_visible()
    second.reload()
    if form.opened_by:
        press(second, form.opened_by)
    expect(form.of(second)).to_have_value("Mine" if mine else "Theirs")


SAID = {"Save": "Saved", "Save the scale": "The scale is changed"}


def test_a_form_in_which_nothing_is_typed_follows_what_is_there(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    form = FORMS["outcome"]
    first = open_page(demo_server, form.path)
    second = open_page(demo_server, form.path, context=first.context)
    expect(form.of(first)).to_have_value(form.before)
    form.of(second).fill("I can follow a bearing")
    form.press(second)
    expect(second.get_by_text("Saved")).to_be_visible()
    first.bring_to_front()
    # What was fetched less than two seconds ago is not fetched again.
    first.wait_for_timeout(2_100)
    first.get_by_role("link", name="Mastery").click()
    # Left before it is there, the page of outcomes would never have been left.
    expect(first.get_by_role("grid")).to_be_visible()
    first.get_by_role("link", name="Outcomes").click()
    first.get_by_text("I can follow a bearing").click()
    expect(form.of(first)).to_have_value("I can follow a bearing")


def test_an_entry_that_another_tab_made_meanwhile_is_seen_before_it_is_replaced(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    pages = [open_page(demo_server, "/classes/2/marking/12/33") for _ in range(2)]
    for page, words in zip(pages, ("Heard by the slip", "Heard at the quay"), strict=True):
        page.bring_to_front()
        page.get_by_label("What you saw").fill(words)
    pages[0].bring_to_front()
    pages[0].get_by_role("button", name="Save the entry").click()
    expect(pages[0].get_by_text("is saved")).to_be_visible()
    page = pages[1]
    page.bring_to_front()
    page.get_by_role("button", name="Save the entry").click()
    expect(page.get_by_text("Entered meanwhile: Heard by the slip")).to_be_visible()
    expect(page.get_by_label("What you saw")).to_have_value("Heard at the quay")
    page.get_by_role("button", name="Save the entry").click()
    expect(page.get_by_text("is saved")).to_be_visible()
    expect(page.get_by_role("region", name="Work").get_by_text("Heard at the quay")).to_be_visible()
