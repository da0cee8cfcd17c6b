"""Spreadsheet files (XLSX): the cells of one sheet as the text of a table."""

from __future__ import annotations

import csv
import io
import re
import struct
import warnings
import zipfile
import zlib
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, time
from typing import Any

import openpyxl
from openpyxl.cell.read_only import EMPTY_CELL

from jade_ladder.core.errors import Refused
from jade_ladder.formats.plain_text import cleaned
from jade_ladder.formats.table import LARGEST_TABLE, MOST_COLUMNS, MOST_ROWS

_SIGNATURE = b"PK\x03\x04"
_MOST_PARTS = 300
# Unpacked, and in all: a list of 5,000 lines has one or two megabytes.
_LARGEST_UNPACKED = 16_000_000
# What a sheet says of its size need not be so; where it is also as large as so many rows, it is.
_DIMENSION = re.compile(rb"<dimension ref=\"[A-Z]+[0-9]+:[A-Z]+([0-9]{1,9})\"")
_SMALLEST_ROW = 20
# A declaration of entities stands before the first element, which no spreadsheet keeps waiting.
_HEAD, _ELEMENT = 4_000, re.compile(rb"<[A-Za-z]")
_TORN = (
    zipfile.BadZipFile,
    zlib.error,
    ValueError,
    OSError,
    EOFError,
    LookupError,
    RuntimeError,
    struct.error,
)
_DAMAGED = "This spreadsheet cannot be read: open it and save it again, or save it as CSV"


@dataclass(frozen=True, slots=True)
class Sheet:
    """The cells of a sheet as text with tabs between, and which sheets the file has."""

    text: str
    name: str
    names: tuple[str, ...]


def is_spreadsheet(content: bytes) -> bool:
    """Whether a file may be an XLSX, by how it begins."""
    return content.startswith(_SIGNATURE)


def read_sheet(content: bytes, wanted: str = "") -> Sheet:
    """Read the cells of a sheet, the first with any unless one is wanted. A formula is the value
    that it had when the file was saved; dates are written as 2026-11-25.

    Raises Refused for what is no spreadsheet, damaged, or larger unpacked than a list can be.
    """
    check_parts(content)
    try:
        with warnings.catch_warnings():
            # Of what a list does not need: styles, validation, pictures.
            warnings.simplefilter("ignore")
            book = openpyxl.load_workbook(
                io.BytesIO(content), read_only=True, data_only=True, keep_links=False
            )
            try:
                return _read(book, wanted)
            finally:
                book.close()
    except Refused:
        raise
    except Exception as error:
        # openpyxl trusts what it reads: what is torn or made up fails in any of these ways.
        raise Refused(_DAMAGED, "file") from error


def check_parts(content: bytes) -> None:
    """Refuse what would unpack to more than a list can be, before anything is unpacked."""
    if len(content) > LARGEST_TABLE:
        raise Refused("The file is larger than 2 MB; is it the right one?", "file")
    try:
        book = zipfile.ZipFile(io.BytesIO(content))
    except _TORN as error:
        raise Refused(_DAMAGED, "file") from error
    parts = book.infolist()
    unpacked = sum(part.file_size for part in parts)
    packed = sum(part.compress_size for part in parts)
    if len(parts) > _MOST_PARTS or unpacked > _LARGEST_UNPACKED or packed > len(content):
        raise Refused("This spreadsheet is too large unpacked; save the sheet as CSV", "file")
    for part in parts:
        if part.filename.endswith((".xml", ".rels")):
            _check_document(book, part)


def _check_document(book: zipfile.ZipFile, part: zipfile.ZipInfo) -> None:
    """Refuse a document that declares entities, which can stand for a thousand million letters."""
    try:
        with book.open(part) as content:
            head = content.read(_HEAD)
    except _TORN as error:
        raise Refused(_DAMAGED, "file") from error
    said = _DIMENSION.search(head)
    if said is not None and MOST_ROWS + 50 < int(said[1]) <= part.file_size // _SMALLEST_ROW:
        raise Refused(f"More than {MOST_ROWS} lines; is it the right sheet?", "file")
    if b"<!DOCTYPE" in head or not _ELEMENT.search(head):
        raise Refused(_DAMAGED, "file")


def _read(book: Any, wanted: str) -> Sheet:
    names = tuple(sheet.title for sheet in book.worksheets)
    if not names:
        raise Refused(_DAMAGED, "file")
    if wanted and wanted not in names:
        raise Refused(f"There is no sheet “{wanted}” in this file", "sheet")
    for name in [wanted] if wanted else names:
        text = _text_of(book[name])
        if text.strip():
            return Sheet(cleaned(text), name, names)
    return Sheet("", wanted or names[0], names)


def _text_of(sheet: Any) -> str:
    # What a file says of its size need not be so.
    sheet.reset_dimensions()
    out = io.StringIO(newline="")
    writer = csv.writer(out, delimiter="\t", lineterminator="\n")
    for number, row in enumerate(sheet.iter_rows(max_col=MOST_COLUMNS + 1)):
        if number > MOST_ROWS + 50:
            raise Refused(f"More than {MOST_ROWS} lines; is it the right sheet?", "file")
        writer.writerow(_trimmed(row))
        if out.tell() > LARGEST_TABLE:
            raise Refused("This sheet is too large; is it the right one?", "file")
    return out.getvalue()


def _trimmed(row: Sequence[Any]) -> list[str]:
    # A row is as wide as the widest that can be: what is empty at its end is not looked at.
    last = len(row)
    while last and row[last - 1] is EMPTY_CELL:
        last -= 1
    cells = [_written(cell) for cell in row[:last]]
    while cells and not cells[-1]:
        cells.pop()
    return cells


def _written(cell: Any) -> str:
    """Write a cell as its reader sees it, as far as a list needs it."""
    value = cell.value
    if type(value) is str:
        return value.strip()
    if value is None:
        return ""
    if isinstance(value, bool):
        return "TRUE" if value else "FALSE"
    if isinstance(value, datetime):
        midnight = value.time() == time()
        return value.date().isoformat() if midnight else value.isoformat(" ", "minutes")
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, float) and value.is_integer() and abs(value) < 1e15:
        value = int(value)
    if isinstance(value, int) and re.fullmatch("0+", cell.number_format or ""):
        return str(value).zfill(len(cell.number_format))
    return str(value).strip()
