"""Files with a copy of the database: the names are read from the copy, and each file is copied
once, however many copies of the database stand beside it.
"""

from __future__ import annotations

import os
import shutil
import sqlite3
from contextlib import closing
from pathlib import Path

from jade_ladder.core.errors import NotFound, StoreError
from jade_ladder.store.files.contents import FOLDER, Contents, hash_of
from jade_ladder.store.shared.file import sync
from jade_ladder.store.shared.verify import MOST_TOLD


def beside(database: Path) -> Contents:
    """Give the folder of the files that belong to a database, or to a copy of one."""
    return Contents(database.parent / FOLDER)


def named_in(database: Path) -> list[tuple[str, int]]:
    """List the files that a database names, by hash, with how many bytes each has; one of before
    there were files names none.
    """
    with closing(sqlite3.connect(f"{database.absolute().as_uri()}?mode=ro", uri=True)) as db:
        there = db.execute("SELECT 1 FROM sqlite_schema WHERE name = 'file'").fetchone()
        if there is None:
            return []
        return db.execute("SELECT hash, size FROM file ORDER BY hash").fetchall()


def copy_files(database: Path, source: Contents, target: Contents) -> int:
    """Copy the files that a copy of a database names, as far as they are not there yet, each seen
    on the disk; gives how many. Raises StoreError where one is missing or cannot be written.
    """
    copied = 0
    try:
        for hash, size in named_in(database):
            place = target.place(hash)
            if place.is_file() and place.stat().st_size == size:
                continue
            place.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
            beside = place.with_name(f".{hash}.{os.getpid()}")
            try:
                shutil.copyfile(source.path(hash), beside)
                beside.chmod(0o600)
                sync(beside)
                beside.rename(place)
                sync(place.parent)
            finally:
                beside.unlink(missing_ok=True)
            copied += 1
    except NotFound as error:
        raise StoreError(f"A file that the database names is missing: {error}") from error
    except (OSError, sqlite3.Error) as error:
        raise StoreError(f"The files cannot be copied: {error}") from error
    return copied


def file_faults(database: Path) -> list[str]:
    """Say which of the files that a database names are missing, or are not what they were, a line
    each, at most MOST_TOLD.
    """
    contents = beside(database)
    found: list[str] = []
    for hash, _ in named_in(database):
        place = contents.place(hash)
        if not place.is_file():
            found.append(f"a file is missing: {place}")
        elif hash_of(place) != hash:
            found.append(f"a file is damaged: {place}")
        if len(found) == MOST_TOLD:
            break
    return found


def named_by_kept(database: Path) -> set[str] | None:
    """Give the hashes that databases name which a restoring has put aside here; None where one of
    them cannot be read, so that nobody knows what it names.
    """
    named: set[str] = set()
    for aside in database.parent.glob(f"{database.stem}-before-*{database.suffix}"):
        try:
            named.update(hash for hash, _ in named_in(aside))
        except sqlite3.Error:
            return None
    return named
