"""A CASE package of 5,000 items, against reading its JSON and inserting the same rows."""

from __future__ import annotations

import json
import random
from datetime import datetime, timedelta
from pathlib import Path
from statistics import median
from uuid import UUID

from scripts.bench.timing import timed

from jade_ladder.formats.case import Framework, FrameworkOutcome, FrameworkStrand
from jade_ladder.formats.case_in import read_framework
from jade_ladder.formats.case_out import write_framework
from jade_ladder.outside import clock
from jade_ladder.service.classes import classes
from jade_ladder.service.exchange.framework_import import import_framework
from jade_ladder.service.exchange.frameworks import compare_framework
from jade_ladder.service.people import accounts
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.store.shared.connection import Database

ITEMS = 5_000


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
    now = clock.now()
    content = write_framework(Framework("d", "Bench", "Bench", strands, items), now)
    times = [framework_run(folder / f"framework{run}.sqlite3", content, now) for run in range(5)]
    own, other = (median(run[which] for run in times) for which in (0, 1))
    print(f"CASE, {ITEMS:,} items: compared and applied {own * 1000:.0f} ms, ", end="")
    print(f"json and executemany {other * 1000:.0f} ms\n  ratio {own / other:.1f} (at or under 6)")


def framework_run(path: Path, content: bytes, now: datetime) -> tuple[float, float]:
    """Time both ways once, on a database of their own."""
    database = Database(path)
    teacher = accounts.NewTeacher("Bench", "Mark", "bench@tern.example", "a long password")
    caller = Teacher(database, accounts.make_first_teacher(database, "S", "UTC", teacher), now)
    class_id = classes.make_class(caller, "Bench", now.date(), now.date() + timedelta(300))

    def ours() -> None:
        compare_framework(caller, class_id, read_framework(content))
        import_framework(caller, class_id, read_framework(content))

    own = timed(ours)
    tables = ("strand", "outcome", "class_outcome")
    with database.reading() as db:
        rows = {name: db.execute(f"SELECT * FROM {name}").fetchall() for name in tables}
    with database.transaction() as db:
        for name in reversed(tables):
            db.execute(f"DELETE FROM {name}")

    def bare() -> None:
        json.loads(content)
        with database.transaction() as db:
            for name, of_table in rows.items():
                places = ", ".join("?" * len(of_table[0]))
                db.executemany(f"INSERT INTO {name} VALUES ({places})", of_table)

    both = own, timed(bare)
    database.close()
    return both
