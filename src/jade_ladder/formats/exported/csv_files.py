"""Tables as CSV files in one archive (ZIP)."""

from __future__ import annotations

import csv
import io
import zipfile
from collections.abc import Sequence
from datetime import date, datetime
from typing import BinaryIO

from jade_ladder.core.numbers import write_hundredths
from jade_ladder.formats.exported.table import Export, Number, Value
from jade_ladder.formats.table import safe_cell


def write_csv_archive(export: Export, target: BinaryIO, decimal_comma: bool = False) -> None:
    """Write tables as an archive with a CSV file for each, row by row. Words are guarded against
    formulas; with a decimal comma there are semicolons between cells.
    """
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as archive:
        for table in export.tables:
            with (
                archive.open(f"{table.name}.csv", "w") as entry,
                io.TextIOWrapper(entry, "utf-8-sig", newline="") as out,
            ):
                writer = csv.writer(
                    out, delimiter=";" if decimal_comma else ",", lineterminator="\r\n"
                )
                writer.writerow([safe_cell(column.heading) for column in table.columns])
                writer.writerows(_written(row, decimal_comma) for row in table.rows)


def _written(row: Sequence[Value], decimal_comma: bool) -> list[str]:
    return [_text(value, decimal_comma) for value in row]


def _text(value: Value, decimal_comma: bool) -> str:
    if isinstance(value, str):
        return safe_cell(value)
    if value is None:
        return ""
    if isinstance(value, Number):
        text = write_hundredths(value.hundredths)
        return text.replace(".", ",") if decimal_comma else text
    if isinstance(value, datetime):
        return value.isoformat(" ", "seconds")
    return value.isoformat() if isinstance(value, date) else str(value)
