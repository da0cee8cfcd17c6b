"""Take a picture of each main view of the demo into docs/screenshots: make screenshots."""

from __future__ import annotations

import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

ROOT = Path(__file__).parent.parent
sys.path.insert(0, str(ROOT))

from tests.browser.conftest import Server, launch_options  # noqa: E402

OUT = ROOT / "docs" / "screenshots"


def nothing(_: Page) -> None:
    """Take the page as it is."""


def mean_chosen(page: Page) -> None:
    """Choose another method, so that what it would change is shown."""
    page.get_by_label("Method of the class").select_option("mean")
    page.get_by_text("levels would change").wait_for()


def stricter(page: Page) -> None:
    """Raise a cut score, so that whose level it moves is shown."""
    page.get_by_label("Cut score of level 3").fill("2.9")
    page.get_by_text("levels would change").wait_for()


def chosen_task(page: Page) -> None:
    """Choose a task for the new revision, so that what it moves is shown."""
    page.get_by_role("checkbox", name="Map of the schoolyard").check()
    page.get_by_text("mastery values move").wait_for()


def class_list(page: Page) -> None:
    """Paste a class list with a problem."""
    page.get_by_role("button", name="Import a class list").click()
    page.get_by_label("Text of a class list").fill(
        "First name;Surname;ID;Mail\nOlu;Adeyemi;T950;olu@tern.example\n"
        "Maj;Brännström;T951;not-a-mail\nEirik;Solheim;T920;\n"
    )
    page.get_by_text("with a problem").wait_for()


def opened_passage(page: Page) -> None:
    """Show the sketch with its arrow, and the remark on it open."""
    page.get_by_role("tab", name="sketch.jpg").click()
    page.locator("[data-shape]").wait_for()
    page.locator(".brief").first.click()


def bank(page: Page) -> None:
    """Open what the bank offers, and how the levels have fallen."""
    page.get_by_text("Reads the ground").wait_for()
    page.keyboard.press("3")
    page.keyboard.press("b")
    page.get_by_role("group", name="Remark bank").get_by_role("listitem").first.wait_for()


def hand_back(page: Page) -> None:
    """Open handing back, with what the student will see."""
    page.get_by_role("button", name="Hand back").first.click()
    page.get_by_text("The page of").wait_for()


def observed(page: Page) -> None:
    """Tap a few levels, so that it is seen how a class fills, of who was observed before anew."""
    again = page.get_by_role("button", name="Observe again")
    page.add_locator_handler(again, lambda button: button.tap())
    for row, level in ((0, 3), (1, 2), (3, 4), (4, 3), (6, 1)):
        page.locator(".student").nth(row).get_by_role("radio").nth(level - 1).tap()
    page.get_by_text("All saved at").wait_for()


def latest_compared(page: Page) -> None:
    """Look at the latest evidence instead of the present method."""
    page.get_by_role("button", name="Latest").first.click()
    page.get_by_text("Latest (dotted)").wait_for()


FARIDA = 14
"""The number of the demo's student whose pages are shown."""
VIEWS: dict[str, tuple[str, int, bool, Callable[[Page], None]]] = {
    "class-list": ("/classes/1/students", 1280, False, class_list),
    "student": ("/classes/1/students/20", 1280, False, nothing),
    "outcomes": ("/classes/1/outcomes", 1280, False, mean_chosen),
    "scales": ("/classes/1/scales?scale=1", 1280, False, stricter),
    "outcome": ("/classes/1/outcomes/4", 1280, True, nothing),
    "class-over-term": ("/classes/1/mastery/class", 1280, False, nothing),
    "rubric-editor": ("/classes/1/rubrics/5", 1280, False, nothing),
    "revisions": ("/classes/1/rubrics/2/revisions", 1280, False, chosen_task),
    "task": ("/classes/1/tasks/8", 1280, False, nothing),
    "marking-desk": ("/classes/1/marking/8/18", 1280, False, bank),
    "marking-work": ("/classes/1/marking/8/16", 1280, False, opened_passage),
    "today": ("/", 1280, False, nothing),
    "observing": ("/classes/1/tasks/6/observe", 390, False, observed),
    "student-work": ("/my", 390, False, nothing),
    "student-task": ("/my/tasks/9", 1280, False, nothing),
    "student-result": ("/my/tasks/7/result", 1280, False, nothing),
    "hand-back": ("/classes/1/tasks/8", 1280, False, hand_back),
    "compare": ("/classes/1/mastery/compare?outcome=4&student=8", 1280, False, latest_compared),
    "evidence-trail": ("/classes/1/mastery?student=4&outcome=4", 1280, False, nothing),
}


def main() -> None:
    """Start the demo on a folder of its own and take every picture."""
    OUT.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        server = Server(Path(folder) / "data", "demo")
        browser = playwright.chromium.launch(**launch_options())
        for name, (path, width, dark, act) in VIEWS.items():
            page = browser.new_page(
                base_url=server.url,
                viewport={"width": width, "height": 800},
                color_scheme="dark" if dark else "light",
                has_touch=width < 500,
                is_mobile=width < 500,
            )
            person = FARIDA if path.startswith("/my") else 1
            page.request.post("/api/session/demo", data={"person_id": person})
            page.goto(path)
            page.wait_for_load_state("networkidle")
            act(page)
            page.wait_for_timeout(500)
            page.screenshot(path=OUT / f"{name}.png")
            page.close()
        browser.close()
        server.stop()


if __name__ == "__main__":
    main()
