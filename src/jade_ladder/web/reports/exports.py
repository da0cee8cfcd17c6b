"""A class or a task as data: a workbook, or CSV files."""

from __future__ import annotations

import io
from contextlib import AbstractContextManager
from typing import Annotated

from fastapi import Query, Response

from jade_ladder.formats.exported.table import Export
from jade_ladder.formats.exported.writing import Form, write_export
from jade_ladder.service.reports import exports as service
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Day
from jade_ladder.web.shared.heavy import heaviest
from jade_ladder.web.shared.made_files import attachment

router = router_of("sheets")
Comma = Annotated[bool, Query(description="CSV with decimal commas, and semicolons between cells")]


def _file(made: AbstractContextManager[Export], form: Form, comma: bool) -> Response:
    target = io.BytesIO()
    with made as export:
        write_export(export, form, target, comma)
    headers = attachment(f"{export.file_name}.{form}")
    return Response(target.getvalue(), media_type=form.media_type, headers=headers)


@router.get("/classes/{class_id:int}/export", response_class=Response)
@heaviest
def read_class_export(
    class_id: int,
    caller: AsTeacher,
    form: Form = Form.WORKBOOK,
    as_of: Day | None = None,
    comma: Comma = False,
) -> Response:
    """Give a class as of a day: wall, cells, outcomes, evidence, totals, remarks, judgements."""
    return _file(service.class_export(caller, class_id, as_of), form, comma)


@router.get("/tasks/{task_id:int}/export", response_class=Response)
@heaviest
def read_task_export(
    task_id: int, caller: AsTeacher, form: Form = Form.WORKBOOK, comma: Comma = False
) -> Response:
    """Give a task as it is now: its marks, what was said, and the evidence from it."""
    return _file(service.task_export(caller, task_id), form, comma)
