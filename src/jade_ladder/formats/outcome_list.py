"""Lists of outcomes: code, title, description, strand; columns found by their headings."""

from __future__ import annotations

from dataclasses import dataclass

from jade_ladder.formats.case import Framework
from jade_ladder.formats.headings import OUTCOMES
from jade_ladder.formats.table import (
    Choices,
    Line,
    ReadColumns,
    Table,
    find_columns,
    lines_of,
    with_headings,
    write_table,
)

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
    table: Table, choices: Choices = Choices()
) -> tuple[ReadColumns, list[OutcomeLine]]:
    """Read the lines of a list of outcomes, and say how its columns were taken. Where no column
    holds codes or titles there are no lines yet: the teacher has to say which does.
    """
    headed = with_headings(table, OUTCOMES, choices.headed)
    columns = find_columns(headed, OUTCOMES, choices.columns)
    missing = [name for name in ("code", "title") if name not in columns]
    if missing:
        needed = " and ".join(f"the column that holds the {name}s" for name in missing)
        return ReadColumns.of(headed, columns, f"Choose {needed}"), []
    return ReadColumns.of(headed, columns), [
        _line(line) for line in lines_of(headed, columns, choices)
    ]


def _line(line: Line) -> OutcomeLine:
    code, title, description, strand = (line.cell(name) for name in OUTCOMES)
    problem, field = line.problem, "line"
    if not problem:
        problem, field = check_outcome(code, title, description)
    return OutcomeLine(line.number, code, title, description, strand, problem, field)


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
    rows = [
        (one.code, one.title, one.description, strands.get(one.strand or "", ""))
        for one in framework.outcomes
    ]
    return write_table((name.capitalize() for name in OUTCOMES), rows).encode("utf-8-sig")
