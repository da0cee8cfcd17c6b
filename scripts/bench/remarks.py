"""Remarks at the desk: many passages, the bank's offer out of 20,000 texts, and how many presses
the bank saves.
"""

from __future__ import annotations

from pathlib import Path
from statistics import median
from time import perf_counter

from playwright.sync_api import Page, expect, sync_playwright
from scripts.bench.front_end import PAINTED
from scripts.bench.marking import fill
from scripts.bench.pages import bench_server, make_task
from tests.browser.conftest import ME

from jade_ladder.core.names import folded
from jade_ladder.outside import clock
from jade_ladder.service.marking import desk
from jade_ladder.service.marking.remark_bank import offers
from jade_ladder.store.shared.connection import Database

PASSAGES, TEXTS = 200, 20_000
STUDENTS, CRITERIA, REMARKS = 30, 5, 3
LINE = "The wall leads to the stile, and the stile to the saddle above the burn. "


def bench_remarks(folder: Path) -> None:
    """All three."""
    _offers(folder / "bank")
    with sync_playwright() as playwright:
        with bench_server(folder / "passages", playwright) as page:
            _passages(page)
        with bench_server(folder / "presses", playwright) as page:
            _presses(page)


def _told(what: str, times: list[float], bound: str) -> None:
    times = sorted(times)
    p95 = times[len(times) * 95 // 100]
    print(f"{what}: median {median(times):.1f} ms, p95 {p95:.1f} ms ({bound})")


def _offers(folder: Path) -> None:
    folder.mkdir()
    database = Database(folder / "jade-ladder.sqlite3")
    caller, _, task_ids = fill(database, 3)
    view = desk.desk(caller, task_ids[-1])
    students = [one.row.student_id for one in view.task.students]
    criteria = view.criteria
    now = clock.now()
    with database.transaction() as db:
        marks = [number for (number,) in db.execute("SELECT id FROM mark ORDER BY id")]
        for number in range(TEXTS):
            text = f"Remark {number}: say where the {number % 97} stands, and why"
            db.execute(
                "INSERT INTO bank_remark (teacher_id, text, words, used_at) VALUES (?, ?, ?, ?)",
                (caller.person_id, text, folded(text), now),
            )
            criterion = criteria[number % len(criteria)].criterion
            db.execute(
                "INSERT INTO bank_use VALUES (?, ?, ?, ?, ?, ?, ?)",
                (
                    marks[number % len(marks)],
                    f"at {number}",
                    criterion.key,
                    criterion.levels[number % len(criterion.levels)].key,
                    number + 1,
                    caller.person_id,
                    now,
                ),
            )
    times = []
    for turn in range(200):
        stored = criteria[turn % len(criteria)]
        level = stored.level_ids[turn % len(stored.level_ids)]
        search = "" if turn % 2 else f"the {turn % 97} stands"
        began = perf_counter()
        found = offers(
            caller, task_ids[-1], students[turn % len(students)], stored.id, level, search
        )
        times.append((perf_counter() - began) * 1000)
        assert found
    database.close()
    _told(f"the bank's offer out of {TEXTS:,} remarks", times, "p95 at or under 30")


def _passages(page: Page) -> None:
    task = make_task(page, "Passages")
    student = page.request.get("/api/classes/1/students").json()[0]["id"]
    lines = [LINE + "\n" * (number % 4 == 3) for number in range(PASSAGES)]
    text = "".join(lines)
    page.request.put(
        f"/api/tasks/{task}/students/{student}/work", multipart={"text": text}, headers=ME
    )
    attempt = f"/api/tasks/{task}/students/{student}/attempts/1"
    part = page.request.get(attempt).json()["parts"][0]["id"]
    criteria = page.request.get(f"/api/tasks/{task}/desk").json()["criteria"]
    for number in range(PASSAGES):
        start = len("".join(lines[:number])) + 4
        body = {
            "key": f"passage-{number}",
            "part_id": part,
            "criterion_id": criteria[number % len(criteria)]["id"],
            "text": f"Remark {number}",
            "place": {
                "quote": {"exact": text[start : start + 20], "prefix": "", "suffix": ""},
                "span": {"start": start, "end": start + 20},
                "pieces": [],
                "shape": None,
            },
            "version": 0,
        }
        assert page.request.put(f"{attempt}/passages", data=body, headers=ME).ok
    page.goto(f"/classes/1/marking/{task}/{student}")
    expect(page.locator("mark")).to_have_count(PASSAGES)
    page.evaluate(PAINTED)
    for _ in range(20):
        for key in ("1", "2", "3", "ArrowDown", "ArrowUp"):
            page.keyboard.press(key)
            page.wait_for_timeout(60)
    times = page.evaluate("() => window.painted")
    _told(f"desk with {PASSAGES} passages, key to paint", times, "p95 at or under 50")
    fields: list[float] = []
    for turn in range(40):
        page.evaluate(SELECT, turn)
        page.wait_for_timeout(30)
        page.keyboard.press("c")
        page.wait_for_timeout(120)
        page.keyboard.press("Escape")
        page.wait_for_timeout(60)
    fields = page.evaluate("() => window.opened")
    assert len(fields) >= 35, f"only {len(fields)} fields were seen"
    _told(f"selection to remark field, {PASSAGES} passages", fields, "p95 at or under 80")


# Some words between passages are selected; from the key on until the field has the focus, painted.
SELECT = """(turn) => {
  if (!window.opened) {
    window.opened = []
    addEventListener('keydown', (event) => {
      if (event.key !== 'c') return
      const look = () => requestAnimationFrame(() => {
        if (!document.activeElement?.closest('[data-passage-open]')) return look()
        const channel = new MessageChannel()
        channel.port1.onmessage = () => window.opened.push(performance.now() - event.timeStamp)
        channel.port2.postMessage(0)
      })
      look()
    }, true)
  }
  const walker = document.createTreeWalker(document.querySelector('article'), NodeFilter.SHOW_TEXT)
  let node = walker.nextNode()
  for (let skip = 0; skip < turn * 4 || node.data.length < 30; skip++) node = walker.nextNode()
  const range = document.createRange()
  range.setStart(node, 5)
  range.setEnd(node, 25)
  getSelection().removeAllRanges()
  getSelection().addRange(range)
}"""

TEXTS_OF_A_TEACHER = tuple(
    f"{begin} {what}."
    for begin in ("Say by how much", "Name the sheet and the year for", "Look again at")
    for what in ("the bearing of this leg", "the way out from the saddle", "the source you used")
)


def _presses(page: Page) -> None:
    empty = _mark_a_set(page, make_task(page, "Empty"), filled=False)
    full = _mark_a_set(page, make_task(page, "Filled"), filled=True)
    share = round(100 * full / empty)
    print(
        f"presses for {STUDENTS} students, {CRITERIA} criteria, {REMARKS} remarks each: "
        f"{empty:,} with an empty bank, {full:,} with a filled one, {share}% (at or under 60)"
    )


def _mark_a_set(page: Page, task: int, filled: bool) -> int:
    """Mark a set by keys alone, and count them; remarks are written, or taken from the bank."""
    students = [one["id"] for one in page.request.get("/api/classes/1/students").json()]
    page.goto(f"/classes/1/marking/{task}/{students[0]}")
    page.get_by_role("radiogroup").first.wait_for()
    page.evaluate(
        "() => { window.presses = 0; addEventListener('keydown', () => window.presses++, true) }"
    )
    criteria = page.locator("section.criterion").count()
    rounds = -(-STUDENTS * CRITERIA // criteria)
    marked = 0
    for at in range(rounds):
        for place in range(criteria):
            page.keyboard.press("2")
            if place < REMARKS:
                text = TEXTS_OF_A_TEACHER[(at + place) % 3 * 3 + place]
                _remark(page, text, filled)
            if place < criteria - 1:
                page.keyboard.press("ArrowDown")
            marked += 1
        page.keyboard.press("Control+Enter")
        page.wait_for_timeout(150)
        if at + 1 == len(students):
            break
    presses: int = page.evaluate("() => window.presses")
    return round(presses * STUDENTS * CRITERIA / marked)


def _remark(page: Page, text: str, filled: bool) -> None:
    if not filled:
        page.keyboard.press("c")
        page.keyboard.type(text)
        page.keyboard.press("Escape")
        return
    page.keyboard.press("b")
    bank = page.get_by_role("group", name="Remark bank")
    bank.get_by_role("listitem").first.wait_for()
    offered = bank.locator(".words").all_inner_texts()
    page.keyboard.press(str(offered.index(text) + 1))
