"""All work of a task, to be taken along."""

from __future__ import annotations

from fastapi.responses import FileResponse

from jade_ladder.service.reports.work_archive import work_archive
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.made_files import sent_once

router = router_of("sheets")


@router.get("/tasks/{task_id:int}/archive", response_class=FileResponse)
def read_work_archive(task_id: int, caller: AsTeacher) -> FileResponse:
    """Send all work of a task as one archive, a folder for each student, with the marks as CSV."""
    return sent_once(work_archive(caller, task_id), "application/zip")
