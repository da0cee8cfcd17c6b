"""The one module that opens the database; everything else is handed a connection."""

from __future__ import annotations

import json
import sqlite3
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, date, datetime
from functools import lru_cache
from pathlib import Path
from zoneinfo import ZoneInfo

from jade_ladder.core.errors import StoreError, Unavailable
from jade_ladder.core.evidence import Combining, Part, combine, note_value, part_of
from jade_ladder.core.names import compare_names
from jade_ladder.store.shared.file import FILE_NAME, check_file, make_file, protect
from jade_ladder.store.shared.migrations import migrate
from jade_ladder.store.shared.turns import Turns

BUSY_SECONDS = 10

# SQLite's primary result codes that say "not now": the same call may go through later.
_NOT_NOW = {
    sqlite3.SQLITE_BUSY: "the database is busy",
    sqlite3.SQLITE_LOCKED: "the database is busy",
    sqlite3.SQLITE_PROTOCOL: "the database is busy",
    sqlite3.SQLITE_FULL: "the disk is full",
    sqlite3.SQLITE_READONLY: "the database is read-only",
    sqlite3.SQLITE_IOERR: "the disk cannot be written or read",
    sqlite3.SQLITE_CANTOPEN: "the database cannot be opened",
}


def write_time(moment: datetime) -> str:
    """Write a time as it is stored: UTC, ISO 8601, a year of four digits and microseconds, always,
    so that text order is time order.
    """
    return moment.astimezone(UTC).isoformat(timespec="microseconds")


sqlite3.register_adapter(datetime, write_time)
sqlite3.register_adapter(date, date.isoformat)


class CombinedEvidence:
    """The SQL aggregate `combined(combining, weight, carried over, half-way, value, value above)`:
    the evidence of one attempt for one outcome, of the choices on its aligned criteria
    (docs/calculations.md, “Marks, attempts, evidence”); NULL where they say nothing anew.
    """

    def __init__(self) -> None:
        self._parts: list[Part] = []
        self._combining = Combining.MEAN

    def step(
        self,
        combining: str,
        weight: int,
        carried: int,
        half_way: int,
        value: int | None,
        above: int | None,
    ) -> None:
        """Take one choice."""
        self._combining = Combining(combining)
        part = part_of((value, above), 0, bool(half_way), weight, bool(carried))
        if part is not None:
            self._parts.append(part)

    def finalize(self) -> int | None:
        """Give what all of them come to."""
        return combine(self._parts, self._combining)


@lru_cache(maxsize=4096)
def _note_value(level: int, levels: int, half_way: int, values: str) -> int:
    """Give the evidence that a note is; `values` are those of the scale, as a JSON array."""
    return note_value(level, levels, bool(half_way), json.loads(values))


@lru_cache(maxsize=4096)
def _school_day(at: str | None, time_zone: str | None) -> str | None:
    """Give the day of a time at the school."""
    if at is None:
        return None
    return datetime.fromisoformat(at).astimezone(ZoneInfo(time_zone or "UTC")).date().isoformat()


