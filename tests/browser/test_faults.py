"""Every screen: no axe fault in light, dark and on a phone; nothing runs out of the window."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import OUTCOMES_MENU, Server, choose

SCREENS = {
    "classes": "/",
    "bank": "/bank",
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
    "other evidence": "/classes/2/tasks/12",
    "marking pile": "/classes/1/marking",
    "marking desk": "/classes/1/marking/8",
    "attempts": "/classes/1/marking/8/2/attempts",
    "result page": "/classes/1/tasks/7/students/14/result",
    "mastery wall": "/classes/1/mastery",
    "over the term": "/classes/1/mastery/class",
    "tasks over the term": "/classes/1/mastery/class?show=tasks&task=3",
    "all my classes": "/classes/1/outcomes/4/all-classes",
    "compare": "/classes/1/mastery/compare?outcome=4&student=16",
    "compare class": "/classes/1/mastery/compare",
    "observing": "/classes/1/tasks/6/observe",
    "evidence trail": "/classes/1/mastery?student=20&outcome=4",
    "student": "/classes/1/students/20",
    "account": "/account",
    "colleagues": "/colleagues",
    "log": "/log",
    "outbox": "/outbox",
    "sheet": "/classes/1/sheets/mastery",
    "slips": "/classes/1/slips",
    "what a student sees": "/classes/1/students/14/view",
    "nothing there": "/classes/1/somewhere",
    # A student's own.
    "my work": "/my",
    "my task": "/my/tasks/9",
    "handed back": "/my/results",
    "my result": "/my/tasks/7/result",
    "my ladder": "/my/ladder",
    "my account": "/my/account",
}
FARIDA = {"data": {"person_id": 14}}


def go(page: Page, address: str) -> None:
    """Go to a screen, as the student whose it is where it is a student's."""
    if address.startswith("/my"):
        page.request.post("/api/session/demo", **FARIDA)
    page.goto(address)


# In three parts, so that workers share them; the student's stand last in each.
PARTS = [list(SCREENS)[start::3] for start in range(3)]
DARK_RULES = ["color-contrast"]
# What stands beside a screen that is tried by itself.
PANELS = {"evidence trail": "[aria-label='Evidence trail']"}


def faults_in_the_dark(
    page: Page, violations: Callable[..., list[str]], within: str = "html"
) -> list[str]:
    """What axe finds of colours, once they are those of the dark."""
    page.emulate_media(color_scheme="dark")
    # The style sheet is at once another, the theme made of it a moment later.
    page.wait_for_timeout(150)
    found = in_the_end(page, lambda: violations(page, DARK_RULES, within))
    page.emulate_media(color_scheme="light")
    return found


def in_the_end(page: Page, look: Callable[[], list[str]]) -> list[str]:
    """What is found once colours have settled: on a busy machine it takes a moment longer; a real
    fault is there the second time, too.
    """
    found = look()
    if found:
        page.wait_for_timeout(1000)
        found = look()
    return found


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
        go(page, SCREENS[screen])
        arrived(page)
        within = PANELS.get(screen, "html")
        expect(page.locator(within).first).to_be_visible()
        found = violations(page, within=within) + too_wide(page, 1280)
        found += faults_in_the_dark(page, violations, within)
        page.set_viewport_size({"width": 768, "height": 1024})
        found += too_wide(page, 768)
        page.set_viewport_size({"width": 1280, "height": 800})
        found += walk(page, 20)
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
        go(page, SCREENS[screen])
        arrived(page)
        within = PANELS.get(screen, "html")
        found = violations(page, within=within) + too_wide(page, 390)
        found += faults_in_the_dark(page, violations, within)
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
    violations: Callable[..., list[str]],
) -> None:
    for server, heading in [(demo_server, "Sign in"), (empty_server, "Welcome")]:
        page = open_page(server, signed_in=False)
        expect(page.get_by_role("heading", name=heading)).to_be_visible()
        found = violations(page)
        assert found + faults_in_the_dark(page, violations) == []


