"""The one module that opens the database; everything else is handed a connection."""

from __future__ import annotations

import sqlite3
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, date, datetime
from pathlib import Path

from jade_ladder.core.errors import StoreError
from jade_ladder.store.migrations import migrate

BUSY_SECONDS = 10


def write_time(moment: datetime) -> str:
    """Write a time as it is stored: UTC, ISO 8601, always with microseconds so that text order is
    time order.
    """
    return moment.astimezone(UTC).strftime("%Y-%m-%dT%H:%M:%S.%f+00:00")


sqlite3.register_adapter(datetime, write_time)
sqlite3.register_adapter(date, date.isoformat)


class Database:
    """A database file, migrated to what this program knows, with a kept connection per thread."""

    def __init__(self, path: Path) -> None:
        """Open or make the file and apply the missing migrations.

        Raises StoreError when the file cannot be used or is of a newer program.
        """
        self.path = path
        self._local = threading.local()
        self._opened: list[sqlite3.Connection] = []
        self._lock = threading.Lock()
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            migrate(self._connection())
        except (OSError, sqlite3.Error) as error:
            raise StoreError(f"The database {path} cannot be used: {error}") from error

    def _connection(self) -> sqlite3.Connection:
        kept: sqlite3.Connection | None = getattr(self._local, "connection", None)
        if kept is not None:
            return kept
        # Each thread has its own; close() is called from another one.
        db = sqlite3.connect(
            self.path, isolation_level=None, timeout=BUSY_SECONDS, check_same_thread=False
        )
        db.execute("PRAGMA foreign_keys = ON")
        db.execute("PRAGMA journal_mode = WAL")
        # FULL: an answered save survives a power cut.
        db.execute("PRAGMA synchronous = FULL")
        self._local.connection = db
        with self._lock:
            self._opened.append(db)
        return db

    @contextmanager
    def deed(self) -> Iterator[sqlite3.Connection]:
        """Do one deed: all of it is stored, or, when anything is raised, nothing.

        A deed within a deed of the same thread is part of it, by a savepoint.
        """
        db = self._connection()
        nested = db.in_transaction
        db.execute("SAVEPOINT deed" if nested else "BEGIN IMMEDIATE")
        try:
            yield db
        except BaseException:
            db.execute("ROLLBACK TO deed" if nested else "ROLLBACK")
            if nested:
                db.execute("RELEASE deed")
            raise
        db.execute("RELEASE deed" if nested else "COMMIT")

    @contextmanager
    def reading(self) -> Iterator[sqlite3.Connection]:
        """Read everything from one and the same moment."""
        db = self._connection()
        if db.in_transaction:
            yield db
            return
        db.execute("BEGIN")
        try:
            yield db
        finally:
            db.execute("ROLLBACK")

    @contextmanager
    def supposing(self) -> Iterator[sqlite3.Connection]:
        """Do deeds only to see what they lead to: nothing of them is stored."""
        db = self._connection()
        nested = db.in_transaction
        db.execute("SAVEPOINT supposing" if nested else "BEGIN IMMEDIATE")
        try:
            yield db
        finally:
            db.execute("ROLLBACK TO supposing" if nested else "ROLLBACK")
            if nested:
                db.execute("RELEASE supposing")

    def close(self) -> None:
        """Close every connection of every thread."""
        with self._lock:
            for db in self._opened:
                db.close()
            self._opened.clear()
        self._local = threading.local()
