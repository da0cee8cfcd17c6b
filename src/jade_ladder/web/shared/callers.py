"""Who is calling: the session cookie, and for whom a write says it is."""

from __future__ import annotations

from collections.abc import AsyncIterator
from typing import Annotated

from fastapi import Depends, Request, Response

from jade_ladder.core.errors import NotAllowed, NotFound, NotSignedIn, OtherPerson
from jade_ladder.outside import clock
from jade_ladder.service.people.guests import guest_of_link
from jade_ladder.service.people.sessions import SESSION_LASTS, keep_session, person_of_session
from jade_ladder.service.shared.caller import (
    Administrator,
    Caller,
    Guest,
    Student,
    Teacher,
    caller_of,
)
from jade_ladder.store.people.people import Person
from jade_ladder.store.shared.connection import Database
from jade_ladder.web.shared.admission import Admission

COOKIE = "jade_ladder_session"
PERSON_HEADER = "jade-ladder-person"
GUEST_COOKIE = "jade_ladder_guest"
GUEST_PATH = "/api/guest"
TAKES_LONG = ("/bytes", "/files", "/pdf")
"""What waits for a network, a disk or another process has no place to wait for, and holds none."""
_NO_LINK = "Open your link again, or ask for a new one"
READS = frozenset({"GET", "HEAD", "OPTIONS"})


def _database(request: Request) -> Database:
    database: Database = request.app.state.settings.database
    return database


async def the_database(request: Request) -> Database:
    """Give the application's database. What only looks at the request is a coroutine: it needs no
    thread.
    """
    return _database(request)


def the_person(request: Request) -> Person:
    """Give the signed-in person; NotSignedIn for anybody else."""
    token = request.cookies.get(COOKIE)
    if not token:
        raise NotSignedIn("Please sign in")
    return person_of_session(_database(request), token, clock.now())


async def the_caller(request: Request) -> AsyncIterator[Caller]:
    """Give the caller that the services ask for: a kind of its own for teachers and students. The
    session is one row read beside any writer: a thread for it would cost more than the reading.

    A write names its person in a header, since a tab that is open keeps its work when somebody else
    signs in beside it: raises OtherPerson where that is not the session's. From here to the answer
    a request holds a place among those of its person.
    """
    person = the_person(request)
    if request.method not in READS:
        named = request.headers.get(PERSON_HEADER)
        if named != str(person.id):
            raise OtherPerson(
                "Nothing was changed, since this does not say whose it is"
                if named is None
                else "Nothing was changed, since somebody else is signed in in this browser now"
            )
    caller = caller_of(_database(request), person, clock.now())
    if request.url.path.endswith(TAKES_LONG):
        yield caller
        return
    admission: Admission = request.app.state.admission
    async with admission.of(person.id, isinstance(caller, Student)):
        yield caller


TheCaller = Depends(the_caller, scope="function")
"""Its place is free again before the answer is sent, which may take a slow network long."""


async def the_teacher(caller: Annotated[Caller, TheCaller]) -> Teacher:
    """Give the caller as a teacher; NotAllowed for anybody else."""
    if not isinstance(caller, Teacher):
        raise NotAllowed("This is for teachers")
    return caller


async def the_administrator(caller: Annotated[Caller, TheCaller]) -> Administrator:
    """Give the caller as the school's administrator; NotAllowed for anybody else."""
    if not isinstance(caller, Administrator):
        raise NotAllowed("This is for the administrator of the school")
    return caller


def the_student(request: Request, caller: Annotated[Caller, TheCaller]) -> Student:
    """Give the caller as a student; NotAllowed for anybody else. What they do keeps a session that
    would end by itself, so it is called in a thread.
    """
    if not isinstance(caller, Student):
        raise NotAllowed("This is for students")
    keep_session(caller.database, request.cookies.get(COOKIE, ""), caller.now)
    return caller


async def the_guest(request: Request) -> AsyncIterator[Guest]:
    """Give the guest of the link that was opened in this browser, who only reads; NotSignedIn where
    there is none, whoever is signed in. Guests wait as students do, those of one link together.
    """
    token = request.cookies.get(GUEST_COOKIE)
    if not token or request.method not in READS:
        raise NotSignedIn(_NO_LINK)
    try:
        guest = guest_of_link(_database(request), token, clock.now())
    except NotFound:
        raise NotSignedIn(_NO_LINK) from None
    admission: Admission = request.app.state.admission
    async with admission.of(("link", guest.link.id), True):
        yield guest


Db = Annotated[Database, Depends(the_database)]
AsTeacher = Annotated[Teacher, Depends(the_teacher)]
AsStudent = Annotated[Student, Depends(the_student)]
AsGuest = Annotated[Guest, Depends(the_guest, scope="function")]
AsAdministrator = Annotated[Administrator, Depends(the_administrator)]


def set_cookie(request: Request, response: Response, token: str, lasting: bool = True) -> None:
    """Hand out the session: not readable by scripts, not sent from other sites; one that is not
    `lasting` is forgotten when the browser is closed.
    """
    response.set_cookie(
        COOKIE,
        token,
        max_age=int(SESSION_LASTS.total_seconds()) if lasting else None,
        httponly=True,
        samesite="lax",
        secure=request.url.scheme == "https",
        path="/",
    )
