"""Signing in and out: a password, then a session."""

from __future__ import annotations

import hashlib
import secrets
import unicodedata
from datetime import datetime, timedelta

from jade_ladder.core.errors import NotFound, NotSignedIn
from jade_ladder.service.people.passwords import check_length, hashed, is_right
from jade_ladder.store.people import people as person_store
from jade_ladder.store.people import sessions as store
from jade_ladder.store.people.people import Person
from jade_ladder.store.shared import log
from jade_ladder.store.shared.connection import Database
from jade_ladder.store.shared.log import LogSubject

SESSION_LASTS = timedelta(days=14)
IDLE_LASTS = timedelta(minutes=30)
"""How long a student's session lasts from the last thing done, on a device that is not theirs."""
_PROLONGED = timedelta(minutes=5)
"""It is prolonged when so much of it is over, so that not every call writes."""
LONGEST_DEVICE = 60
_WRONG = "This name and password do not belong together"


def check_password(database: Database, name: str, password: str) -> int:
    """Check the password of a teacher, by their e-mail, or of a student, by the name they sign in
    with; gives the number of the person whose it is.

    Raises NotSignedIn without telling whether the name or the password was wrong.
    """
    with database.reading() as db:
        secret = store.sign_in_secret(db, name.strip(), sign_in_key(name))
    right = is_right(password, secret[1] if secret else None)
    if secret is None or not right:
        raise NotSignedIn(_WRONG)
    return secret[0]


def begin_session(
    database: Database,
    person_id: int,
    now: datetime,
    replaced: str | None = None,
    device: str = "",
    own_device: bool = True,
) -> str:
    """Begin a session for a person, and end the one that it replaces, if its token is given; gives
    the secret token, of which only a hash is kept. On a device that is not the person's own, a
    student's ends when nothing was done for half an hour.
    """
    token = secrets.token_urlsafe(32)
    with database.transaction() as db:
        if replaced is not None:
            store.end_session(db, token_hash(replaced))
        person = person_store.person(db, person_id)
        idle = not own_device and person is not None and not person.may_teach
        expires = now + (IDLE_LASTS if idle else SESSION_LASTS)
        store.add_session(
            db, token_hash(token), person_id, now, expires, device[:LONGEST_DEVICE], idle
        )
    return token


def keep_session(database: Database, token: str, now: datetime) -> None:
    """Something was done in a session: where it ends by itself, it lasts longer again."""
    hashed_token = token_hash(token)
    with database.looking() as db:
        ends = store.idle_session_ends(db, hashed_token)
    if ends is not None and ends - now < IDLE_LASTS - _PROLONGED:
        with database.transaction() as db:
            store.prolong_session(db, hashed_token, now + IDLE_LASTS)


def end_session(database: Database, token: str) -> None:
    """Sign out."""
    with database.transaction() as db:
        store.end_session(db, token_hash(token))


def person_of_session(database: Database, token: str, now: datetime) -> Person:
    """Give the person whose session this is; NotSignedIn when it has ended or never was."""
    with database.looking() as db:
        person = store.person_of_session(db, token_hash(token), now)
    if person is None:
        raise NotSignedIn("Please sign in")
    return person


def set_password(database: Database, email: str, password: str, now: datetime) -> str:
    """Set the password of the teacher with an e-mail, on the machine itself, and end their
    sessions; gives their name. Raises NotFound where nobody has it or their account has ended.
    """
    check_length(password)
    kept = hashed(password)
    with database.transaction() as db:
        person = store.teacher_by_email(db, email.strip())
        if person is None:
            raise NotFound(f"No teacher signs in with {email.strip()}")
        store.set_password(db, person.id, kept)
        store.end_sessions(db, person.id)
        log.add_entry(db, now, None, LogSubject.PASSWORD, person.id, None, None)
        return person.name


def sign_in_key(name: str) -> str:
    """Give a name to sign in with as it is compared: capitals make no other one of it."""
    return unicodedata.normalize("NFKC", name.strip()).casefold()


def token_hash(token: str) -> str:
    """Give what is kept of a secret token."""
    return hashlib.sha256(token.encode("utf-8", "surrogatepass")).hexdigest()
