"""Spreadsheet files: cells as they are seen, sheets, and files that are made to hurt."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Callable, Sequence
from datetime import date, datetime

import openpyxl
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jade_ladder.core.errors import Refused
from jade_ladder.formats.class_list import read_class_list
from jade_ladder.formats.spreadsheet import read_sheet
from jade_ladder.formats.table import read_table


def xlsx(**sheets: Sequence[Sequence[object]]) -> bytes:
    book = openpyxl.Workbook()
    book.remove(book.active)
    for name, rows in sheets.items():
        sheet = book.create_sheet(name)
        for row in rows:
            sheet.append(list(row))
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def test_the_first_sheet_with_cells_is_read_or_the_one_wanted() -> None:
    content = xlsx(Empty=[], Nine=[["Name", "ID"], ["Bo Lund", 7]], Ten=[["Name"], ["Kai Nord"]])
    sheet = read_sheet(content)
    assert (sheet.name, sheet.names) == ("Nine", ("Empty", "Nine", "Ten"))
    _, (line,) = read_class_list(read_table(sheet.text))
    assert (line.name, line.identifier) == ("Bo Lund", "7")
    assert "Kai Nord" in read_sheet(content, "Ten").text
    with pytest.raises(Refused, match="no sheet “Eleven”"):
        read_sheet(content, "Eleven")


@pytest.mark.parametrize(
    ("value", "form", "written"),
    [
        (4401, "General", "4401"),
        (4401.0, "General", "4401"),
        (44, "0000", "0044"),
        (2.5, "General", "2.5"),
        (date(2026, 9, 1), "yyyy-mm-dd", "2026-09-01"),
        (datetime(2026, 9, 1, 8, 30), "yyyy-mm-dd hh:mm", "2026-09-01 08:30"),
        (True, "General", "TRUE"),
        ("  Okafor, Chidi\t", "General", "Okafor, Chidi"),
        ("two\nlines", "General", "two\nlines"),
        ("=1+1", "General", ""),
        (None, "General", ""),
    ],
)
def test_cells_are_read_as_they_are_seen(value: object, form: str, written: str) -> None:
    """A formula was never worked out here, so that there is no value of it."""
    book = openpyxl.Workbook()
    book.active.append(["Name", "ID", "End"])
    book.active.append(["Bo Lund", value, "."])
    book.active["B2"].number_format = form
    out = io.BytesIO()
    book.save(out)
    ((_, cells),) = read_table(read_sheet(out.getvalue()).text).rows[1:]
    assert cells == ("Bo Lund", written, ".")


def bomb() -> bytes:
    """A sheet that says nothing in a hundred million characters."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as parts:
        parts.writestr("xl/worksheets/sheet1.xml", b" " * 100_000_000)
    return out.getvalue()


def many_parts() -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as parts:
        for number in range(400):
            parts.writestr(f"part{number}", b"")
    return out.getvalue()


def with_entities() -> bytes:
    """A workbook that expands to a thousand million characters."""
    steps = "".join(f'<!ENTITY e{n} "{f"&e{n - 1};" * 10}">' for n in range(1, 10))
    laughing = f'<!DOCTYPE x [<!ENTITY e0 "laugh">{steps}]><workbook>&e9;</workbook>'
    out = io.BytesIO()
    with (
        zipfile.ZipFile(io.BytesIO(xlsx(One=[["Name"], ["Bo"]]))) as good,
        zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as parts,
    ):
        for name in good.namelist():
            parts.writestr(name, laughing if name == "xl/workbook.xml" else good.read(name))
    return out.getvalue()


@pytest.mark.parametrize(
    "make",
    [
        bomb,
        many_parts,
        with_entities,
        lambda: b"PK\x03\x04",
        lambda: b"PK\x03\x04" + b"\0" * 2_000_000,
        lambda: xlsx(One=[["Name"], ["Bo Lund"]])[:-60],
        lambda: xlsx(One=[["x"]] * 5_100),
    ],
    ids=["bomb", "parts", "entities", "head", "large", "torn", "lines"],
)
def test_what_is_no_list_is_refused(make: Callable[[], bytes]) -> None:
    with pytest.raises(Refused) as refused:
        read_table(read_sheet(make()).text)
    assert refused.value.field in ("file", "text")


def test_a_large_sheet_is_refused_by_the_size_it_declares(monkeypatch: pytest.MonkeyPatch) -> None:
    """300,000 lines once took ten seconds before they were refused."""
    large = workbook(300_000, 22)

    def never(*_: object, **__: object) -> None:
        raise AssertionError("nothing of it is read")

    with monkeypatch.context() as patch:
        patch.setattr("openpyxl.load_workbook", never)
        with pytest.raises(Refused, match="More than 5000 lines"):
            read_sheet(large)
    # One that only says so, as where whole columns have a colour, is read.
    assert read_sheet(workbook(1_048_576, 1)).text == "Bo Lund\n"


def workbook(says: int, lines: int) -> bytes:
    """A workbook of a line that says how many it has, and is as large as so many thousands."""
    good = xlsx(One=[["Bo Lund"]])
    out = io.BytesIO()
    with (
        zipfile.ZipFile(io.BytesIO(good)) as read,
        zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as parts,
    ):
        for name in read.namelist():
            content = read.read(name)
            if name == "xl/worksheets/sheet1.xml":
                content = content.replace(b'"A1:A1"', f'"A1:C{says}"'.encode())
                assert f":C{says}".encode() in content
                content += b" " * (lines * 300_000)
            parts.writestr(name, content)
    return out.getvalue()


GOOD = xlsx(One=[["Name", "ID"], ["Bo Lund", 7]])


@given(st.integers(0, len(GOOD) - 1), st.binary(min_size=1, max_size=8))
@settings(max_examples=60)
def test_a_damaged_file_is_read_or_refused(place: int, noise: bytes) -> None:
    try:
        read_sheet(GOOD[:place] + noise + GOOD[place + len(noise) :])
    except Refused:
        return
