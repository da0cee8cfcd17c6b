"""A real server and a real browser: Debian's Chromium, driven by Playwright."""

from __future__ import annotations

import re
import shutil
import sqlite3
import subprocess
import sys
from collections.abc import Callable, Iterator
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Literal

import pytest
from playwright.sync_api import Browser, BrowserContext, Locator, Page, expect

from jade_ladder.demo.scenario import DemoClass
from jade_ladder.store.files.contents import FOLDER

ROOT = Path(__file__).parent.parent.parent
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    # A microphone that beeps, and nobody who has to allow it.
    "--use-fake-device-for-media-stream",
    "--use-fake-ui-for-media-stream",
]
# A shared machine can be slow; a test that passes does not wait.
expect.set_options(timeout=20_000)
# What a call by hand says of whose write it is, as the page does: the demo's first person.
ME = {"jade-ladder-person": "1"}
AXE = ROOT / "frontend" / "node_modules" / "axe-core" / "axe.min.js"


def launch_options() -> dict[str, Any]:
    """How Chromium is started: which one, and with what flags."""
    found = subprocess.run(
        ["sh", str(ROOT / "scripts" / "find-chromium")], capture_output=True, text=True, check=True
    )
    return {"executable_path": found.stdout.strip().splitlines()[-1], "args": FLAGS}


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, Any]:
    return launch_options()


class Server:
    """jade-ladder as a process of its own, on a folder; it can be stopped and started again."""

    def __init__(self, data: Path, command: str) -> None:
        self.data = data
        self.command = command
        self.port = "0"
        self.url = ""
        self.process: subprocess.Popen[str] | None = None
        self.start()

    def start(self) -> None:
        self.process = subprocess.Popen(
            [
                sys.executable,
                *("-m", "jade_ladder", self.command),
                *("--port", self.port),
                *("--data", str(self.data)),
            ],
            stdout=subprocess.PIPE,
            text=True,
            cwd=ROOT,
        )
        assert self.process.stdout is not None
        for line in self.process.stdout:
            if line.startswith("Jade Ladder is at "):
                self.url = line.removeprefix("Jade Ladder is at ").strip()
                self.port = self.url.rsplit(":", 1)[1]
                break
        else:
            raise AssertionError("the server did not start")

    def stop(self) -> None:
        if self.process is not None:
            self.process.terminate()
            self.process.wait(timeout=20)
            assert self.process.stdout is not None
            self.process.stdout.close()
            self.process = None


@pytest.fixture
def empty_server(tmp_path: Path) -> Iterator[Server]:
    """A first start: nobody, nothing."""
    server = Server(tmp_path / "data", "serve")
    yield server
    server.stop()


@pytest.fixture(scope="session")
def kept_server(
    tmp_path_factory: pytest.TempPathFactory, demo_template: tuple[Path, DemoClass]
) -> Iterator[Server]:
    """A server on the demo school, kept by a worker for all of its tests."""
    data = tmp_path_factory.mktemp("kept") / "data"
    data.mkdir()
    shutil.copy(demo_template[0], data / "jade-ladder.sqlite3")
    shutil.copytree(demo_template[0].parent / FOLDER, data / FOLDER)
    server = Server(data, "demo")
    yield server
    server.stop()


@pytest.fixture
def demo_server(kept_server: Server, demo_template: tuple[Path, DemoClass]) -> Server:
    """The demo school as it is at first, whatever the test before did to it."""
    with (
        closing(sqlite3.connect(demo_template[0])) as source,
        closing(sqlite3.connect(kept_server.data / "jade-ladder.sqlite3", timeout=20)) as there,
    ):
        source.backup(there)
    if kept_server.process is None:
        kept_server.start()
    return kept_server


@dataclass
class Window:
    """A browser context and its first page, kept from test to test: a fresh page costs three times
    as much, since it compiles the application anew.
    """

    context: BrowserContext
    page: Page


