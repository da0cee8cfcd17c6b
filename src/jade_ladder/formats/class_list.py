"""Class lists: given name, family name, identifier, e-mail; columns found by their headings."""

from __future__ import annotations

from dataclasses import dataclass

from jade_ladder.core.errors import Refused
from jade_ladder.core.names import Named
from jade_ladder.formats.table import Table, cell, find_columns

COLUMNS: dict[str, tuple[str, ...]] = {
    "given_name": ("givenname", "givennames", "firstname", "forename", "given", "first"),
    "family_name": ("familyname", "surname", "lastname", "family", "last"),
    "name": ("name", "fullname", "student", "studentname", "pupil"),
    "identifier": ("identifier", "id", "studentid", "number", "studentnumber", "schoolid"),
    "email": ("email", "mail", "emailaddress"),
}
LONGEST_CELL = 120


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
    table: Table, chosen: dict[str, str] | None = None
) -> tuple[dict[str, str], list[StudentLine]]:
    """Read the lines of a class list, and say which heading was taken for which field.

    `chosen` overrides what is found. A single name column is split at its last space, or at a
    comma ("Family, Given"). Raises Refused when no column holds names.
    """
    columns = find_columns(table, COLUMNS, chosen)
    if not {"given_name", "family_name", "name"} & columns.keys():
        raise Refused(
            "No column is headed “Given name”, “Family name” or “Name”. The headings found: "
            + ", ".join(heading for heading in table.headings if heading),
            "columns",
        )
    found = {field: table.headings[index] for field, index in columns.items()}
    return found, [_line(number, row, columns) for number, row in table.rows]


def _line(number: int, row: tuple[str, ...], columns: dict[str, int]) -> StudentLine:
    given = cell(row, columns, "given_name")
    family = cell(row, columns, "family_name")
    if not given and not family:
        given, family = split_name(cell(row, columns, "name"))
    identifier = cell(row, columns, "identifier")
    email = cell(row, columns, "email")
    problem, field = check_student(given, family, identifier, email)
    return StudentLine(number, given, family, identifier, email, problem, field, from_list=True)


def check_student(given: str, family: str, identifier: str, email: str) -> tuple[str, str]:
    """Say what is wrong with a student's data and in which field, or two empty texts."""
    if not given and not family:
        return "There is no name", "given_name"
    if email and ("@" not in email[1:-1] or " " in email):
        return f"“{email}” is not an e-mail", "email"
    cells = {"given_name": given, "family_name": family, "identifier": identifier, "email": email}
    for field, text in cells.items():
        if len(text) > LONGEST_CELL:
            return f"More than {LONGEST_CELL} characters", field
    return "", ""


def split_name(name: str) -> tuple[str, str]:
    """Split a whole name into given and family: at a comma, else at the last space."""
    if "," in name:
        family, _, given = name.partition(",")
        return given.strip(), family.strip()
    given, _, family = name.rpartition(" ")
    return (given.strip(), family.strip()) if given else (family.strip(), "")
