"""Tables as one workbook (XLSX), a sheet for each."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, datetime
from typing import Any, BinaryIO

from xlsxwriter import Workbook
from xlsxwriter.worksheet import Worksheet

from jade_ladder.formats.exported.table import Export, ExportTable, Number, Sign, Value

LONGEST_CELL = 32_767
"""So many characters a cell of a workbook can have."""

# Signs and labels are part of how the number is shown, so that the cell stays a number; mastered is
# told by a tick and by weight, and colour comes on top.
_BEFORE = {Sign.NEEDS_EVIDENCE: '"("'}
_AFTER = {
    Sign.MASTERED: " ✓",
    Sign.NEEDS_EVIDENCE: ")",
    Sign.JUDGED: " judged",
    Sign.JUDGED_MASTERED: " ✓ judged",
}
_JADE, _SLATE, _PLUM = "#14603F", "#5B6664", "#6B3F74"


def write_workbook(export: Export, target: BinaryIO) -> None:
    """Write tables as a workbook, row by row: real numbers and dates, headings that stay in sight.
    Words are never taken for formulas or links, whatever they begin with.
    """
    options = {
        "constant_memory": True,
        "strings_to_formulas": False,
        "strings_to_urls": False,
        "strings_to_numbers": False,
    }
    with Workbook(target, options) as book:
        book.set_properties({"title": export.file_name})
        cells = _Cells(book)
        for table in export.tables:
            _write_table(book.add_worksheet(table.name), table, cells)


def _write_table(sheet: Worksheet, table: ExportTable, cells: _Cells) -> None:
    sheet.freeze_panes(1, table.frozen)
    sheet.repeat_rows(0)
    sheet.set_landscape()
    for at, column in enumerate(table.columns):
        sheet.set_column(at, at, column.width)
    for at, column in enumerate(table.columns):
        sheet.write_string(0, at, _cut(column.heading), cells.heading)
    last = 0
    for last, row in enumerate(table.rows, start=1):
        for at, value in enumerate(row):
            if value is not None and value != "":
                cells.write(sheet, last, at, value)
    if last:
        sheet.autofilter(0, 0, last, len(table.columns) - 1)


class _Cells:
    """Writes values, each in its way."""

    def __init__(self, book: Workbook) -> None:
        self._book = book
        self._formats: dict[tuple[str, Sign], Any] = {}
        self._day = book.add_format({"num_format": "yyyy-mm-dd", "align": "left"})
        self._time = book.add_format({"num_format": "yyyy-mm-dd hh:mm:ss", "align": "left"})
        self.heading = book.add_format(
            {"bold": True, "bottom": 1, "text_wrap": True, "valign": "top"}
        )
        self._ways: dict[type, Callable[[Worksheet, int, int, Any], object]] = {
            str: lambda sheet, row, at, value: sheet.write_string(row, at, _cut(value)),
            int: lambda sheet, row, at, value: sheet.write_number(row, at, value),
            Number: self._number,
            date: lambda sheet, row, at, value: sheet.write_datetime(row, at, value, self._day),
            datetime: lambda sheet, row, at, value: sheet.write_datetime(
                row, at, value.replace(microsecond=0), self._time
            ),
        }

    def write(self, sheet: Worksheet, row: int, at: int, value: Value) -> None:
        """Write one cell."""
        self._ways[type(value)](sheet, row, at, value)

    def _number(self, sheet: Worksheet, row: int, at: int, value: Number) -> None:
        key = value.label, value.sign
        if key not in self._formats:
            self._formats[key] = self._book.add_format(_format(*key))
        sheet.write_number(row, at, value.hundredths / 100, self._formats[key])


def _format(label: str, sign: Sign) -> dict[str, object]:
    """Say how a number with a label and a sign is shown."""
    after = f" {label}{_AFTER.get(sign, '')}" if label else _AFTER.get(sign, "")
    # Quotation marks end the words of a format, and have no escape within them.
    quoted = after.replace('"', "'")
    shown = f'{_BEFORE.get(sign, "")}0.00"{quoted}"' if quoted else "0.00"
    found: dict[str, object] = {"num_format": shown}
    if sign.is_mastered:
        found |= {"bold": True, "font_color": _JADE}
    if sign in (Sign.JUDGED, Sign.JUDGED_MASTERED):
        found |= {"italic": True, "font_color": _PLUM}
    if sign is Sign.NEEDS_EVIDENCE:
        found |= {"italic": True, "font_color": _SLATE}
    return found


def _cut(text: str) -> str:
    return text if len(text) <= LONGEST_CELL else f"{text[: LONGEST_CELL - 1]}…"
