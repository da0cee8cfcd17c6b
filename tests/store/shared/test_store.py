"""The database: migrations, transactions, and what an operation leaves behind when it fails."""

from __future__ import annotations

import sqlite3
import threading
from datetime import UTC, datetime, timedelta, timezone
from pathlib import Path

import pytest

from jade_ladder.core.errors import StoreError
from jade_ladder.store.shared import migrations
from jade_ladder.store.shared.connection import Database, write_time


def test_every_table_is_strict_and_nothing_is_real(database: Database) -> None:
    with database.reading() as db:
        tables = db.execute("SELECT name, strict FROM pragma_table_list WHERE type = 'table'")
        ours = [(name, strict) for name, strict in tables if not name.startswith("sqlite_")]
        assert len(ours) > 15
        assert all(strict for _, strict in ours)
        kinds = db.execute(
            """SELECT DISTINCT c.type FROM pragma_table_list t, pragma_table_info(t.name) c
               WHERE t.type = 'table' AND t.name NOT LIKE 'sqlite_%'"""
        ).fetchall()
    assert {kind for (kind,) in kinds} == {"INTEGER", "TEXT"}


def test_foreign_keys_hold(database: Database) -> None:
    with pytest.raises(sqlite3.IntegrityError), database.transaction() as db:
        db.execute("INSERT INTO outcome (guid, scale_id, code, title) VALUES ('g', 99, 'c', 't')")


def test_migrating_again_changes_nothing(database: Database) -> None:
    with database.reading() as db:
        before = db.execute("SELECT sql FROM sqlite_master").fetchall()
    database.close()
    again = Database(database.path)
    with again.reading() as db:
        assert db.execute("SELECT sql FROM sqlite_master").fetchall() == before
    again.close()


def test_a_database_of_a_newer_program_is_refused_and_left_alone(tmp_path: Path) -> None:
    path = tmp_path / "newer.sqlite3"
    with sqlite3.connect(path) as db:
        db.execute("PRAGMA user_version = 999")
        db.execute("CREATE TABLE of_the_future (id INTEGER)")
    db.close()
    with pytest.raises(StoreError, match="version 999, written by a newer"):
        Database(path)
    with sqlite3.connect(path) as db:
        assert db.execute("SELECT count(*) FROM sqlite_master").fetchone() == (1,)
    db.close()


def test_a_file_that_is_no_database_is_refused(tmp_path: Path) -> None:
    path = tmp_path / "letter.txt"
    path.write_text("Dear colleague, " * 100)
    with pytest.raises(StoreError, match="cannot be used"):
        Database(path)


def test_a_broken_migration_is_undone_with_the_record_of_it(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    known = migrations.known_migrations()
    broken = [*known, (len(known) + 1, "CREATE TABLE half (id INTEGER);\nCREATE NONSENSE;\n")]
    path = tmp_path / "half.sqlite3"
    Database(path).close()
    monkeypatch.setattr(migrations, "known_migrations", lambda: broken)
    with pytest.raises(StoreError):
        Database(path)
    with sqlite3.connect(path) as db:
        assert db.execute("PRAGMA user_version").fetchone() == (len(known),)
        assert db.execute("SELECT 1 FROM sqlite_master WHERE name = 'half'").fetchone() is None
    db.close()


def add(db: sqlite3.Connection, title: str) -> None:
    db.execute("INSERT INTO strand (title, position) VALUES (?, 1)", (title,))


def titles(database: Database) -> list[str]:
    """Look from a second connection, as another process would."""
    with sqlite3.connect(database.path) as db:
        found = [title for (title,) in db.execute("SELECT title FROM strand ORDER BY id")]
    db.close()
    return found


def test_an_operation_is_all_done_or_not_done(database: Database) -> None:
    with pytest.raises(RuntimeError, match="midway"), database.transaction() as db:
        add(db, "first")
        assert titles(database) == []
        raise RuntimeError("midway")
    assert titles(database) == []
    with database.transaction() as db:
        add(db, "second")
    assert titles(database) == ["second"]


def test_an_operation_within_one_can_fail_alone(database: Database) -> None:
    with database.transaction() as db:
        add(db, "outer")
        with pytest.raises(RuntimeError), database.transaction() as inner:
            add(inner, "inner")
            raise RuntimeError
        with database.transaction() as inner:
            add(inner, "kept")
    assert titles(database) == ["outer", "kept"]


def test_reading_sees_one_moment(database: Database) -> None:
    with database.reading() as db:
        before = db.execute("SELECT count(*) FROM strand").fetchone()
        writer = threading.Thread(target=lambda: write(database))
        writer.start()
        writer.join()
        assert db.execute("SELECT count(*) FROM strand").fetchone() == before
    assert titles(database) == ["from another thread"]


def write(database: Database) -> None:
    with database.transaction() as db:
        add(db, "from another thread")


def test_times_sort_as_text_whatever_zone_they_came_in() -> None:
    base = datetime(2026, 11, 25, 12, 0, tzinfo=UTC)
    moments = [base, base + timedelta(microseconds=1), base + timedelta(seconds=1)]
    elsewhere = [one.astimezone(timezone(timedelta(hours=13))) for one in moments]
    written = [write_time(one) for one in elsewhere]
    assert written == sorted(written)
    assert [datetime.fromisoformat(text) for text in written] == moments
