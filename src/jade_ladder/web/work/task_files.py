"""Files that come with a task."""

from __future__ import annotations

from fastapi.responses import FileResponse
from pydantic import BaseModel

from jade_ladder.formats.files.kind import FileKind
from jade_ladder.service.work import task_files as service
from jade_ladder.store.work.task_files import TaskFile
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsStudent, AsTeacher
from jade_ladder.web.shared.fields import Whole, YesNo
from jade_ladder.web.work.parts import sent

router = router_of("tasks")


class TaskFileOut(BaseModel):
    """A file that comes with a task; of a `starting` one each student gets a copy."""

    id: int
    name: str
    kind: FileKind
    size: int
    starting: bool

    @classmethod
    def of(cls, file: TaskFile) -> TaskFileOut:
        """Show a file."""
        return cls(
            id=file.id, name=file.name, kind=file.kind, size=file.size, starting=file.starting
        )


class AttachIn(BaseModel):
    """A file that has arrived, and whether each student gets a copy."""

    upload_id: Whole
    starting: YesNo = False


@router.post("/tasks/{task_id:int}/files", status_code=201)
def attach_file(task_id: int, body: AttachIn, caller: AsTeacher) -> TaskFileOut:
    """Let a file that has arrived come with a task."""
    return TaskFileOut.of(service.attach_file(caller, task_id, body.upload_id, body.starting))


@router.delete("/task-files/{file_id:int}", status_code=204)
def detach_file(file_id: int, caller: AsTeacher) -> None:
    """Remove a file from a task."""
    service.detach_file(caller, file_id)


@router.get("/task-files/{file_id:int}", response_class=FileResponse)
def read_task_file(file_id: int, caller: AsTeacher) -> FileResponse:
    """Send a file of a task."""
    return sent(service.task_file(caller, file_id))


@router.get("/my/task-files/{file_id:int}", response_class=FileResponse)
def read_own_task_file(file_id: int, caller: AsStudent) -> FileResponse:
    """Send a file of a task that is one's own to do."""
    return sent(service.task_file(caller, file_id))
