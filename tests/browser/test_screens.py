"""Journeys on the pages: signing in, the wall by keyboard, finding, ordering, the very full."""

from __future__ import annotations

import re
from collections.abc import Callable

from playwright.sync_api import Page, expect

from tests.browser.conftest import ME, Server, saved


def test_sign_in_with_a_password_and_back_to_where_one_wanted_to_go(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, "/classes/1/tasks", signed_in=False)
    page.get_by_label("E-mail").fill("ilse@tern.example")
    page.get_by_label("Password").fill("not this one")
    page.get_by_role("button", name="Sign in", exact=True).click()
    expect(page.get_by_role("alert")).to_contain_text("do not belong together")
    expect(page.get_by_label("E-mail")).to_have_value("ilse@tern.example")
    page.get_by_label("Password").fill("gull head light")
    page.get_by_role("button", name="Sign in", exact=True).click()
    expect(page.get_by_role("heading", name="Tasks")).to_be_visible()
    page.get_by_role("button", name="Sign out").click()
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()
    page.goto("/classes/1/mastery")
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()


def test_one_click_into_the_demo(demo_server: Server, open_page: Callable[..., Page]) -> None:
    page = open_page(demo_server, signed_in=False)
    page.get_by_role("button", name="Sign in as Ilse Varga, teacher").click()
    expect(page.get_by_role("heading", name="Your classes")).to_be_visible()
    # What waits stands above the classes and comes after them.
    expect(page.get_by_role("region", name="Marking pile")).to_be_visible()
    page.get_by_role("link", name="Mastery wall").first.click()
    expect(page.get_by_role("row", name="Eirik Solheim")).to_be_visible()


def test_the_wall_by_keyboard(demo_server: Server, open_page: Callable[..., Page]) -> None:
    page = open_page(demo_server, "/classes/1/mastery")
    grid = page.get_by_role("grid")
    expect(grid.get_by_role("row")).to_have_count(28)
    for key in ("ArrowDown", "ArrowDown", "ArrowRight"):
        page.keyboard.press(key)
    trail = page.get_by_role("complementary", name="Evidence trail")
    expect(trail).to_contain_text("Juno Abara")
    expect(trail).to_contain_text("R2 · I can use scale and measure distance")
    expect(page.locator("[role=gridcell][aria-selected=true]")).to_be_focused()
    for _ in range(40):
        page.keyboard.press("ArrowDown")
    expect(trail).to_contain_text("Zofia Żuraw-Brzozowska")
    selected = page.locator("[role=gridcell][aria-selected=true]")
    expect(selected).to_be_in_viewport()
    header = page.get_by_role("columnheader", name="Student").bounding_box()
    assert header is not None
    assert header["y"] < 400, "the header stays put"
    page.keyboard.press("Escape")
    expect(trail).to_be_hidden()


def test_the_wall_as_of_an_earlier_day(demo_server: Server, open_page: Callable[..., Page]) -> None:
    page = open_page(demo_server, "/classes/1/mastery?student=20&outcome=4")
    trail = page.get_by_role("complementary", name="Evidence trail")
    expect(trail.get_by_role("listitem")).not_to_have_count(1)
    first = page.request.get("/api/classes/1/mastery/20/4").json()["pieces"][-1]["at"][:10]
    page.get_by_label("As of").fill(first)
    expect(trail.get_by_role("listitem")).to_have_count(1)
    expect(page).to_have_url(re.compile(f"as_of={first}"))
    page.get_by_role("button", name="Today").click()
    expect(trail.get_by_role("listitem")).not_to_have_count(1)


def test_on_a_phone_what_opens_comes_up_and_names_stay_in_view(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, "/classes/1/outcomes", width=390, height=800, touch=True)
    page.get_by_text("I can credit my sources").tap()
    panel = page.get_by_role("dialog", name="Settings")
    expect(panel.get_by_label("Code")).to_be_focused()
    expect(panel.get_by_label("Title")).to_be_in_viewport()
    panel.get_by_role("button", name="Close").tap()
    expect(panel).to_be_hidden()
    page.goto("/classes/1/mastery")
    name = page.get_by_role("rowheader", name="Leif Aasen")
    expect(name).to_be_visible()
    before = name.bounding_box()
    page.get_by_role("columnheader", name="Mastered", exact=True).scroll_into_view_if_needed()
    assert name.bounding_box() == before


def test_find_anything(demo_server: Server, open_page: Callable[..., Page]) -> None:
    page = open_page(demo_server, "/classes/1/tasks")
    expect(page.get_by_role("heading", name="Tasks")).to_be_visible()
    wanted = {"solhe": "Eirik Solheim", "zuraw": "Zofia Żuraw", "gull": "Route card for Gull Head"}
    for words, title in wanted.items():
        page.keyboard.press("Control+k")
        page.get_by_label("A student, outcome, rubric, task or command").fill(words)
        found = page.get_by_role("listbox", name="Found")
        expect(found.get_by_role("option").first).to_contain_text(title)
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name=title).first).to_be_visible()


