"""Files and links of one's own work: putting them in, removing them, looking at them."""

from __future__ import annotations

from datetime import datetime

from fastapi.responses import FileResponse
from pydantic import BaseModel

from jade_ladder.service.work import parts as service
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsStudent
from jade_ladder.web.shared.fields import Text, Whole
from jade_ladder.web.work.parts import ShownOut, WorkPartOut, sent

router = router_of("own tasks", "/my")


class OwnFileIn(BaseModel):
    """A file that has arrived."""

    upload_id: Whole


class OwnLinkIn(BaseModel):
    """The address of a link."""

    address: Text


@router.post("/tasks/{task_id:int}/draft/files", status_code=201)
def add_own_file(task_id: int, body: OwnFileIn, caller: AsStudent) -> WorkPartOut:
    """Put a file that has arrived into what is to be handed in."""
    return WorkPartOut.of(service.add_own_file(caller, task_id, body.upload_id))


@router.post("/tasks/{task_id:int}/draft/links", status_code=201)
def add_own_link(task_id: int, body: OwnLinkIn, caller: AsStudent) -> WorkPartOut:
    """Put a link into what is to be handed in."""
    return WorkPartOut.of(service.add_own_link(caller, task_id, body.address))


class RemovedOut(BaseModel):
    """What was removed, by its number, and until when it can be put back."""

    number: int
    until: datetime


@router.delete("/work-parts/{part_id:int}")
def remove_own_part(part_id: int, caller: AsStudent) -> RemovedOut:
    """Remove a file or a link that is not handed in yet."""
    removed = service.remove_own_part(caller, part_id)
    return RemovedOut(number=removed.number, until=removed.until)


@router.post("/removed-parts/{number:int}/put-back", status_code=201)
def put_own_part_back(number: int, caller: AsStudent) -> WorkPartOut:
    """Put back a file or a link that one removed."""
    return WorkPartOut.of(service.put_own_part_back(caller, number))


@router.get("/work-parts/{part_id:int}/shown")
def read_own_part_shown(part_id: int, caller: AsStudent) -> ShownOut:
    """Give what is shown of a file of one's own."""
    return ShownOut.of(service.part_shown(caller, part_id))


@router.get("/work-parts/{part_id:int}/file", response_class=FileResponse)
def read_own_part_file(part_id: int, caller: AsStudent) -> FileResponse:
    """Send a file of one's own."""
    return sent(service.part_file(caller, part_id))


@router.get("/work-parts/{part_id:int}/pictures/{picture:int}", response_class=FileResponse)
def read_own_part_picture(part_id: int, picture: int, caller: AsStudent) -> FileResponse:
    """Send a picture of a document of one's own."""
    return sent(service.part_picture(caller, part_id, picture))
