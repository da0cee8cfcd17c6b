"""Files on their way in: begun, sent in pieces of any size, resumed after a lost connection."""

# No annotations from the future: those of the routes name the kind of caller they are made for.
import asyncio
from collections.abc import Callable
from typing import Annotated, Any, Self

from fastapi import APIRouter, Depends, Query, Request
from fastapi.concurrency import run_in_threadpool
from pydantic import BaseModel
from starlette.requests import ClientDisconnect

from jade_ladder.core.errors import Refused
from jade_ladder.service.files import uploads as service
from jade_ladder.service.files.uploads import Upload
from jade_ladder.service.shared.caller import Caller
from jade_ladder.web.shared.bodies import body_as_it_comes, router_of
from jade_ladder.web.shared.callers import the_teacher
from jade_ladder.web.shared.fields import Text, Whole

_PIECE = 1 << 20


class _Pace:
    """Lets what arrives of many files leave room for everything else: each waits a moment between
    its pieces, longer the more there are, so that a save in between need not wait for all of them.
    """

    MOMENT = 0.002

    def __init__(self) -> None:
        self._going = 0

    def __enter__(self) -> None:
        self._going += 1

    def __exit__(self, *_: object) -> None:
        self._going -= 1

    async def wait(self) -> None:
        """Wait until it is this one's turn again."""
        await asyncio.sleep(self.MOMENT * self._going)


_pace = _Pace()


class UploadIn(BaseModel):
    """A file that is to be sent: a key of the sender's by which it is one, its name, its bytes."""

    key: Text
    name: Text
    size: Whole


class UploadOut(BaseModel):
    """A file on its way in, and how many of its bytes have arrived."""

    id: int
    name: str
    size: int
    received: int

    @classmethod
    def of(cls, upload: Upload) -> Self:
        """Show an upload."""
        row = upload.row
        return cls(id=row.id, name=row.name, size=row.size, received=upload.received)


def router_for(whose: str, kind: Callable[..., Any]) -> APIRouter:
    """Make the routes for one kind of caller, under what the addresses of theirs begin with."""
    router = router_of("files", f"/{whose}uploads")
    names = "own_" if whose else ""

    @router.post("", status_code=201, name=f"begin_{names}upload")
    def begin(body: UploadIn, caller: Annotated[Caller, Depends(kind)]) -> UploadOut:
        """Begin to send a file; begun twice with one key, it is one."""
        return UploadOut.of(service.begin_upload(caller, body.key, body.name, body.size))

    @router.get("/{upload_id:int}", name=f"read_{names}upload")
    def read(upload_id: int, caller: Annotated[Caller, Depends(kind)]) -> UploadOut:
        """Say how much of a file has arrived."""
        return UploadOut.of(service.standing_upload(caller, upload_id))

    @router.delete("/{upload_id:int}", status_code=204, name=f"give_{names}upload_up")
    def give_up(upload_id: int, caller: Annotated[Caller, Depends(kind)]) -> None:
        """Give a file up: nothing of it is kept."""
        service.give_up(caller, upload_id)

    @router.put("/{upload_id:int}/bytes", name=f"send_{names}bytes")
    @body_as_it_comes
    async def send(
        upload_id: int,
        request: Request,
        caller: Annotated[Caller, Depends(kind)],
        at: Annotated[int, Query(ge=0, le=2**40)] = 0,
    ) -> UploadOut:
        """Send the bytes of a file from a place on, as a plain body. What arrives is kept, also
        where the connection is lost on the way.
        """
        upload, receiving = await run_in_threadpool(service.receive, caller, upload_id, at)
        left = upload.row.size - at
        declared = request.headers.get("content-length", "0")
        if not declared.isdecimal() or int(declared) > left:
            raise _too_much()
        with receiving as take, _pace:
            waiting: list[bytes] = []
            gathered = 0
            try:
                async for piece in request.stream():
                    await _pace.wait()
                    left -= len(piece)
                    if left < 0:
                        raise _too_much()
                    waiting.append(piece)
                    gathered += len(piece)
                    if gathered >= _PIECE:
                        await run_in_threadpool(take, b"".join(waiting))
                        waiting, gathered = [], 0
            except ClientDisconnect:
                pass
            await run_in_threadpool(take, b"".join(waiting))
        return UploadOut.of(await run_in_threadpool(service.standing_upload, caller, upload_id))

    return router


router = router_for("", the_teacher)


def _too_much() -> Refused:
    return Refused("More of this file is sent than was said: choose it again", "file")
