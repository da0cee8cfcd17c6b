"""Links by which people set their own password, once."""

from __future__ import annotations

import secrets
import sqlite3
from datetime import datetime, timedelta

from jade_ladder.core.errors import NotFound
from jade_ladder.service.people.passwords import check_length, hashed
from jade_ladder.service.people.sessions import token_hash
from jade_ladder.service.shared.caller import Administrator
from jade_ladder.store.people import sessions as store
from jade_ladder.store.people.people import Person
from jade_ladder.store.shared import log
from jade_ladder.store.shared.connection import Database

LINK_LASTS = timedelta(days=14)
_GONE = (
    "This link was used already, is older than 14 days, or was replaced by a newer one. "
    "The administrator of your school makes you another."
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


def invited_person(database: Database, token: str, now: datetime) -> Person:
    """Give the person whom a link invites; NotFound when it leads nowhere any more."""
    with database.looking() as db:
        found = store.invited(db, token_hash(token), now)
    if found is None:
        raise NotFound(_GONE)
    return found


def accept(database: Database, token: str, password: str, now: datetime) -> int:
    """Set the password of the person whom a link invites, and end their sessions; gives their
    number. A link is good for once.
    """
    check_length(password)
    invited_person(database, token, now)
    kept = hashed(password)
    with database.transaction() as db:
        # Again, since hashing takes long enough for somebody else to use it.
        person = store.invited(db, token_hash(token), now)
        if person is None:
            raise NotFound(_GONE)
        store.use_invitation(db, token_hash(token), now)
        store.set_password(db, person.id, kept)
        store.end_sessions(db, person.id)
        log.add_entry(db, now, person.id, "password", person.id, None, None)
        return person.id
