"""Tables as teachers have them: a CSV file, or cells pasted from a spreadsheet."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import NamedTuple

from jade_ladder.core.errors import Refused
from jade_ladder.formats.headings import Words, plain
from jade_ladder.formats.plain_text import cleaned

LARGEST_TABLE = 2_000_000
MOST_ROWS = 5_000
MOST_COLUMNS = 100
_SEPARATORS = "\t;,|"
_FORMULA = re.compile(r"'*[=+\-@\t\r]")
# So many lines with a title, a date and the like may stand above the headings.
_MOST_ABOVE = 10
_SAMPLES = 3

Row = tuple[int, tuple[str, ...]]
"""The number of the line that a row begins on, and its cells."""


@dataclass(frozen=True, slots=True)
class Choices:
    """What the teacher says of a table: the heading for each field (empty: none), whether its first
    line holds headings (None: as it looks), the order of whole names, and by line the cells that
    they mended.
    """

    columns: Mapping[str, str] = field(default_factory=dict)
    headed: bool | None = None
    names: str = ""
    mended: Mapping[int, Mapping[str, str]] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Table:
    """Headings, each there once, and rows; `above` are lines over the headings, passed over."""

    headings: tuple[str, ...]
    rows: tuple[Row, ...]
    above: tuple[Row, ...] = ()

    @property
    def samples(self) -> tuple[tuple[str, ...], ...]:
        """The first values of each column."""
        found: list[list[str]] = [[] for _ in self.headings]
        for _, cells in self.rows[:50]:
            for values, cell in zip(found, cells, strict=False):
                if cell and len(values) < _SAMPLES:
                    values.append(cell)
        return tuple(tuple(values) for values in found)


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
        "This is neither a spreadsheet (XLSX) nor a text file. Save it from the spreadsheet as "
        "XLSX or CSV, or copy the cells and paste them here.",
        "file",
    )


def _looks_binary(text: str) -> bool:
    return text.startswith("PK\x03\x04") or any(
        character < " " and character not in "\t\n\r\f" for character in text[:2000]
    )


def read_table(text: str) -> Table:
    """Read rows, whatever the separator, the first taken for headings; empty rows are passed over.

    Raises Refused, naming the line, for a table without rows or with torn quotes.
    """
    lines = text.lstrip("\ufeff")
    separator = _separator(lines)
    reader = csv.reader(io.StringIO(lines, newline=""), delimiter=separator, strict=True)
    rows: list[Row] = []
    begins = 1
    # Most tables have no apostrophe at all, and so nothing that is guarded by one.
    trim = _unguarded if "'" in lines else str.strip
    try:
        for cells in reader:
            trimmed = tuple(map(trim, cells))
            if any(trimmed):
                rows.append((begins, trimmed))
            begins = reader.line_num + 1
    except csv.Error as error:
        raise Refused(f"Line {begins} cannot be read as a table: {error}", "text") from error
    if not rows:
        raise Refused("There is nothing in it yet", "text")
    if len(rows) > MOST_ROWS + _MOST_ABOVE + 1:
        raise Refused(f"More than {MOST_ROWS} lines; is it the right table?", "text")
    return Table((), tuple(rows))


def with_headings(table: Table, words: Words, headed: bool | None = None) -> Table:
    """Find the line of headings among the first ones: the one with most of the words that are
    known, else the first with several cells. With `headed` False there is none, and the columns
    are named by letters; None: there is one unless the first line looks like the others.

    Raises Refused where nothing is below the headings.
    """
    rows = table.rows
    if headed is False:
        return _cut(replace(table, headings=(), rows=((0, ()), *rows)), 0)
    place = _headings_at(rows, words)
    if len(rows) == place + 1:
        raise Refused("There is only one line; the first line holds the headings", "text")
    return _cut(table, place)


def _headings_at(rows: Sequence[Row], words: Words) -> int:
    known = {word for several in words.values() for word in several}
    first = [cells for _, cells in rows[: _MOST_ABOVE + 1]]
    scores = [len({plain(cell) for cell in cells} & known) for cells in first]
    if max(scores) >= 2 or scores[0]:
        return scores.index(max(scores))
    widths = [sum(map(bool, cells)) for cells in first]
    if widths[0] == 1 and max(widths) > 1:
        return next(place for place, width in enumerate(widths) if width > 1)
    return 0


def _cut(table: Table, place: int) -> Table:
    """Take the row at a place for headings. Columns without one, empty ones aside, are named by
    letters; a heading that is there twice gets a number.
    """
    (_, cells), below = table.rows[place], table.rows[place + 1 :]
    if len(below) > MOST_ROWS:
        raise Refused(f"More than {MOST_ROWS} lines; is it the right table?", "text")
    used = max((len(row) for _, row in below), default=0) if not cells else len(cells)
    if used > MOST_COLUMNS:
        raise Refused(f"More than {MOST_COLUMNS} columns; is it the right table?", "text")
    headings: list[str] = []
    for column in range(used):
        cell = cells[column] if column < len(cells) else ""
        name = cell or f"Column {_letter(column)}"
        count = sum(one == name or one.startswith(f"{name} (") for one in headings)
        headings.append(f"{name} ({count + 1})" if count else name)
    return Table(tuple(headings), below, table.rows[:place])


def _letter(column: int) -> str:
    more, last = divmod(column, 26)
    return (chr(ord("A") + more - 1) if more else "") + chr(ord("A") + last)


def _separator(text: str) -> str:
    """Take the separator that stands most often, by the median, in the first lines with any; a
    comma, which stands within names, gives way to one that is there as often.
    """
    lines = [line for line in text.splitlines()[:40] if line.strip()][:20]
    counts = {
        separator: sorted(line.count(separator) for line in lines)[len(lines) // 2] if lines else 0
        for separator in _SEPARATORS
    }
    first = lines[0] if lines else ""

    def rank(one: str) -> tuple[int, int, bool]:
        return counts[one], first.count(one), (one == ",") != any(counts.values())

    return max(_SEPARATORS, key=rank)


def _unguarded(cell: str) -> str:
    """Trim a cell, and undo the apostrophe that keeps spreadsheets from taking it for a formula."""
    cell = cell.strip()
    return cell[1:] if cell.startswith("'") and _FORMULA.match(cell) else cell


def safe_cell(text: str) -> str:
    """Put an apostrophe before what a spreadsheet would take for a formula; reading undoes it."""
    return f"'{text}" if _FORMULA.match(text) else text


def write_table(
    headings: Iterable[str], rows: Iterable[Sequence[str]], separator: str = ","
) -> str:
    """Write a table as CSV that any spreadsheet opens and that can be read again."""
    out = io.StringIO(newline="")
    writer = csv.writer(out, delimiter=separator, lineterminator="\r\n")
    writer.writerow([safe_cell(heading) for heading in headings])
    writer.writerows([safe_cell(cell) for cell in row] for row in rows)
    return out.getvalue()


def find_columns(table: Table, words: Words, chosen: Mapping[str, str]) -> dict[str, int]:
    """Find the column of each field by its heading; `chosen` headings come before the words that
    are known, and an empty one says that there is no column for a field.
    """
    headings = [plain(heading) for heading in table.headings]
    found = {
        name: table.headings.index(heading)
        for name, heading in chosen.items()
        if name in words and heading in table.headings
    }
    for name, several in words.items():
        if name in chosen:
            continue
        for word in several:
            if word in headings and headings.index(word) not in found.values():
                found[name] = headings.index(word)
                break
    return found


@dataclass(frozen=True, slots=True)
class ReadColumns:
    """How a table's columns were taken: the heading for each field, all headings with their first
    values, the lines passed over above them, and what the teacher has to choose yet (`needed`).
    """

    taken: Mapping[str, str]
    headings: tuple[str, ...]
    samples: tuple[tuple[str, ...], ...]
    above: tuple[str, ...]
    needed: str = ""

    @classmethod
    def of(cls, table: Table, columns: Mapping[str, int], needed: str = "") -> ReadColumns:
        """Say how columns were taken."""
        return cls(
            {name: table.headings[place] for name, place in columns.items()},
            table.headings,
            table.samples,
            tuple(" ".join(filter(None, cells)) for _, cells in table.above),
            needed,
        )


class Line(NamedTuple):
    """A row by its fields: what stands in its columns, and what the teacher mended."""

    number: int
    cells: tuple[str, ...]
    columns: Mapping[str, int]
    headings: int
    mended: Mapping[str, str]

    def cell(self, name: str) -> str:
        """Give the cell of a field; empty where there is none."""
        if name in self.mended:
            return self.mended[name].strip()
        place = self.columns.get(name)
        return self.cells[place] if place is not None and place < len(self.cells) else ""

    @property
    def problem(self) -> str:
        """What is wrong with the line as a whole, or nothing; what was mended is whole."""
        if len(self.cells) > self.headings and not self.mended and any(self.cells[self.headings :]):
            return (
                f"There are {len(self.cells)} cells under {self.headings} headings: a cell with a "
                "separator in it needs quotation marks round it"
            )
        return ""


def lines_of(table: Table, columns: Mapping[str, int], choices: Choices) -> list[Line]:
    """Give the rows of a table as lines."""
    return [
        Line(number, cells, columns, len(table.headings), choices.mended.get(number, {}))
        for number, cells in table.rows
    ]
