"""A student's own account."""

from __future__ import annotations

from fastapi import Request
from pydantic import BaseModel

from jade_ladder.service.people import own_account as service
from jade_ladder.web.people.own_account import (
    OwnPasswordIn,
    OwnSessionOut,
    password_changed,
    sessions_out,
    token_of,
)
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsStudent
from jade_ladder.web.shared.fields import Text
from jade_ladder.web.shared.models import Removed

router = router_of("student's account", "/my/account")


class StudentAccountOut(BaseModel):
    """One's account: the name one signs in with, the e-mail if there is one, and the sessions."""

    sign_in_name: str
    email: str
    sessions: list[OwnSessionOut]


class EmailIn(BaseModel):
    """One's e-mail, or none."""

    email: Text


@router.get("")
def read_student_account(request: Request, caller: AsStudent) -> StudentAccountOut:
    """Give one's own account."""
    person, name = service.student_account(caller)
    return StudentAccountOut(
        sign_in_name=name or "",
        email=person.email or "",
        sessions=sessions_out(caller, request),
    )


@router.put("", status_code=204)
def change_own_email(body: EmailIn, caller: AsStudent) -> None:
    """Change one's e-mail."""
    service.change_own_email(caller, body.email)


@router.put("/password")
def change_students_password(body: OwnPasswordIn, request: Request, caller: AsStudent) -> Removed:
    """Set another password, and sign out everywhere else; wrong ones are counted as at sign-in."""
    return password_changed(caller, request, body)


@router.delete("/sessions/{number:int}", status_code=204)
def end_students_session(number: int, request: Request, caller: AsStudent) -> None:
    """Sign out elsewhere."""
    service.end_own_session(caller, token_of(request), number)
