"""Classes: making, changing and listing them."""

from __future__ import annotations

from datetime import date

from jade_ladder.core.errors import Refused
from jade_ladder.core.methods import Method, MethodKind
from jade_ladder.core.rollup import StrandRollup
from jade_ladder.service.outcomes.scales import first_scale
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import check_day
from jade_ladder.service.shared.forms import check_version, collect_errors, needed
from jade_ladder.service.shared.guards import own_class
from jade_ladder.store.classes import classes as store
from jade_ladder.store.classes import first_steps as step_store
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.classes.first_steps import FirstSteps
from jade_ladder.store.shared.log import LogSubject

LONGEST_CLASS = 10
"""In years: beyond it a year was mistyped."""


def my_classes(caller: Teacher) -> list[ClassRow]:
    """List the classes the caller teaches, by name."""
    with caller.reading() as db:
        return store.classes_of_teacher(db, caller.person_id)


def first_steps(caller: Teacher) -> dict[int, FirstSteps]:
    """Say of each of the caller's classes how far it is on its way to the first marked student."""
    with caller.reading() as db:
        return step_store.first_steps(db, caller.person_id)


def get_class(caller: Teacher, class_id: int) -> ClassRow:
    """Give one of the caller's classes."""
    with caller.reading() as db:
        return own_class(db, caller, class_id)


def make_class(caller: Teacher, name: str, first_day: date, last_day: date) -> int:
    """Make a class that the caller teaches; gives its number.

    It starts with the school's first scale (made here when there is none) and a decaying average.
    """
    name = checked_class(name, first_day, last_day)
    method = Method(MethodKind.DECAYING_AVERAGE)
    with caller.transaction() as db:
        scale_id = first_scale(db)
        number = store.add_class(
            db,
            caller.person_id,
            name,
            first_day,
            last_day,
            scale_id,
            method.kind,
            method.newest,
            method.last,
        )
        student_store.add_member(db, number, caller.person_id, "teacher", first_day)
        return number


def change_class(
    caller: Teacher, class_id: int, based_on: int, name: str, first_day: date, last_day: date
) -> None:
    """Change a class's name and days."""
    name = checked_class(name, first_day, last_day)
    with caller.transaction() as db:
        check_version(based_on, own_class(db, caller, class_id).version, "The class")
        store.change_class(db, class_id, name, first_day, last_day)


def change_strand_roll_up(
    caller: Teacher, class_id: int, based_on: int, roll_up: StrandRollup
) -> None:
    """Change what a strand comes to for a student: the mean of its outcomes, or the lowest
    (docs/calculations.md, “Roll-ups”).
    """
    with caller.transaction() as db:
        klass = own_class(db, caller, class_id)
        check_version(based_on, klass.version, "The class")
        store.change_strand_roll_up(db, class_id, roll_up)
        caller.log(db, LogSubject.STRAND_ROLL_UP, class_id, klass.strand_roll_up, roll_up)


def checked_class(name: str, first_day: date, last_day: date) -> str:
    """Refuse a name or days that cannot be a class's; gives the name trimmed."""
    collect_errors(
        lambda: needed(name, "name", "A name for the class"),
        lambda: _check_days(first_day, last_day),
    )
    return name.strip()


def _check_days(first_day: date, last_day: date) -> None:
    collect_errors(
        lambda: check_day(first_day, "first_day"), lambda: check_day(last_day, "last_day")
    )
    if last_day.year - first_day.year > LONGEST_CLASS:
        raise Refused(f"A class lasts at most {LONGEST_CLASS} years", "last_day")
    if last_day <= first_day:
        raise Refused("The last day must come after the first", "last_day")
