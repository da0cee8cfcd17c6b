"""A student's work with its remarks as a PDF."""

from __future__ import annotations

from contextlib import AbstractContextManager
from pathlib import Path

from fastapi import Request
from fastapi.responses import FileResponse

from jade_ladder.service.student import taken_along as service
from jade_ladder.web.shared.apart import apart
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsStudent, AsTeacher
from jade_ladder.web.shared.made_files import sent_once
from jade_ladder.web.work.parts import SANDBOXED

router = router_of("results")


@router.get("/my/tasks/{task_id:int}/results/{attempt:int}/pdf", response_class=FileResponse)
async def read_own_marked_work(
    task_id: int, attempt: int, request: Request, caller: AsStudent
) -> FileResponse:
    """Give what was handed back of one attempt as a PDF: one's PDFs with numbers at the places of
    the remarks, and the remarks behind them.
    """
    made = service.own_marked_work(caller, task_id, attempt)
    return await apart(request, lambda: _sent(made))


@router.get(
    "/tasks/{task_id:int}/students/{student_id:int}/result/pdf", response_class=FileResponse
)
async def read_marked_work(
    task_id: int, student_id: int, request: Request, caller: AsTeacher
) -> FileResponse:
    """Give what a student gets back as a PDF: theirs with numbers at the places of the remarks, and
    the remarks behind them.
    """
    made = service.marked_work_of_student(caller, task_id, student_id)
    return await apart(request, lambda: _sent(made))


def _sent(made: AbstractContextManager[tuple[Path, str]]) -> FileResponse:
    headers = {"content-security-policy": SANDBOXED, "cache-control": "private, no-store"}
    return sent_once(made, "application/pdf", headers)
