"""A class that is observed on a phone, and tasks that were done again and again."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta
from pathlib import Path
from statistics import median
from time import perf_counter, sleep

from playwright.sync_api import Page, expect, sync_playwright
from scripts.bench.front_end import PAINTED
from scripts.bench.marking import fill, mark_all
from scripts.bench.timing import timed
from tests.browser.conftest import Server, launch_options

from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.outside import clock
from jade_ladder.service.marking import again, desk, saving
from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.mastery import trail, wall
from jade_ladder.service.people import sessions
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import tasks
from jade_ladder.service.work.setting import TaskWords
from jade_ladder.store.shared.connection import Database
from jade_ladder.web.shared.callers import COOKIE

ATTEMPTS, TAPS, CALLS = 10, 200, 7


def bench_observing(folder: Path) -> None:
    """All of it."""
    _on_a_phone(folder / "phone")
    _attempts(folder)


def _on_a_phone(folder: Path) -> None:
    """A tap to paint, the page without a server, and taps that wait, with 40 students."""
    folder.mkdir()
    database = Database(folder / "jade-ladder.sqlite3")
    caller, class_id, made = fill(database, 3)
    rubric = tasks.get_task(caller, made[0]).row.rubric_id
    words = TaskWords("Walk", "", TaskKind.OBSERVED, rubric, None, None, False)
    task_id = tasks.make_task(caller, class_id, words)
    token = sessions.begin_session(database, 1, clock.now())
    server = Server(folder, "serve")
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(**launch_options())
        context = browser.new_context(
            base_url=server.url, viewport={"width": 390, "height": 800}, has_touch=True
        )
        context.add_cookies([{"name": COOKIE, "value": token, "url": server.url}])
        page = context.new_page()
        page.goto(f"/classes/{class_id}/tasks/{task_id}/observe")
        try:
            _measured(page, database)
        finally:
            browser.close()
            server.stop()
    database.close()


def _measured(page: Page, database: Database) -> None:
    expect(page.locator(".student")).to_have_count(40)
    expect(page.get_by_text("Kept in this browser")).to_be_visible()
    _tap_to_paint(page)
    page.context.set_offline(True)
    shown = timed(lambda: _reload(page))
    print(f"observing, page shown without a server: {shown * 1000:.0f} ms")
    seconds, sent = _sent_later(page, database)
    print(f"observing, {sent} choices made without a server sent in {seconds:.1f} s, in order")


def _reload(page: Page) -> None:
    page.reload()
    page.locator(".student").nth(39).wait_for()


def _tap_to_paint(page: Page) -> None:
    tools = page.context.new_cdp_session(page)
    tools.send("Emulation.setCPUThrottlingRate", {"rate": 4})
    page.evaluate(PAINTED.replace("'keydown'", "'click'"))
    radios = page.locator(".student [role=radio]")
    for number in range(60):
        radios.nth((number * 7) % 160).tap()
        page.wait_for_timeout(60)
    tools.send("Emulation.setCPUThrottlingRate", {"rate": 1})
    tools.detach()
    times = sorted(page.evaluate("() => window.painted"))
    p95 = times[len(times) * 95 // 100]
    print(f"observing 40 students, CPU 4 times slower, tap to paint: median {median(times):.0f} ms")
    print(f"  p95 {p95:.0f} ms (at or under 80)")
    expect(page.get_by_role("contentinfo")).to_contain_text("All saved", timeout=60_000)


def _sent_later(page: Page, database: Database) -> tuple[float, int]:
    """Make choices without a server, then send them; every one must have arrived once, in order."""
    with database.reading() as db:
        (before,) = db.execute("SELECT count(*) FROM tap").fetchone()
        (last,) = db.execute("SELECT max(id) FROM mark_choice").fetchone()
    buttons = page.locator(".student").nth(0).locator("[role=radio]")
    for number in range(TAPS):
        buttons.nth(number % 2 + 2 * (number // 2 % 2)).click()
    began = perf_counter()
    page.context.set_offline(False)
    expect(page.get_by_role("contentinfo")).to_contain_text("All saved at", timeout=60_000)
    took = perf_counter() - began
    sleep(0.2)
    with database.reading() as db:
        (after,) = db.execute("SELECT count(*) FROM tap").fetchone()
        rows = db.execute(
            """SELECT l.position FROM mark_choice c JOIN criterion_level l ON l.id = c.level_id
               WHERE c.id > ? ORDER BY c.id""",
            (last,),
        ).fetchall()
    told = [place for (place,) in rows]
    # One on the level that stood there already changes nothing, and is no tap.
    expected = [number % 2 + 2 * (number // 2 % 2) for number in range(TAPS)]
    assert told in (expected, expected[1:]), "out of order, lost or twice"
    assert after - before == len(told)
    return took, len(told)


def _attempts(folder: Path) -> None:
    """Desk, wall and trail of a task with ten attempts of 40 students, against one."""
    few = _done(Database(folder / "one" / "jade-ladder.sqlite3"), 1)
    many = _done(Database(folder / "ten" / "jade-ladder.sqlite3"), ATTEMPTS)
    looks = {
        "desk": lambda who, _, task, student: desk.work_at_desk(who, task, student),
        "task's list": lambda who, _, task, __: desk.desk(who, task),
        "wall": lambda who, class_id, _, __: wall.wall(who, class_id),
        "trail": lambda who, class_id, _, student: trail.trail(who, class_id, student, 1),
    }
    for name, look in looks.items():
        one, ten = [], []
        for _ in range(CALLS):
            one.append(timed(lambda: look(*few)))  # noqa: B023
            ten.append(timed(lambda: look(*many)))  # noqa: B023
        ratio = median(ten) / median(one)
        print(f"{name} with {ATTEMPTS} attempts against one: {ratio:.2f} ", end="")
        print(f"(at or under {1.2 * ATTEMPTS:.0f})")


def _done(database: Database, attempts: int) -> tuple[Teacher, int, int, int]:
    """One task, all of it marked so often by all; gives the teacher, class, task and a student."""
    caller, class_id, (task_id,) = fill(database, 1)
    members = [one.row.student_id for one in desk.desk(caller, task_id).task.students]
    with database.transaction():
        mark_all(caller, task_id, members)
        criteria = desk.desk(caller, task_id).criteria
        for number in range(2, attempts + 1):
            then = replace(caller, now=caller.now + timedelta(minutes=number))
            again.open_attempts(then, task_id, members, "", None, carries=False)
            for student in members:
                for place, stored in enumerate(criteria):
                    choice = Choice(stored.level_ids[(student + place + number) % 4])
                    saving.choose(then, task_id, student, stored.id, choice, 0, number)
                saving.finish(then, task_id, student, number)
    later = replace(caller, now=caller.now + timedelta(hours=1))
    return later, class_id, task_id, members[0]
