"""The teachers of the school: an administrator adds them, ends accounts, makes administrators."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from jade_ladder.core.errors import NotFound, Problem, Refused, RefusedMany
from jade_ladder.service.people.accounts import check_email
from jade_ladder.service.people.invitations import make_link
from jade_ladder.service.shared.caller import Administrator, Teacher
from jade_ladder.service.shared.days import today
from jade_ladder.service.shared.forms import collect_errors, needed
from jade_ladder.store.people import people as person_store
from jade_ladder.store.people import sessions as session_store
from jade_ladder.store.people import teachers as store
from jade_ladder.store.people.people import Person
from jade_ladder.store.people.teachers import TaughtClass, TeacherRow, UntaughtClass
from jade_ladder.store.shared.log import LogSubject

MOST_AT_ONCE = 200


@dataclass(frozen=True, slots=True)
class NewColleague:
    """What is said of a teacher who is added; they set their own password."""

    given_name: str
    family_name: str
    email: str


@dataclass(frozen=True, slots=True)
class Account:
    """A teacher's account, and the classes that they teach."""

    row: TeacherRow
    classes: tuple[TaughtClass, ...]


def accounts(caller: Administrator) -> list[Account]:
    """List the accounts of all teachers by name, ended ones too."""
    with caller.reading() as db:
        taught = store.taught_classes(db)
        return [
            Account(row, tuple(one for one in taught if one.teacher_id == row.id))
            for row in store.teachers(db)
        ]


def untaught_classes(caller: Administrator) -> list[UntaughtClass]:
    """List the classes whose teachers have all left, to be handed over."""
    with caller.reading() as db:
        return store.untaught_classes(db)


def colleagues(caller: Teacher) -> list[Person]:
    """List those who teach at the school, to be chosen for a class."""
    with caller.reading() as db:
        return person_store.teachers(db)


def add_colleagues(
    caller: Administrator, people: Sequence[NewColleague]
) -> list[tuple[Person, str]]:
    """Add teachers, all or none; gives each with the token of the link by which they set their
    password.

    Raises RefusedMany, naming the line and field, for names and e-mails that cannot be.
    """
    if not people:
        raise Refused("Say who is to be added", "people")
    if len(people) > MOST_AT_ONCE:
        raise Refused(f"At most {MOST_AT_ONCE} at once", "people")
    with caller.transaction() as db:
        collect_errors(*(lambda at=at, one=one: _check(db, at, one, people)
                         for at, one in enumerate(people)))  # fmt: skip
        return [_add(db, caller, one) for one in people]


def _check(
    db: sqlite3.Connection, at: int, one: NewColleague, people: Sequence[NewColleague]
) -> None:
    email = one.email.strip()
    try:
        collect_errors(
            lambda: needed(one.given_name, "given_name", "The given name"),
            lambda: needed(one.family_name, "family_name", "The family name"),
            lambda: check_email(email),
        )
        earlier = [other.email.strip().casefold() for other in people[:at]]
        if email.casefold() in earlier:
            raise Refused(f"{email} is here twice", "email")
        check_free(db, email)
    except RefusedMany as error:
        problems = [Problem(f"people.{at}.{p.field}", p.message) for p in error.problems]
        raise RefusedMany(problems[0].message, problems) from None
    except Refused as error:
        raise Refused(error.message, f"people.{at}.{error.field}") from None


def check_free(db: sqlite3.Connection, email: str, but: int | None = None) -> None:
    """Refuse an e-mail by which somebody else signs in. Part of a transaction."""
    owner = session_store.is_email_taken(db, email, but)
    if owner is not None:
        raise Refused(f"{email} is the e-mail of {owner} already", "email")


def _add(db: sqlite3.Connection, caller: Administrator, one: NewColleague) -> tuple[Person, str]:
    number = person_store.add_person(
        db, one.given_name.strip(), one.family_name.strip(), None, one.email.strip()
    )
    person_store.make_teacher(db, number, None)
    caller.log(
        db, LogSubject.ACCOUNT, number, None, {"name": f"{one.given_name} {one.family_name}"}
    )
    person = person_store.person(db, number)
    if person is None:
        raise NotFound("There is no such teacher")
    return person, make_link(db, caller, number)


def new_link(caller: Administrator, person_id: int) -> str:
    """Make another link for a teacher who has none any more, or is locked out; gives its token."""
    with caller.transaction() as db:
        row = _account(db, person_id)
        if row.ended_at is not None:
            raise Refused(f"The account of {row.name} has ended: restore it first")
        caller.log(db, LogSubject.PASSWORD_LINK, person_id, None, None)
        return make_link(db, caller, person_id)


def set_administrator(caller: Administrator, person_id: int, administrator: bool) -> None:
    """Make a teacher an administrator, or no longer; the school always has one who can sign in."""
    with caller.transaction() as db:
        row = _account(db, person_id)
        if row.administrator == administrator:
            return
        if administrator and (row.ended_at is not None or not row.joined):
            raise Refused(f"{row.name} cannot sign in yet")
        if not administrator:
            _check_not_last(db, row)
        person_store.set_administrator(db, person_id, administrator)
        caller.log(db, LogSubject.ADMINISTRATOR, person_id, row.administrator, administrator)


def end_account(caller: Administrator, person_id: int) -> None:
    """End an account: it signs in no more, not by a link made before either, and all it made is
    kept. Refused for the last
    administrator, and for who is the only teacher of a class: that is handed over first.
    """
    with caller.transaction() as db:
        row = _account(db, person_id)
        if row.ended_at is not None:
            return
        if row.administrator:
            _check_not_last(db, row)
        alone = [
            one.name
            for one in store.taught_classes(db)
            if one.teacher_id == person_id and one.alone
        ]
        if alone:
            raise Refused(
                f"{row.name} is the only teacher of {', '.join(alone)}: hand over first, or set "
                "the class aside"
            )
        store.end_account(db, person_id, caller.now)
        person_store.set_administrator(db, person_id, False)
        store.stop_teaching(db, person_id, today(db, caller))
        session_store.end_sessions(db, person_id)
        session_store.void_invitations(db, person_id)
        caller.log(db, LogSubject.ACCOUNT_ENDED, person_id, None, None)


def restore_account(caller: Administrator, person_id: int) -> None:
    """Let somebody whose account was ended sign in again; classes are given to them anew."""
    with caller.transaction() as db:
        if _account(db, person_id).ended_at is not None:
            store.end_account(db, person_id, None)
            caller.log(db, LogSubject.ACCOUNT_RESTORED, person_id, None, None)


def _account(db: sqlite3.Connection, person_id: int) -> TeacherRow:
    found = store.teacher(db, person_id)
    if found is None:
        raise NotFound("There is no such teacher")
    return found


def _check_not_last(db: sqlite3.Connection, row: TeacherRow) -> None:
    if not store.other_administrators(db, row.id):
        raise Refused(
            f"{row.name} is the only administrator who can sign in: make somebody else one first"
        )
