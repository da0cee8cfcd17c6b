"""Slips by which students set a password of their own."""

from __future__ import annotations

from datetime import datetime

import segno
from fastapi import Request
from pydantic import BaseModel

from jade_ladder.service.classes import slips as service
from jade_ladder.service.classes.slips import Slip
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Whole

router = router_of("slips", "/classes/{class_id:int}/slips")


class SigningInOut(BaseModel):
    """A student of the class: whether they have a password, until when a slip waits, whether one
    may make a slip for them, and since when one has been asking for it.
    """

    id: int
    name: str
    sort_name: str
    sign_in_name: str | None
    joined: bool
    slip_until: datetime | None
    may_make: bool
    asked_at: datetime | None


class SlipsIn(BaseModel):
    """Which students get a slip."""

    student_ids: list[Whole]


class SlipOut(BaseModel):
    """A student's slip, shown once: the code, and, where the server knows its own address, the link
    with the code after the hash, and the link as a QR code: its rows, 1 for each dark square.
    """

    id: int
    name: str
    sign_in_name: str | None
    code: str
    link: str | None
    squares: list[str]


@router.get("")
def read_signing_in(class_id: int, caller: AsTeacher) -> list[SigningInOut]:
    """List how the students of the class sign in."""
    return [
        SigningInOut(
            id=one.row.id,
            name=one.row.name,
            sort_name=one.row.sort_name,
            sign_in_name=one.row.sign_in_name,
            joined=one.row.joined,
            slip_until=one.row.slip_until,
            may_make=one.may_make,
            asked_at=None if one.request is None else one.request.asked_at,
        )
        for one in service.signing_in(caller, class_id)
    ]


@router.post("", status_code=201)
def make_slips(class_id: int, body: SlipsIn, request: Request, caller: AsTeacher) -> list[SlipOut]:
    """Make slips for students of the class; earlier ones lead nowhere then."""
    # Never by the Host of the request, which anybody can make up.
    base = request.app.state.settings.address.url
    return [_out(slip, base) for slip in service.make_slips(caller, class_id, body.student_ids)]


@router.post("/requests", status_code=204)
def ask_for_slips(class_id: int, body: SlipsIn, caller: AsTeacher) -> None:
    """Ask for slips for students who have a password and whom another class took first."""
    service.ask_for_slips(caller, class_id, body.student_ids)


def _out(slip: Slip, base: str | None) -> SlipOut:
    link = None if base is None else f"{base.rstrip('/')}/join#{slip.code}"
    squares = [] if link is None else segno.make(link, micro=False, error="m").matrix
    return SlipOut(
        id=slip.person.id,
        name=slip.person.name,
        sign_in_name=slip.sign_in_name,
        code="-".join(slip.code[at : at + 4] for at in range(0, len(slip.code), 4)),
        link=link,
        squares=["".join(str(dark) for dark in row) for row in squares],
    )
