"""From rows to typed records: a reader, not a mapper. The SQL stays where it is run."""

from __future__ import annotations

import sqlite3
import uuid
from collections.abc import Callable, Hashable, Sequence
from dataclasses import fields
from datetime import date, datetime
from enum import Enum
from functools import cache
from types import NoneType
from typing import Any, TypeVar, cast, get_args, get_type_hints

Record = TypeVar("Record")
Parameters = Sequence[object] | dict[str, object]


def fetch(
    db: sqlite3.Connection, record: type[Record], sql: str, parameters: Parameters = ()
) -> list[Record]:
    """Run `sql` and make a `record` (a dataclass) of each row: columns stand in the order of the
    fields; times, days, yes/no and enumerations become what the fields say.
    """
    readers = _readers(cast(Hashable, record))
    return [
        record(*(read(value) if read and value is not None else value for read, value in pairs))
        for row in db.execute(sql, parameters)
        for pairs in [zip(readers, row, strict=True)]
    ]


def fetch_one(
    db: sqlite3.Connection, record: type[Record], sql: str, parameters: Parameters = ()
) -> Record | None:
    """Give the first row as a `record`, or None."""
    found = fetch(db, record, sql, parameters)
    return found[0] if found else None


def fetch_number(db: sqlite3.Connection, sql: str, parameters: Parameters = ()) -> int | None:
    """Give the one number that `sql` selects, or None where there is no row."""
    row = db.execute(sql, parameters).fetchone()
    return None if row is None else row[0]


def insert(db: sqlite3.Connection, sql: str, parameters: Parameters) -> int:
    """Run an INSERT and give the number of the new row."""
    number = db.execute(sql, parameters).lastrowid
    if number is None:
        raise sqlite3.ProgrammingError("not an INSERT")
    return number


def new_guid() -> str:
    """Make a lasting identifier: a UUID, as files that are exchanged want it."""
    return str(uuid.uuid4())


@cache
def _readers(record: Any) -> tuple[Callable[[Any], Any] | None, ...]:
    hints = get_type_hints(record)
    return tuple(_reader(hints[field.name]) for field in fields(record))


def _reader(hint: Any) -> Callable[[Any], Any] | None:
    alternatives = [kind for kind in get_args(hint) or (hint,) if kind is not NoneType]
    kind = alternatives[0]
    if kind is bool:
        return bool
    if kind is datetime:
        return datetime.fromisoformat
    if kind is date:
        return date.fromisoformat
    if isinstance(kind, type) and issubclass(kind, Enum):
        return kind
    return None
