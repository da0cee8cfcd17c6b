"""Numbered SQL files, applied in order; how many have been is kept in the file itself."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from importlib.resources import files

from jade_ladder.core.errors import StoreError
from jade_ladder.store.shared.migrations.functions import let_call

APPLICATION_ID = 0x4A_61_64_65
"""By which a database of this program is known: the letters Jade."""


def known_migrations() -> list[tuple[int, str]]:
    """List this program's migrations: number and SQL text, rising from 1 without a gap."""
    found = sorted(
        (int(entry.name[:4]), entry.read_text("utf-8"))
        for entry in files(__package__).iterdir()
        if entry.name.endswith(".sql")
    )
    if [number for number, _ in found] != list(range(1, len(found) + 1)):
        raise StoreError("The numbers of the migrations have a gap")
    return found


def migrate(db: sqlite3.Connection) -> int:
    """Bring the database to the newest version this program knows; give the version.

    Each migration and the record of it are one transaction. Raises StoreError for a database
    that a newer program has written; it is then left as it is.
    """
    migrations = known_migrations()
    version = _version(db)
    if version > len(migrations):
        raise StoreError(
            f"The database is of version {version}, written by a newer Jade Ladder; this one "
            f"knows up to version {len(migrations)}. Use the newer program, or another DATA folder."
        )
    if version == len(migrations):
        return version
    let_call(db)
    # A table that others refer to can only be made anew while nothing looks at references.
    db.execute("PRAGMA foreign_keys = OFF")
    try:
        for number, sql in migrations[version:]:
            _apply(db, number, sql)
    finally:
        db.execute("PRAGMA foreign_keys = ON")
    return len(migrations)


def _apply(db: sqlite3.Connection, number: int, sql: str) -> None:
    db.execute("BEGIN IMMEDIATE")
    try:
        # Another process may have been quicker.
        if _version(db) < number:
            for statement in _statements(sql):
                db.execute(statement)
            if db.execute("PRAGMA foreign_key_check").fetchone():
                raise StoreError(f"Migration {number} leaves a reference to nothing")
            db.execute(f"PRAGMA user_version = {number:d}")
            db.execute(f"PRAGMA application_id = {APPLICATION_ID:d}")
    except BaseException:
        db.execute("ROLLBACK")
        raise
    db.execute("COMMIT")


def is_newest(db: sqlite3.Connection) -> bool:
    """Whether a database is of the newest version this program knows."""
    return _version(db) == len(known_migrations())


def _version(db: sqlite3.Connection) -> int:
    row: tuple[int] = db.execute("PRAGMA user_version").fetchone()
    return row[0]


def _statements(sql: str) -> Iterator[str]:
    """Cut a script into statements; executescript would commit on its own."""
    statement = ""
    for line in sql.splitlines(keepends=True):
        statement += line
        if sqlite3.complete_statement(statement):
            yield statement
            statement = ""
    if statement.strip() and not all(
        line.lstrip().startswith("--") for line in statement.splitlines() if line.strip()
    ):
        raise StoreError("A migration ends in the middle of a statement")
