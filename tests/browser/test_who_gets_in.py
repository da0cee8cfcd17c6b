"""A student comes into a further class: their teacher is told, agrees to a slip, or undoes it."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date

import pytest
from playwright.sync_api import Page, expect

from jade_ladder.outside import clock
from jade_ladder.service.classes.classes import make_class
from jade_ladder.service.people.accounts import NewTeacher, add_teacher
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.store.shared.connection import Database
from tests.browser.conftest import Server
from tests.browser.test_students_round import sign_in, sign_out

Open = Callable[..., Page]
PASSWORD = "tide and compass"


@pytest.fixture
def class_of_jun(demo_server: Server) -> int:
    """A colleague with an empty class at the demo school."""
    database = Database.in_folder(demo_server.data)
    number = add_teacher(database, NewTeacher("Jun", "Okoro", "jun@tern.example", PASSWORD))
    jun = Teacher(database, number, clock.now())
    found = make_class(jun, "Rope Room", date(2026, 9, 1), date(2027, 6, 30))
    database.close()
    return found


def test_a_further_class_takes_a_student_and_asks_for_a_slip(
    demo_server: Server, open_page: Open, class_of_jun: int
) -> None:
    page = open_page(demo_server, "/sign-in", signed_in=False)
    sign_in(page, "jun@tern.example", PASSWORD)
    expect(page.get_by_role("heading", name="Your classes")).to_be_visible()
    page.goto(f"/classes/{class_of_jun}/students")
    page.get_by_role("button", name="Add a student").click()
    page.get_by_label("Given name").fill("Farida")
    page.get_by_label("Family name").fill("Nasser")
    page.get_by_label("Identifier").fill("T913")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("row", name="Farida Nasser")).to_contain_text("not shown to you")
    page.goto(f"/classes/{class_of_jun}/slips")
    expect(page.get_by_role("checkbox", name="Farida Nasser")).to_have_count(0)
    page.get_by_role("button", name="Ask for a slip for Farida Nasser").click()
    expect(page.get_by_text("asked on", exact=False)).to_be_visible()
    sign_out(page)

    # Her teacher agrees, is told of the slip, and takes her out of the class again.
    page.get_by_role("button", name="Sign in as Ilse Varga").click()
    added, asked = (
        page.get_by_role("status").filter(has_text=words)
        for words in ("added Farida Nasser", "asks for a new slip for Farida Nasser")
    )
    asked.get_by_role("button", name="Agree").click()
    expect(asked).to_have_count(0)
    sign_out(page)
    sign_in(page, "jun@tern.example", PASSWORD)
    page.get_by_role("link", name="Make the slip").click()
    page.get_by_role("checkbox", name="Farida Nasser").click()
    page.get_by_role("button", name="Make 1 slip").click()
    expect(page.get_by_role("article")).to_contain_text("Farida Nasser")
    sign_out(page)
    page.get_by_role("button", name="Sign in as Ilse Varga").click()
    expect(page.get_by_text("made a new slip for Farida Nasser")).to_be_visible()
    added.get_by_role("button", name="Remove them again").click()
    expect(added).to_have_count(0)
    sign_out(page)
    sign_in(page, "jun@tern.example", PASSWORD)
    expect(page.get_by_role("status").filter(has_text="Farida Nasser")).to_have_count(2)
    page.goto(f"/classes/{class_of_jun}/students")
    expect(page.get_by_text("Farida Nasser", exact=True)).to_have_count(0)
