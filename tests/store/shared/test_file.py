"""The database's file: who reads it, what stands in its place, backups, and whether it is whole."""

from __future__ import annotations

import os
import sqlite3
import stat
import subprocess
import sys
import threading
from collections.abc import Callable
from datetime import datetime
from pathlib import Path

import pytest

from jade_ladder.core.errors import StoreError, Unavailable
from jade_ladder.store.shared import verify
from jade_ladder.store.shared.backup import back_up, in_use, restore
from jade_ladder.store.shared.connection import Database
from jade_ladder.store.shared.file import FILE_NAME
from jade_ladder.store.shared.turns import Turns
from tests.builders import Small, everything, small

NOW = datetime(2026, 11, 25, 12, 0)


def mode(path: Path) -> int:
    return stat.S_IMODE(path.stat().st_mode)


def test_nobody_else_can_read_the_data(tmp_path: Path) -> None:
    database = Database.in_folder(tmp_path / "school")
    with database.transaction() as db:
        db.execute("INSERT INTO strand (title, position) VALUES ('x', 1)")
    assert mode(tmp_path / "school") == 0o700
    files = list((tmp_path / "school").iterdir())
    assert {mode(path) for path in files} == {0o600}
    database.close()
    # What an earlier version left open is closed at the next start.
    path = tmp_path / "school" / FILE_NAME
    path.chmod(0o644)
    path.parent.chmod(0o755)
    Database.in_folder(tmp_path / "school").close()
    assert (mode(path), mode(path.parent)) == (0o600, 0o700)


def test_a_folder_that_holds_other_things_is_left_as_it_is(tmp_path: Path) -> None:
    tmp_path.chmod(0o755)
    (tmp_path / "letter.txt").write_text("Dear colleague")
    Database.in_folder(tmp_path).close()
    assert mode(tmp_path) == 0o755
    assert mode(tmp_path / FILE_NAME) == 0o600


def foreign(path: Path) -> None:
    with sqlite3.connect(path) as db:
        db.execute("CREATE TABLE theirs (id INTEGER)")
        db.execute("PRAGMA application_id = 7")
    db.close()


IN_THE_WAY: dict[str, tuple[Callable[[Path], object], str]] = {
    "zero bytes": (lambda path: path.write_bytes(b""), "is empty"),
    "a letter": (lambda path: path.write_text("Dear colleague, " * 100), "not a database"),
    "another program's": (foreign, "of another program"),
    "a folder": (lambda path: path.mkdir(), "directory"),
    "a start of one": (
        lambda path: path.write_bytes(b"SQLite format 3\0" + b"x" * 9000),
        "program",
    ),
}


@pytest.mark.parametrize(("put", "says"), IN_THE_WAY.values(), ids=IN_THE_WAY)
def test_what_is_not_ours_is_refused_in_one_line_and_left_alone(
    tmp_path: Path, put: Callable[[Path], object], says: str
) -> None:
    path = tmp_path / FILE_NAME
    put(path)
    before = path.read_bytes() if path.is_file() else None
    with pytest.raises(StoreError, match=says) as refused:
        Database(path)
    assert "\n" not in str(refused.value)
    assert before is None or path.read_bytes() == before


