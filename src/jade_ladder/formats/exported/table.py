"""Tables with real numbers and days, row by row, so that large ones are never held whole."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from enum import StrEnum
from typing import NamedTuple

from jade_ladder.core.numbers import Hundredths


class Sign(StrEnum):
    """What is said of a value beside its number, where the file can show it."""

    NONE = ""
    MASTERED = "mastered"
    NEEDS_EVIDENCE = "needs-evidence"
    JUDGED = "judged"
    JUDGED_MASTERED = "judged-mastered"

    @property
    def is_mastered(self) -> bool:
        """Whether it says mastered."""
        return self in (Sign.MASTERED, Sign.JUDGED_MASTERED)


class Number(NamedTuple):
    """A number in hundredths; `label` is a short word that a workbook shows beside it (a level's
    code), and `sign` what else it shows. CSV has the number alone.
    """

    hundredths: Hundredths
    label: str = ""
    sign: Sign = Sign.NONE


Value = str | int | Number | date | datetime | None
"""A cell: words, a whole number, a number in hundredths, a day, a time by the school's clock
(without a zone), or nothing.
"""


class Column(NamedTuple):
    """A column: its heading, and about how many characters wide it is."""

    heading: str
    width: int = 12


@dataclass(frozen=True, slots=True)
class ExportTable:
    """A table by its name; `frozen` columns stay in sight beside the headings. The rows can be gone
    through once.
    """

    name: str
    columns: tuple[Column, ...]
    rows: Iterable[Sequence[Value]]
    frozen: int = 1


@dataclass(frozen=True, slots=True)
class Export:
    """Tables that go out together under a title, as of a day."""

    title: str
    day: date
    tables: tuple[ExportTable, ...]

    @property
    def file_name(self) -> str:
        """What a file of it is called, without its ending."""
        return f"{self.title} {self.day.isoformat()}"
