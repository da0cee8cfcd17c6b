"""The rubric editor from a key press to the painted character, and the JavaScript of pages."""

from __future__ import annotations

import gzip
import json
import re
from pathlib import Path
from statistics import median
from time import perf_counter

from playwright.sync_api import sync_playwright
from scripts.bench.class_of_40 import fill
from scripts.bench.pages import bench_server
from tests.browser.conftest import ME, Server, launch_options

from jade_ladder.outside import clock
from jade_ladder.service.people import sessions
from jade_ladder.store.shared.connection import Database
from jade_ladder.web.application import STATIC
from jade_ladder.web.shared.callers import COOKIE


def bench_editor(folder: Path) -> None:
    """From a key press to the painted character, in a rubric of 12 criteria with 6 levels."""
    levels = [
        {"key": f"l{n}", "name": f"Level {n}", "points": str(n), "descriptor": "What it is. " * 8}
        for n in range(1, 7)
    ]
    criteria = [
        {
            "key": f"c{n}",
            "title": f"Criterion {n}",
            "kind": "levels",
            "bonus": False,
            "half_way": False,
            "weight": None,
            "levels": levels,
            "alignments": [{"outcome_id": 1 + n % 11, "cells": [None] * 6}],
        }
        for n in range(12)
    ]
    with sync_playwright() as playwright, bench_server(folder / "editor", playwright) as page:
        number = page.request.post("/api/rubrics", data={"title": "Bench"}, headers=ME).json()["id"]
        body = {"version": 1, "title": "Bench", "criteria": criteria}
        assert page.request.put(f"/api/rubrics/{number}", data=body, headers=ME).ok
        page.goto(f"/classes/1/rubrics/{number}")
        page.get_by_label("Descriptor of Level 3").nth(6).click()
        page.evaluate(PAINTED)
        page.keyboard.type("What a key press costs while a whole rubric is open. " * 3, delay=40)
        times = sorted(page.evaluate("() => window.painted"))
    p95 = times[len(times) * 95 // 100]
    print(f"rubric editor, 12 × 6, key to paint: median {median(times):.0f} ms, ", end="")
    print(f"p95 {p95:.0f} ms (at or under 50)")


def bench_desk(folder: Path) -> None:
    """From a key press to the painted level, at the desk of the demo's set of 26."""
    with sync_playwright() as playwright, bench_server(folder / "desk", playwright) as page:
        page.goto("/classes/1/marking/8")
        page.get_by_role("radiogroup").first.wait_for()
        page.evaluate(PAINTED)
        for _ in range(30):
            for key in ("1", "2", "3", "ArrowDown", "ArrowUp"):
                page.keyboard.press(key)
                page.wait_for_timeout(40)
        times = sorted(page.evaluate("() => window.painted"))
    p95 = times[len(times) * 95 // 100]
    print(f"marking desk, key to paint: median {median(times):.0f} ms, ", end="")
    print(f"p95 {p95:.0f} ms (at or under 50)")


def bench_print(folder: Path) -> None:
    """The wall of 40 × 24 as a page to print, and as the browser's PDF of it on A4."""
    data = folder / "print"
    data.mkdir()
    database = Database(data / "jade-ladder.sqlite3")
    class_id, _ = fill(database)
    token = sessions.begin_session(database, 1, clock.now())
    database.close()
    server = Server(data, "serve")
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(**launch_options())
        context = browser.new_context(base_url=server.url)
        context.add_cookies([{"name": COOKIE, "value": token, "url": server.url}])
        page = context.new_page()
        page.goto("/account")
        began = perf_counter()
        page.goto(f"/classes/{class_id}/sheets/mastery")
        page.get_by_role("row").nth(40).wait_for()
        seen = perf_counter()
        paper = page.pdf(format="A4", prefer_css_page_size=True)
        printed = perf_counter()
        browser.close()
    server.stop()
    pages = len(re.findall(rb"/Type\s*/Page\b", paper))
    print(f"wall of 40 × 24 to print: {pages} pages, seen after {seen - began:.1f} s, ", end="")
    print(f"printed in {printed - seen:.1f} s")


# From the key event to the frame after the one in which its change was drawn.
PAINTED = """() => {
  window.painted = []
  addEventListener('keydown', (event) => {
    const began = event.timeStamp
    requestAnimationFrame(() => {
      const channel = new MessageChannel()
      channel.port1.onmessage = () => window.painted.push(performance.now() - began)
      channel.port2.postMessage(0)
    })
  }, true)
}"""


def bench_pages() -> None:
    """The gzipped JavaScript of a page: its chunks and all they import at once."""
    manifest = json.loads((STATIC / ".vite" / "manifest.json").read_text())
    pages = {
        "sign-in": ["index.html", "src/app/SignIn.vue"],
        "a student's first page": [
            "index.html",
            "src/app/StudentShell.vue",
            "src/features/student/MyWork.vue",
        ],
        "wall": ["index.html", "src/app/Shell.vue", "src/features/mastery/Wall.vue"],
    }
    limits = {"sign-in": 140, "a student's first page": 140, "wall": 180}
    for page, entries in pages.items():
        files: set[str] = set()
        waiting = list(entries)
        while waiting:
            chunk = manifest[waiting.pop()]
            if chunk["file"] not in files:
                files.add(chunk["file"])
                waiting += chunk.get("imports", [])
        size = sum(len(gzip.compress((STATIC / name).read_bytes())) for name in files)
        print(f"JavaScript for {page}: {size / 1000:.0f} kB gzipped ", end="")
        print(f"(at or under {limits[page]})")
