"""The wall of a large class in the browser, methods compared, and one new mark."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from statistics import median

from playwright.sync_api import Page, sync_playwright
from scripts.bench.class_of_40 import LARGE, OUTCOMES, PIECES, STUDENTS, fill
from scripts.bench.front_end import PAINTED
from scripts.bench.serving import serving
from tests.browser.conftest import launch_options

from jade_ladder.outside import clock
from jade_ladder.service.people import sessions
from jade_ladder.store.shared.connection import Database

# From the end of the answer to the first frame with a cell in it, as the page itself sees it.
FIRST_CELL = """() => {
  const look = () => {
    if (!document.querySelector('[role=gridcell]')) return requestAnimationFrame(look)
    window.firstCell = performance.now()
  }
  requestAnimationFrame(look)
}"""
ANSWERED = """() => performance.getEntriesByType('resource')
  .filter((one) => one.name.includes('/mastery')).at(-1)?.responseEnd"""
FRAMES = """() => {
  window.frames_ = []
  let before = performance.now()
  const next = (now) => {
    window.frames_.push(now - before)
    before = now
    requestAnimationFrame(next)
  }
  requestAnimationFrame(next)
}"""


def bench_mastery(folder: Path) -> None:
    """Fill two classes, serve each, and look at them in Chromium."""
    _bench_wall(folder / "wall")
    _bench_comparison(folder / "compare")


@contextmanager
def _served(folder: Path, sizes: tuple[int, int, int]) -> Iterator[tuple[Page, int]]:
    """Give a page on a filled class, and the class's number."""
    folder.mkdir()
    database = Database(folder / "jade-ladder.sqlite3")
    class_id, _ = fill(database, *sizes)
    token = sessions.begin_session(database, 1, clock.now())
    database.close()
    with serving(folder) as host, sync_playwright() as playwright:
        address = f"http://{host}"
        browser = playwright.chromium.launch(**launch_options())
        context = browser.new_context(base_url=address, viewport={"width": 1280, "height": 800})
        context.add_cookies([{"name": "jade_ladder_session", "value": token, "url": address}])
        yield context.new_page(), class_id
        browser.close()


def _bench_wall(folder: Path) -> None:
    with _served(folder, LARGE) as (page, class_id):
        there, across, pieces = LARGE
        page.add_init_script(f"({FIRST_CELL})()")
        times = []
        for _ in range(7):
            page.goto(f"/classes/{class_id}/mastery")
            page.get_by_role("gridcell").first.wait_for()
            page.wait_for_timeout(300)
            times.append(page.evaluate("window.firstCell") - page.evaluate(ANSWERED))
        nodes = page.evaluate("document.getElementsByTagName('*').length")
        page.evaluate(FRAMES)
        page.mouse.move(600, 500)
        for _ in range(50):
            page.mouse.wheel(0, 120)
            page.wait_for_timeout(16)
        for _ in range(50):
            page.mouse.wheel(60, 0)
            page.wait_for_timeout(16)
        frames = page.evaluate("window.frames_")
        slow = sum(one > 50 for one in frames)
        print(f"wall in the browser, {there} × {across} × {pieces}: ", end="")
        print(f"answer to first cell {median(times):.0f} ms (at or under 300), ", end="")
        print(f"{nodes} nodes (under 4000)")
        print(f"  scrolling: {slow} of {len(frames)} frames over 50 ms (at most 3 of 100)")


def _bench_comparison(folder: Path) -> None:
    with _served(folder, (STUDENTS, OUTCOMES, PIECES)) as (page, class_id):
        page.goto(f"/classes/{class_id}/mastery/compare")
        slider = page.get_by_role("slider", name="What the newest piece counts")
        slider.wait_for()
        slider.focus()
        page.evaluate(PAINTED)
        for step in range(60):
            page.keyboard.press("ArrowRight" if step < 30 else "ArrowLeft")
            page.wait_for_timeout(80)
        times = sorted(page.evaluate("window.painted"))
        p95 = times[len(times) * 95 // 100]
        print(
            f"comparison, {STUDENTS} × {OUTCOMES} × {PIECES}, a step of the slider to paint: ",
            end="",
        )
        print(f"median {median(times):.0f} ms, p95 {p95:.0f} ms (at or under 50)")
