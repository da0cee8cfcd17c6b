"""The first teacher, signing in and out."""

from __future__ import annotations

import hashlib
import secrets
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cache
from zoneinfo import available_timezones

from pwdlib import PasswordHash

from jade_ladder.core.errors import NotSignedIn, Refused
from jade_ladder.service.shared.caller import needed, told_together
from jade_ladder.store.people import people as store
from jade_ladder.store.people.people import Person, School
from jade_ladder.store.shared.connection import Database

SESSION_LASTS = timedelta(days=14)
SHORTEST_PASSWORD, LONGEST_PASSWORD = 10, 200
_WRONG = "This e-mail and password do not belong together"


@dataclass(frozen=True, slots=True)
class NewTeacher:
    """What a person says of themselves at the first start."""

    given_name: str
    family_name: str
    email: str
    password: str


@cache
def _hasher() -> PasswordHash:
    return PasswordHash.recommended()


@cache
def _decoy() -> str:
    """A hash to check against when there is no such e-mail, so that both take as long."""
    return _hasher().hash(secrets.token_hex())


def needs_first_teacher(database: Database) -> bool:
    """Whether nobody can sign in yet."""
    with database.reading() as db:
        return not store.any_teacher(db)


def the_school(database: Database) -> School | None:
    """Give the school, or None before the first start is done."""
    with database.reading() as db:
        return store.school(db)


def make_first_teacher(
    database: Database, school_name: str, time_zone: str, teacher: NewTeacher
) -> int:
    """Make the school and its first teacher, who is its administrator; refused once there is one.
    Gives their number.
    """
    told_together(
        lambda: needed(school_name, "school", "The school's name"),
        lambda: _check_time_zone(time_zone),
        lambda: _check_teacher(teacher),
    )
    with database.deed() as db:
        if store.any_teacher(db):
            raise Refused("There is a teacher already: sign in")
        store.set_school(db, school_name.strip(), time_zone)
        number = add_teacher(database, teacher)
        store.make_administrator(db, number)
        return number


def mark_as_demo(database: Database) -> None:
    """Remember that the demo command made this school."""
    with database.deed() as db:
        store.mark_as_demo(db)


def add_teacher(database: Database, teacher: NewTeacher) -> int:
    """Add a person who may teach; gives their number."""
    _check_teacher(teacher)
    with database.deed() as db:
        given, family = teacher.given_name.strip(), teacher.family_name.strip()
        number = store.add_person(db, given, family, None, teacher.email.strip())
        store.make_teacher(db, number, _hasher().hash(teacher.password))
        return number


def _check_time_zone(name: str) -> None:
    if name not in available_timezones():
        raise Refused(f"“{name}” is not a time zone", "time_zone")


def _check_teacher(teacher: NewTeacher) -> None:
    told_together(
        lambda: needed(teacher.given_name, "given_name", "The given name"),
        lambda: needed(teacher.family_name, "family_name", "The family name"),
        lambda: _check_email(teacher.email),
        lambda: _check_password(teacher.password),
    )


def _check_email(email: str) -> None:
    if "@" not in needed(email, "email", "The e-mail").strip("@"):
        raise Refused("An e-mail looks like name@school", "email")


def _check_password(password: str) -> None:
    if not SHORTEST_PASSWORD <= len(password) <= LONGEST_PASSWORD:
        raise Refused(f"A password has at least {SHORTEST_PASSWORD} characters", "password")


def check_password(database: Database, email: str, password: str) -> int:
    """Check a password; gives the number of the person whose it is.

    Raises NotSignedIn without telling whether the e-mail or the password was wrong.
    """
    with database.reading() as db:
        secret = store.sign_in_secret(db, email.strip())
    right = _hasher().verify(password, secret[1] if secret else _decoy())
    if secret is None or not right:
        raise NotSignedIn(_WRONG)
    return secret[0]


def begin_session(
    database: Database, person_id: int, now: datetime, replaced: str | None = None
) -> str:
    """Begin a session for a person, and end the one that it replaces, if its token is given; gives
    the secret token, of which only a hash is kept.
    """
    token = secrets.token_urlsafe(32)
    with database.deed() as db:
        if replaced is not None:
            store.end_session(db, _hashed(replaced))
        store.add_session(db, _hashed(token), person_id, now, now + SESSION_LASTS)
    return token


def end_session(database: Database, token: str) -> None:
    """Sign out."""
    with database.deed() as db:
        store.end_session(db, _hashed(token))


def person_of_session(database: Database, token: str, now: datetime) -> Person:
    """Give the person whose session this is; NotSignedIn when it has ended or never was."""
    with database.reading() as db:
        number = store.session_person(db, _hashed(token), now)
        person = store.person(db, number) if number is not None else None
    if person is None:
        raise NotSignedIn("Please sign in")
    return person


def teachers(database: Database) -> list[Person]:
    """List those who may teach (the demo's sign-in page offers them)."""
    with database.reading() as db:
        return store.teachers(db)


def _hashed(token: str) -> str:
    return hashlib.sha256(token.encode("utf-8", "surrogatepass")).hexdigest()