def press(name: str) -> Callable[[Page], None]:
    return lambda page: page.get_by_role("button", name=name).first.click()


def key(name: str) -> Callable[[Page], None]:
    return lambda page: page.keyboard.press(name)


def menu(name: str, item: str) -> Callable[[Page], None]:
    return lambda page: choose(page, name, item)


def leaving(page: Page) -> None:
    press("Change Juno Abara")(page)
    press("Has left the class")(page)


def several(page: Page) -> None:
    choose(page, OUTCOMES_MENU, "Choose several")
    page.get_by_label("Choose R1").check()
    change = page.get_by_role("button", name="Change them …")
    if change.is_visible():
        change.click()


def times(page: Page) -> None:
    page.get_by_label("Choose Leif Aasen").check()
    press("Correct the time")(page)


def changing(page: Page) -> None:
    press("Change the task")(page)
    page.get_by_label("Points").fill("30")
    press("Save")(page)


# What opens on a page: how, and where it is then.
OPENED: dict[str, tuple[str, Callable[[Page], None], str]] = {
    "keys": ("/classes/1/marking/8", key("?"), "[role=dialog]"),
    "finder": ("/classes/1/rubrics", key("Control+k"), "[role=dialog]"),
    "class": ("/", press("New class"), "main form"),
    "colleague": ("/colleagues", key("a"), "form[aria-label='Add colleagues']"),
    "next class": ("/classes/2/students", press("Go on with this class"), "section.next"),
    "teachers": ("/classes/2/students", press("Add a colleague"), "section.teachers"),
    "student": ("/classes/1/students", leaving, "[aria-label='Beside the list']"),
    "class list": ("/classes/1/students", press("Import a class list"), "section.import"),
    "outcome": ("/classes/1/outcomes", key("a"), "[aria-label=Settings]"),
    "several": ("/classes/1/outcomes", several, "[aria-label=Settings]"),
    "strand": ("/classes/1/outcomes", menu(OUTCOMES_MENU, "Add a strand"), "[aria-label=Settings]"),
    "arranging": ("/classes/1/outcomes", menu(OUTCOMES_MENU, "Arrange"), "main"),
    "files": ("/classes/1/outcomes", menu(OUTCOMES_MENU, "Files"), "section.opened"),
    "a menu": ("/classes/1/outcomes", press(OUTCOMES_MENU), "[role=menu]:popover-open"),
    "task": ("/classes/1/tasks", key("a"), "[aria-label='New task']"),
    "work": (
        "/classes/1/tasks/8",
        menu("More on Mirela Cosma", "Change the work"),
        "main form.work",
    ),
    "excuse": ("/classes/1/tasks/6", menu("More on Ilir", "Excuse"), "[aria-label^=Excuse]"),
    "message": (
        "/classes/1/tasks/8",
        menu("More to do with this task", "Message"),
        "[aria-label=Message]",
    ),
    "another": (
        "/classes/1/tasks/8",
        menu("More to do with this task", "Another attempt"),
        "form[aria-label='Another attempt']",
    ),
    "set aside": (
        "/classes/1/mastery?student=20&outcome=4",
        press("Set aside …"),
        "form[aria-label='Set aside']",
    ),
    "collecting": ("/classes/1/tasks/8", press("Add work"), "[aria-label='Add work']"),
    "changing": ("/classes/1/tasks/8", changing, "aside form .effects"),
    "entry": ("/classes/2/marking/12/29", key("e"), "section.work form"),
    "history": ("/classes/1/marking/1/13", key("h"), "section.history"),
    "bank": ("/classes/1/marking/8/16", key("b"), "[aria-label='Remark bank'] ol"),
    "bank's text": ("/bank", press("Add a text"), ".bank-form"),
    "spread": ("/classes/1/marking/1/13", key("s"), ".spread"),
    "passage": ("/classes/1/marking/8/16", press("The lines crowd here"), "[data-passage-open]"),
    "recording": ("/classes/1/marking/8/16", key("r"), "[aria-label=Recording]"),
    "adjusting": ("/classes/1/marking/8/2", press("Adjust"), "[aria-label='Adjust the total']"),
    "hand back": ("/classes/1/tasks/8", press("Hand back"), "[aria-label='Hand back']"),
    "discard": ("/classes/1/rubrics/2", press("Discard the changes"), "[role=dialog]"),
    "times": ("/classes/1/tasks/8", times, "form[aria-label='Correct the time']"),
    "criterion": ("/classes/1/rubrics/5", press("More on Measures"), ".popover:popover-open"),
    "grid": ("/classes/1/rubrics/5", press("Paste a grid"), "section.opened"),
    "criteria": ("/classes/1/rubrics/5", press("Copy criteria from"), "section.opened"),
    "new rubric": ("/classes/1/rubrics", key("a"), "main form"),
    "sure": ("/classes/1/rubrics", menu("More on Tide", "Delete"), "[role=dialog]"),
    "scale": ("/classes/1/scales", press("Copy"), "[aria-label=Scale]"),
    "thin": ("/classes/1/coverage", press("Change for the school"), "main form"),
}
# On a phone nobody chooses several rows of a task, and the trail comes up in a panel made anew.
WIDE = {"times", "set aside"}
QUARTERS = [list(OPENED)[start::4] for start in range(4)]