class Windows:
    """The windows of a worker, each as good as fresh when a test begins."""

    def __init__(self, browser: Browser) -> None:
        self._browser = browser
        self._idle: dict[tuple[str, bool], list[Window]] = {}
        self._lent: list[tuple[tuple[str, bool], Window]] = []
        self.thrown: list[str] = []

    def lend(self, url: str, touch: bool) -> Page:
        """Give the page of a window in which nobody is signed in and nothing is stored."""
        kind = (url, touch)
        idle = self._idle.setdefault(kind, [])
        window = idle.pop() if idle else self._make(url, touch)
        self._lent.append((kind, window))
        return window.page

    def _make(self, url: str, touch: bool) -> Window:
        context = self._browser.new_context(
            base_url=url, has_touch=touch, is_mobile=touch, locale="en-GB"
        )
        context.on("page", self._listen)
        return Window(context, context.new_page())

    def _listen(self, page: Page) -> None:
        page.set_default_timeout(10_000)
        page.on("pageerror", lambda error: self.thrown.append(str(error)))

    def clean(self, keep: str | None) -> None:
        """Take back what was lent; windows on other servers than `keep` are closed."""
        for kind, window in self._lent:
            if kind[0] == keep:
                self._clean(window, keep)
                self._idle[kind].append(window)
            else:
                window.context.close()
        self._lent.clear()
        self.thrown.clear()

    def _clean(self, window: Window, origin: str) -> None:
        context = window.context
        context.set_offline(False)
        for page in context.pages:
            if page != window.page:
                page.close()
        if window.page.is_closed():
            window.page = context.new_page()
        window.page.goto("about:blank")
        tools = context.new_cdp_session(window.page)
        tools.send("Storage.clearDataForOrigin", {"origin": origin, "storageTypes": "all"})
        # What belongs to the tab is not among them, and is there for its origin alone.
        window.page.goto(f"{origin}/api/health")
        window.page.evaluate("sessionStorage.clear()")
        window.page.goto("about:blank")
        tools.detach()
        context.clear_cookies()


@pytest.fixture(scope="session")
def windows(browser: Browser) -> Windows:
    return Windows(browser)


@pytest.fixture
def open_page(windows: Windows, request: pytest.FixtureRequest) -> Iterator[Callable[..., Page]]:
    """Open a page of a server, signed in to the demo unless told otherwise; no error may go
    unseen: what the page throws fails the test.
    """

    def open_it(
        server: Server,
        path: str = "/",
        width: int = 1280,
        height: int = 800,
        dark: bool = False,
        signed_in: bool = True,
        touch: bool = False,
        context: BrowserContext | None = None,
    ) -> Page:
        page = windows.lend(server.url, touch) if context is None else context.new_page()
        page.set_viewport_size({"width": width, "height": height})
        # Colours are looked at, so none may be on its way to another.
        scheme: Literal["dark", "light"] = "dark" if dark else "light"
        page.emulate_media(media="screen", color_scheme=scheme, reduced_motion="reduce")
        # A further tab is signed in as the first is: once more would end the first one's session.
        if signed_in and context is None:
            # A window keeps its connection, which the server may just have closed.
            signing_in = {"data": {"person_id": 1}, "max_retries": 2}
            assert page.request.post("/api/session/demo", **signing_in).ok
        page.goto(path)
        return page

    yield open_it
    thrown = list(windows.thrown)
    kept = "kept_server" in request.fixturenames
    windows.clean(request.getfixturevalue("kept_server").url if kept else None)
    assert thrown == []


def choose(page: Page, menu: str, item: str) -> None:
    """Choose from a menu."""
    page.get_by_role("button", name=menu).click()
    page.get_by_role("menuitem", name=item).click()


OUTCOMES_MENU = "More to do with outcomes"


def recorded(now: Locator, seconds: int) -> None:
    """Wait until so many seconds are recorded, or more: a busy machine may not show each."""
    later = "|".join(f"0:{of:02}" for of in range(seconds, 60))
    expect(now).to_contain_text(re.compile(f"Recording ({later}) "))


def saved(page: Page) -> None:
    """Wait until the draft of a rubric is saved; it says so no longer from the first letter on."""
    expect(page.locator(".save")).to_contain_text("Saved")


@pytest.fixture
def violations() -> Callable[..., list[str]]:
    """Give what axe finds on a page or a part of it, by all rules or some, each with the element at
    fault. Of the wall, which has a thousand cells of one kind, the first rows are enough.
    """
    source = AXE.read_text("utf-8")

    def look(page: Page, rules: list[str] | None = None, within: str = "html") -> list[str]:
        if not page.evaluate("'axe' in window"):
            page.evaluate(source)
        only = {} if rules is None else {"runOnly": {"type": "rule", "values": rules}}
        options = {"resultTypes": ["violations"], **only}
        where = {"include": [within], "exclude": ["[role=grid] tbody tr:nth-child(n + 7)"]}
        found = page.evaluate("([where, options]) => axe.run(where, options)", [where, options])
        return [
            f"{violation['id']}: {node['html'][:160]} {node['failureSummary'][:200]}"
            for violation in found["violations"]
            for node in violation["nodes"]
        ]

    return look
