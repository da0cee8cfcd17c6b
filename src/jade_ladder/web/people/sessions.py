"""Signing in and out, and the first start."""

from __future__ import annotations

from fastapi import Request, Response
from pydantic import BaseModel

from jade_ladder.core.errors import NotFound, NotSignedIn
from jade_ladder.outside import clock
from jade_ladder.service.people import accounts, invitations, sessions
from jade_ladder.store.people.people import Person
from jade_ladder.store.shared.connection import Database
from jade_ladder.web.people.devices import device_of
from jade_ladder.web.people.failed_tries import Hashing, counted_try
from jade_ladder.web.people.known_devices import remember_device
from jade_ladder.web.shared.bodies import body_up_to, router_of
from jade_ladder.web.shared.callers import COOKIE, Db, set_cookie, the_person
from jade_ladder.web.shared.fields import Text, Whole, YesNo

router = router_of("session", "/session")
SMALL = 8_000


class PersonOut(BaseModel):
    """A person as others see them."""

    id: int
    name: str
    given_name: str


class DemoPersonOut(PersonOut):
    """Somebody of the demo, whom everybody can sign in as."""

    teacher: bool


class SignedInOut(PersonOut):
    """The person who is signed in; an administrator changes what belongs to the school."""

    teacher: bool
    administrator: bool


class SessionOut(BaseModel):
    """Who is signed in, and what the sign-in page needs to know; with `mail_simulated`, no mail
    leaves the machine.
    """

    person: SignedInOut | None
    school: str | None
    time_zone: str
    language: str
    first_start: bool
    mail_simulated: bool
    demo_people: list[DemoPersonOut]


class SignInIn(BaseModel):
    """A teacher's e-mail or a student's name to sign in with, and the password. A student's session
    on a device that is not their own ends by itself.
    """

    email: Text
    password: Text
    own_device: YesNo = False


class FirstTeacherIn(BaseModel):
    """The school and its first teacher."""

    school: Text
    time_zone: Text
    language: Text = "en"
    given_name: Text
    family_name: Text
    email: Text
    password: Text


class LinkIn(BaseModel):
    """The secret of a link."""

    token: Text


class JoiningOut(PersonOut):
    """Whom a link or code invites. A student chooses a name to sign in with, or has one."""

    teacher: bool
    sign_in_name: str | None


class JoinIn(LinkIn):
    """The secret of a link or a code, the password to be, and a student's name to sign in with."""

    password: Text
    sign_in_name: Text = ""
    own_device: YesNo = False


class DemoSignInIn(BaseModel):
    """Which of the demo people."""

    person_id: Whole


def _out(person: Person) -> PersonOut:
    return PersonOut(id=person.id, name=person.name, given_name=person.given_name)


@router.get("")
def read_session(request: Request, database: Db) -> SessionOut:
    """Tell who is signed in; answers without sign-in too."""
    try:
        person = the_person(request)
    except NotSignedIn:
        person = None
    school = accounts.the_school(database)
    demo = request.app.state.settings.demo
    return SessionOut(
        person=SignedInOut(
            **dict(_out(person)), teacher=person.may_teach, administrator=person.administrator
        )
        if person
        else None,
        school=school.name if school else None,
        time_zone=school.time_zone if school else "UTC",
        language=school.language if school else "en",
        first_start=accounts.needs_first_teacher(database),
        mail_simulated=request.app.state.settings.mail_simulated,
        demo_people=[
            DemoPersonOut(**dict(_out(one)), teacher=one.may_teach)
            for one in (accounts.demo_people(database) if demo else [])
        ],
    )


@router.post("", status_code=204)
@body_up_to(SMALL)
def sign_in(body: SignInIn, request: Request, response: Response, database: Db) -> None:
    """Sign in with a password; a session of this browser that it replaces is ended."""
    hashing: Hashing = request.app.state.hashing
    with counted_try(request, body.email), hashing.place():
        person_id = sessions.check_password(database, body.email, body.password)
    _begin(request, response, database, person_id, body.own_device)


def _begin(
    request: Request,
    response: Response,
    database: Database,
    person_id: int,
    own_device: bool = False,
) -> None:
    replaced = request.cookies.get(COOKIE)
    device = device_of(request.headers.get("user-agent", ""))
    now = clock.now()
    token = sessions.begin_session(database, person_id, now, replaced, device, own_device)
    teaches = sessions.person_of_session(database, token, now).may_teach
    set_cookie(request, response, token, lasting=teaches or own_device)
    remember_device(request, response, database)


@router.delete("", status_code=204)
def sign_out(request: Request, response: Response, database: Db) -> None:
    """Sign out."""
    token = request.cookies.get(COOKIE)
    if token:
        sessions.end_session(database, token)
    response.delete_cookie(COOKIE, path="/")


@router.post("/first-teacher", status_code=204)
@body_up_to(SMALL)
def make_first_teacher(
    body: FirstTeacherIn, request: Request, response: Response, database: Db
) -> None:
    """Make the school and its first teacher, and sign them in."""
    teacher = accounts.NewTeacher(body.given_name, body.family_name, body.email, body.password)
    hashing: Hashing = request.app.state.hashing
    with hashing.place():
        number = accounts.make_first_teacher(
            database, body.school, body.time_zone, teacher, body.language
        )
    _begin(request, response, database, number)


@router.post("/invited")
@body_up_to(SMALL)
def read_invited(body: LinkIn, request: Request, database: Db) -> JoiningOut:
    """Say whom a link or code invites."""
    with counted_try(request, f"code {body.token}", code=True):
        found = invitations.invited_person(database, body.token, clock.now())
    return JoiningOut(
        **dict(_out(found.person)),
        teacher=found.person.may_teach,
        sign_in_name=found.sign_in_name,
    )


@router.post("/join", status_code=204)
@body_up_to(SMALL)
def join(body: JoinIn, request: Request, response: Response, database: Db) -> None:
    """Set one's password by a link or code, which is good for once, and sign in."""
    hashing: Hashing = request.app.state.hashing
    with counted_try(request, f"code {body.token}", code=True), hashing.place():
        number = invitations.accept(
            database, body.token, body.password, clock.now(), body.sign_in_name
        )
    _begin(request, response, database, number, body.own_device)


@router.post("/demo", status_code=204)
@body_up_to(SMALL)
def sign_in_to_demo(body: DemoSignInIn, request: Request, response: Response, database: Db) -> None:
    """Sign in as one of the demo people, in the demo only."""
    known = {person.id for person in accounts.demo_people(database)}
    if not request.app.state.settings.demo or body.person_id not in known:
        raise NotFound("There is no such demo person")
    _begin(request, response, database, body.person_id)
