"""What is measured, as ratios in one run: make bench.

1. calculate, a million rows: the whole process against a pandas script for the same work.
2. The wall's API answer against the bare SELECT that fetches its rows.
3. A CASE package of 5,000 items, against reading its JSON and inserting the same rows.
4. The rubric editor: from a key press to the painted character.
5. The gzipped JavaScript that sign-in and the wall need.
"""

from __future__ import annotations

import gzip
import http.client
import json
import random
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from pathlib import Path
from statistics import median
from uuid import UUID

from playwright.sync_api import sync_playwright

from jade_ladder.core.rubric import Criterion, CriterionLevel
from jade_ladder.formats.case import Framework, FrameworkOutcome, FrameworkStrand
from jade_ladder.formats.case_in import read_framework
from jade_ladder.formats.case_out import write_framework
from jade_ladder.formats.class_list import StudentLine
from jade_ladder.service import classes, marking, outcomes, people, rubrics, tasks
from jade_ladder.service.bringing_in import bring_in_framework
from jade_ladder.service.caller import Caller
from jade_ladder.service.drafts import AlignmentDraft, CriterionDraft
from jade_ladder.service.frameworks import compare_framework
from jade_ladder.service.outcomes import OutcomeWords
from jade_ladder.service.tasks import TaskWords
from jade_ladder.store import marks
from jade_ladder.store.connection import Database
from jade_ladder.store.evidence import CHOICES_SQL
from jade_ladder.store.tasks import TaskKind
from jade_ladder.web.application import STATIC

ROOT = Path(__file__).parent.parent
sys.path.insert(0, str(ROOT))

from tests.browser.conftest import Server, launch_options  # noqa: E402

ROWS, STUDENTS, OUTCOMES, PIECES, ITEMS = 1_000_000, 40, 24, 12, 5_000

# The recurrence in pandas' own words: quick, in binary floats, so that last digits can be wrong.
PANDAS_FLOATS = """
import sys
import pandas as pd
rows = pd.read_csv(sys.argv[1], dtype={"student": str, "outcome": str, "value": float})
rows["date"] = pd.to_datetime(rows["date"], format="%Y-%m-%d")
rows = rows.sort_values("date", kind="stable")
groups = rows.groupby(["student", "outcome"], sort=False)["value"]
smooth = groups.ewm(alpha=0.6, adjust=False).mean()
last = smooth.groupby(level=[0, 1], sort=False).last().round(2)
counts = groups.count()
pd.DataFrame({"value": last, "evidence": counts}).reset_index().to_csv(sys.argv[2], index=False)
"""


# The same work: every value checked, every result exact and rounded half up.
PANDAS_EXACT = """
import sys
import pandas as pd
rows = pd.read_csv(sys.argv[1], dtype=str, keep_default_na=False)
assert (rows["student"] != "").all() and (rows["outcome"] != "").all()
assert rows["value"].str.fullmatch(r"\\d+(\\.\\d{1,2})?").all()
rows["date"] = pd.to_datetime(rows["date"], format="%Y-%m-%d")
rows["value"] = (rows["value"].astype(float) * 100).round().astype(int)
rows = rows.sort_values("date", kind="stable")

def decaying(values):
    numerator, denominator = 0, 1
    for place, value in enumerate(values.tolist()):
        numerator = 60 * value * denominator + 40 * numerator if place else value
        denominator = denominator * 100 if place else 1
    return (2 * numerator + denominator) // (2 * denominator)

groups = rows.groupby(["student", "outcome"], sort=False)["value"]
done = groups.agg(value=decaying, evidence="count")
done["value"] = [f"{value // 100}.{value % 100:02d}" for value in done["value"]]
done.reset_index().to_csv(sys.argv[2], index=False)
"""


def seconds(command: list[str]) -> tuple[float, float]:
    """Run a command; give its time, and its peak memory in MB."""
    measuring = (
        "import resource, subprocess, sys;"
        "subprocess.run(sys.argv[1:], check=True, stdout=subprocess.DEVNULL);"
        "print(resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss)"
    )
    began = time.perf_counter()
    done = subprocess.run(
        [sys.executable, "-c", measuring, *command], capture_output=True, text=True, check=True
    )
    return time.perf_counter() - began, int(done.stdout) / 1024


