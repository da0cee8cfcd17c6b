"""A whole school's mastery from its database, against pandas that reads the same database; and how
long one new mark takes to the new wall.
"""

from __future__ import annotations

import subprocess
import sys
import time
from pathlib import Path
from statistics import median

from scripts.bench.class_of_40 import LARGE, OUTCOMES, PIECES, STUDENTS, fill

from jade_ladder.outside import clock
from jade_ladder.service.marking import desk, saving
from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.mastery.wall import wall
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.store.shared.connection import Database
from jade_ladder.web.mastery.wall import WallOut

SCHOOL = 2_000, 50, 10
"""Students, outcomes, and pieces of each: a million."""


# Each in a process of its own; both print a check sum, their seconds, and the memory they took.
_MEMORY = """
import re
from pathlib import Path
def peak():
    return int(re.search(r"VmHWM:\\s+(\\d+)", Path("/proc/self/status").read_text())[1]) / 1024
"""
_OWN = f"""{_MEMORY}
import gc, sys, time
from datetime import UTC, datetime
from jade_ladder.service.reports.mastery_tables import ClassStanding
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.store.shared.connection import Database
from jade_ladder.web.shared.heavy import SELDOM
gc.freeze()
gc.set_threshold(SELDOM)
begun = time.perf_counter()
caller = Teacher(Database(Path(sys.argv[1]), read_only=True), 1, clock.now())
with caller.reading():
    standing = ClassStanding.load(caller, 1, None)
total = sum(cell.mastery.value for row in standing.cells for cell in row)
print(total, time.perf_counter() - begun, peak())
"""
_PANDAS = f"""{_MEMORY}
import sqlite3, sys, time
import numpy as np
import pandas as pd
begun = time.perf_counter()
rows = pd.read_sql_query(
    "SELECT student_id, outcome_id, done_at, finished_at, source_id, value FROM evidence",
    sqlite3.connect(sys.argv[1]),
)
place = ["student_id", "outcome_id"]
rows = rows.sort_values([*place, "done_at", "finished_at", "source_id"])
groups = rows.groupby(place, sort=False)
# The value after every piece, half up; in binary floats, so that last digits can be wrong.
running = groups["value"].ewm(alpha=0.6, adjust=False).mean().to_numpy()
rows["running"] = np.floor(running + 0.5).astype(int)
cuts, cut, step = [100, 175, 275, 375], 275, 100
rows["mastered"] = rows["running"] >= cut
rows["level"] = np.maximum(np.searchsorted(cuts, rows["value"], side="right") - 1, 0)
# A point of the trail is the last piece of its time.
points = rows[~rows.duplicated([*place, "done_at"], keep="last")].groupby(place, sort=False)
last = points.tail(1).set_index(place)
before = points.nth(-2).set_index(place)["running"].reindex(last.index)
four = rows.groupby(place, sort=False).tail(4).groupby(place, sort=False)["level"]
cells = pd.DataFrame({{
    "value": last["running"],
    "level": np.maximum(np.searchsorted(cuts, last["running"], side="right") - 1, 0),
    "mastered": last["mastered"],
    "pieces": groups.size(),
    "direction": np.sign(last["running"] - before).fillna(0),
    "slipped": points["mastered"].any() & ~last["mastered"],
    "close": ~last["mastered"] & (2 * last["running"] >= 2 * cut - step),
    "thin": groups["source_id"].nunique() < 2,
    "swings": four.max() - four.min() >= 2,
}})
counts = cells.groupby(level=0)["mastered"].sum()
print(int(cells["value"].sum()), time.perf_counter() - begun, peak())
"""


def bench_school(folder: Path) -> None:
    """Fill a school of a million pieces, and work all of it out both ways."""
    path = folder / "jade-ladder.sqlite3"
    database = Database(path)
    fill(database, *SCHOOL)
    database.close()
    runs: dict[str, list[tuple[int, float, float]]] = {"own": [], "pandas": []}
    for _ in range(3):
        for name, program in (("own", _OWN), ("pandas", _PANDAS)):
            command = [sys.executable, "-c", program, str(path)]
            said = subprocess.run(command, check=True, capture_output=True, text=True).stdout
            total, seconds, memory = said.split()
            runs[name].append((int(total), float(seconds), float(memory)))
    own, other = (
        (runs[name][0][0], median(run[1] for run in runs[name]), max(run[2] for run in runs[name]))
        for name in ("own", "pandas")
    )
    # In binary floats a few of a hundred thousand last digits come out otherwise.
    assert abs(own[0] - other[0]) < 100, (own, other)
    ratio = median(a[1] / b[1] for a, b in zip(runs["own"], runs["pandas"], strict=True))
    there, across, pieces = SCHOOL
    print(f"a school, {there} × {across} × {pieces}: {own[1]:.1f} s, {own[2]:.0f} MB; ", end="")
    print(f"pandas {other[1]:.1f} s, {other[2]:.0f} MB")
    print(f"  ratio {ratio:.2f} (at or under 0.7)")


def bench_new_mark(folder: Path) -> None:
    """Mark one criterion anew, finish, and work the new wall out, in a small and a large class."""
    for sizes in ((STUDENTS, OUTCOMES, PIECES), LARGE):
        path = folder / f"{sizes[0]}.sqlite3"
        database = Database(path)
        class_id, members = fill(database, *sizes)
        caller = Teacher(database, 1, clock.now())
        with caller.reading() as db:
            (task_id,) = db.execute("SELECT max(id) FROM task").fetchone()
        stored = desk.desk(caller, task_id).criteria[0]
        begun = time.perf_counter()
        WallOut.of(wall(caller, class_id)).model_dump_json()
        first = time.perf_counter() - begun
        saves, walls = [], []
        for at in range(8):
            begun = time.perf_counter()
            choice = Choice(stored.level_ids[at % 4])
            saving.choose(caller, task_id, members[0], stored.id, choice, 10_000)
            saving.finish(caller, task_id, members[0])
            saved = time.perf_counter()
            WallOut.of(wall(caller, class_id)).model_dump_json()
            saves.append(saved - begun)
            walls.append(time.perf_counter() - saved)
        database.close()
        title = f"one new mark, {' × '.join(map(str, sizes))}"
        print(f"{title}: saved {median(saves) * 1000:.0f} ms, ", end="")
        print(f"the new wall {median(walls) * 1000:.0f} ms (the first {first * 1000:.0f})")
