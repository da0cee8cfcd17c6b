"""What goes out as a workbook or as CSV is what the screens say, whatever is in it."""

from __future__ import annotations

import csv
import io
import zipfile
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

import openpyxl
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from jade_ladder.core.errors import NotFound
from jade_ladder.core.evidence import AttemptsRule
from jade_ladder.core.numbers import write_hundredths
from jade_ladder.formats.class_list import StudentLine
from jade_ladder.formats.exported.writing import Form, write_export
from jade_ladder.service.classes import classes, students
from jade_ladder.service.marking import again, saving
from jade_ladder.service.marking.desk import desk
from jade_ladder.service.mastery import judgements
from jade_ladder.service.mastery.expectation import lift_outcome
from jade_ladder.service.mastery.judgements import Judged
from jade_ladder.service.mastery.setting_aside import set_evidence_aside
from jade_ladder.service.mastery.trail import trail
from jade_ladder.service.mastery.wall import wall
from jade_ladder.service.notes.notes import NoteWords, write_notes
from jade_ladder.service.reports.exports import class_at_hand, class_export, task_export
from jade_ladder.service.reports.sheets import task_sheet
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import attempts
from jade_ladder.web.mastery.wall import WallOut
from tests.builders import Small, at, small, undone

Rows = list[list[Any]]


@dataclass(frozen=True, slots=True)
class Out:
    """An export as both files have it: by table, its headings and its rows."""

    workbook: dict[str, Rows]
    csv: dict[str, Rows]


def out(made: Any) -> Out:
    """Write an export in both forms and read it back with other programs' readers."""
    files = {}
    for form in Form:
        target = io.BytesIO()
        with made() as export:
            write_export(export, form, target)
        files[form] = target
    book = openpyxl.load_workbook(files[Form.WORKBOOK])
    # Nothing may be a formula, which openpyxl reads as such.
    assert not any(
        cell.data_type == "f" for sheet in book for row in sheet.iter_rows() for cell in row
    )
    sheets = {sheet.title: [list(row) for row in sheet.values] for sheet in book}
    with zipfile.ZipFile(files[Form.CSV]) as archive:
        tables = {
            name.removesuffix(".csv"): list(
                csv.reader(io.StringIO(archive.read(name).decode("utf-8-sig"), newline=""))
            )
            for name in archive.namelist()
        }
    return Out(sheets, tables)


def as_text(value: Any) -> str:
    """What a cell of the workbook is in CSV, in which the number of a value has two decimals."""
    if isinstance(value, str) and value.startswith(("=", "+", "-", "@", "\t")):
        return f"'{value}"
    return "" if value is None else str(value)


def number(hundredths: int | None) -> float | None:
    """A value of the API as the workbook has it."""
    return None if hundredths is None else float(write_hundredths(hundredths))


def filled(caller: Teacher, levels: tuple[int, ...] = (2, 2, 3, 1, 4, 4, 1, 3)) -> Small:
    """A class in which everything is there once: further attempts, a note, what is set aside, what
    is judged, what is not expected, and what is said.
    """
    made = small(at(caller, -40), due=caller.now - timedelta(days=30))
    first, second = made.students
    made.mark(first, *levels[:2], caller=at(caller, -29))
    other = made.new_task("Mean of both", attempts_rule=AttemptsRule.MEAN)
    made.mark(first, *levels[2:4], task_id=other, caller=at(caller, -19))
    again.open_attempts(at(caller, -18), other, [first], "Again", carries=False)
    made.mark(first, *levels[4:6], task_id=other, caller=at(caller, -17), attempt=2)
    again.open_attempts(at(caller, -16), made.task_id, [first], "Again", carries=False)
    made.mark(first, *levels[6:8], caller=at(caller, -15), attempt=2)
    third = made.new_task("=cmd|'/c calc'!A1")
    made.mark(second, *levels[:2], task_id=third, caller=at(caller, -9))
    set_evidence_aside(at(caller, -8), third, [second], "Another's work", 1, [made.outcomes[0]])
    said = NoteWords(2, True, "@note: seen on the quay", None)
    write_notes(at(caller, -7), made.class_id, "a" * 24, [first], made.outcomes[0], said)
    judged = [Judged(first, made.outcomes[1], 3)]
    judgements.judge(at(caller, -6), made.class_id, judged, "+ she showed it")
    lift_outcome(at(caller, -5), made.class_id, second, made.outcomes[1], "A shorter programme")
    return made


