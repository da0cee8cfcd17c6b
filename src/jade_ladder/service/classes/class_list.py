"""Class lists: each line held against who is there, then all of it or nothing."""

from __future__ import annotations

import sqlite3

from jade_ladder.formats.class_list import StudentLine, read_class_list
from jade_ladder.formats.table import Table
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import school_zone
from jade_ladder.service.shared.guards import own_class
from jade_ladder.service.shared.list_preview import LineStatus, ListPreview, ReadLine, bad
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.classes.students import StudentRow
from jade_ladder.store.people import people as people_store


def taken(
    db: sqlite3.Connection, caller: Teacher, identifier: str, person: people_store.Person
) -> str:
    """Say that an identifier is somebody's; whose, only to those who teach them."""
    known = student_store.is_known_to(db, person.id, caller.person_id)
    return f"{identifier} belongs to {person.name if known else 'somebody else at the school'}"


def preview_class_list(
    caller: Teacher, class_id: int, table: Table, columns: dict[str, str] | None = None
) -> ListPreview[StudentLine]:
    """Read a class list and say what it would do; nothing is changed."""
    with caller.reading() as db:
        own_class(db, caller, class_id)
        return _preview(db, caller, class_id, table, columns)


def import_class_list(
    caller: Teacher, class_id: int, table: Table, columns: dict[str, str] | None = None
) -> int:
    """Add a class list's students, all or, when a line has a problem, none; gives how many."""
    with caller.transaction() as db:
        klass = own_class(db, caller, class_id)
        preview = _preview(db, caller, class_id, table, columns)
        preview.refuse_problems()
        for read in preview.adding:
            add_line(db, caller, klass, read)
        return len(preview.adding)


def _preview(
    db: sqlite3.Connection,
    caller: Teacher,
    class_id: int,
    table: Table,
    columns: dict[str, str] | None,
) -> ListPreview[StudentLine]:
    found, lines = read_class_list(table, columns)
    return ListPreview(found, table.headings, tuple(compare(db, caller, class_id, lines)))


def compare(
    db: sqlite3.Connection, caller: Teacher, class_id: int, lines: list[StudentLine]
) -> list[ReadLine[StudentLine]]:
    """Hold lines against who is in the class and who is known at the school."""
    present = {s.id: s for s in student_store.students(db, class_id) if s.until is None}
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
            f"{what} is in line {seen[key]} already",
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
        return bad(line, taken(db, caller, line.identifier, person), "identifier")
    if person.id in present:
        return ReadLine(line, LineStatus.ALREADY_THERE, person.id)
    return ReadLine(line, LineStatus.JOINS, person.id)


def _name_key(given: str, family: str) -> str:
    return f"{given}\0{family}".casefold()


def add_line(
    db: sqlite3.Connection, caller: Teacher, klass: ClassRow, read: ReadLine[StudentLine]
) -> int:
    """Make the student of a line a member of the class; gives their number."""
    line = read.line
    person_id = read.known_id
    if person_id is None:
        person_id = people_store.add_person(
            db, line.given_name, line.family_name, line.identifier or None, line.email or None
        )
    day = caller.now.astimezone(school_zone(db)).date()
    # A class list imported during the term speaks of the whole term; who comes later, comes then.
    since = klass.first_day if line.from_list else max(klass.first_day, day)
    student_store.add_member(db, klass.id, person_id, "student", min(since, day))
    caller.log(db, "membership", person_id, None, {"class": klass.id})
    return person_id
