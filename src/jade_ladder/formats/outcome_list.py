"""Lists of outcomes: code, title, description, strand; columns found by their headings."""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass

from jade_ladder.core.errors import Refused
from jade_ladder.formats.case import Framework
from jade_ladder.formats.table import Table, cell, find_columns, safe_cell

COLUMNS: dict[str, tuple[str, ...]] = {
    "code": ("code", "outcomecode", "identifier", "id", "number"),
    "title": ("title", "outcome", "statement", "name", "shorttitle"),
    "description": ("description", "details", "fullstatement", "notes"),
    "strand": ("strand", "group", "area", "domain", "topic"),
}
LONGEST_TITLE, LONGEST_CODE, LONGEST_DESCRIPTION = 300, 30, 5000


@dataclass(frozen=True, slots=True)
class OutcomeLine:
    """One line of a list of outcomes; `problem` says what is wrong with it, `field` where."""

    number: int
    code: str
    title: str
    description: str
    strand: str
    problem: str = ""
    field: str = ""


def read_outcome_list(
    table: Table, chosen: dict[str, str] | None = None
) -> tuple[dict[str, str], list[OutcomeLine]]:
    """Read the lines of a list of outcomes, and say which heading was taken for which field.

    Raises Refused when no column holds codes or titles.
    """
    columns = find_columns(table, COLUMNS, chosen)
    missing = [field for field in ("code", "title") if field not in columns]
    if missing:
        raise Refused(
            f"No column is headed “{missing[0].capitalize()}”. The headings found: "
            + ", ".join(heading for heading in table.headings if heading),
            "columns",
        )
    found = {field: table.headings[index] for field, index in columns.items()}
    return found, [_line(number, row, columns) for number, row in table.rows]


def _line(number: int, row: tuple[str, ...], columns: dict[str, int]) -> OutcomeLine:
    code, title, description, strand = (cell(row, columns, field) for field in COLUMNS)
    problem, field = check_outcome(code, title, description)
    return OutcomeLine(number, code, title, description, strand, problem, field)


def check_outcome(code: str, title: str, description: str) -> tuple[str, str]:
    """Say what is wrong with an outcome's data and in which field, or two empty texts."""
    if not code:
        return "The code is missing", "code"
    if len(code) > LONGEST_CODE:
        return f"A code has at most {LONGEST_CODE} characters", "code"
    if not title:
        return "The title is missing", "title"
    if len(title) > LONGEST_TITLE:
        return f"A title has at most {LONGEST_TITLE} characters", "title"
    if len(description) > LONGEST_DESCRIPTION:
        return f"A description has at most {LONGEST_DESCRIPTION} characters", "description"
    return "", ""


def write_outcome_list(framework: Framework) -> bytes:
    """Write a framework's outcomes as CSV that spreadsheets open and that can be read again."""
    strands = {strand.guid: strand.title for strand in framework.strands}
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(name.capitalize() for name in COLUMNS)
    for one in framework.outcomes:
        row = (one.code, one.title, one.description, strands.get(one.strand or "", ""))
        writer.writerow(safe_cell(text) for text in row)
    return out.getvalue().encode("utf-8-sig")
