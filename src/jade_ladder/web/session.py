"""Signing in and out, and the first start."""

from __future__ import annotations

from datetime import UTC, datetime

from fastapi import APIRouter, Request, Response
from pydantic import BaseModel

from jade_ladder.core.errors import NotFound, NotSignedIn
from jade_ladder.service import people
from jade_ladder.store.people import Person
from jade_ladder.web.problems import problem
from jade_ladder.web.sign_in import COOKIE, Db, set_cookie, the_person

router = APIRouter(prefix="/session", tags=["session"])


class PersonOut(BaseModel):
    """A person as others see them."""

    id: int
    name: str
    given_name: str


class SessionOut(BaseModel):
    """Who is signed in, and what the sign-in page needs to know."""

    person: PersonOut | None
    school: str | None
    time_zone: str
    first_start: bool
    demo_people: list[PersonOut]


class SignInIn(BaseModel):
    """E-mail and password."""

    email: str
    password: str


class FirstTeacherIn(BaseModel):
    """The school and its first teacher."""

    school: str
    time_zone: str
    given_name: str
    family_name: str
    email: str
    password: str


class DemoSignInIn(BaseModel):
    """Which of the demo people."""

    person_id: int


def _out(person: Person) -> PersonOut:
    return PersonOut(id=person.id, name=person.name, given_name=person.given_name)


@router.get("")
def read_session(request: Request, database: Db) -> SessionOut:
    """Tell who is signed in; answers without sign-in too."""
    try:
        person = the_person(request)
    except NotSignedIn:
        person = None
    school = people.the_school(database)
    demo = request.app.state.settings.demo
    return SessionOut(
        person=_out(person) if person else None,
        school=school.name if school else None,
        time_zone=school.time_zone if school else "UTC",
        first_start=people.needs_first_teacher(database),
        demo_people=[_out(teacher) for teacher in people.teachers(database)] if demo else [],
    )


@router.post("", response_model=None, status_code=204)
def sign_in(body: SignInIn, request: Request, response: Response, database: Db) -> Response | None:
    """Sign in with a password."""
    guesses = request.app.state.guesses
    wait = guesses.seconds_to_wait(body.email)
    if wait:
        detail = f"Too many tries with this e-mail; wait {wait} seconds"
        return problem(429, "Wait", detail, headers={"retry-after": str(wait)})
    try:
        token = people.sign_in(database, body.email, body.password, datetime.now(UTC))
    except NotSignedIn:
        guesses.failed(body.email)
        raise
    guesses.succeeded(body.email)
    set_cookie(request, response, token)
    return None


@router.delete("", status_code=204)
def sign_out(request: Request, response: Response, database: Db) -> None:
    """Sign out."""
    token = request.cookies.get(COOKIE)
    if token:
        people.end_session(database, token)
    response.delete_cookie(COOKIE, path="/")


@router.post("/first-teacher", status_code=204)
def make_first_teacher(
    body: FirstTeacherIn, request: Request, response: Response, database: Db
) -> None:
    """Make the school and its first teacher, and sign them in."""
    teacher = people.NewTeacher(body.given_name, body.family_name, body.email, body.password)
    number = people.make_first_teacher(database, body.school, body.time_zone, teacher)
    set_cookie(request, response, people.begin_session(database, number, datetime.now(UTC)))


@router.post("/demo", status_code=204)
def sign_in_to_demo(body: DemoSignInIn, request: Request, response: Response, database: Db) -> None:
    """Sign in as one of the demo people, in the demo only."""
    known = {person.id for person in people.teachers(database)}
    if not request.app.state.settings.demo or body.person_id not in known:
        raise NotFound("There is no such demo person")
    token = people.begin_session(database, body.person_id, datetime.now(UTC))
    set_cookie(request, response, token)
