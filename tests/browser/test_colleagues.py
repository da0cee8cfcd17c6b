"""A colleague is added, joins by a link, teaches a class together, and takes it over."""

from __future__ import annotations

import re
from collections.abc import Callable

from playwright.sync_api import Page, expect

from tests.browser.conftest import Server, choose

Open = Callable[..., Page]


def test_a_colleague_joins_marks_and_takes_a_class_over(
    demo_server: Server, open_page: Open
) -> None:
    page = open_page(demo_server, "/colleagues")
    page.get_by_role("button", name="Add colleagues").click()
    page.get_by_label("Given name").fill("Mei")
    page.get_by_label("Family name").fill("Tan")
    page.get_by_label("E-mail").fill("ILSE@tern.example")
    page.get_by_role("button", name="Add 1 colleague").click()
    expect(page.get_by_text("is the e-mail of Ilse Varga already")).to_be_visible()
    expect(page.get_by_label("E-mail")).to_be_focused()
    page.get_by_label("E-mail").fill("mei@tern.example")
    page.get_by_role("button", name="Add 1 colleague").click()
    link = page.get_by_role("region", name="Links to hand on").locator("code").inner_text()
    expect(page.get_by_role("row", name="Mei Tan")).to_contain_text("has not joined yet")
    page.goto("/classes/1/students")
    page.get_by_role("button", name="Add a colleague").click()
    page.get_by_label("Colleague").select_option("Mei Tan")
    page.get_by_role("button", name="Add", exact=True).click()
    expect(page.get_by_text("Mei Tan teaches this class, too")).to_be_visible()

    # In the same browser: who is signed in is told that they will not be.
    page.goto(link)
    expect(page.get_by_role("heading", name="Welcome, Mei Tan")).to_be_visible()
    expect(page.get_by_text("Ilse Varga is signed in in this browser")).to_be_visible()
    page.get_by_label("Your password").fill("short")
    page.get_by_role("button", name="Set it and sign in").click()
    expect(page.get_by_text("A password has at least 10 characters")).to_be_visible()
    page.get_by_label("Your password").fill("tide and compass")
    page.get_by_role("button", name="Set it and sign in").click()
    expect(page.get_by_role("link", name="Mei Tan")).to_be_visible()
    page.goto(link)
    expect(page.get_by_role("alert")).to_contain_text("This link or code was used already")

    # She marks, and sees the rubric that it is marked by.
    page.goto("/classes/1/marking/8")
    expect(page.get_by_role("button", name="Plans for trouble")).to_be_focused()
    with page.expect_response(lambda answer: answer.request.method == "PUT") as saved:
        page.keyboard.press("2")
    assert saved.value.ok
    page.goto("/classes/1/tasks/8")
    page.get_by_role("link", name="Route card", exact=True).click()
    expect(page.get_by_role("heading", name="Route card")).to_be_visible()
    page.goto("/colleagues")
    expect(page.get_by_role("alert")).to_contain_text("for the administrator")
    page.goto("/classes/1/students")
    expect(page.get_by_role("button", name="Add a colleague")).to_have_count(0)

    page.get_by_role("button", name="Sign out").click()
    page.get_by_role("button", name="Sign in as Ilse Varga").click()
    page.get_by_role("link", name="Class list").first.click()
    choose(page, "More on Mei Tan", "Hand the class over")
    expect(page.get_by_text("Mei Tan is responsible for this class now")).to_be_visible()
    page.get_by_role("link", name="Ilse Varga").click()
    page.get_by_role("link", name="Log").click()
    page.get_by_label("Kind of change").select_option("class handed over")
    expect(page.get_by_role("row")).to_have_count(2)
    expect(page.get_by_role("row").last).to_contain_text(
        re.compile("Ilse Varga made Mei Tan responsible for .* \\(before: Ilse Varga\\)")
    )


def test_ones_own_account_and_a_class_that_goes_on(demo_server: Server, open_page: Open) -> None:
    page = open_page(demo_server, "/account")
    page.get_by_label("Given name").fill("Ilse Maria")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("link", name="Ilse Maria Varga")).to_be_visible()
    page.get_by_label("Present password").fill("not this one at all")
    page.get_by_label("New password").fill("four winds and a kite")
    page.get_by_role("button", name="Change the password").click()
    expect(page.get_by_text("This is not your present password")).to_be_visible()
    expect(page.get_by_label("Present password")).to_be_focused()
    page.goto("/classes/1/students")
    page.get_by_role("button", name="Go on with this class").click()
    page.get_by_label("Name", exact=True).nth(1).fill("Map Room · Year 10")
    page.get_by_text("With its tasks").click()
    page.get_by_role("button", name="Make the class").click()
    expect(page.get_by_text("evidence follows its students")).to_be_visible()
    page.get_by_role("link", name="Outcomes", exact=True).click()
    expect(page.get_by_text("I can plot and follow a bearing")).to_be_visible()
    page.get_by_role("link", name="Tasks").click()
    expect(page.get_by_role("link", name="Route card for Gull Head")).to_be_visible()
    page.goto("/classes/1/students")
    page.get_by_role("button", name="Set it aside").click()
    expect(page.get_by_text("it can be looked at, and nothing in it is changed")).to_be_visible()
    page.goto("/classes/1/marking/8")
    expect(page.get_by_role("button", name="Plans for trouble")).to_be_focused()
    page.keyboard.press("2")
    expect(page.get_by_text("is set aside and can only be looked at").first).to_be_visible()
    page.goto("/")
    expect(page.get_by_role("heading", name="Map Room · Year 9")).to_have_count(0)
    page.get_by_role("link", name="Map Room · Year 9").click()
    expect(page.get_by_role("grid", name="Mastery wall")).to_be_visible()


def test_a_sample_class_is_looked_at_and_deleted_whole(
    demo_server: Server, open_page: Open
) -> None:
    page = open_page(demo_server, "/")
    choose(page, "More on classes", "Add a sample class to look at")
    expect(page.get_by_role("grid", name="Mastery wall")).to_be_visible()
    expect(page.get_by_text("This is a sample class.")).to_be_visible()
    page.get_by_role("link", name="Outcomes", exact=True).click()
    page.get_by_text("I can plan a way from landmarks").click()
    choose(page, "More on L1", "Make it the school’s")
    expect(page.get_by_text("every teacher can teach it, administrators")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("L1 is your own again")).to_be_visible()
    page.get_by_role("button", name="Delete the sample class").click()
    expect(page.get_by_role("dialog")).to_contain_text("8 students who are in no other class")
    page.get_by_role("button", name="Delete all of it").click()
    expect(page.get_by_text("The sample class is deleted")).to_be_visible()
    expect(page.get_by_role("heading", name="Lantern Room")).to_have_count(0)