def test_a_stale_rubric_in_a_second_tab_loses_nothing(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    first = open_page(demo_server, "/classes/1/rubrics/5")
    second = open_page(demo_server, "/classes/1/rubrics/5", context=first.context)
    title = "Title of criterion 1"
    for page in (first, second):
        expect(page.get_by_label(title)).to_have_value("Measures the crossing")
    first.get_by_label(title).fill("Measures at ebb")
    saved(first)
    second.get_by_label(title).fill("Measures at flood")
    expect(second.get_by_role("alert")).to_contain_text("changed in the meantime")
    expect(second.get_by_label(title)).to_have_value("Measures at flood")
    second.get_by_role("button", name="load what is there now").click()
    expect(second.get_by_label(title)).to_have_value("Measures at ebb")


def test_outcomes_are_reordered_by_key_with_the_focus_kept(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, "/classes/1/outcomes")
    handle = page.get_by_role("button", name="Move R1; arrow keys up and down too")
    handle.focus()
    page.keyboard.press("ArrowDown")
    rows = page.locator(".strand").first.locator("li")
    expect(rows.first).to_contain_text("R2")
    expect(handle).to_be_focused()
    page.keyboard.press("ArrowDown")
    expect(rows.last).to_contain_text("R1")


def test_an_averaging_method_with_cuts_at_the_values_says_what_it_means(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, "/classes/1/scales?scale=1")
    page.get_by_role("button", name="at the values").click()
    expect(page.get_by_text("levels would change")).to_be_visible()
    page.get_by_role("button", name="Save the scale").click()
    expect(page.get_by_text("The scale is changed")).to_be_visible()
    page.get_by_role("link", name="Outcomes", exact=True).click()
    warning = page.get_by_text("it takes 6 pieces of “Arrived”")
    expect(warning).to_be_visible()
    page.get_by_label("Method of the class").select_option("latest")
    expect(warning).to_be_hidden()
    page.get_by_label("Method of the class").select_option("decaying-average")
    page.get_by_role("link", name="Cut three quarters of the way up").click()
    expect(page.get_by_label("Cut score of level 3")).to_have_value("2.75")
    page.get_by_role("button", name="Save the scale").click()
    expect(page.get_by_text("The scale is changed")).to_be_visible()
    page.get_by_role("link", name="Outcomes", exact=True).click()
    expect(page.get_by_label("Method of the class")).to_have_value("decaying-average")
    expect(warning).to_be_hidden()


def test_a_scale_that_does_not_rise_is_told_where(
    demo_server: Server, open_page: Callable[..., Page]
) -> None:
    page = open_page(demo_server, "/classes/1/scales?scale=1")
    page.get_by_label("Value of level 3").fill("1,5")
    page.get_by_role("button", name="Save the scale").click()
    expect(page.get_by_role("alert")).to_contain_text("Values must rise")
    expect(page.get_by_label("Value of level 3")).to_have_attribute("aria-invalid", "true")
    expect(page.get_by_label("Value of level 3")).to_have_value("1,5")


def test_very_full_and_very_long(demo_server: Server, open_page: Callable[..., Page]) -> None:
    page = open_page(demo_server, "/classes/1/rubrics")
    number = page.request.post(
        "/api/rubrics", data={"title": "Everything " * 15}, headers=ME
    ).json()["id"]
    long_word = "Rutabagasfjordweather" * 5
    level = {"key": "l", "name": long_word, "points": "1", "descriptor": long_word * 3}
    criteria = [
        {
            "key": f"c{index}",
            "title": f"{index} {long_word}",
            "kind": "levels",
            "bonus": False,
            "half_way": True,
            "weight": None,
            "levels": [{**level, "key": f"l{place}"} for place in range(4)],
            "alignments": [{"outcome_id": 1, "weight": 1, "cells": [None] * 4}],
        }
        for index in range(40)
    ]
    body = {"version": 1, "title": "Everything " * 15, "criteria": criteria}
    saved = page.request.put(f"/api/rubrics/{number}", data=body, headers=ME)
    assert saved.ok, saved.text()
    page.goto(f"/classes/1/rubrics/{number}")
    expect(page.get_by_label("Title of criterion 40")).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth") <= 1280
    page.request.post(f"/api/rubrics/{number}/final", data={"version": 2}, headers=ME)
    task = {"title": long_word, "kind": "handed-in", "rubric_id": number}
    task_id = page.request.post("/api/classes/1/tasks", data=task, headers=ME).json()["id"]
    page.goto(f"/classes/1/marking/{task_id}")
    expect(page.get_by_text("40 criteria still to mark.")).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth") <= 1280
    expect(page.get_by_role("button", name="Finish and next")).to_be_in_viewport()
