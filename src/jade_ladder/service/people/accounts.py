"""The first teacher, signing in and out."""

from __future__ import annotations

from dataclasses import dataclass
from zoneinfo import available_timezones

from jade_ladder.core.errors import Refused
from jade_ladder.service.people.passwords import check_length, hashed
from jade_ladder.service.people.school import check_language
from jade_ladder.service.shared.forms import collect_errors, needed
from jade_ladder.store.people import people as store
from jade_ladder.store.people.people import Person, School
from jade_ladder.store.shared.connection import Database


@dataclass(frozen=True, slots=True)
class NewTeacher:
    """What a person says of themselves at the first start."""

    given_name: str
    family_name: str
    email: str
    password: str


def needs_first_teacher(database: Database) -> bool:
    """Whether nobody can sign in yet."""
    with database.reading() as db:
        return not store.any_teacher(db)


def the_school(database: Database) -> School | None:
    """Give the school, or None before the first start is done."""
    with database.reading() as db:
        return store.school(db)


def make_first_teacher(
    database: Database,
    school_name: str,
    time_zone: str,
    teacher: NewTeacher,
    language: str = "en",
) -> int:
    """Make the school and its first teacher, who is its administrator; refused once there is one.
    Gives their number.
    """
    collect_errors(
        lambda: needed(school_name, "school", "The school's name"),
        lambda: _check_time_zone(time_zone),
        lambda: check_language(language),
        lambda: _check_teacher(teacher),
    )
    with database.transaction() as db:
        if store.any_teacher(db):
            raise Refused("There is a teacher already: sign in")
        store.set_school(db, school_name.strip(), time_zone)
        store.set_language(db, language)
        number = add_teacher(database, teacher)
        store.set_administrator(db, number, True)
        return number


def mark_as_demo(database: Database) -> None:
    """Remember that the demo command made this school."""
    with database.transaction() as db:
        store.mark_as_demo(db)


def add_teacher(database: Database, teacher: NewTeacher) -> int:
    """Add a person who may teach; gives their number."""
    _check_teacher(teacher)
    with database.transaction() as db:
        given, family = teacher.given_name.strip(), teacher.family_name.strip()
        number = store.add_person(db, given, family, None, teacher.email.strip())
        store.make_teacher(db, number, hashed(teacher.password))
        return number


def _check_time_zone(name: str) -> None:
    if name not in available_timezones():
        raise Refused(f"“{name}” is not a time zone", "time_zone")


def _check_teacher(teacher: NewTeacher) -> None:
    collect_errors(
        lambda: needed(teacher.given_name, "given_name", "The given name"),
        lambda: needed(teacher.family_name, "family_name", "The family name"),
        lambda: check_email(teacher.email),
        lambda: check_length(teacher.password),
    )


def check_email(email: str) -> None:
    """Refuse what is no e-mail."""
    if "@" not in needed(email, "email", "The e-mail").strip("@"):
        raise Refused("An e-mail looks like name@school", "email")


def demo_people(database: Database) -> list[Person]:
    """List those whom the demo's sign-in page offers: teachers, and students who have joined."""
    with database.reading() as db:
        return [*store.teachers(db), *store.joined_students(db)]
