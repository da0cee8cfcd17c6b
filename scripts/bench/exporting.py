"""A large class as a workbook: how long it takes, and how much memory it needs above the start."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

from scripts.bench.class_of_40 import LARGE, fill

from jade_ladder.store.shared.connection import Database

# In a process of its own, whose memory is measured from when all is imported and opened.
_MADE = r"""
import re, sys, time
from datetime import UTC, datetime
from pathlib import Path
from jade_ladder.formats.exported.table import Export
from jade_ladder.formats.exported.writing import Form, write_export
from jade_ladder.service.reports.exports import class_export
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.store.shared.connection import Database
from zoneinfo import ZoneInfo
ZoneInfo("UTC")
folder, which, form = Path(sys.argv[1]), sys.argv[2], Form(sys.argv[3])
caller = Teacher(Database(folder / "jade-ladder.sqlite3", read_only=True), 1, clock.now())
with caller.reading() as db:
    db.execute("SELECT count(*) FROM school").fetchone()
def peak():
    return int(re.search(r"VmHWM:\s+(\d+)", Path("/proc/self/status").read_text())[1])
start, begun = peak(), time.perf_counter()
with class_export(caller, 1) as export:
    tables = [one for one in export.tables if which in ("all", one.name)]
    with (folder / f"out.{form}").open("wb") as target:
        write_export(Export(export.title, export.day, tuple(tables)), form, target)
print(time.perf_counter() - begun, (peak() - start) / 1024)
"""


def bench_export(folder: Path) -> None:
    """Fill a large class, and write its evidence, and all of it."""
    database = Database(folder / "jade-ladder.sqlite3")
    fill(database, *LARGE)
    database.close()
    there, across, pieces = LARGE
    print(f"export, {there} × {across} × {pieces}:")
    for which, form in (("Evidence", "xlsx"), ("all", "xlsx"), ("all", "zip")):
        command = [sys.executable, "-c", _MADE, str(folder), which, form]
        said = subprocess.run(command, check=True, capture_output=True, text=True).stdout
        seconds, memory = map(float, said.split())
        size = (folder / f"out.{form}").stat().st_size / 1_000_000
        print(f"  {which}, {form}: {seconds:.1f} s, {size:.1f} MB, ", end="")
        print(f"memory +{memory:.0f} MB (at or under 60)")
