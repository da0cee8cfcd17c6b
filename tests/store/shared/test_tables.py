"""What is said of each table in docs/tables.md is so."""

from __future__ import annotations

import re
import sqlite3
from contextlib import closing
from datetime import date
from pathlib import Path

import pytest

from jade_ladder.formats.files.kind import FileKind
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work.next_class import NextClass, copy_class
from jade_ladder.store.files import files
from jade_ladder.store.shared import verify
from jade_ladder.store.shared.connection import Database
from tests.walk.asking import FILE
from tests.walk.school import MEI, START, make_school

DOCUMENT = Path(__file__).parents[3] / "docs/tables.md"
HEAD = ["table", "goes with", "ends otherwise", "verified", "copied", "exported", "seen by"]


def said() -> dict[str, dict[str, str]]:
    """What the document says, by table and column."""
    rows = [
        [cell.strip() for cell in line.strip("|").split("|")]
        for line in DOCUMENT.read_text("utf-8").splitlines()
        if line.startswith("|")
    ]
    assert rows[0] == HEAD
    assert all(len(row) == len(HEAD) and all(row) for row in rows)
    return {row[0].strip("`"): dict(zip(HEAD, row, strict=True)) for row in rows[2:]}


SAID = said()


@pytest.fixture
def schema(database: Database) -> sqlite3.Connection:
    with database.looking() as db:
        return db


def tables(db: sqlite3.Connection) -> set[str]:
    return {
        name
        for (name,) in db.execute("SELECT name FROM sqlite_schema WHERE type = 'table'")
        if not name.startswith("sqlite_")
    }


def test_each_table_has_a_row(schema: sqlite3.Connection) -> None:
    assert sorted(SAID) == list(SAID)
    assert set(SAID) == tables(schema)


def test_each_goes_with_what_the_schema_says(schema: sqlite3.Connection) -> None:
    """By a reference that is deleted with it, or by a trigger."""
    goes: dict[str, set[str]] = {name: set() for name in SAID}
    for name in SAID:
        for row in schema.execute(f"PRAGMA foreign_key_list({name})"):
            if row[6] == "CASCADE":
                goes[name].add(row[2])
    for sql in schema.execute("SELECT sql FROM sqlite_schema WHERE type = 'trigger'").fetchall():
        if found := re.search(r"AFTER DELETE ON (\w+)\b.*?\bDELETE FROM (\w+)", sql[0], re.DOTALL):
            goes[found[2]].add(found[1])
    in_words = {name: set(re.findall(r"`(\w+)`", SAID[name]["goes with"])) for name in SAID}
    assert in_words == goes


def test_what_is_verified_is_looked_at() -> None:
    checks = Path(verify.__file__).read_text("utf-8")
    looked_at = {name for name in SAID if re.search(rf"\b(FROM|JOIN) {name}\b", checks)}
    # The evidence is worked out anew and compared.
    assert {name for name in SAID if SAID[name]["verified"] == "yes"} <= looked_at | {"evidence"}


def test_no_file_is_swept_that_a_table_names(schema: sqlite3.Connection) -> None:
    """But what is made of a file, which goes with it."""
    naming = {
        (name, row[3])
        for name in SAID
        for row in schema.execute(f"PRAGMA foreign_key_list({name})")
        if row[2] == "file" and row[6] != "CASCADE"
    }
    swept = Path(files.__file__).read_text("utf-8")
    assert naming == set(
        re.findall(r"NOT EXISTS \(SELECT 1 FROM (\w+) p WHERE p\.(\w+) = file\.id", swept)
    )


def test_a_class_that_goes_on_takes_along_what_is_copied(tmp_path: Path) -> None:
    folder = make_school(tmp_path / "school")
    with closing(Database(folder / FILE)) as database:
        mei = Teacher(database, MEI, START)

        def sizes() -> dict[str, int]:
            with database.reading() as db:
                return {
                    name: db.execute(f"SELECT count(*) FROM {name}").fetchone()[0] for name in SAID
                }

        with database.transaction() as db:
            (task,) = db.execute("SELECT id FROM task WHERE class_id = 1").fetchone()
            kept = files.add_file(db, "b", 1, FileKind.TEXT, "text/plain", START)
            db.execute(
                """INSERT INTO task_file (task_id, name, file_id, sent_hash, starting, added_at,
                                          added_by) VALUES (?, 'a', ?, 'b', 0, ?, ?)""",
                (task, kept.id, START, MEI),
            )
        before = sizes()
        year = (date(START.year + 1, 1, 1), date(START.year + 1, 12, 1))
        copy_class(mei, 1, NextClass("Chart Room, next", *year, students=True, tasks=True))
        grown = {name for name, count in sizes().items() if count > before[name]}
    copied = {name for name in SAID if SAID[name]["copied"] == "yes"}
    assert grown - {"log", "evidence_stamp"} == copied
