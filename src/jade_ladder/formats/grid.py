"""Grids of cells as they are pasted: text with tabs from a spreadsheet, or a table from a word
processor (HTML). Merged cells are taken apart, and told.
"""

from __future__ import annotations

import csv
import io
import re
from dataclasses import dataclass, field
from html.parser import HTMLParser

from jade_ladder.core.errors import Refused

LARGEST_GRID = 400_000
MOST_ROWS, MOST_COLUMNS = 120, 30
_SPACE = re.compile(r"[^\S\n]+")


@dataclass(frozen=True, slots=True)
class Grid:
    """Rows of cells; a row may be longer or shorter than others. `merged` cells were taken apart:
    their text stands in the first of the places that they covered.
    """

    rows: tuple[tuple[str, ...], ...]
    merged: int = 0

    @property
    def text(self) -> str:
        """The grid as text with tabs, as it would be pasted."""
        out = io.StringIO(newline="")
        csv.writer(out, delimiter="\t", lineterminator="\n").writerows(self.rows)
        return out.getvalue()


def grid_of(content: str) -> Grid:
    """Read a grid from HTML that has a table, else from text with tabs between cells.

    Raises Refused where there is no grid: nothing, one column only, or far too many cells.
    """
    is_html = re.search(r"<table[\s>]", content, re.IGNORECASE) is not None
    rows, merged = _from_html(content) if is_html else (_from_text(content), 0)
    rows = [row for row in rows if any(row)]
    if not rows or max(len(row) for row in rows) < 2:
        raise Refused(
            "This is no grid: copy the cells of a table, criteria down the side and levels across",
            "text",
        )
    if len(rows) > MOST_ROWS or max(len(row) for row in rows) > MOST_COLUMNS:
        raise Refused(
            f"This grid has more than {MOST_ROWS} rows or {MOST_COLUMNS} columns; is it a rubric?",
            "text",
        )
    return Grid(tuple(tuple(row) for row in rows), merged)


def _from_text(content: str) -> list[list[str]]:
    try:
        rows = list(csv.reader(io.StringIO(content, newline=""), delimiter="\t", strict=True))
    except csv.Error:
        # A quotation mark that is only a quotation mark.
        rows = [line.split("\t") for line in content.splitlines()]
    return [[_clean(cell) for cell in row] for row in rows]


def _clean(text: str) -> str:
    lines = (_SPACE.sub(" ", line).strip() for line in text.replace("\r", "\n").split("\n"))
    return "\n".join(line for line in lines if line)


def _from_html(content: str) -> tuple[list[list[str]], int]:
    reader = _TableReader()
    reader.feed(content)
    reader.close()
    return reader.rows(), reader.merged


@dataclass
class _Cell:
    text: str = ""
    across: int = 1
    down: int = 1


@dataclass
class _Row:
    cells: list[_Cell] = field(default_factory=list)


class _TableReader(HTMLParser):
    """Reads the first table; a table within a cell is read as text of that cell."""

    def __init__(self) -> None:
        super().__init__()
        self.read: list[_Row] = []
        self.merged = 0
        self._depth = 0
        self._done = False
        self._cell: _Cell | None = None
        self._silent = 0

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        if tag == "table":
            self._depth += 1
        if self._depth == 0 or self._done:
            return
        if tag in ("script", "style"):
            self._silent += 1
        elif tag == "tr" and self._depth == 1:
            self.read.append(_Row())
        elif tag in ("td", "th") and self._depth == 1:
            if not self.read:
                self.read.append(_Row())
            spans = dict(attrs)
            self._cell = _Cell("", _span(spans.get("colspan")), _span(spans.get("rowspan")))
            self.read[-1].cells.append(self._cell)
            self.merged += self._cell.across > 1 or self._cell.down > 1
        elif tag in ("p", "br", "div", "li", "tr") and self._cell is not None:
            self._cell.text += "\n"

    def handle_endtag(self, tag: str) -> None:
        if tag == "table" and self._depth:
            self._depth -= 1
            if self._depth == 0:
                self._done = True
                self._cell = None
        elif tag in ("td", "th") and self._depth == 1:
            self._cell = None
        elif tag in ("script", "style") and self._silent:
            self._silent -= 1

    def handle_data(self, data: str) -> None:
        if self._cell is not None and not self._silent:
            self._cell.text += data.replace("\n", " ")

    def rows(self) -> list[list[str]]:
        """Lay the cells out in a grid, each in the first of the places it covers."""
        laid: list[dict[int, str]] = [{} for _ in self.read]
        for place, row in enumerate(self.read):
            column = 0
            for cell in row.cells:
                while column in laid[place]:
                    column += 1
                for down in range(min(cell.down, len(self.read) - place)):
                    for across in range(cell.across):
                        first = down == 0 and across == 0
                        laid[place + down][column + across] = _clean(cell.text) if first else ""
        return [[row.get(n, "") for n in range(max(row, default=-1) + 1)] for row in laid]


def _span(text: str | None) -> int:
    return min(int(text), MOST_COLUMNS) if text and text.isdigit() and int(text) > 0 else 1
