"""Classes, their students, and bringing in a class list."""

from __future__ import annotations

import sqlite3
from datetime import date

from jade_ladder.core.errors import NotAllowed, Refused
from jade_ladder.core.methods import Method, MethodKind
from jade_ladder.formats.class_list import StudentLine, read_class_list
from jade_ladder.formats.table import Table
from jade_ladder.service.outcomes.scales import first_scale
from jade_ladder.service.shared.caller import (
    Administrator,
    Teacher,
    check_day,
    check_version,
    needed,
    own_class,
    own_student,
    school_zone,
    today,
    told_together,
)
from jade_ladder.service.shared.list_preview import LineStatus, ListPreview, ReadLine, bad
from jade_ladder.store.classes import classes as store
from jade_ladder.store.classes.classes import ClassRow, StudentRow
from jade_ladder.store.people import people as people_store
from jade_ladder.store.shared import log

LONGEST_CLASS = 10
"""In years: beyond it a year was mistyped."""


def my_classes(caller: Teacher) -> list[ClassRow]:
    """List the classes the caller teaches, by name."""
    with caller.reading() as db:
        return store.classes_of_teacher(db, caller.person_id)


def get_class(caller: Teacher, class_id: int) -> ClassRow:
    """Give one of the caller's classes."""
    with caller.reading() as db:
        return own_class(db, caller, class_id)


def make_class(caller: Teacher, name: str, first_day: date, last_day: date) -> int:
    """Make a class that the caller teaches; gives its number.

    It starts with the school's first scale (made here when there is none) and a decaying average.
    """
    name = _checked(name, first_day, last_day)
    method = Method(MethodKind.DECAYING_AVERAGE)
    with caller.deed() as db:
        scale_id = first_scale(db)
        number = store.add_class(
            db, name, first_day, last_day, scale_id, method.kind, method.newest, method.last
        )
        store.add_member(db, number, caller.person_id, "teacher", first_day)
        return number


def change_class(
    caller: Teacher, class_id: int, based_on: int, name: str, first_day: date, last_day: date
) -> None:
    """Change a class's name and days."""
    name = _checked(name, first_day, last_day)
    with caller.deed() as db:
        check_version(based_on, own_class(db, caller, class_id).version, "The class")
        store.change_class(db, class_id, name, first_day, last_day)


def _checked(name: str, first_day: date, last_day: date) -> str:
    told_together(
        lambda: needed(name, "name", "A name for the class"),
        lambda: _check_days(first_day, last_day),
    )
    return name.strip()


def _check_days(first_day: date, last_day: date) -> None:
    told_together(
        lambda: check_day(first_day, "first_day"), lambda: check_day(last_day, "last_day")
    )
    if last_day.year - first_day.year > LONGEST_CLASS:
        raise Refused(f"A class lasts at most {LONGEST_CLASS} years", "last_day")
    if last_day <= first_day:
        raise Refused("The last day comes after the first", "last_day")


def students(caller: Teacher, class_id: int) -> list[StudentRow]:
    """List everybody who is or was a student of the class."""
    with caller.reading() as db:
        own_class(db, caller, class_id)
        return store.students(db, class_id)


def add_student(caller: Teacher, class_id: int, line: StudentLine) -> int:
    """Add one student to a class; gives their number."""
    with caller.deed() as db:
        klass = own_class(db, caller, class_id)
        (read,) = _compare(db, caller, class_id, [line])
        if read.problem:
            raise Refused(read.problem, read.field)
        if read.status is LineStatus.ALREADY_THERE:
            raise Refused(f"{line.name} is in the class already", "given_name")
        return _add(db, caller, klass, read)


def change_student(caller: Teacher, class_id: int, student_id: int, line: StudentLine) -> None:
    """Change what is known of a student."""
    with caller.deed() as db:
        own_class(db, caller, class_id)
        now = own_student(db, class_id, student_id)
        needed(line.given_name + line.family_name, "given_name", "A name")
        other = line.identifier and people_store.person_by_identifier(db, line.identifier)
        if other and other.id != student_id:
            raise Refused(_taken(db, caller, line.identifier, other), "identifier")
        said = (line.given_name, line.family_name, line.identifier or None, line.email or None)
        differs = said != (now.given_name, now.family_name, now.identifier, now.email)
        shared = people_store.taught_by_others(db, student_id, caller.person_id)
        if differs and shared and not isinstance(caller, Administrator):
            raise NotAllowed(
                f"Others teach {now.name} too: the administrator of the school changes the name, "
                "identifier and e-mail"
            )
        people_store.change_person(
            db,
            student_id,
            line.given_name,
            line.family_name,
            line.identifier or None,
            line.email or None,
        )


