"""What migrations call, as it was when they were written: copies that never change, since what the
program calls today may.
"""

from __future__ import annotations

import sqlite3
from datetime import datetime
from fractions import Fraction
from zoneinfo import ZoneInfo


class _Combined:
    """`combined(combining, weight, half-way, value, value above)`, as 0013 calls it: the evidence
    of one attempt for one outcome, in hundredths.
    """

    def __init__(self) -> None:
        self._parts: list[tuple[Fraction, int]] = []
        self._combining = "mean"

    def step(
        self, combining: str, weight: int, half_way: int, value: int | None, above: int | None
    ) -> None:
        """Take one choice."""
        self._combining = combining
        if value is None or (half_way and above is None):
            return
        said = Fraction(value + (above or 0), 2) if half_way else Fraction(value)
        self._parts.append((said, weight))

    def finalize(self) -> int | None:
        """Give what all of them come to; a half goes up."""
        if not self._parts:
            return None
        values = [value for value, _ in self._parts]
        if self._combining == "highest":
            result = max(values)
        elif self._combining == "lowest":
            result = min(values)
        else:
            weights = sum(weight for _, weight in self._parts)
            result = sum((value * weight for value, weight in self._parts), Fraction(0)) / weights
        return (2 * result.numerator + result.denominator) // (2 * result.denominator)


def _school_day(at: str | None, time_zone: str | None) -> str | None:
    """`school_day(time, time zone)`, as 0034 calls it: the day of a time at the school."""
    if at is None:
        return None
    return datetime.fromisoformat(at).astimezone(ZoneInfo(time_zone or "UTC")).date().isoformat()


def let_call(db: sqlite3.Connection) -> None:
    """Let a connection call them, under the names that migrations have for them."""
    db.create_aggregate("combined", 5, _Combined)  # type: ignore[arg-type]
    db.create_function("school_day", 2, _school_day, deterministic=True)
