"""Writing tables that go out in the form that was asked for."""

from __future__ import annotations

from enum import StrEnum
from typing import BinaryIO

from jade_ladder.formats.exported.csv_files import write_csv_archive
from jade_ladder.formats.exported.table import Export
from jade_ladder.formats.exported.workbook import write_workbook


class Form(StrEnum):
    """A workbook, or CSV files in an archive; by the ending of the file."""

    WORKBOOK = "xlsx"
    CSV = "zip"

    @property
    def media_type(self) -> str:
        """What the web calls it."""
        return {
            Form.WORKBOOK: "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
            Form.CSV: "application/zip",
        }[self]


def write_export(export: Export, form: Form, target: BinaryIO, decimal_comma: bool = False) -> None:
    """Write tables in a form; a workbook has real numbers, and needs no decimal comma."""
    if form is Form.WORKBOOK:
        write_workbook(export, target)
    else:
        write_csv_archive(export, target, decimal_comma)
