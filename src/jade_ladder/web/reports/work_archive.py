"""All work of a task, to be taken along."""

from __future__ import annotations

from contextlib import ExitStack

from fastapi.responses import FileResponse
from starlette.background import BackgroundTask

from jade_ladder.service.reports.work_archive import work_archive
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher

router = router_of("sheets")


@router.get("/tasks/{task_id:int}/archive", response_class=FileResponse)
def read_work_archive(task_id: int, caller: AsTeacher) -> FileResponse:
    """Send all work of a task as one archive, a folder for each student, with the marks as CSV."""
    stack = ExitStack()
    path, name = stack.enter_context(work_archive(caller, task_id))
    return FileResponse(
        path,
        media_type="application/zip",
        filename=name,
        background=BackgroundTask(stack.close),
    )
