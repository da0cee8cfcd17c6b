"""Whose page it is: another sign-in beside it, signing out without a server, and dated work."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta

import pytest
from playwright.sync_api import Page, expect

from jade_ladder.outside import clock
from jade_ladder.service.people.accounts import NewTeacher, add_teacher
from jade_ladder.store.shared.connection import Database
from tests.browser.conftest import Server

Open = Callable[..., Page]
DESK = "/classes/1/marking/8"
WAITING = "Object.keys(localStorage).filter(k => k.includes('.save.1.')).length"


@pytest.fixture
def jun(demo_server: Server) -> str:
    """A colleague at the demo school, who has no class."""
    database = Database.in_folder(demo_server.data)
    add_teacher(database, NewTeacher("Jun", "Okoro", "jun@tern.example", "tide and compass"))
    database.close()
    return "jun@tern.example"


def sign_in(page: Page, email: str) -> None:
    page.get_by_label("E-mail").fill(email)
    page.get_by_label("Password").fill("tide and compass")
    page.get_by_role("button", name="Sign in", exact=True).click()


def test_an_open_tab_never_writes_in_the_name_of_who_signed_in_beside_it(
    demo_server: Server, open_page: Open, jun: str
) -> None:
    desk = open_page(demo_server, DESK)
    expect(desk.get_by_role("radiogroup").first).to_be_visible()
    other = open_page(demo_server, "/sign-in", context=desk.context)
    # The tab hears nothing of it and is at work, as one that slept.
    desk.evaluate("window.BroadcastChannel.prototype.dispatchEvent = () => true")
    desk.context.set_offline(True)
    desk.keyboard.press("3")
    expect(desk.get_by_text("Not saved: the server does not answer.")).to_be_visible()
    desk.context.set_offline(False)
    sign_in(other, jun)
    expect(other.get_by_role("heading", name="Your classes")).to_be_visible()
    # Its save is refused as another person's, is kept, and the tab shows who is signed in now.
    expect(desk.get_by_text("Jun Okoro is signed in in this browser now.")).to_be_visible()
    assert desk.evaluate(WAITING) == 1
    desk.bring_to_front()
    desk.get_by_role("button", name="Sign in as Ilse Varga").click()
    expect(desk.get_by_role("radiogroup").first).to_be_visible()
    student = desk.get_by_role("navigation", name="Students").get_by_role("button")
    expect(student.filter(has_text="Farida Nasser")).to_contain_text("1 left")
    assert desk.evaluate(WAITING) == 0
    # And the other tab has given way in its turn.
    expect(other.get_by_text("Ilse Varga is signed in in this browser now.")).to_be_visible()


def test_signing_out_works_without_a_server(demo_server: Server, open_page: Open) -> None:
    page = open_page(demo_server, DESK)
    expect(page.get_by_role("radiogroup").first).to_be_visible()
    second = open_page(demo_server, "/classes/1/mastery", context=page.context)
    expect(second.get_by_role("grid", name="Mastery wall")).to_be_visible()
    # A tab that is not in front draws but seldom.
    page.bring_to_front()
    demo_server.stop()
    page.keyboard.press("3")
    expect(page.get_by_text("Not saved: the server does not answer.")).to_be_visible()
    page.get_by_role("button", name="Sign out").click()
    dialog = page.get_by_role("dialog", name="Sign out with unsent work?")
    expect(dialog).to_contain_text("Farida Nasser, Route card for Gull Head")
    dialog.get_by_role("button", name="Keep for me").click()
    expect(page.get_by_role("button", name="Sign in", exact=True)).to_be_visible()
    assert page.evaluate(WAITING) == 1
    # Nothing of the person is left in the page or in another tab.
    expect(second.get_by_role("button", name="Sign in", exact=True)).to_be_visible()
    page.go_back()
    expect(page.get_by_text("Farida Nasser")).to_have_count(0)
    page.goto("about:blank")
    demo_server.start()
    page.goto(f"{demo_server.url}/classes/1/mastery")
    # The session ended before any other call.
    page.get_by_role("button", name="Sign in as Ilse Varga").click()
    expect(page.get_by_role("grid", name="Mastery wall")).to_be_visible()
    page.goto(f"{demo_server.url}{DESK}")
    student = page.get_by_role("navigation", name="Students").get_by_role("button")
    farida = student.filter(has_text="Farida Nasser")
    expect(farida).to_contain_text("1 left")
    assert page.evaluate(WAITING) == 0


def test_signing_out_deletes_what_was_not_sent_where_one_says_so(
    demo_server: Server, open_page: Open
) -> None:
    page = open_page(demo_server, DESK)
    expect(page.get_by_role("radiogroup").first).to_be_visible()
    page.context.set_offline(True)
    page.keyboard.press("3")
    expect(page.get_by_text("Not saved: the server does not answer.")).to_be_visible()
    page.get_by_role("button", name="Sign out").click()
    dialog = page.get_by_role("dialog", name="Sign out with unsent work?")
    dialog.get_by_role("button", name="Delete and").click()
    expect(page.get_by_role("button", name="Sign in", exact=True)).to_be_visible()
    assert page.evaluate(WAITING) == 0
    page.context.set_offline(False)
    page.goto("/sign-in")
    page.get_by_role("button", name="Sign in as Ilse Varga").click()
    expect(page.get_by_role("heading", name="Your classes")).to_be_visible()
    page.goto(DESK)
    student = page.get_by_role("navigation", name="Students").get_by_role("button")
    expect(student.filter(has_text="Farida Nasser")).to_contain_text("2 left")


def test_the_time_of_work_on_paper_is_corrected_for_several(
    demo_server: Server, open_page: Open
) -> None:
    page = open_page(demo_server, "/classes/1/tasks/8")
    page.get_by_label("Choose all who are shown").check()
    page.get_by_label("Choose Farida Nasser").uncheck()
    page.get_by_role("button", name="Correct the time").click()
    form = page.get_by_role("form", name="Correct the time")
    form.get_by_label("Done").fill("0026-11-02T09:30")
    form.get_by_role("button", name="Set the time for").click()
    expect(form.get_by_role("alert").first).to_contain_text("slip of the keyboard")
    form.get_by_label("Done").fill(a_day_ago())
    form.get_by_role("button", name="Set the time for").click()
    expect(form).to_be_hidden()
    expect(page.locator("tbody .tag", has_text="corrected").first).to_be_visible()
    row = page.get_by_role("row", name="Farida Nasser")
    expect(row).not_to_contain_text("corrected")


def a_day_ago() -> str:
    return (clock.now() - timedelta(days=1)).strftime("%Y-%m-%dT%H:%M")


def test_a_scale_asks_for_values_written_by_hand(demo_server: Server, open_page: Open) -> None:
    page = open_page(demo_server, "/classes/1/rubrics/5")
    cell = page.get_by_label("is evidence of this value on").first
    with page.expect_response(lambda answer: answer.request.method == "PUT"):
        cell.fill("2.9")
        cell.press("Tab")
    page.goto(f"{demo_server.url}/classes/1/scales?scale=1")
    page.get_by_label("Cut score of level 3").fill("2.95")
    asked = page.get_by_role("group", name="Values you wrote by hand")
    expect(asked).to_contain_text("2.90 until now (Arrived)")
    field = asked.get_by_role("textbox")
    expect(field).to_have_value("2.90")
    field.fill("9")
    page.get_by_role("button", name="Save the scale").click()
    expect(asked.get_by_role("alert")).to_contain_text("between 1 and 4")
    field.fill("2.95")
    page.get_by_role("button", name="Save the scale").click()
    expect(page.get_by_text("The scale is changed")).to_be_visible()
    page.goto(f"{demo_server.url}/classes/1/rubrics/5")
    expect(page.get_by_label("is evidence of this value on").first).to_have_value("2.95")
