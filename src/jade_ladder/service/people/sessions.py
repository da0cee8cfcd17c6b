"""Signing in and out: a password, then a session."""

from __future__ import annotations

import hashlib
import secrets
from datetime import datetime, timedelta

from jade_ladder.core.errors import NotFound, NotSignedIn
from jade_ladder.service.people.passwords import check_length, hashed, is_right
from jade_ladder.store.people import sessions as store
from jade_ladder.store.people.people import Person
from jade_ladder.store.shared import log
from jade_ladder.store.shared.connection import Database

SESSION_LASTS = timedelta(days=14)
LONGEST_DEVICE = 60
_WRONG = "This e-mail and password do not belong together"


def check_password(database: Database, email: str, password: str) -> int:
    """Check a password; gives the number of the person whose it is.

    Raises NotSignedIn without telling whether the e-mail or the password was wrong.
    """
    with database.reading() as db:
        secret = store.sign_in_secret(db, email.strip())
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
) -> str:
    """Begin a session for a person, and end the one that it replaces, if its token is given; gives
    the secret token, of which only a hash is kept.
    """
    token = secrets.token_urlsafe(32)
    with database.transaction() as db:
        if replaced is not None:
            store.end_session(db, token_hash(replaced))
        store.add_session(
            db, token_hash(token), person_id, now, now + SESSION_LASTS, device[:LONGEST_DEVICE]
        )
    return token


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
        log.add_entry(db, now, None, "password", person.id, None, None)
        return person.name


def token_hash(token: str) -> str:
    """Give what is kept of a secret token."""
    return hashlib.sha256(token.encode("utf-8", "surrogatepass")).hexdigest()
