"""Tables as teachers have them: a CSV file, or cells pasted from a spreadsheet."""

from __future__ import annotations

import csv
import io
import re
from dataclasses import dataclass

from jade_ladder.core.errors import Refused
from jade_ladder.formats.plain_text import cleaned

LARGEST_TABLE = 2_000_000
MOST_ROWS = 5_000
_SEPARATORS = "\t;,|"
_FORMULA = re.compile(r"'*[=+\-@\t\r]")


@dataclass(frozen=True, slots=True)
class Table:
    """Headings, and rows with the line number each begins on."""

    headings: tuple[str, ...]
    rows: tuple[tuple[int, tuple[str, ...]], ...]


def decode(content: bytes) -> str:
    """Read bytes as text: UTF-8, UTF-16 with its mark, else Windows-1252; characters that no text
    has are replaced.

    Raises Refused for what is not text (a spreadsheet file, a picture).
    """
    if len(content) > LARGEST_TABLE:
        raise Refused("The file is larger than 2 MB; is it the right one?", "file")
    marked = content[:2] in (b"\xff\xfe", b"\xfe\xff")
    encodings = ["utf-16"] if marked else ["utf-8-sig", "cp1252"]
    for encoding in encodings:
        try:
            text = content.decode(encoding)
        except UnicodeDecodeError:
            continue
        if not _looks_binary(text):
            return cleaned(text)
    raise Refused(
        "This is not a text file. Save it from the spreadsheet as CSV (UTF-8), or copy the cells "
        "and paste them here.",
        "file",
    )


def _looks_binary(text: str) -> bool:
    return text.startswith("PK\x03\x04") or any(
        character < " " and character not in "\t\n\r\f" for character in text[:2000]
    )


def read_table(text: str) -> Table:
    """Read headings and rows, whatever the separator; empty rows are passed over.

    Raises Refused, naming the line, for a table without rows or with torn quotes.
    """
    lines = text.lstrip("\ufeff")
    separator = _separator(lines)
    reader = csv.reader(io.StringIO(lines, newline=""), delimiter=separator, strict=True)
    headings: tuple[str, ...] = ()
    rows: list[tuple[int, tuple[str, ...]]] = []
    begins = 1
    try:
        for cells in reader:
            trimmed = tuple(_unguarded(cell.strip()) for cell in cells)
            if any(trimmed):
                if headings:
                    rows.append((begins, trimmed))
                else:
                    headings = trimmed
            begins = reader.line_num + 1
    except csv.Error as error:
        raise Refused(f"Line {begins} cannot be read as a table: {error}", "text") from error
    if not headings:
        raise Refused("There is nothing in it yet", "text")
    if not rows:
        raise Refused("There is only one line; the first line holds the headings", "text")
    if len(rows) > MOST_ROWS:
        raise Refused(f"More than {MOST_ROWS} lines; is it the right table?", "text")
    return Table(headings, tuple(rows))


def _separator(text: str) -> str:
    """Take the separator that stands most often in the first line that is not empty."""
    first = next((line for line in text.splitlines() if line.strip()), "")
    return max(_SEPARATORS, key=lambda separator: (first.count(separator), separator == ","))


def _unguarded(cell: str) -> str:
    """Undo the apostrophe that keeps a spreadsheet from taking text for a formula."""
    return cell[1:] if cell.startswith("'") and _FORMULA.match(cell) else cell


def safe_cell(text: str) -> str:
    """Put an apostrophe before what a spreadsheet would take for a formula; reading undoes it."""
    return f"'{text}" if _FORMULA.match(text) else text


def find_columns(
    table: Table, synonyms: dict[str, tuple[str, ...]], chosen: dict[str, str] | None = None
) -> dict[str, int]:
    """Find the column of each field by its heading; `chosen` headings come before the synonyms."""
    plain = [_plain(heading) for heading in table.headings]
    found: dict[str, int] = {}
    for field, words in synonyms.items():
        wanted = (chosen or {}).get(field)
        if wanted is not None:
            if wanted in table.headings:
                found[field] = table.headings.index(wanted)
            continue
        for word in words:
            if word in plain and plain.index(word) not in found.values():
                found[field] = plain.index(word)
                break
    return found


def _plain(heading: str) -> str:
    return "".join(character for character in heading.casefold() if character.isalnum())


def cell(row: tuple[str, ...], columns: dict[str, int], field: str) -> str:
    """Give a row's cell for a field; empty where there is none."""
    index = columns.get(field)
    return row[index] if index is not None and index < len(row) else ""
