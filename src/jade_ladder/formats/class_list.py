"""Class lists: given name, family name, identifier, e-mail; columns found by their headings."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from jade_ladder.core.names import Named
from jade_ladder.formats.headings import STUDENTS, plain
from jade_ladder.formats.table import (
    Choices,
    Line,
    ReadColumns,
    Table,
    find_columns,
    lines_of,
    with_headings,
)

LONGEST_CELL = 120
_CELLS = ("given_name", "family_name", "identifier", "email")


@dataclass(frozen=True, slots=True)
class StudentLine(Named):
    """One line of a class list; `problem` says what is wrong with it, `field` where.

    `from_list`: it came with a whole list, not alone.
    """

    number: int
    given_name: str
    family_name: str
    identifier: str = ""
    email: str = ""
    problem: str = ""
    field: str = ""
    from_list: bool = False


def read_class_list(
    table: Table, choices: Choices = Choices()
) -> tuple[ReadColumns, list[StudentLine]]:
    """Read the lines of a class list, and say how its columns were taken.

    A column of whole names is split as `choices.names` says: "family-first" or "given-first", at
    the first or the last space; else, and always where there is a comma, "Family, Given". Where
    no column holds names there are no lines yet: the teacher has to say which does.
    """
    headed = with_headings(table, STUDENTS, choices.headed)
    columns = find_columns(headed, STUDENTS, choices.columns)
    columns = _parts_of_names(headed, columns, choices.columns)
    if not {"given_name", "family_name", "name"} & columns.keys():
        return ReadColumns.of(headed, columns, "Choose the column that holds the names"), []
    lines = [_line(line, choices.names) for line in lines_of(headed, columns, choices)]
    return ReadColumns.of(headed, columns), lines


# Words that head a part of a name beside the other part, and a whole name where they stand alone.
_PART_OR_WHOLE = frozenset(["nom", "nome", "nombre", "imie", "adi", "ad", "ονομα", "имя", "الاسم"])


def _parts_of_names(
    table: Table, columns: dict[str, int], chosen: Mapping[str, str]
) -> dict[str, int]:
    """Say what a heading for whole names, or for one part of a name, means beside the others."""
    parts = {"given_name", "family_name"} - chosen.keys()
    found = parts & columns.keys()
    if len(parts) < 2 or "name" in chosen or len(found) != 1:
        return columns
    (part,) = found
    (other,) = parts - found
    if "name" in columns:
        # "Name, Vorname": the name beside one part is the other part.
        columns[other] = columns.pop("name")
    elif plain(table.headings[columns[part]]) in _PART_OR_WHOLE:
        columns["name"] = columns.pop(part)
    return columns


def _line(line: Line, order: str) -> StudentLine:
    given, family = line.cell("given_name"), line.cell("family_name")
    if not given and not family:
        given, family = split_name(line.cell("name"), order)
    identifier, email = line.cell("identifier"), line.cell("email")
    problem, field = line.problem, "line"
    if not problem:
        problem, field = check_student(given, family, identifier, email)
    return StudentLine(line.number, given, family, identifier, email, problem, field, True)


def check_student(given: str, family: str, identifier: str, email: str) -> tuple[str, str]:
    """Say what is wrong with a student's data and in which field, or two empty texts."""
    if not given and not family:
        return "There is no name", "given_name"
    if email and ("@" not in email[1:-1] or " " in email):
        return f"“{email}” is not an e-mail", "email"
    for field, text in zip(_CELLS, (given, family, identifier, email), strict=True):
        if len(text) > LONGEST_CELL:
            return f"More than {LONGEST_CELL} characters", field
    return "", ""


def split_name(name: str, order: str = "") -> tuple[str, str]:
    """Split a whole name into given and family: at a comma, else at the last space, or, where the
    family name comes first, at the first.
    """
    if "," in name:
        family, _, given = name.partition(",")
        return given.strip(), family.strip()
    if order == "family-first":
        family, _, given = name.partition(" ")
        return given.strip(), family.strip()
    given, _, family = name.rpartition(" ")
    return (given.strip(), family.strip()) if given else (family.strip(), "")
