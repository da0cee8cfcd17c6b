"""Every screen: no axe fault in light, dark and on a phone; nothing runs out of the window."""

from __future__ import annotations

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import ME, Server, saved

SCREENS = {
    "classes": "/",
    "class list": "/classes/1/students",
    "outcomes": "/classes/1/outcomes",
    "outcome": "/classes/1/outcomes?outcome=8",
    "rubrics": "/classes/1/rubrics",
    "final rubric": "/classes/1/rubrics/1",
    "draft rubric": "/classes/1/rubrics/5",
    "revised rubric": "/classes/1/rubrics/2",
    "revisions": "/classes/1/rubrics/2/revisions",
    "scales": "/classes/1/scales?scale=1",
    "coverage": "/classes/1/coverage",
    "outcome page": "/classes/1/outcomes/4",
    "tasks": "/classes/1/tasks",
    "task": "/classes/1/tasks/8",
    "marking pile": "/classes/1/marking",
    "marking desk": "/classes/1/marking/8",
    "mastery wall": "/classes/1/mastery",
    "evidence trail": "/classes/1/mastery?student=20&outcome=4",
    "nothing there": "/classes/1/somewhere",
}
# In three parts, so that workers share them.
PARTS = [list(SCREENS)[start::3] for start in range(3)]
DARK_RULES = ["color-contrast"]


@pytest.mark.parametrize("screens", PARTS, ids=["first", "second", "third"])
def test_no_screen_has_a_fault(
    demo_server: Server,
    open_page: Callable[..., Page],
    violations: Callable[..., list[str]],
    screens: list[str],
) -> None:
    """All of axe's rules in the light; in the dark other colours are what differs, and on a tablet
    the width.
    """
    page = open_page(demo_server)
    faults: dict[str, list[str]] = {}
    for screen in screens:
        page.goto(SCREENS[screen])
        arrived(page)
        found = violations(page) + too_wide(page, 1280)
        page.emulate_media(color_scheme="dark")
        found += violations(page, DARK_RULES)
        page.emulate_media(color_scheme="light")
        page.set_viewport_size({"width": 768, "height": 1024})
        found += too_wide(page, 768)
        page.set_viewport_size({"width": 1280, "height": 800})
        if found:
            faults[screen] = found
    assert faults == {}


@pytest.mark.parametrize("screens", PARTS, ids=["first", "second", "third"])
def test_no_screen_has_a_fault_on_a_phone(
    demo_server: Server,
    open_page: Callable[..., Page],
    violations: Callable[..., list[str]],
    screens: list[str],
) -> None:
    page = open_page(demo_server, width=390, height=800, touch=True)
    faults: dict[str, list[str]] = {}
    for screen in screens:
        page.goto(SCREENS[screen])
        arrived(page)
        found = violations(page) + too_wide(page, 390)
        if found:
            faults[screen] = found
    assert faults == {}


def too_wide(page: Page, width: int) -> list[str]:
    """What is wrong where the page is wider than its window."""
    wide = page.evaluate("document.documentElement.scrollWidth")
    return [f"{wide} pixels wide in {width}"] if wide > width else []


def arrived(page: Page) -> None:
    """Wait until the page shows what it was opened for, and no longer that it loads."""
    expect(page.get_by_role("heading").first).to_be_visible()
    expect(page.get_by_text("Loading …")).to_have_count(0)


def test_sign_in_and_the_first_start_have_no_fault(
    demo_server: Server,
    empty_server: Server,
    open_page: Callable[..., Page],
    violations: Callable[[Page], list[str]],
) -> None:
    for server, heading in [(demo_server, "Sign in"), (empty_server, "Welcome")]:
        for dark in (False, True):
            page = open_page(server, dark=dark, signed_in=False)
            expect(page.get_by_role("heading", name=heading)).to_be_visible()
            assert violations(page) == []


@pytest.mark.parametrize(
    ("path", "key", "heading"),
    [
        ("/classes/1/marking/8", "?", "Keys that work here"),
        ("/classes/1/mastery", "Control+k", "Find anything"),
        ("/classes/1/outcomes", "a", "New outcome"),
        ("/classes/1/tasks", "a", "New task"),
    ],
)
def test_what_a_key_opens_has_no_fault(
    demo_server: Server,
    open_page: Callable[..., Page],
    violations: Callable[[Page], list[str]],
    path: str,
    key: str,
    heading: str,
) -> None:
    page = open_page(demo_server, path)
    expect(page.get_by_role("heading").first).to_be_visible()
    arrived(page)
    page.keyboard.press(key)
    expect(page.get_by_role("heading", name=heading)).to_be_visible()
    page.wait_for_timeout(400)
    assert violations(page) == []


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
    page.get_by_role("link", name="Mastery wall").click()
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
    expect(page.locator("td[aria-selected=true]")).to_be_focused()
    for _ in range(40):
        page.keyboard.press("ArrowDown")
    expect(trail).to_contain_text("Zofia Żuraw-Brzozowska")
    selected = page.locator("td[aria-selected=true]")
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
