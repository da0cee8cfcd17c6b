"""People, sign-in sessions and the school."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from contextlib import suppress
from dataclasses import dataclass

from jade_ladder.core.names import Named
from jade_ladder.store.shared.rows import fetch, fetch_number, fetch_one, insert


@dataclass(frozen=True, slots=True)
class School:
    """The one school of this database; evidence from fewer different sources than `thin` is thin,
    `demo` says that the demo command made it, and `language` (BCP 47) is that by which names are
    sorted.
    """

    name: str
    time_zone: str
    thin: int
    demo: bool
    language: str


@dataclass(frozen=True, slots=True)
class Person(Named):
    """Somebody of the school: who may teach, and who is or was a student of a class (`learns`)."""

    id: int
    given_name: str
    family_name: str
    identifier: str | None
    email: str | None
    may_teach: bool
    administrator: bool
    learns: bool


# Columns of a Person, for the other modules of this room, too.
PERSON = """SELECT id, given_name, family_name, identifier, email, may_teach, administrator,
                   EXISTS (SELECT 1 FROM membership l
                            WHERE l.person_id = person.id AND l.role = 'student') AS learns
             FROM person"""


def school(db: sqlite3.Connection) -> School | None:
    """Give the school, or None before the first start is done."""
    return fetch_one(db, School, "SELECT name, time_zone, thin, demo, language FROM school")


def set_school(db: sqlite3.Connection, name: str, time_zone: str) -> None:
    """Make the school or change it."""
    db.execute(
        """INSERT INTO school (id, name, time_zone) VALUES (1, ?, ?)
           ON CONFLICT (id) DO UPDATE SET name = excluded.name, time_zone = excluded.time_zone""",
        (name, time_zone),
    )


def any_teacher(db: sqlite3.Connection) -> bool:
    """Whether somebody can sign in at all."""
    return fetch_number(db, "SELECT 1 FROM person WHERE may_teach = 1 LIMIT 1") is not None


def teachers(db: sqlite3.Connection) -> list[Person]:
    """List those who may teach, as they were made; ended accounts are left out."""
    return fetch(db, Person, f"{PERSON} WHERE may_teach = 1 AND ended_at IS NULL ORDER BY id")


def joined_students(db: sqlite3.Connection) -> list[Person]:
    """List the students who have set a password, as they were made."""
    return fetch(
        db, Person, f"{PERSON} WHERE may_teach = 0 AND password_hash IS NOT NULL ORDER BY id"
    )


def person(db: sqlite3.Connection, person_id: int) -> Person | None:
    """Give one person."""
    return fetch_one(db, Person, f"{PERSON} WHERE id = ?", (person_id,))


def person_by_identifier(db: sqlite3.Connection, identifier: str) -> Person | None:
    """Give the person with a school identifier."""
    return fetch_one(db, Person, f"{PERSON} WHERE identifier = ?", (identifier,))


def names(db: sqlite3.Connection, people: Iterable[int]) -> dict[int, str]:
    """Give the names of some people, by number."""
    rows = db.execute(
        """SELECT id, trim(given_name || ' ' || family_name) FROM person
           WHERE id IN (SELECT value FROM json_each(?)) ORDER BY id""",
        (json.dumps(list(people)),),
    )
    return dict(rows.fetchall())


def add_person(
    db: sqlite3.Connection,
    given_name: str,
    family_name: str,
    identifier: str | None,
    email: str | None,
) -> int:
    """Add a person without a password; give their number."""
    return insert(
        db,
        "INSERT INTO person (given_name, family_name, identifier, email) VALUES (?, ?, ?, ?)",
        (given_name, family_name, identifier, email),
    )


def people_by_identifier(db: sqlite3.Connection, identifiers: Iterable[str]) -> dict[str, Person]:
    """Give the people with some school identifiers, by identifier."""
    rows = fetch(
        db,
        Person,
        f"{PERSON} WHERE identifier IN (SELECT value FROM json_each(?)) ORDER BY id",
        (json.dumps(list(identifiers)),),
    )
    return {row.identifier: row for row in rows if row.identifier is not None}


def add_people(
    db: sqlite3.Connection, people: Iterable[tuple[str, str, str | None, str | None]], by: int
) -> list[int]:
    """Add people without a password, each by given and family name, identifier and e-mail, as
    written `by` somebody; gives their numbers in order.
    """
    before: int = db.execute("SELECT coalesce(max(id), 0) FROM person").fetchone()[0]
    added = db.executemany(
        """INSERT INTO person (given_name, family_name, identifier, email, email_by)
           VALUES (?, ?, ?, ?, ?)""",
        ((*person, None if person[3] is None else by) for person in people),
    ).rowcount
    return list(range(before + 1, before + 1 + max(added, 0)))


def forget_people(db: sqlite3.Connection, people: Iterable[int]) -> None:
    """Delete those of some people who do not teach, are nowhere a member any more, and have nothing
    that is kept: work, notes, judgements, a file on its way.
    """
    for number in people:
        # Whatever refers to somebody keeps them, what is to come too.
        with suppress(sqlite3.IntegrityError):
            db.execute(
                """DELETE FROM person WHERE id = ? AND may_teach = 0
                   AND NOT EXISTS (SELECT 1 FROM membership m WHERE m.person_id = person.id)""",
                (number,),
            )


def change_person(
    db: sqlite3.Connection,
    person_id: int,
    given_name: str,
    family_name: str,
    identifier: str | None,
    email: str | None,
    by: int,
) -> None:
    """Change what is known of a person, as written `by` somebody."""
    db.execute(
        """UPDATE person SET given_name = ?, family_name = ?, identifier = ?,
             email_by = CASE WHEN email IS ?4 THEN email_by ELSE ?5 END, email = ?4
           WHERE id = ?6""",
        (given_name, family_name, identifier, email, by, person_id),
    )


def make_teacher(db: sqlite3.Connection, person_id: int, password_hash: str | None) -> None:
    """Let a person teach, and sign in once there is a password."""
    db.execute(
        "UPDATE person SET may_teach = 1, password_hash = ? WHERE id = ?",
        (password_hash, person_id),
    )


def set_administrator(db: sqlite3.Connection, person_id: int, administrator: bool) -> None:
    """Let a teacher look after what belongs to the whole school, or no longer."""
    db.execute("UPDATE person SET administrator = ? WHERE id = ?", (administrator, person_id))


def mark_as_demo(db: sqlite3.Connection) -> None:
    """Remember that the school was made by the demo command."""
    db.execute("UPDATE school SET demo = 1")


def set_thin(db: sqlite3.Connection, thin: int) -> None:
    """Say from how many different sources evidence is no longer thin."""
    db.execute("UPDATE school SET thin = ?", (thin,))


def set_language(db: sqlite3.Connection, language: str) -> None:
    """Set the language by which names are sorted."""
    db.execute("UPDATE school SET language = ?", (language,))
