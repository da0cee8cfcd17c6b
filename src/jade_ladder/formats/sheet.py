"""Sheets to hand out: a table with what it is about, on paper or as CSV."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import NamedTuple

from jade_ladder.formats.table import write_table


class SheetCell(NamedTuple):
    """A cell: its text, whether that is a number with a decimal point, and whether it is mastered,
    which paper shows by weight and a sign, as colour does not hold on it.
    """

    text: str
    number: bool = False
    mastered: bool = False


@dataclass(frozen=True, slots=True)
class Sheet:
    """A table to hand out: title, the class or rubric it is of, the day it is as of, a word on how
    to read it, headings and rows, and what its short headings stand for (`key`), which paper needs
    below the table. A `wide` one lies across the paper.
    """

    title: str
    of: str
    day: date
    note: str
    headings: tuple[str, ...]
    rows: tuple[tuple[SheetCell, ...], ...]
    wide: bool = False
    key: tuple[str, ...] = ()

    @property
    def file_name(self) -> str:
        """What a file of it is called, without its ending."""
        return f"{self.of} {self.title} {self.day.isoformat()}"


def words(*cells: object) -> list[SheetCell]:
    """Make cells of plain words; None is an empty one."""
    return [SheetCell("" if cell is None else str(cell)) for cell in cells]


def write_sheet(sheet: Sheet, decimal_comma: bool = False) -> bytes:
    """Write a sheet's table as CSV that spreadsheets open: with a mark at the start, guarded
    against formulas; with a decimal comma, and then semicolons, where spreadsheets want that.
    """

    def written(row: Sequence[SheetCell]) -> list[str]:
        return [
            cell.text.replace(".", ",") if cell.number and decimal_comma else cell.text
            for cell in row
        ]

    text = write_table(
        sheet.headings, (written(row) for row in sheet.rows), ";" if decimal_comma else ","
    )
    return text.encode("utf-8-sig")