def test_a_start_that_was_interrupted_leaves_nothing_and_the_next_one_begins_anew(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    def killed(*_: object) -> None:
        raise KeyboardInterrupt

    with monkeypatch.context() as during:
        during.setattr("jade_ladder.store.shared.connection.migrate", killed)
        with pytest.raises(KeyboardInterrupt):
            Database.in_folder(tmp_path)
    assert list(tmp_path.iterdir()) == []
    # A process that was killed could not clean up; a process that runs is left alone.
    left = tmp_path / f".{FILE_NAME}.999999.new"
    left.write_bytes(b"half")
    Database.in_folder(tmp_path).close()
    assert not left.exists()


@pytest.mark.parametrize("limit", [20_000, 200_000])
def test_a_disk_that_fills_up_is_one_line_at_the_start(tmp_path: Path, limit: int) -> None:
    code = (
        "import resource, signal, sys; signal.signal(signal.SIGXFSZ, signal.SIG_IGN);"
        f"resource.setrlimit(resource.RLIMIT_FSIZE, ({limit}, {limit}));"
        "from jade_ladder.cli import app; app()"
    )
    command = [sys.executable, "-c", code, "demo", "--port", "0", "--data", str(tmp_path / "d")]
    done = subprocess.run(command, capture_output=True, text=True, check=False, timeout=60)
    assert done.returncode == 1
    assert done.stderr.startswith("jade-ladder: ")
    assert done.stderr.count("\n") == 1, done.stderr


def test_a_full_disk_undoes_the_operation_and_says_so(database: Database) -> None:
    with database.transaction() as db:
        pages = db.execute("PRAGMA page_count").fetchone()[0]
        db.execute("INSERT INTO strand (title, position) VALUES ('kept', 1)")
    with database.reading() as db:
        db.execute(f"PRAGMA max_page_count = {pages:d}")
    for _ in range(2):
        with (
            pytest.raises(Unavailable, match="the disk is full") as refused,
            database.transaction() as db,
        ):
            db.execute("INSERT INTO strand (title, position) VALUES (?, 1)", ("x" * 500_000,))
        assert refused.value.retry_after > 0
    with database.transaction() as db:
        found = db.execute("SELECT title FROM strand").fetchall()
    assert found == [("kept",)]


def test_a_read_only_database_and_a_busy_one_say_so(
    database: Database, monkeypatch: pytest.MonkeyPatch
) -> None:
    reader = Database(database.path, read_only=True)
    with pytest.raises(Unavailable, match="read-only"), reader.transaction() as db:
        db.execute("INSERT INTO strand (title, position) VALUES ('x', 1)")
    reader.close()
    monkeypatch.setattr("jade_ladder.store.shared.connection.BUSY_SECONDS", 0.05)
    with sqlite3.connect(database.path, isolation_level=None) as other:
        other.execute("BEGIN IMMEDIATE")
        quick = Database.__new__(Database)
        quick.__dict__ |= {**database.__dict__, "_local": threading.local(), "_turns": Turns()}
        with pytest.raises(Unavailable, match="busy"), quick.transaction():
            pass
        other.execute("ROLLBACK")
    other.close()


def _waiting(turns: Turns) -> int:
    return sum(len(theirs) for theirs in turns._waiting.values())


def test_people_take_turns_and_each_ones_writes_go_in_their_order() -> None:
    """One person's flood holds another's write back by one of them at most."""
    turns, order = Turns(), []
    threads = []

    def write(whose: int | None, number: int) -> None:
        with turns.turn(20, whose):
            order.append((whose, number))

    with turns.turn(20, 9):
        for number, whose in enumerate([1, 1, 1, 1, 2, None, 1, 2]):
            threads.append(threading.Thread(target=write, args=(whose, number)))
            threads[-1].start()
            while _waiting(turns) <= number:
                pass
    for thread in threads:
        thread.join()
    assert order == [(1, 0), (2, 4), (None, 5), (1, 1), (2, 7), (1, 2), (1, 3), (1, 6)]


def test_writers_go_in_the_order_they_came(database: Database) -> None:
    turns, order = Turns(), []
    waiting = threading.Semaphore(0)

    def write(number: int) -> None:
        waiting.release()
        with turns.turn(10):
            order.append(number)

    with turns.turn(0):
        threads = []
        for number in range(20):
            thread = threading.Thread(target=write, args=(number,))
            thread.start()
            waiting.acquire()
            while _waiting(turns) <= number:
                pass
            threads.append(thread)
        with pytest.raises(Unavailable), turns.turn(0.01):
            pass
    for thread in threads:
        thread.join()
    assert order == list(range(20))
    with turns.turn(0):
        pass


def test_a_preview_holds_no_lock_that_a_save_waits_for(database: Database) -> None:
    with database.reading() as db:
        db.execute("SELECT count(*) FROM strand").fetchone()
        done = threading.Event()

        def save() -> None:
            with database.transaction() as own:
                own.execute("INSERT INTO strand (title, position) VALUES ('x', 1)")
            done.set()

        thread = threading.Thread(target=save)
        thread.start()
        assert done.wait(5)
        thread.join()


def test_a_backup_is_made_while_others_save_and_is_put_back(caller_made: Small) -> None:
    made = caller_made
    database = made.caller.database
    made.mark(made.students[0], 3, 3)
    stop = threading.Event()

    def saving() -> None:
        level = 0
        while not stop.is_set():
            level = level % 4 + 1
            made.mark(made.students[1], level, level)

    thread = threading.Thread(target=saving)
    thread.start()
    copy = database.path.with_name("copy.sqlite3")
    back_up(database, copy)
    stop.set()
    thread.join()
    assert verify.faults(copy) == []
    assert mode(copy) == 0o600
    with pytest.raises(StoreError, match="is there already"):
        back_up(database, copy)
    was = everything(database)
    database.close()
    with in_use(database.path), pytest.raises(StoreError, match="A server runs"):
        restore(copy, database.path, NOW)
    aside = restore(copy, database.path, NOW)
    assert aside is not None
    kept, put = Database(aside), Database(database.path)
    assert everything(kept) == was
    with sqlite3.connect(copy) as db:
        assert "\n".join(db.iterdump()) == everything(put)
    db.close()
    kept.close()
    put.close()
    assert not list(database.path.parent.glob(".*.new"))


@pytest.fixture
def caller_made(caller: object) -> Small:
    return small(caller)  # type: ignore[arg-type]


def test_what_is_not_whole_is_not_put_back(tmp_path: Path, caller_made: Small) -> None:
    database = caller_made.caller.database
    before = everything(database)
    database.close()
    bad = tmp_path / "bad.sqlite3"
    bad.write_bytes(database.path.read_bytes()[:30_000])
    for source in (bad, tmp_path / "none.sqlite3"):
        with pytest.raises(StoreError):
            restore(source, database.path, NOW)
    assert everything(Database(database.path)) == before


FAULTS = {
    "UPDATE mark SET finished_version = version + 1": "counting version",
    "UPDATE mark SET version = 0": "version that its mark has not",
    "UPDATE mark_choice SET until_version = since_version": "version that its mark has not",
    "UPDATE mark_choice SET until_version = NULL, criterion_id = 1": "two choices stand",
    "UPDATE mark_choice SET not_assessed = 1": "a level and not assessed",
    "UPDATE mark SET version = version + 1": "a version of a mark is missing",
    "DELETE FROM alignment_cell WHERE level_id = 1": "one cell for each level",
    "UPDATE alignment_cell SET value = 17": "follows a level",
    "UPDATE attempt SET number = 2": "numbered from 1",
    "UPDATE attempt SET done_at = '26-11-20T10:00:00.000000+00:00'": "not written in full",
    "UPDATE outcome SET scale_id = 99": "refers to nothing in scale",
}


@pytest.mark.parametrize(("damage", "says"), FAULTS.items(), ids=FAULTS.values())
def test_every_kind_of_damage_is_found(caller_made: Small, damage: str, says: str) -> None:
    made = caller_made
    made.mark(made.students[0], 3, 3)
    path = made.caller.database.path
    assert verify.faults(path) == []
    with sqlite3.connect(path) as db:
        db.execute("PRAGMA ignore_check_constraints = ON")
        db.execute(damage)
    db.close()
    found = verify.faults(path)
    assert any(says in fault for fault in found), found


def test_a_page_that_is_damaged_is_found(caller_made: Small) -> None:
    path = caller_made.caller.database.path
    caller_made.caller.database.close()
    content = bytearray(path.read_bytes())
    content[3 * 4096 : 3 * 4096 + 2000] = os.urandom(2000)
    path.write_bytes(content)
    assert verify.faults(path)


def test_rows_of_a_year_typed_with_two_digits_are_mended(tmp_path: Path) -> None:
    """A database of the version before: due and done in the year 26, which took the class down."""
    from jade_ladder.store.shared import migrations

    path = tmp_path / "old.sqlite3"
    with sqlite3.connect(path, isolation_level=None) as db:
        for number, sql in migrations.known_migrations()[:6]:
            db.executescript(sql)
            db.execute(f"PRAGMA user_version = {number}")
        db.executescript(
            """INSERT INTO person (id, given_name, family_name) VALUES (1, 'Ada', 'Berg');
               INSERT INTO scale (id, name, mastery) VALUES (1, 'S', 0);
               INSERT INTO school_class (id, name, first_day, last_day, scale_id, method, newest,
                                         last) VALUES (1, 'C', '2026-09-01', '2027-06-30', 1,
                                                       'latest', 60, 3);
               INSERT INTO rubric (id, owner_id, title, changed_at) VALUES (1, 1, 'R', '2026');
               INSERT INTO revision (id, rubric_id, number) VALUES (1, 1, 1);
               INSERT INTO task (id, class_id, revision_id, title, kind, due_at, made_at)
               VALUES (1, 1, 1, 'two', 'handed-in', '26-11-20T10:00:00.000000+00:00', '2026-11-01'),
                      (2, 1, 1, 'three', 'handed-in', '202-11-20T10:00:00.000000+00:00', '2026'),
                      (3, 1, 1, 'padded', 'observed', '0026-11-20T10:00:00.000000+00:00', '2026'),
                      (4, 1, 1, 'right', 'handed-in', '2026-11-20T10:00:00.000000+00:00', '2026'),
                      (5, 1, 1, 'none', 'handed-in', NULL, '2026');
               INSERT INTO task_student (id, task_id, student_id)
               VALUES (1, 1, 1), (2, 2, 1), (3, 3, 1);
               INSERT INTO attempt (task_student_id, number, done_at)
               VALUES (1, 1, '6-11-20T10:00:00.000000+00:00'),
                      (2, 1, '206-11-20T10:00:00.000000+00:00'),
                      (3, 1, '2026-11-21T10:00:00.000000+00:00');
               INSERT INTO mark (attempt_id, changed_at) VALUES (2, '2026-11-22T10:00:00+00:00');"""
        )
    db.close()
    database = Database(path)
    with database.reading() as db:
        due = [row[0] for row in db.execute("SELECT due_at FROM task ORDER BY id")]
        done = db.execute("SELECT done_at, dating FROM attempt ORDER BY id").fetchall()
    database.close()
    assert due == [
        "2026-11-20T10:00:00.000000+00:00",
        None,
        "2026-11-20T10:00:00.000000+00:00",
        "2026-11-20T10:00:00.000000+00:00",
        None,
    ]
    assert done == [
        ("2006-11-20T10:00:00.000000+00:00", "on-paper"),
        ("2026-11-22T10:00:00+00:00", "on-paper"),
        ("2026-11-21T10:00:00.000000+00:00", "observed"),
    ]