def bench_calculate(folder: Path) -> None:
    """A million rows as an export has them, set by set: a class of 30 and a rubric that reaches
    four of 24 outcomes; 2,500 students, some of whom hand in late.
    """
    luck = random.Random(1)
    source = folder / "evidence.csv"
    first = date(2025, 9, 1)
    with source.open("w") as out:
        out.write("student,outcome,date,value\n")
        values = ("1", "1.5", "2", "2.5", "3", "3.5", "4", "2.67")
        rows = 0
        while rows < ROWS:
            day = first + timedelta(days=rows * 300 // ROWS)
            group, reached = luck.randrange(84) * 30, luck.sample(range(24), 4)
            for student in range(group, group + 30):
                done = day + timedelta(days=luck.choice((0, 0, 0, 0, 0, 0, 0, 1, 2, 7)))
                for outcome in reached[: ROWS - rows]:
                    out.write(f"S{student},O{outcome},{done},{luck.choice(values)}\n")
                    rows += 1
    scripts = {"exact": PANDAS_EXACT, "in floats": PANDAS_FLOATS}
    ours = [sys.executable, "-m", "jade_ladder", "calculate", str(source)]
    ours += ["--method", "decaying-average", "--output", str(folder / "ours.csv")]
    for name, text in scripts.items():
        script = folder / "with_pandas.py"
        script.write_text(text)
        theirs = [sys.executable, str(script), str(source), str(folder / "theirs.csv")]
        runs = [(seconds(ours), seconds(theirs)) for _ in range(3)]
        own, other = (median(run[which][0] for run in runs) for which in (0, 1))
        memory = max(run[0][1] for run in runs)
        limit = " (at or under 0.7)" if name == "exact" else ""
        print(f"calculate, {ROWS:,} rows: {own:.2f} s, pandas {name} {other:.2f} s")
        print(f"  ratio {own / other:.2f}{limit}, peak {memory:.0f} MB (under 300)")
        if name == "exact":
            results = [set((folder / f).read_text().split()) for f in ("ours.csv", "theirs.csv")]
            assert results[0] == results[1], "pandas and jade-ladder give the same, to the digit"


def fill(database: Database) -> tuple[int, list[int]]:
    """Fill a database with a class of 40 students, 24 outcomes and 12 pieces of each."""
    now = datetime.now(UTC)
    teacher = people.NewTeacher("Bench", "Mark", "bench@tern.example", "a long password")
    caller = Caller(database, people.make_first_teacher(database, "S", "UTC", teacher), now)
    luck = random.Random(2)
    with database.deed() as db:
        first = (now - timedelta(days=200)).date()
        class_id = classes.make_class(caller, "Bench", first, first + timedelta(days=300))
        numbers = [
            outcomes.add_outcome(caller, class_id, OutcomeWords(f"O{n}", "Outcome", "", None))
            for n in range(OUTCOMES)
        ]
        students = [
            classes.add_student(caller, class_id, StudentLine(n, "S", str(n), from_list=True))
            for n in range(STUDENTS)
        ]
        levels = tuple(CriterionLevel(f"l{n}", f"Level {n}", n * 100, "") for n in range(1, 5))
        drafts = [
            CriterionDraft(
                Criterion(f"c{number}", "Criterion", levels),
                (AlignmentDraft(number, 1, (None,) * 4),),
            )
            for number in numbers
        ]
        rubric = rubrics.make_rubric(caller, "Bench")
        view = rubrics.save_draft(caller, rubric, 1, "Bench", drafts)
        rubrics.make_final(caller, rubric, view.row.version)
        for piece in range(PIECES):
            at = replace(caller, now=now - timedelta(days=150 - piece * 10))
            words = TaskWords("Task", "", TaskKind.HANDED_IN, rubric, None, None, False)
            task_id = tasks.make_task(at, class_id, words)
            criteria = marking.desk(at, task_id).criteria
            for student in students:
                attempt = tasks.begin_attempt(db, at, task_id, student)
                mark = marks.begin_mark(db, attempt, at.now)
                for stored in criteria:
                    level = luck.choice(stored.level_ids)
                    marks.append_choice(
                        db, mark.id, stored.id, level, False, False, at.now, at.person_id
                    )
                marks.finish(db, mark.id, at.now)
    return class_id, students


def bench_wall(folder: Path) -> None:
    """The wall's answer over HTTP, against the SELECT that fetches its choices."""
    database = Database(folder / "jade-ladder.sqlite3")
    class_id, students = fill(database)
    token = people.begin_session(database, 1, datetime.now(UTC))
    server = subprocess.Popen(
        [sys.executable, "-m", "jade_ladder", "serve", "--port", "0", "--data", str(folder)],
        stdout=subprocess.PIPE,
        text=True,
    )
    try:
        assert server.stdout is not None
        address = server.stdout.readline().strip().rsplit("/", 1)[1]
        connection = http.client.HTTPConnection(address)
        headers = {"cookie": f"jade_ladder_session={token}"}

        def answer() -> None:
            connection.request("GET", f"/api/classes/{class_id}/mastery", headers=headers)
            body = connection.getresponse().read()
            assert len(json.loads(body)["value"]) == STUDENTS * OUTCOMES

        def select() -> None:
            with database.reading() as db:
                rows = db.execute(CHOICES_SQL, (json.dumps(students),)).fetchall()
            assert len(rows) == STUDENTS * OUTCOMES * PIECES

        pairs = [(timed(answer), timed(select)) for _ in range(15)]
    finally:
        server.terminate()
        server.wait()
        database.close()
    own, bare = (median(pair[which] for pair in pairs) for which in (0, 1))
    print(f"wall, {STUDENTS} × {OUTCOMES} × {PIECES}: answer {own * 1000:.0f} ms, ", end="")
    print(f"bare SELECT {bare * 1000:.0f} ms\n  ratio {own / bare:.1f} (at or under 4)")


def bench_framework(folder: Path) -> None:
    """A CASE package of 5,000 items: read, compared and applied, against reading its JSON and
    inserting the same rows.
    """
    luck = random.Random(3)
    strands = tuple(FrameworkStrand(str(UUID(int=n + 1)), f"Strand {n}") for n in range(50))
    items = tuple(
        FrameworkOutcome(
            str(UUID(int=n + 1000)),
            f"S{n}",
            f"I can do what number {n} says, and say why it is so",
            "Said at more length, with what it is not. " * luck.randrange(4),
            luck.choice(strands).guid,
        )
        for n in range(ITEMS - len(strands))
    )
    now = datetime.now(UTC)
    content = write_framework(Framework("d", "Bench", "Bench", strands, items), now)
    times = [framework_run(folder / f"framework{run}.sqlite3", content, now) for run in range(5)]
    own, other = (median(run[which] for run in times) for which in (0, 1))
    print(f"CASE, {ITEMS:,} items: compared and applied {own * 1000:.0f} ms, ", end="")
    print(f"json and executemany {other * 1000:.0f} ms\n  ratio {own / other:.1f} (at or under 6)")


def framework_run(path: Path, content: bytes, now: datetime) -> tuple[float, float]:
    """Time both ways once, on a database of their own."""
    database = Database(path)
    teacher = people.NewTeacher("Bench", "Mark", "bench@tern.example", "a long password")
    caller = Caller(database, people.make_first_teacher(database, "S", "UTC", teacher), now)
    class_id = classes.make_class(caller, "Bench", now.date(), now.date() + timedelta(300))

    def ours() -> None:
        compare_framework(caller, class_id, read_framework(content))
        bring_in_framework(caller, class_id, read_framework(content))

    own = timed(ours)
    tables = ("strand", "outcome", "class_outcome")
    with database.reading() as db:
        rows = {name: db.execute(f"SELECT * FROM {name}").fetchall() for name in tables}
    with database.deed() as db:
        for name in reversed(tables):
            db.execute(f"DELETE FROM {name}")

    def bare() -> None:
        json.loads(content)
        with database.deed() as db:
            for name, of_table in rows.items():
                places = ", ".join("?" * len(of_table[0]))
                db.executemany(f"INSERT INTO {name} VALUES ({places})", of_table)

    both = own, timed(bare)
    database.close()
    return both


def bench_editor(folder: Path) -> None:
    """From a key press to the painted character, in a rubric of 12 criteria with 6 levels."""
    server = Server(folder / "editor", "demo")
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
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(**launch_options())
        page = browser.new_page(base_url=server.url)
        assert page.request.post("/api/session/demo", data={"person_id": 1}).ok
        number = page.request.post("/api/rubrics", data={"title": "Bench"}).json()["id"]
        body = {"version": 1, "title": "Bench", "criteria": criteria}
        assert page.request.put(f"/api/rubrics/{number}", data=body).ok
        page.goto(f"/classes/1/rubrics/{number}")
        page.get_by_label("Descriptor of Level 3").nth(6).click()
        page.evaluate(PAINTED)
        page.keyboard.type("What a key press costs while a whole rubric is open. " * 3, delay=40)
        times = sorted(page.evaluate("() => window.painted"))
        browser.close()
    server.stop()
    p95 = times[len(times) * 95 // 100]
    print(f"rubric editor, 12 × 6, key to paint: median {median(times):.0f} ms, ", end="")
    print(f"p95 {p95:.0f} ms (at or under 50)")


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


def timed(act: Callable[[], None]) -> float:
    """Give how long an act takes, in seconds."""
    began = time.perf_counter()
    act()
    return time.perf_counter() - began


def bench_pages() -> None:
    """The gzipped JavaScript of a page: its chunks and all they import at once."""
    manifest = json.loads((STATIC / ".vite" / "manifest.json").read_text())
    pages = {
        "sign-in": ["index.html", "src/app/SignIn.vue"],
        "wall": ["index.html", "src/app/Shell.vue", "src/features/mastery/Wall.vue"],
    }
    for page, entries in pages.items():
        files: set[str] = set()
        waiting = list(entries)
        while waiting:
            chunk = manifest[waiting.pop()]
            if chunk["file"] not in files:
                files.add(chunk["file"])
                waiting += chunk.get("imports", [])
        size = sum(len(gzip.compress((STATIC / name).read_bytes())) for name in files)
        limit = " (at or under 250)" if page == "wall" else ""
        print(f"JavaScript for {page}: {size / 1000:.0f} kB gzipped{limit}")


def main() -> None:
    """Run all of them."""
    with tempfile.TemporaryDirectory() as folder:
        bench_calculate(Path(folder))
        bench_wall(Path(folder))
        bench_framework(Path(folder))
        bench_editor(Path(folder))
    bench_pages()


if __name__ == "__main__":
    main()