@given(
    levels=st.tuples(*[st.integers(1, 4)] * 8),
    back=st.sampled_from([0, 6, 8, 16, 18, 30]),
)
@settings(max_examples=8, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_both_files_are_what_the_api_says_on_any_day(
    caller: Teacher, levels: tuple[int, ...], back: int
) -> None:
    with undone(caller.database):
        made = filled(caller, levels)
        day = wall(caller, made.class_id).as_of - timedelta(days=back)
        found = out(lambda: class_export(caller, made.class_id, day))
        check_wall(found.workbook, WallOut.of(wall(caller, made.class_id, day)))
        check_evidence(found.workbook["Evidence"][1:], caller, made, day)
        for name, rows in found.workbook.items():
            for row, written in zip(rows, found.csv[name], strict=True):
                for cell, text in zip(row, written, strict=True):
                    if isinstance(cell, float) or (isinstance(cell, int) and "." in text):
                        assert float(text) == cell
                    elif not isinstance(cell, datetime):
                        assert text == as_text(cell)
                    else:
                        assert text in (str(cell), str(cell.date()))


def check_wall(workbook: dict[str, Rows], seen: WallOut) -> None:
    across = len(seen.outcomes)
    names = {scale.id: [level.name for level in scale.levels] for scale in seen.scales}
    headings, *rows = workbook["Wall"]
    assert headings[2:-2] == [one.code for one in seen.outcomes]
    cells = iter(workbook["Mastery"][1:])
    for row, student in zip(rows, seen.students, strict=True):
        place = seen.students.index(student) * across
        assert (row[0], row[-2:]) == (student.name, [student.mastered, student.of])
        for at_column, outcome in enumerate(seen.outcomes):
            one = place + at_column
            value, level = number(seen.value[one]), seen.level[one]
            assert row[2 + at_column] == (value if seen.expected[one] else "not expected")
            cell = next(cells)
            assert cell[:1] + cell[2:3] == [student.name, outcome.code]
            assert cell[4] == value
            assert cell[5] == (None if level is None else names[outcome.scale_id][level])
            state = seen.state[one].replace("-", " ") if seen.expected[one] else "not expected"
            assert cell[7:9] == [state, seen.pieces[one]]
            slipped, close, thin, swings = (said == "yes" for said in cell[10:14])
            assert slipped == seen.slipped[one]
            assert (close, thin, swings) == tuple(
                one in places for places in (seen.close, seen.thin, seen.swings)
            )
    for row, outcome in zip(workbook["Outcomes"][1:], seen.outcomes, strict=True):
        assert row[:2] == [outcome.code, outcome.title]
        assert row[8:] == [
            *(outcome.mastered, outcome.counted, outcome.needing, outcome.without),
            *(number(outcome.median), number(outcome.mean)),
        ]


def check_evidence(rows: Rows, caller: Teacher, made: Small, day: date) -> None:
    pieces = [
        (made_for.student.name, made_for.outcome.code, piece)
        for student in reversed(made.students)
        for outcome in made.outcomes
        for made_for in [trail(caller, made.class_id, student, outcome, day)]
        for piece in made_for.pieces
    ]
    assert len(rows) == len(pieces)
    for row, (name, code, piece) in zip(rows, pieces, strict=True):
        assert (row[0], row[2]) == (name, code)
        assert row[4] == number(piece.evidence.value)
        assert row[6] == (piece.task_title or "Observation note")
        assert (row[9] or "") == (piece.aside.reason if piece.aside else "")
        if piece.counted and "mean" not in row[8]:
            assert row[8] == "yes"
        elif not piece.counted:
            assert row[8] != "yes"
        zone = ZoneInfo("Pacific/Auckland")
        assert row[3] == piece.evidence.done_at.astimezone(zone).replace(tzinfo=None, microsecond=0)


def test_totals_remarks_and_judgements_go_out(caller: Teacher) -> None:
    made = filled(caller)
    first, second = made.students
    criterion = desk(caller, made.task_id).criteria[0].id
    saving.remark(caller, made.task_id, first, criterion, "-1 for the compass", 99, 2)
    saving.remark(caller, made.task_id, first, None, "Drawn with care", 99, 2)
    saving.finish(caller, made.task_id, first, 2)
    attempts.excuse(caller, made.task_id, second, True)
    found = out(lambda: class_export(caller, made.class_id))
    headings, zoe, aino = found.workbook["Totals"]
    totals = dict(zip(headings, aino, strict=True))
    assert totals["Route (of 8.00)"] == 4
    assert totals["Mean of both (of 8.00)"] == 6
    assert dict(zip(headings, zoe, strict=True))["Route (of 8.00)"] == "excused"
    # So has one who was marked before.
    attempts.excuse(caller, made.task_id, first, True)
    again = out(lambda: class_export(caller, made.class_id)).workbook["Totals"][2]
    assert dict(zip(headings, again, strict=True))["Route (of 8.00)"] == "excused"
    of_task = out(lambda: task_export(caller, made.task_id)).workbook["Marks"]
    rows = [dict(zip(of_task[0], row, strict=True)) for row in of_task[1:]]
    assert {(row["Finished"], row["Total"]) for row in rows} == {("excused", None)}
    assert [row[2:8] for row in found.workbook["Remarks"][1:]] == [
        ["Route", 2, "Criterion a", "Step 1", None, "-1 for the compass"],
        ["Route", 2, "the whole", None, None, "Drawn with care"],
        ["Observation note", None, "W1", None, None, "@note: seen on the quay"],
    ]
    assert found.csv["Remarks"][1][7] == "'-1 for the compass"
    (judged,) = found.workbook["Judgements"][1:]
    assert judged[2:6] == ["W2", "Beyond", 4, "+ she showed it"]
    assert judged[9] == "Ilse Varga"


def test_a_task_goes_out_as_its_sheet_says(caller: Teacher) -> None:
    made = filled(caller)
    found = out(lambda: task_export(caller, made.task_id))
    sheet = task_sheet(caller, made.task_id)
    newest = found.workbook["Marks"][-1]
    (shown,) = [row for row in sheet.rows if row[0].text == newest[0]]
    assert newest[2] == 2
    assert [*newest[5:7], f"{newest[7]:g}", f"{newest[8]:g}", newest[10]] == [
        cell.text for cell in shown[2:7]
    ]
    assert {row[6] for row in found.workbook["Evidence"][1:]} == {"Route"}


HOSTILE = [
    '=HYPERLINK("//x")',
    "+1",
    "-2+3",
    "@SUM(1)",
    "\tтаб",
    "عبد الرحمن",
    "李小龍",
    "अनन्या",
    "Z\u0351\u036balgo",
    "x" * 120,
    "https://tern.example",
    "{=1}",
]


def test_names_stay_as_they_are_in_every_output(caller: Teacher) -> None:
    """No formula runs, no link is made, nothing is cut off."""
    made = small(at(caller, -10))
    for at_name, name in enumerate(HOSTILE):
        line = StudentLine(1, name, "Aa", f"H{at_name}")
        students.add_student(caller, made.class_id, line)
    there = [one.name for one in students.students(caller, made.class_id)]
    found = out(lambda: class_export(caller, made.class_id))
    assert [row[0] for row in found.workbook["Wall"][1:]] == there
    assert [row[0] for row in found.csv["Wall"][1:]] == [as_text(name) for name in there]
    assert not any(
        text[:1] in "=+-@\t" for rows in found.csv.values() for row in rows for text in row if text
    )


@pytest.mark.parametrize(
    ("wanted", "says"),
    [("nothing", "The classes are: 1 Chart Room"), ("Twice", "Several classes are called Twice")],
)
def test_a_class_is_found_by_name_or_number(caller: Teacher, wanted: str, says: str) -> None:
    made = small(caller)
    for _ in range(2):
        classes.make_class(caller, "Twice", date(2026, 9, 1), date(2027, 6, 30))
    for name in ("Chart Room", " chart room ", str(made.class_id)):
        assert class_at_hand(caller.database, name).id == made.class_id
    with pytest.raises(NotFound, match=says):
        class_at_hand(caller.database, wanted)
