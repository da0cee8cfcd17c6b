"""Who does a deed, when, and on which database; and the guards that every deed passes."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable
from contextlib import AbstractContextManager
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from zoneinfo import ZoneInfo

from jade_ladder.core.errors import NotFound, Problem, Refused, RefusedMany, Stale
from jade_ladder.store.classes import classes as class_store
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.people import people as people_store
from jade_ladder.store.shared.connection import Database
from jade_ladder.store.work import tasks as task_store
from jade_ladder.store.work.tasks import TaskRow


@dataclass(frozen=True, slots=True)
class Caller:
    """A signed-in person at a moment. An operation takes the kind of caller it is for, so that a
    call by another kind does not type-check; which kind somebody is, is decided where the session
    is read (`caller_of`).
    """

    database: Database
    person_id: int
    now: datetime

    def deed(self) -> AbstractContextManager[sqlite3.Connection]:
        """Open the one transaction of a deed."""
        return self.database.deed()

    def reading(self) -> AbstractContextManager[sqlite3.Connection]:
        """Read from one moment."""
        return self.database.reading()


@dataclass(frozen=True, slots=True)
class Teacher(Caller):
    """Somebody who may teach."""


@dataclass(frozen=True, slots=True)
class Administrator(Teacher):
    """A teacher who also looks after what belongs to the whole school."""


@dataclass(frozen=True, slots=True)
class Student(Caller):
    """Somebody who learns and does not teach."""


def caller_of(database: Database, person: people_store.Person, now: datetime) -> Caller:
    """Give the kind of caller that a person is now."""
    if not person.may_teach:
        return Student(database, person.id, now)
    kind = Administrator if person.administrator else Teacher
    return kind(database, person.id, now)


def own_class(db: sqlite3.Connection, caller: Teacher, class_id: int) -> ClassRow:
    """Give a class the caller teaches; NotFound for any other."""
    found = class_store.class_of_teacher(db, class_id, caller.person_id)
    if found is None:
        raise NotFound("There is no such class among yours")
    return found


def own_task(db: sqlite3.Connection, caller: Teacher, task_id: int) -> tuple[TaskRow, ClassRow]:
    """Give a task of a class the caller teaches; NotFound for any other, in the same words whether
    it is another teacher's or nobody's.
    """
    found = task_store.task(db, task_id)
    if found is not None:
        klass = class_store.class_of_teacher(db, found.class_id, caller.person_id)
        if klass is not None:
            return found, klass
    raise NotFound("There is no such task in your classes")


def own_student(db: sqlite3.Connection, class_id: int, student_id: int) -> people_store.Person:
    """Give a student of a class; NotFound for anybody else."""
    person = people_store.person(db, student_id)
    if person is None or not class_store.is_student(db, class_id, student_id):
        raise NotFound("There is no such student in this class")
    return person


def check_version(based_on: int, current: int, what: str) -> None:
    """Raise Stale when somebody saved after the version a change was based on."""
    if based_on != current:
        raise Stale(
            f"{what} was changed in the meantime, perhaps in another tab. Nothing of yours was "
            "saved over it; look at what is there now.",
            current,
        )


def school_zone(db: sqlite3.Connection) -> ZoneInfo:
    """Give the school's time zone."""
    school = people_store.school(db)
    return ZoneInfo(school.time_zone if school else "UTC")


def today(db: sqlite3.Connection, caller: Teacher) -> date:
    """Give the day it is at the school."""
    return caller.now.astimezone(school_zone(db)).date()


def start_of(day: date, zone: ZoneInfo) -> datetime:
    """Give the moment at which a day begins at the school, in UTC."""
    return datetime.combine(day, time(), zone).astimezone(UTC)


def end_of(day: date, zone: ZoneInfo) -> datetime:
    """Give the moment at which a day ends at the school: the start of the next."""
    return start_of(day + timedelta(days=1), zone)


FIRST_YEAR, LAST_YEAR = 1990, 2100
YEARS_AROUND = 3
"""Days and times of a class lie within so many years of its own days."""


def check_day(day: date, field: str, klass: ClassRow | None = None) -> None:
    """Refuse a day outside a sane span, which is a slip of the keyboard: of all years, and within
    some years of a class where one is given.
    """
    first, last = FIRST_YEAR, LAST_YEAR
    if klass is not None:
        first = max(first, klass.first_day.year - YEARS_AROUND)
        last = min(last, klass.last_day.year + YEARS_AROUND)
    if not first <= day.year <= last:
        raise Refused(
            f"The year {day.year} is not between {first} and {last}: is it a slip of the keyboard?",
            field,
        )


def in_utc(moment: datetime, zone: ZoneInfo) -> datetime:
    """Take a time without a zone as the school's clock, and give it in UTC."""
    local = moment if moment.tzinfo else moment.replace(tzinfo=zone)
    return local.astimezone(UTC)


def needed(text: str, field: str, what: str, longest: int = 200) -> str:
    """Give a text trimmed; refuse an empty or overlong one, naming the field."""
    trimmed = text.strip()
    if not trimmed:
        raise Refused(f"{what} is needed", field)
    if len(trimmed) > longest:
        raise Refused(f"{what} has more than {longest} characters", field)
    return trimmed


def check_order(given: list[int], known: set[int]) -> None:
    """Refuse an order that does not name each once."""
    if len(given) != len(set(given)) or set(given) != known:
        raise Refused("The order must name each once; reload to see what was added", "order")


def told_together(*checks: Callable[[], object]) -> None:
    """Run the checks of a form; when several refuse, raise RefusedMany with all of their fields."""
    problems = []
    for check in checks:
        try:
            check()
        except RefusedMany as error:
            problems += error.problems
        except Refused as error:
            problems.append(Problem(error.field, error.message))
    if problems:
        raise RefusedMany(problems[0].message, problems)
