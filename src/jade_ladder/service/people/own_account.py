"""One's own account: name, e-mail, password, and where one is signed in."""

from __future__ import annotations

import sqlite3

from jade_ladder.core.errors import NotFound, WrongSecret
from jade_ladder.service.people.accounts import check_email
from jade_ladder.service.people.colleagues import check_free
from jade_ladder.service.people.passwords import check_length, hashed, is_right
from jade_ladder.service.people.sessions import token_hash
from jade_ladder.service.shared.caller import Caller, Student, Teacher
from jade_ladder.service.shared.forms import collect_errors, needed
from jade_ladder.store.people import people as person_store
from jade_ladder.store.people import sessions as store
from jade_ladder.store.people.people import Person
from jade_ladder.store.people.sessions import SessionRow
from jade_ladder.store.shared.log import LogSubject


def own_account(caller: Teacher) -> Person:
    """Give what is known of the caller."""
    with caller.reading() as db:
        return _myself(db, caller)


def student_account(caller: Student) -> tuple[Person, str | None]:
    """Give what is known of the caller, and the name they sign in with."""
    with caller.reading() as db:
        return _myself(db, caller), store.sign_in_name(db, caller.person_id)


def change_own_email(caller: Student, email: str) -> None:
    """Change one's e-mail; an empty one: there is none."""
    trimmed = email.strip()
    if trimmed:
        check_email(trimmed)
    with caller.transaction() as db:
        now = _myself(db, caller)
        person_store.change_person(
            db, now.id, now.given_name, now.family_name, now.identifier, trimmed or None, now.id
        )
        caller.log(db, LogSubject.OWN_ACCOUNT, now.id, {"email": now.email}, {"email": trimmed})


def _myself(db: sqlite3.Connection, caller: Caller) -> Person:
    found = person_store.person(db, caller.person_id)
    if found is None:
        raise NotFound("There is no such account")
    return found


def change_own_account(caller: Teacher, given_name: str, family_name: str, email: str) -> None:
    """Change one's name and the e-mail that one signs in with."""
    collect_errors(
        lambda: needed(given_name, "given_name", "The given name"),
        lambda: needed(family_name, "family_name", "The family name"),
        lambda: check_email(email),
    )
    with caller.transaction() as db:
        check_free(db, email.strip(), caller.person_id)
        now = _myself(db, caller)
        said = given_name.strip(), family_name.strip(), now.identifier, email.strip()
        person_store.change_person(db, caller.person_id, *said, caller.person_id)
        caller.log(
            db,
            LogSubject.OWN_ACCOUNT,
            caller.person_id,
            {"name": now.name, "email": now.email},
            {"name": f"{said[0]} {said[1]}", "email": said[3]},
        )


def change_own_password(caller: Caller, token: str, current: str, password: str) -> int:
    """Set another password and sign out everywhere but here; gives how many sessions ended.

    Raises WrongSecret at the field for a present password that is wrong, Refused for one too short.
    """
    check_length(password)
    with caller.reading() as db:
        kept = store.password_of(db, caller.person_id)
    if not is_right(current, kept):
        raise WrongSecret("This is not your present password", "current")
    made = hashed(password)
    with caller.transaction() as db:
        store.set_password(db, caller.person_id, made)
        caller.log(db, LogSubject.PASSWORD, caller.person_id, None, None)
        return store.end_sessions(db, caller.person_id, token_hash(token))


def own_sessions(caller: Caller, token: str) -> list[SessionRow]:
    """List where the caller is signed in; `token` is that of this session."""
    with caller.reading() as db:
        return store.sessions_of(db, caller.person_id, token_hash(token), caller.now)


def end_own_session(caller: Caller, token: str, number: int) -> None:
    """Sign out elsewhere; this session ends by signing out."""
    with caller.transaction() as db:
        if not store.end_sessions(db, caller.person_id, token_hash(token), number):
            raise NotFound("There is no such other session of yours")
