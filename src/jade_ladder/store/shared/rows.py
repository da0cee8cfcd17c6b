"""From rows to typed records: a reader, not a mapper. The SQL stays where it is run."""

from __future__ import annotations

import sqlite3
import uuid
from collections.abc import Callable, Hashable, Sequence
from dataclasses import dataclass, fields, is_dataclass
from datetime import date, datetime
from enum import Enum
from functools import cache
from itertools import islice, zip_longest
from types import NoneType
from typing import Any, TypeVar, cast, get_args, get_type_hints

Record = TypeVar("Record")
Parameters = Sequence[object] | dict[str, object]


def fetch(
    db: sqlite3.Connection, record: type[Record], sql: str, parameters: Parameters = ()
) -> list[Record]:
    """Run `sql` and make a `record` (a dataclass) of each row: columns have the names of the
    fields, in their order; times, days, yes/no and enumerations become what the fields say. A field
    that is a dataclass itself is made of the columns of its own fields.

    Raises TypeError where a column has another name than its field, looked at once per statement.
    """
    shape = _shape(cast(Hashable, record))
    cursor = db.execute(sql, parameters)
    if (shape, sql) not in _compared:
        _compare(shape, sql, [column[0] for column in cursor.description])
    readers, made = shape.readers, shape.put_together if shape.parts else record
    return [
        made(*(read(value) if read and value is not None else value for read, value in pairs))
        for row in cursor
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


@dataclass(frozen=True, slots=True, eq=False)
class _Shape:
    """Of what columns a record is made: what each is called and what becomes of it; where fields
    are records themselves, of which each is made, and of how many columns.
    """

    record: Any
    names: tuple[str, ...]
    readers: tuple[Callable[[Any], Any] | None, ...]
    parts: tuple[tuple[_Shape | None, int], ...]

    def put_together(self, *values: Any) -> Any:
        """Make the record, and those within it, of the values of a row."""
        if not self.parts:
            return self.record(*values)
        row = iter(values)
        return self.record(
            *(
                part.put_together(*islice(row, width)) if part else next(row)
                for part, width in self.parts
            )
        )


_compared: set[tuple[_Shape, str]] = set()


def _compare(shape: _Shape, sql: str, columns: list[str]) -> None:
    if columns != list(shape.names):
        wrong = [pair for pair in zip_longest(shape.names, columns) if pair[0] != pair[1]]
        raise TypeError(f"{shape.record.__name__}: fields and columns differ: {wrong}")
    _compared.add((shape, sql))


@cache
def _shape(record: Any) -> _Shape:
    hints = get_type_hints(record)
    names: list[str] = []
    readers: list[Callable[[Any], Any] | None] = []
    parts: list[tuple[_Shape | None, int]] = []
    for field in fields(record):
        hint = hints[field.name]
        part: _Shape | None = _shape(cast(Hashable, hint)) if is_dataclass(hint) else None
        names += part.names if part else [field.name]
        readers += part.readers if part else [_reader(hint)]
        parts.append((part, len(part.names) if part else 1))
    whole = any(part for part, _ in parts)
    return _Shape(record, tuple(names), tuple(readers), tuple(parts) if whole else ())


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
