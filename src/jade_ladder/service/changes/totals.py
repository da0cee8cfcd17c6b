"""Totals that a change would move."""

from __future__ import annotations

from dataclasses import dataclass

from jade_ladder.core.numbers import Hundredths
from jade_ladder.core.total import Total


@dataclass(frozen=True, slots=True)
class TotalMove:
    """One student's total of a task as the desk shows it, which would be another; None: nothing can
    be totalled.
    """

    student: str
    before: Total | None
    after: Total | None


def moves(before: Total | None, after: Total | None) -> bool:
    """Whether a total would read otherwise: a line from a value to the same one is none."""
    return _read(before) != _read(after)


def _read(total: Total | None) -> tuple[Hundredths, Hundredths] | None:
    return None if total is None else (total.value, total.out_of)
