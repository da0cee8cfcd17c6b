"""A server on the demo's data, and a page of the browser on it."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from playwright.sync_api import Page, Playwright
from tests.browser.conftest import ME, Server, launch_options


@contextmanager
def bench_server(folder: Path, playwright: Playwright) -> Iterator[Page]:
    """Give a page of the demo, signed in as its teacher."""
    server = Server(folder, "demo")
    browser = playwright.chromium.launch(**launch_options())
    try:
        page = browser.new_page(base_url=server.url)
        assert page.request.post("/api/session/demo", data={"person_id": 1}).ok
        yield page
    finally:
        browser.close()
        server.stop()


def make_task(page: Page, title: str) -> int:
    """Set a task to be handed in, by some final rubric; gives its number."""
    rubric = page.request.get("/api/rubrics").json()
    final = next(one["id"] for one in rubric if one["in_force"])
    body = {"title": title, "kind": "handed-in", "rubric_id": final}
    answer = page.request.post("/api/classes/1/tasks", data=body, headers=ME)
    assert answer.ok, answer.text()
    number: int = answer.json()["id"]
    return number
