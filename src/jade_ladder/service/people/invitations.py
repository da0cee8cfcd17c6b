"""Links by which people set their own password, once."""

from __future__ import annotations

import re
import secrets
import sqlite3
from dataclasses import dataclass
from datetime import datetime, timedelta

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.service.people.passwords import check_length, hashed
from jade_ladder.service.people.sessions import sign_in_key, token_hash
from jade_ladder.service.shared.caller import Administrator, Teacher
from jade_ladder.service.shared.forms import collect_errors
from jade_ladder.store.people import sessions as store
from jade_ladder.store.people.people import Person
from jade_ladder.store.shared import log
from jade_ladder.store.shared.connection import Database
from jade_ladder.store.shared.log import LogSubject

LINK_LASTS = timedelta(days=14)
CODE_LETTERS = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789"
"""What a code to type is made of: nothing that looks like something else."""
CODE_LENGTH = 12
SHORTEST_NAME, LONGEST_NAME = 3, 40
_NAME = re.compile(r"[\w.\-]+")
_GONE = (
    "This link or code was used already, is older than 14 days, or was replaced by a newer one. "
    "Students get another from their teacher, teachers from the administrator."
)


def make_link(db: sqlite3.Connection, caller: Administrator, person_id: int) -> str:
    """Make a link for a person in place of earlier ones; gives its secret token, which is shown
    once. Part of a transaction.
    """
    token = secrets.token_urlsafe(32)
    store.add_invitation(
        db, person_id, token_hash(token), caller.person_id, caller.now, caller.now + LINK_LASTS
    )
    return token


def make_code(db: sqlite3.Connection, caller: Teacher, person_id: int) -> str:
    """Make a code to type for a student, in place of earlier ones, and end their sessions; gives
    it, which is shown once. Part of a transaction.
    """
    code = "".join(secrets.choice(CODE_LETTERS) for _ in range(CODE_LENGTH))
    store.add_invitation(
        db, person_id, token_hash(code), caller.person_id, caller.now, caller.now + LINK_LASTS
    )
    store.end_sessions(db, person_id)
    return code


def _secret_hash(token: str) -> str:
    """Give what is kept of a link's secret or of a code, as it was typed."""
    typed = "".join(character for character in token if character.isalnum()).upper()
    is_code = len(typed) == CODE_LENGTH and set(typed) <= set(CODE_LETTERS)
    return token_hash(typed if is_code else token)


@dataclass(frozen=True, slots=True)
class Invited:
    """Whom a link or code invites; a student has or chooses a name to sign in with."""

    person: Person
    sign_in_name: str | None


def invited_person(database: Database, token: str, now: datetime) -> Invited:
    """Give the person whom a link or code invites; NotFound when it leads nowhere any more."""
    with database.looking() as db:
        found = store.invited(db, _secret_hash(token), now)
        name = None if found is None else store.sign_in_name(db, found.id)
    if found is None:
        raise NotFound(_GONE)
    return Invited(found, name)


def accept(
    database: Database, token: str, password: str, now: datetime, sign_in_name: str = ""
) -> int:
    """Set the password of the person whom a link or code invites, and a student's name to sign in
    with where they have none yet, and end their sessions; gives their number. It is good for once.
    """
    invited = invited_person(database, token, now)
    choosing = not invited.person.may_teach and invited.sign_in_name is None
    collect_errors(
        lambda: check_length(password),
        lambda: _check_name(sign_in_name) if choosing else None,
    )
    kept = hashed(password)
    key = sign_in_key(sign_in_name)
    with database.transaction() as db:
        # Again, since hashing takes long enough for somebody else to use it.
        person = store.invited(db, _secret_hash(token), now)
        if person is None:
            raise NotFound(_GONE)
        if choosing:
            if store.is_sign_in_key_taken(db, key, person.id):
                raise Refused("Somebody signs in with this name already", "sign_in_name")
            store.set_sign_in_name(db, person.id, sign_in_name.strip(), key)
        store.use_invitation(db, _secret_hash(token), now)
        store.set_password(db, person.id, kept)
        store.end_sessions(db, person.id)
        log.add_entry(db, now, person.id, LogSubject.PASSWORD, person.id, None, None)
        return person.id


def _check_name(name: str) -> None:
    trimmed = name.strip()
    if not SHORTEST_NAME <= len(trimmed) <= LONGEST_NAME:
        raise Refused(
            f"A name to sign in with has {SHORTEST_NAME} to {LONGEST_NAME} characters",
            "sign_in_name",
        )
    if not _NAME.fullmatch(trimmed):
        raise Refused("Letters, digits, dots and hyphens only, without blanks", "sign_in_name")