def _taken(
    db: sqlite3.Connection, caller: Teacher, identifier: str, person: people_store.Person
) -> str:
    """Say that an identifier is somebody's; whose, only to those who teach them."""
    known = people_store.is_known_to(db, person.id, caller.person_id)
    return f"{identifier} belongs to {person.name if known else 'somebody else at the school'}"


def remove_student(caller: Teacher, class_id: int, student_id: int) -> None:
    """End a student's time in a class today; everything of theirs is kept."""
    with caller.deed() as db:
        own_class(db, caller, class_id)
        person = own_student(db, class_id, student_id)
        day = today(db, caller)
        store.end_membership(db, class_id, student_id, day)
        log.add_entry(
            db, caller.now, caller.person_id, "membership", person.id, class_id, {"until": day}
        )


def bring_back_student(caller: Teacher, class_id: int, student_id: int) -> None:
    """Let a student who left belong to the class again from today."""
    with caller.deed() as db:
        own_class(db, caller, class_id)
        own_student(db, class_id, student_id)
        if any(s.id == student_id and s.until is None for s in store.students(db, class_id)):
            raise Refused("This student is in the class already")
        store.add_member(db, class_id, student_id, "student", today(db, caller))


def preview_class_list(
    caller: Teacher, class_id: int, table: Table, columns: dict[str, str] | None = None
) -> ListPreview[StudentLine]:
    """Read a class list and say what it would do; nothing is changed."""
    with caller.reading() as db:
        own_class(db, caller, class_id)
        return _preview(db, caller, class_id, table, columns)


def bring_in_class_list(
    caller: Teacher, class_id: int, table: Table, columns: dict[str, str] | None = None
) -> int:
    """Add a class list's students, all or, when a line has a problem, none; gives how many."""
    with caller.deed() as db:
        klass = own_class(db, caller, class_id)
        preview = _preview(db, caller, class_id, table, columns)
        preview.refuse_problems()
        for read in preview.adding:
            _add(db, caller, klass, read)
        return len(preview.adding)


def _preview(
    db: sqlite3.Connection,
    caller: Teacher,
    class_id: int,
    table: Table,
    columns: dict[str, str] | None,
) -> ListPreview[StudentLine]:
    found, lines = read_class_list(table, columns)
    return ListPreview(found, table.headings, tuple(_compare(db, caller, class_id, lines)))


def _compare(
    db: sqlite3.Connection, caller: Teacher, class_id: int, lines: list[StudentLine]
) -> list[ReadLine[StudentLine]]:
    present = {s.id: s for s in store.students(db, class_id) if s.until is None}
    names = {_name_key(s.given_name, s.family_name): s for s in present.values()}
    seen: dict[str, int] = {}
    return [_compare_line(db, caller, line, present, names, seen) for line in lines]


def _compare_line(
    db: sqlite3.Connection,
    caller: Teacher,
    line: StudentLine,
    present: dict[int, StudentRow],
    names: dict[str, StudentRow],
    seen: dict[str, int],
) -> ReadLine[StudentLine]:
    if line.problem:
        return bad(line, line.problem, line.field)
    key = line.identifier or _name_key(line.given_name, line.family_name)
    if key in seen:
        what = f"The identifier {key}" if line.identifier else line.name
        return bad(
            line,
            f"{what} stands in line {seen[key]} already",
            "identifier" if line.identifier else "given_name",
        )
    seen[key] = line.number
    if not line.identifier:
        known = names.get(key)
        return ReadLine(line, LineStatus.ALREADY_THERE if known else LineStatus.NEW)
    person = people_store.person_by_identifier(db, line.identifier)
    if person is None:
        return ReadLine(line, LineStatus.NEW)
    if _name_key(person.given_name, person.family_name) != _name_key(
        line.given_name, line.family_name
    ):
        return bad(line, _taken(db, caller, line.identifier, person), "identifier")
    if person.id in present:
        return ReadLine(line, LineStatus.ALREADY_THERE, person.id)
    return ReadLine(line, LineStatus.JOINS, person.id)


def _name_key(given: str, family: str) -> str:
    return f"{given}\0{family}".casefold()


def _add(
    db: sqlite3.Connection, caller: Teacher, klass: ClassRow, read: ReadLine[StudentLine]
) -> int:
    line = read.line
    person_id = read.known_id
    if person_id is None:
        person_id = people_store.add_person(
            db, line.given_name, line.family_name, line.identifier or None, line.email or None
        )
    day = caller.now.astimezone(school_zone(db)).date()
    # A class list brought in during the term speaks of the whole term; who comes later, comes then.
    since = klass.first_day if line.from_list else max(klass.first_day, day)
    store.add_member(db, klass.id, person_id, "student", min(since, day))
    log.add_entry(
        db, caller.now, caller.person_id, "membership", person_id, None, {"class": klass.id}
    )
    return person_id
