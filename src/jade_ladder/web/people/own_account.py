"""One's own account, and where one is signed in."""

from __future__ import annotations

from datetime import datetime

from fastapi import Request
from pydantic import BaseModel

from jade_ladder.service.people import own_account as service
from jade_ladder.service.shared.caller import Caller
from jade_ladder.web.people.failed_tries import Hashing, counted_try
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import COOKIE, AsTeacher
from jade_ladder.web.shared.fields import Text
from jade_ladder.web.shared.models import Removed

router = router_of("account", "/account")


class OwnAccountIn(BaseModel):
    """One's name and the e-mail that one signs in with."""

    given_name: Text
    family_name: Text
    email: Text


class OwnSessionOut(BaseModel):
    """Where one is signed in: since when, and on what; `this` is here."""

    id: int
    made_at: datetime
    device: str
    this: bool


class OwnAccountOut(OwnAccountIn):
    """One's account, with the sessions."""

    sessions: list[OwnSessionOut]


class OwnPasswordIn(BaseModel):
    """The present password, and the one to be."""

    current: Text
    password: Text


def sessions_out(caller: Caller, request: Request) -> list[OwnSessionOut]:
    """Show where somebody is signed in."""
    return [
        OwnSessionOut(id=one.id, made_at=one.made_at, device=one.device, this=one.this)
        for one in service.own_sessions(caller, token_of(request))
    ]


def password_changed(caller: Caller, request: Request, body: OwnPasswordIn) -> Removed:
    """Set another password, and sign out everywhere else; wrong ones are counted as at sign-in."""
    hashing: Hashing = request.app.state.hashing
    with counted_try(request, f"account {caller.person_id}"), hashing.place():
        ended = service.change_own_password(caller, token_of(request), body.current, body.password)
    return Removed(removed=ended)


def token_of(request: Request) -> str:
    """Give the token of the session that a request came in."""
    return request.cookies.get(COOKIE, "")


@router.get("")
def read_own_account(request: Request, caller: AsTeacher) -> OwnAccountOut:
    """Give one's own account."""
    person = service.own_account(caller)
    return OwnAccountOut(
        given_name=person.given_name,
        family_name=person.family_name,
        email=person.email or "",
        sessions=sessions_out(caller, request),
    )


@router.put("", status_code=204)
def change_own_account(body: OwnAccountIn, caller: AsTeacher) -> None:
    """Change one's name and e-mail."""
    service.change_own_account(caller, body.given_name, body.family_name, body.email)


@router.put("/password")
def change_own_password(body: OwnPasswordIn, request: Request, caller: AsTeacher) -> Removed:
    """Set another password, and sign out everywhere else; wrong ones are counted as at sign-in."""
    return password_changed(caller, request, body)


@router.delete("/sessions/{number:int}", status_code=204)
def end_own_session(number: int, request: Request, caller: AsTeacher) -> None:
    """Sign out elsewhere."""
    service.end_own_session(caller, token_of(request), number)
