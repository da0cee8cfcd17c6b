"""Copies of the database that can be put in its place again."""

from __future__ import annotations

import fcntl
import os
import sqlite3
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager
from datetime import datetime
from pathlib import Path

from jade_ladder.core.errors import StoreError
from jade_ladder.store.shared.connection import Database
from jade_ladder.store.shared.file import check_file, made_beside, remove_database, sync
from jade_ladder.store.shared.verify import faults


def back_up(database: Database, target: Path) -> None:
    """Write a consistent copy of a database into a new file that only its owner can read, and see
    it on the disk before it has its name. Writers are not held up.

    Raises StoreError when there is something at `target`, or it cannot be written.
    """
    if target.exists():
        raise StoreError(f"{target} is there already, and is not written over")
    try:
        with made_beside(target) as made, database.reading() as db:
            _copy(db, made)
            sync(made)
            os.link(made, target)
            sync(target.parent)
    except (OSError, sqlite3.Error) as error:
        raise StoreError(f"The backup {target} cannot be written: {error}") from error


def restore(
    source: Path,
    target: Path,
    now: datetime,
    whole: Callable[[], object] = lambda: None,
) -> Path | None:
    """Check a backup and put it in the place of a database. What stood there is kept beside it;
    gives its path, or None where there was nothing. `whole` is done once the backup is found whole,
    before it is put in place.

    Raises StoreError, and changes nothing, when the backup is not whole or a server runs on the
    folder.
    """
    if not check_file(source):
        raise StoreError(f"There is no backup {source}")
    found = faults(source)
    if found:
        raise StoreError(f"The backup {source} is not whole: {found[0]}")
    target.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
    try:
        with held_alone(target), made_beside(target) as made:
            whole()
            with closing(sqlite3.connect(f"{source.absolute().as_uri()}?mode=ro", uri=True)) as db:
                _copy(db, made)
            sync(made)
            aside = _put_aside(target, now)
            made.rename(target)
            sync(target.parent)
    except (OSError, sqlite3.Error) as error:
        raise StoreError(f"The backup cannot be put in place: {error}") from error
    return aside


def _copy(source: sqlite3.Connection, target: Path) -> None:
    with closing(sqlite3.connect(target, isolation_level=None)) as copy:
        # All pages in one step: a step by step copy begins anew whenever somebody saves.
        source.backup(copy)
        # A backup is one file; WAL would want a second one beside it.
        copy.execute("PRAGMA journal_mode = DELETE")


def _put_aside(path: Path, now: datetime) -> Path | None:
    if not path.exists():
        return None
    aside = path.with_name(f"{path.stem}-before-{now:%Y%m%dT%H%M%S%f}{path.suffix}")
    try:
        with closing(sqlite3.connect(path, isolation_level=None)) as db:
            # What is still in the log file goes into the database, so that one file is all of it.
            db.execute("PRAGMA journal_mode = DELETE")
    except sqlite3.Error:
        # A damaged file is why one restores; it is kept as it is, its log file with it.
        for ending in ("-wal", "-shm"):
            beside = path.with_name(path.name + ending)
            if beside.exists():
                beside.rename(aside.with_name(aside.name + ending))
    path.rename(aside)
    remove_database(path)
    return aside


@contextmanager
def in_use(path: Path) -> Iterator[None]:
    """Say that a server runs on a database, for as long as it does."""
    with _lock_file(path) as file:
        fcntl.flock(file, fcntl.LOCK_SH)
        yield


@contextmanager
def held_alone(path: Path) -> Iterator[None]:
    """Hold a database alone; StoreError while a server runs on it."""
    with _lock_file(path) as file:
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            raise StoreError(f"A server runs on {path.parent}: stop it first") from None
        yield


@contextmanager
def _lock_file(path: Path) -> Iterator[int]:
    number = os.open(path.with_name("jade-ladder.lock"), os.O_CREAT | os.O_RDWR, 0o600)
    try:
        yield number
    finally:
        os.close(number)