@pytest.mark.parametrize("names", QUARTERS, ids=["first", "second", "third", "fourth"])
def test_nothing_that_opens_has_a_fault(
    demo_server: Server,
    open_page: Callable[..., Page],
    violations: Callable[..., list[str]],
    names: list[str],
) -> None:
    """In the light and the dark, and at the width of a phone."""
    page = open_page(demo_server)
    faults: dict[str, list[str]] = {}
    for name in names:
        path, act, within = OPENED[name]
        page.goto("about:blank")
        page.goto(path)
        arrived(page)
        act(page)
        expect(page.locator(within).first).to_be_visible()
        found = violations(page, within=within) + too_wide(page, 1280)
        found += faults_in_the_dark(page, violations, within)
        if name not in WIDE:
            page.set_viewport_size({"width": 390, "height": 800})
            expect(page.locator(within).first).to_be_visible()
            found += in_the_end(page, lambda within=within: violations(page, within=within))
            found += too_wide(page, 390)
            page.set_viewport_size({"width": 1280, "height": 800})
        found += walk(page, 4)
        if found:
            faults[name] = found
    assert faults == {}


# Where the focus went, and whether it could be seen there.
WATCH = """() => {
  window.lost = []
  document.addEventListener('focusin', ({ target }) => {
    if (!target.getClientRects().length) lost.push(target.outerHTML.slice(0, 120))
  })
}"""


def walk(page: Page, steps: int) -> list[str]:
    """Go on by Tab, back by Shift and Tab, and press Escape: what lost the focus on the way."""
    page.evaluate(WATCH)
    for _ in range(steps):
        page.keyboard.press("Tab")
    if page.evaluate("document.activeElement === document.body"):
        # Past the last stop it is the browser's own, and goes on to the first.
        page.keyboard.press("Tab")
    before = page.evaluate("document.activeElement.outerHTML.slice(0, 120)")
    page.keyboard.press("Tab")
    page.keyboard.press("Shift+Tab")
    after = page.evaluate("document.activeElement.outerHTML.slice(0, 120)")
    lost: list[str] = page.evaluate("window.lost")
    if before != after:
        lost.append(f"Tab and back: from {before} to {after}")
    # Beyond the last stop the browser itself has it.
    beyond = page.evaluate("document.activeElement === document.body")
    page.keyboard.press("Escape")
    page.wait_for_timeout(50)
    if not beyond and page.evaluate("document.activeElement === document.body"):
        lost.append("after Escape the focus is nowhere")
    return lost
