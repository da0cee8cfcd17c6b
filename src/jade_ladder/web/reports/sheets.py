"""Sheets to hand out: to be shown and printed, and as CSV."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from fastapi import Query, Response
from pydantic import BaseModel

from jade_ladder.formats.sheet import Sheet, write_sheet
from jade_ladder.service.reports import sheets as service
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Day
from jade_ladder.web.shared.heavy import heavy
from jade_ladder.web.shared.made_files import attachment

router = router_of("sheets")
Comma = Annotated[bool, Query(description="A decimal comma, and semicolons between cells")]
Some = Annotated[list[int] | None, Query(description="Only these, in this order; all if left out")]


class SheetCellOut(BaseModel):
    """A cell: its text, whether that is a number, and whether it is mastered."""

    text: str
    number: bool
    mastered: bool


class SheetOut(BaseModel):
    """A table with what it is about, and what its short headings stand for (`key`); a `wide` one
    lies across the paper.
    """

    title: str
    of: str
    day: date
    note: str
    headings: list[str]
    rows: list[list[SheetCellOut]]
    wide: bool
    key: list[str]

    @classmethod
    def shown(cls, sheet: Sheet) -> SheetOut:
        """Show a sheet."""
        return cls(
            title=sheet.title,
            of=sheet.of,
            day=sheet.day,
            note=sheet.note,
            headings=list(sheet.headings),
            rows=[
                [
                    SheetCellOut(text=cell.text, number=cell.number, mastered=cell.mastered)
                    for cell in row
                ]
                for row in sheet.rows
            ],
            wide=sheet.wide,
            key=list(sheet.key),
        )


def _file(sheet: Sheet, comma: bool) -> Response:
    return Response(
        write_sheet(sheet, comma),
        media_type="text/csv; charset=utf-8",
        headers=attachment(f"{sheet.file_name}.csv"),
    )


@router.get("/classes/{class_id:int}/sheets/class-list")
@heavy
def read_class_list_sheet(class_id: int, caller: AsTeacher) -> SheetOut:
    """Give a class list as a sheet."""
    return SheetOut.shown(service.class_list_sheet(caller, class_id))


@router.get("/classes/{class_id:int}/sheets/class-list.csv", response_class=Response)
@heavy
def read_class_list_sheet_csv(class_id: int, caller: AsTeacher, comma: Comma = False) -> Response:
    """Give a class list as CSV."""
    return _file(service.class_list_sheet(caller, class_id), comma)


@router.get("/classes/{class_id:int}/sheets/mastery")
@heavy
def read_wall_sheet(
    class_id: int,
    caller: AsTeacher,
    as_of: Day | None = None,
    students: Some = None,
    outcomes: Some = None,
) -> SheetOut:
    """Give the mastery wall as of a day as a sheet."""
    return SheetOut.shown(service.wall_sheet(caller, class_id, as_of, students, outcomes))


@router.get("/classes/{class_id:int}/sheets/mastery.csv", response_class=Response)
@heavy
def read_wall_sheet_csv(
    class_id: int,
    caller: AsTeacher,
    as_of: Day | None = None,
    students: Some = None,
    outcomes: Some = None,
    comma: Comma = False,
) -> Response:
    """Give the mastery wall as of a day as CSV."""
    return _file(service.wall_sheet(caller, class_id, as_of, students, outcomes), comma)


@router.get("/classes/{class_id:int}/sheets/coverage")
@heavy
def read_coverage_sheet(class_id: int, caller: AsTeacher) -> SheetOut:
    """Give what is assessed when as a sheet."""
    return SheetOut.shown(service.coverage_sheet(caller, class_id))


@router.get("/classes/{class_id:int}/sheets/coverage.csv", response_class=Response)
@heavy
def read_coverage_sheet_csv(class_id: int, caller: AsTeacher, comma: Comma = False) -> Response:
    """Give what is assessed when as CSV."""
    return _file(service.coverage_sheet(caller, class_id), comma)


@router.get("/tasks/{task_id:int}/sheets/marks")
@heavy
def read_task_sheet(task_id: int, caller: AsTeacher) -> SheetOut:
    """Give the marks of a task as a sheet."""
    return SheetOut.shown(service.task_sheet(caller, task_id))


@router.get("/tasks/{task_id:int}/sheets/marks.csv", response_class=Response)
@heavy
def read_task_sheet_csv(task_id: int, caller: AsTeacher, comma: Comma = False) -> Response:
    """Give the marks of a task as CSV."""
    return _file(service.task_sheet(caller, task_id), comma)


@router.get("/rubrics/{rubric_id:int}/sheets/rubric")
@heavy
def read_rubric_sheet(rubric_id: int, caller: AsTeacher) -> SheetOut:
    """Give a rubric as a sheet."""
    return SheetOut.shown(service.rubric_sheet(caller, rubric_id))


@router.get("/rubrics/{rubric_id:int}/sheets/rubric.csv", response_class=Response)
@heavy
def read_rubric_sheet_csv(rubric_id: int, caller: AsTeacher, comma: Comma = False) -> Response:
    """Give a rubric as CSV."""
    return _file(service.rubric_sheet(caller, rubric_id), comma)


@router.get("/classes/{class_id:int}/students/{student_id:int}/sheets/outcomes")
@heavy
def read_student_sheet(class_id: int, student_id: int, caller: AsTeacher) -> SheetOut:
    """Give one student's outcomes as a sheet."""
    return SheetOut.shown(service.student_sheet(caller, class_id, student_id))


@router.get(
    "/classes/{class_id:int}/students/{student_id:int}/sheets/outcomes.csv",
    response_class=Response,
)
@heavy
def read_student_sheet_csv(
    class_id: int, student_id: int, caller: AsTeacher, comma: Comma = False
) -> Response:
    """Give one student's outcomes as CSV."""
    return _file(service.student_sheet(caller, class_id, student_id), comma)
