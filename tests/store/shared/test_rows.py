"""From rows to records."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import date

import pytest

from jade_ladder.core.marking import MarkRole
from jade_ladder.store.shared.rows import fetch, fetch_one


@dataclass(frozen=True, slots=True)
class Span:
    since: date
    until: date | None


@dataclass(frozen=True, slots=True)
class Reader:
    id: int
    span: Span
    role: MarkRole | None
    there: bool


SELECT = "SELECT 7 AS id, '2026-09-01' AS since, NULL AS until, 'peer' AS role, 1 AS there"


@pytest.fixture
def db() -> sqlite3.Connection:
    return sqlite3.connect(":memory:")


def test_a_row_becomes_a_record_and_the_records_in_it(db: sqlite3.Connection) -> None:
    made = Reader(7, Span(date(2026, 9, 1), None), MarkRole.PEER, True)
    assert fetch(db, Reader, f"{SELECT} UNION ALL {SELECT}") == [made, made]
    assert fetch_one(db, Reader, f"{SELECT} LIMIT 0") is None


@pytest.mark.parametrize(
    ("sql", "wrong"),
    [
        (SELECT.replace("since, NULL AS until", "until, NULL AS since"), "('since', 'until')"),
        (SELECT.replace("1 AS there", "1"), "('there', '1')"),
        (SELECT.replace(", 1 AS there", ""), "('there', None)"),
        (f"{SELECT}, 2 AS more", "(None, 'more')"),
    ],
    ids=["turned round", "without a name", "too few", "too many"],
)
def test_a_column_has_the_name_of_its_field(db: sqlite3.Connection, sql: str, wrong: str) -> None:
    """Each time, and where there is no row, too."""
    for again in (sql, sql, f"{sql} LIMIT 0"):
        with pytest.raises(TypeError) as raised:
            fetch(db, Reader, again)
        assert wrong in str(raised.value)