class Database:
    """A database file, migrated to what this program knows, with a kept connection per thread."""

    def __init__(self, path: Path, read_only: bool = False) -> None:
        """Open or make the file and apply the missing migrations; with `read_only`, open a file
        that another process keeps, and change nothing.

        Raises StoreError, in one line, when the file cannot be used or is of a newer program.
        """
        self.path = path
        self.read_only = read_only
        self._turns = Turns()
        self._local = threading.local()
        self._opened: list[sqlite3.Connection] = []
        self._lock = threading.Lock()
        try:
            if not read_only:
                self._prepare()
        except (OSError, sqlite3.Error) as error:
            self.close()
            reason = _reason(error) if isinstance(error, sqlite3.Error) else error.strerror
            raise StoreError(f"The database {path} cannot be used: {reason or error}") from error

    @classmethod
    def in_folder(cls, folder: Path, read_only: bool = False) -> Database:
        """Open or make the database of a data folder."""
        return cls(folder / FILE_NAME, read_only)

    def _prepare(self) -> None:
        if not check_file(self.path):
            make_file(self.path, self._make_at)
        protect(self.path)
        db = self._connection()
        migrate(db)
        # Migrations have functions of their own, of which one has the name of ours.
        _let_call(db)

    @staticmethod
    def _make_at(path: Path) -> None:
        db = _connect(path)
        try:
            migrate(db)
        finally:
            db.close()

    def _connection(self) -> Connection:
        kept: Connection | None = getattr(self._local, "connection", None)
        if kept is not None:
            return kept
        db = _connect(self.path, self.read_only)
        self._local.connection = db
        with self._lock:
            self._opened.append(db)
        return db

    @contextmanager
    def transaction(self, whose: int | None = None) -> Iterator[sqlite3.Connection]:
        """Do one operation of a person (`whose`, where it is one's): all of it is stored, or, when
        anything is raised, nothing.

        A transaction within one of the same thread is part of it, by a savepoint. Transactions of
        several threads wait for each other in the order they came, and people take turns. Raises
        Unavailable when the database does not take it now.
        """
        db = self._connection()
        if db.in_transaction:
            with _savepoint(db):
                yield db
            return
        with self._turns.turn(BUSY_SECONDS, whose), _told_as_ours():
            db.execute("BEGIN IMMEDIATE")
            db.writing = True
            try:
                yield db
                db.execute("COMMIT")
            except BaseException:
                # After a full disk SQLite has rolled back already.
                if db.in_transaction:
                    db.execute("ROLLBACK")
                raise
            finally:
                db.writing = False

    @contextmanager
    def reading(self) -> Iterator[sqlite3.Connection]:
        """Read everything from one and the same moment; takes no lock that a writer waits for."""
        db = self._connection()
        if db.in_transaction:
            yield db
            return
        with _told_as_ours():
            db.execute("BEGIN")
            try:
                yield db
            finally:
                if db.in_transaction:
                    db.execute("ROLLBACK")

    @contextmanager
    def looking(self) -> Iterator[sqlite3.Connection]:
        """Read by one statement, which is of one moment by itself."""
        with _told_as_ours():
            yield self._connection()

    def close(self) -> None:
        """Close every connection of every thread."""
        with self._lock:
            for db in self._opened:
                db.close()
            self._opened.clear()
        self._local = threading.local()


class Connection(sqlite3.Connection):
    """A connection that knows whether an operation writes by it now."""

    writing = False


def is_writing(db: sqlite3.Connection) -> bool:
    """Whether this is the transaction of an operation, and not a reading or a preview."""
    return isinstance(db, Connection) and db.writing


def _connect(path: Path, read_only: bool = False) -> Connection:
    # Each thread has its own; close() is called from another one.
    db = sqlite3.connect(
        f"{path.absolute().as_uri()}?mode={'ro' if read_only else 'rw'}",
        uri=True,
        isolation_level=None,
        timeout=BUSY_SECONDS,
        check_same_thread=False,
        factory=Connection,
    )
    _let_call(db)
    db.create_collation("names", compare_names)
    db.execute("PRAGMA foreign_keys = ON")
    if not read_only:
        db.execute("PRAGMA journal_mode = WAL")
        # FULL: an answered save survives a power cut.
        db.execute("PRAGMA synchronous = FULL")
    return db


def _let_call(db: sqlite3.Connection) -> None:
    db.create_aggregate("combined", 6, CombinedEvidence)  # type: ignore[arg-type]
    db.create_function("note_value", 4, _note_value, deterministic=True)
    db.create_function("school_day", 2, _school_day, deterministic=True)


@contextmanager
def _savepoint(db: sqlite3.Connection) -> Iterator[None]:
    db.execute("SAVEPOINT operation")
    try:
        yield
    except BaseException:
        if db.in_transaction:
            db.execute("ROLLBACK TO operation")
            db.execute("RELEASE operation")
        raise
    db.execute("RELEASE operation")


@contextmanager
def _told_as_ours() -> Iterator[None]:
    """Raise what SQLite says of the moment, and not of the statement, as Unavailable."""
    try:
        yield
    except sqlite3.OperationalError as error:
        if _primary_code(error) not in _NOT_NOW:
            raise
        raise Unavailable(
            f"Nothing was changed, since {_reason(error)}. Try again in a moment."
        ) from error


def _primary_code(error: sqlite3.Error) -> int | None:
    code: int | None = getattr(error, "sqlite_errorcode", None)
    return None if code is None else code & 0xFF


def _reason(error: sqlite3.Error) -> str:
    return _NOT_NOW.get(_primary_code(error) or 0, str(error))
