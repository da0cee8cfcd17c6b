"""From the key that goes to the next student to their work, painted: text, PDFs, a long PDF."""

from __future__ import annotations

import time
from pathlib import Path
from statistics import median

from playwright.sync_api import Page, sync_playwright
from scripts.bench.pages import bench_server, make_task
from tests.browser.conftest import ME

from jade_ladder.demo.files import plan

STUDENTS = 24


def bench_turning(folder: Path) -> None:
    """Page Down at the desk until the work of the next student stands there, painted."""
    with sync_playwright() as playwright, bench_server(folder / "turning", playwright) as page:
        students = [
            one["id"] for one in page.request.get("/api/classes/1/students").json()[:STUDENTS]
        ]
        texts, pdfs, long = (make_task(page, title) for title in ("Texts", "PDFs", "Long"))
        pages = [[f"Leg {line} keeps the wall left" for line in range(30)] for _ in range(10)]
        for one in students:
            words = f"Work-of-{one} " + "keeps the wall left and crosses the saddle. " * 60
            page.request.put(
                f"/api/tasks/{texts}/students/{one}/work", multipart={"text": words}, headers=ME
            )
            pages[0][0] = f"Work-of-{one}"
            _put_in(page, pdfs, one, plan(pages))
        many = [[f"Work-of-{students[0]}"], *pages * 20][:200]
        _put_in(page, long, students[0], plan(many))
        for task, what in ((texts, "text"), (pdfs, "a PDF of 10 pages, fetched")):
            times = sorted(_turns(page, task, students) + _turns(page, task, students))
            p95 = times[len(times) * 95 // 100]
            print(f"next student, key to painted, {what}: median {median(times):.0f} ms, ", end="")
            print(f"p95 {p95:.0f} ms (at or under 100)")
        page.goto("/classes/1/tasks")
        began = time.perf_counter()
        page.goto(f"/classes/1/marking/{long}/{students[0]}")
        page.get_by_text(f"Work-of-{students[0]}", exact=True).first.wait_for(state="attached")
        took = time.perf_counter() - began
        print(f"first page of a PDF of 200 pages, from the address on: {took:.1f} s")


def _put_in(page: Page, task: int, student: int, content: bytes) -> None:
    begin = {"key": f"bench-{task}-{student}", "name": "plan.pdf", "size": len(content)}
    upload = page.request.post("/api/uploads", data=begin, headers=ME).json()["id"]
    sent = page.request.put(
        f"/api/uploads/{upload}/bytes?at=0",
        data=content,
        headers={**ME, "content-type": "application/octet-stream"},
    )
    assert sent.ok, sent.text()
    put = f"/api/tasks/{task}/students/{student}/work/files"
    assert page.request.post(put, data={"upload_id": upload}, headers=ME).ok


def _turns(page: Page, task: int, students: list[int]) -> list[float]:
    """Turn to each student once there has been time to fetch what comes next."""
    page.goto(f"/classes/1/marking/{task}")
    page.get_by_text("Work-of-").first.wait_for(state="attached")
    page.evaluate(TURNED)
    for _ in range(len(students) - 1):
        page.wait_for_timeout(700)
        page.keyboard.press("PageDown")
        page.wait_for_timeout(300)
    times: list[float] = page.evaluate("() => window.turned")
    assert len(times) >= len(students) - 2, f"only {len(times)} turns were seen"
    return times


# From the key event to the frame after the one in which another student's work was drawn: their
# text stands there, or another page is painted under their name.
TURNED = """() => {
  window.turned = []
  const work = () => document.querySelector('section.work')
  const marker = () =>
    work()?.querySelector('[data-drawn] canvas') ??
    work()?.textContent.match(/Work-of-\\d+/)?.[0]
  addEventListener('keydown', (event) => {
    const began = event.timeStamp
    const before = marker()
    const look = () => requestAnimationFrame(() => {
      const now = marker()
      if (!now || now === before) return look()
      const channel = new MessageChannel()
      channel.port1.onmessage = () => window.turned.push(performance.now() - began)
      channel.port2.postMessage(0)
    })
    look()
  }, true)
}"""
