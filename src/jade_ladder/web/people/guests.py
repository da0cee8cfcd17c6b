"""What a guest reaches: their link is exchanged for a cookie that only these paths are sent."""

from __future__ import annotations

from datetime import datetime

from fastapi import Request, Response
from pydantic import BaseModel

from jade_ladder.outside import clock
from jade_ladder.service.people import guests as service
from jade_ladder.web.people.failed_tries import counted_try
from jade_ladder.web.people.sessions import SMALL, LinkIn
from jade_ladder.web.shared.bodies import body_up_to, router_of
from jade_ladder.web.shared.callers import GUEST_COOKIE, GUEST_PATH, AsGuest, Db

router = router_of("guest", "/guest")


class GuestOut(BaseModel):
    """Whom a link was made for, and until when it leads somewhere."""

    student: str
    until: datetime


@router.post("", status_code=204)
@body_up_to(SMALL)
def open_link(body: LinkIn, request: Request, response: Response, database: Db) -> None:
    """Become the guest of a link. Who is signed in in the same browser stays so: it needs nobody's
    name, and what it sets is sent to the guest's paths alone.
    """
    now = clock.now()
    with counted_try(request, f"code {body.token}", code=True):
        link = service.guest_of_link(database, body.token, now).link
    response.set_cookie(
        GUEST_COOKIE,
        body.token,
        max_age=int((link.expires_at - now).total_seconds()),
        httponly=True,
        samesite="lax",
        secure=request.url.scheme == "https",
        path=GUEST_PATH,
    )


@router.get("")
def read_guest(caller: AsGuest) -> GuestOut:
    """Say whose link it is that this browser has opened."""
    return GuestOut(student=caller.link.name, until=caller.link.expires_at)


@router.delete("", status_code=204)
async def leave(response: Response) -> None:
    """Forget the link in this browser."""
    response.delete_cookie(GUEST_COOKIE, path=GUEST_PATH)
