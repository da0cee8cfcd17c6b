"""calculate, a million rows: the whole process against a pandas script for the same work."""

from __future__ import annotations

import random
import subprocess
import sys
import time
from datetime import date, timedelta
from pathlib import Path
from statistics import median

ROWS = 1_000_000

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
        runs = [(seconds(ours), seconds(theirs)) for _ in range(5)]
        own, other = (median(run[which][0] for run in runs) for which in (0, 1))
        ratio = median(run[0][0] / run[1][0] for run in runs)
        memory = max(run[0][1] for run in runs)
        limit = " (at or under 0.65)" if name == "exact" else ""
        print(f"calculate, {ROWS:,} rows: {own:.2f} s, pandas {name} {other:.2f} s")
        print(f"  ratio {ratio:.2f}{limit}, peak {memory:.0f} MB (under 300)")
        if name == "exact":
            results = [set((folder / f).read_text().split()) for f in ("ours.csv", "theirs.csv")]
            assert results[0] == results[1], "pandas and jade-ladder give the same, to the digit"
