"""A server on the demo's data, and a page of the browser on it."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from playwright.sync_api import Page, Playwright
from tests.browser.conftest import Server, launch_options


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
