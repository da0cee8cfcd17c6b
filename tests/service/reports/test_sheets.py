"""Sheets to hand out: what is on them is what the screens say, and CSV is read back."""

from __future__ import annotations

import csv
import io
from datetime import timedelta

import pytest

from jade_ladder.formats.class_list import StudentLine
from jade_ladder.formats.sheet import Sheet, SheetCell, write_sheet
from jade_ladder.formats.table import read_table
from jade_ladder.service.classes import class_list, students
from jade_ladder.service.mastery.wall import wall
from jade_ladder.service.reports import sheets
from jade_ladder.service.shared.caller import Teacher
from tests.builders import Small, at, school_day, second_class, small


def texts(sheet: Sheet) -> list[list[str]]:
    return [[cell.text for cell in row] for row in sheet.rows]


@pytest.fixture
def marked(caller: Teacher) -> Small:
    made = small(at(caller, -10))
    made.mark(made.students[0], 4, 2)
    return made


def test_a_class_list_can_be_imported_again(marked: Small, caller: Teacher) -> None:
    students.set_left(caller, marked.class_id, marked.students[1], school_day(caller))
    sheet = sheets.class_list_sheet(caller, marked.class_id)
    assert texts(sheet) == [["Berg", "Aino", "S1", ""]]
    other = second_class(caller, marked)
    table = read_table(write_sheet(sheet).decode("utf-8-sig"))
    preview = class_list.preview_class_list(caller, other, table)
    assert [read.status for read in preview.lines] == ["already-there"]


def test_the_wall_on_paper_is_the_wall(marked: Small, caller: Teacher) -> None:
    seen = wall(caller, marked.class_id)
    sheet = sheets.wall_sheet(caller, marked.class_id)
    assert sheet.headings == ("Student", "W1", "W2", "Mastered")
    for row, cells in zip(sheet.rows, seen.cells, strict=True):
        for shown, cell in zip(row[1:-1], cells, strict=True):
            value = cell.mastery.value
            assert shown.text == ("" if value is None else f"{value // 100}.{value % 100:02}")
            assert shown.mastered == (cell.mastery.state == "mastered")
    assert sheet.key == ("W1: I can W1", "W2: I can W2")
    assert (sheet.of, sheet.day) == ("Chart Room", school_day(caller))


def test_a_part_of_the_wall_of_a_day_stands_on_paper_in_the_order_asked_for(
    marked: Small, caller: Teacher
) -> None:
    aino, zoe = marked.students
    marked.mark(zoe, 4, 4, caller=caller)
    shown = sheets.wall_sheet(
        caller, marked.class_id, only_students=[zoe, 99, aino, zoe], only_outcomes=[2, 77]
    )
    assert shown.headings == ("Student", "W2", "Mastered")
    assert texts(shown) == [["Zoe Anders", "4.00", "2 of 2"], ["Aino Berg", "2.00", "1 of 2"]]
    assert shown.note.startswith("2 of 2 students and 1 of 2 outcomes are shown")
    assert shown.key == ("W2: I can W2",)
    before = school_day(caller) - timedelta(days=1)
    earlier = sheets.wall_sheet(caller, marked.class_id, before, [zoe])
    assert texts(earlier) == [["Zoe Anders", "", "", "0 of 2"]]
    assert earlier.day == before


def test_a_students_outcomes_and_what_is_assessed(marked: Small, caller: Teacher) -> None:
    sheet = sheets.student_sheet(caller, marked.class_id, marked.students[0])
    assert texts(sheet) == [
        ["", "W1", "I can W1", "3.00", "Arrived", "1"],
        ["", "W2", "I can W2", "2.00", "On the way", "1"],
    ]
    sheet = sheets.coverage_sheet(caller, marked.class_id)
    assert sheet.headings == ("Outcome", "Route", "Tasks", "Thin", "None")
    assert texts(sheet)[0] == ["W1 I can W1", "1", "1", "1", "1"]


def test_a_student_who_left_on_the_day_they_came_has_a_sheet_without_lines(
    marked: Small, caller: Teacher
) -> None:
    kai = students.add_student(caller, marked.class_id, StudentLine(1, "Kai", "Nord"))
    students.set_left(caller, marked.class_id, kai, school_day(caller))
    sheet = sheets.student_sheet(caller, marked.class_id, kai)
    assert (sheet.rows, sheet.headings[0]) == ((), "Strand")


def test_marks_and_a_rubric(marked: Small, caller: Teacher) -> None:
    sheet = sheets.task_sheet(caller, marked.task_id)
    assert texts(sheet) == [
        ["Zoe Anders", "not yet", "", "", "", "", ""],
        ["Aino Berg", "marked", "Step 4", "Step 2", "6", "8", "Not yet: Criterion b"],
    ]
    assert texts(sheets.rubric_sheet(caller, marked.rubric_id))[0] == [
        "Criterion a",
        "W1",
        *(f"Step {n} ({n}): What {n} is" for n in range(1, 5)),
    ]


def test_csv_is_safe_and_has_the_decimal_sign_that_was_asked_for(caller: Teacher) -> None:
    row = (SheetCell("=1+1"), SheetCell("2.75", number=True), SheetCell("1.2 is words; so"))
    sheet = Sheet("T", "C", school_day(caller) + timedelta(days=1), "", ("a", "b", "c"), (row,))
    for comma, separator, expected in (
        (False, ",", ["'=1+1", "2.75", "1.2 is words; so"]),
        (True, ";", ["'=1+1", "2,75", "1.2 is words; so"]),
    ):
        content = write_sheet(sheet, comma)
        assert content.startswith(b"\xef\xbb\xbf")
        rows = list(csv.reader(io.StringIO(content.decode("utf-8-sig")), delimiter=separator))
        assert rows == [["a", "b", "c"], expected]
