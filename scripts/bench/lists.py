"""A class list of 5,000 lines, by text and as a spreadsheet, against the bare libraries."""

from __future__ import annotations

import csv
import io
from datetime import timedelta
from pathlib import Path
from statistics import median

import openpyxl
from scripts.bench.timing import timed

from jade_ladder.formats.spreadsheet import read_sheet
from jade_ladder.formats.table import read_table
from jade_ladder.outside import clock
from jade_ladder.service.classes import class_list, classes
from jade_ladder.service.people import accounts
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.store.shared.connection import Database

LINES = 5_000
HEADINGS = ("Nachname", "Rufname", "Matrikel", "E-Mail")


def bench_lists(folder: Path) -> None:
    """A class list previewed and imported, against csv and executemany of the same rows; and a
    spreadsheet of it read, against openpyxl alone.
    """
    rows = [(f"Family {n}", f"Given {n}", f"S{n}", f"s{n}@tern.example") for n in range(LINES)]
    text = "\n".join(";".join(row) for row in (HEADINGS, *rows))
    times = [list_run(folder / f"list{run}.sqlite3", text) for run in range(5)]
    own, other = (median(run[which] for run in times) for which in (0, 1))
    print(f"class list, {LINES:,} lines: previewed and imported {own * 1000:.0f} ms, ", end="")
    print(f"csv and executemany {other * 1000:.0f} ms\n  ratio {own / other:.1f} (at or under 4)")
    book = openpyxl.Workbook(write_only=True)
    sheet = book.create_sheet("List")
    for row in (HEADINGS, *rows):
        sheet.append(row)
    out = io.BytesIO()
    book.save(out)
    content = out.getvalue()

    def bare() -> None:
        loaded = openpyxl.load_workbook(io.BytesIO(content), read_only=True, data_only=True)
        for line in loaded.worksheets[0].iter_rows(values_only=True):
            assert line

    pairs = [(timed(lambda: (read_sheet(content), None)[1]), timed(bare)) for _ in range(5)]
    ratio = median(own / other for own, other in pairs)
    print(f"  as a spreadsheet, read over openpyxl alone: ratio {ratio:.2f} (at or under 1.3)")


def list_run(path: Path, text: str) -> tuple[float, float]:
    """Time both ways once, on a database of their own."""
    database = Database(path)
    teacher = accounts.NewTeacher("Bench", "Mark", "bench@tern.example", "a long password")
    now = clock.now()
    caller = Teacher(database, accounts.make_first_teacher(database, "S", "UTC", teacher), now)
    class_id = classes.make_class(caller, "Bench", now.date(), now.date() + timedelta(300))

    def ours() -> None:
        class_list.preview_class_list(caller, class_id, read_table(text))
        class_list.import_class_list(caller, class_id, read_table(text))

    own = timed(ours)
    with database.transaction() as db:
        people = "SELECT person_id FROM membership WHERE role = 'student'"
        db.execute("CREATE TEMP TABLE gone AS " + people)
        db.execute("DELETE FROM membership WHERE role = 'student'")
        db.execute("DELETE FROM person WHERE id IN (SELECT person_id FROM gone)")

    def bare() -> None:
        lines = list(csv.reader(io.StringIO(text), delimiter=";"))[1:]
        with database.transaction() as db:
            before = db.execute("SELECT max(id) FROM person").fetchone()[0]
            db.executemany(
                "INSERT INTO person (family_name, given_name, identifier, email) VALUES (?,?,?,?)",
                lines,
            )
            db.executemany(
                "INSERT INTO membership (class_id, person_id, role, since) VALUES (?,?,?,?)",
                (
                    (class_id, before + n, "student", now.date().isoformat())
                    for n in range(1, len(lines) + 1)
                ),
            )

    both = own, timed(bare)
    database.close()
    return both
