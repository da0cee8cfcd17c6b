"""Class lists: each line held against who is there, then all of it or nothing."""

from __future__ import annotations

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.formats.class_list import StudentLine, read_class_list
from jade_ladder.formats.table import Choices, Table
from jade_ladder.service.classes.joining import tell_of_joining
from jade_ladder.service.people.notices import JOINED
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import school_zone
from jade_ladder.service.shared.guards import own_class
from jade_ladder.service.shared.list_preview import (
    Imported,
    LineStatus,
    ListPreview,
    ReadLine,
    bad,
)
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.people import people as people_store
from jade_ladder.store.people.notices import take_from_notices
from jade_ladder.store.shared import log
from jade_ladder.store.shared.log import LogSubject

IMPORTED, UNDONE = LogSubject.CLASS_LIST, LogSubject.CLASS_LIST_UNDONE


def taken(identifier: str) -> str:
    """Say that an identifier is somebody's, and not whose: identifiers can be tried one by one."""
    return f"{identifier} belongs to somebody else at the school"


def preview_class_list(
    caller: Teacher, class_id: int, table: Table, choices: Choices = Choices()
) -> ListPreview[StudentLine]:
    """Read a class list and say what it would do; nothing is changed."""
    with caller.reading() as db:
        own_class(db, caller, class_id)
        return _preview(db, caller, class_id, table, choices)


def import_class_list(
    caller: Teacher,
    class_id: int,
    table: Table,
    choices: Choices = Choices(),
    leave_out: bool = False,
) -> Imported[StudentLine]:
    """Add a class list's students; a line with a problem keeps all of it from being added, unless
    such lines are to be left out.
    """
    with caller.transaction() as db:
        klass = own_class(db, caller, class_id)
        preview = _preview(db, caller, class_id, table, choices)
        preview.refuse_problems(leave_out)
        if not preview.adding:
            raise Refused("Nobody on this list is new to the class")
        earlier = {one.student_id for one in student_store.memberships(db, klass.id)}
        people = add_lines(db, caller, klass, preview.adding)
        known = {read.known_id for read in preview.adding}
        after = {
            "members": [number for number in people if number not in earlier],
            "again": [number for number in people if number in earlier],
            "made": [number for number in people if number not in known],
        }
        entry = caller.log(db, IMPORTED, klass.id, None, after)
        return Imported(entry, len(people), preview.bad_lines)


def undo_class_list(caller: Teacher, class_id: int, entry: int) -> int:
    """Undo the import of a class list, once: who came by it is in the class no longer, and who has
    nothing else at the school is forgotten; who came again by it has left again, with all that was
    theirs. Refused once one of the others has work or a mark, or was changed since. Gives how many
    left.
    """
    with caller.transaction() as db:
        own_class(db, caller, class_id)
        found = log.entry(db, entry, caller.person_id, IMPORTED)
        if found is None or found[0] != class_id:
            raise NotFound("There is no such import in this class")
        if log.has_entry(db, UNDONE, entry):
            raise Refused("This import was undone already")
        members: list[int] = found[2]["members"]
        again: list[int] = found[2].get("again", [])
        # What was judged of who was at the school before is not this class's, and stays.
        at_work = student_store.at_work(db, class_id, members)
        stay = [
            *at_work,
            *(name for name in student_store.judged(db, found[2]["made"]) if name not in at_work),
            *student_store.left(db, class_id, again),
        ]
        if stay:
            names = f"{stay[0]} has" if len(stay) == 1 else f"{len(stay)} of them have"
            raise Refused(f"{names} work, marks or a day they left by now: remove students singly")
        student_store.remove_members(db, class_id, members)
        student_store.remove_latest(db, class_id, again)
        # Who was told that they had come has nothing to undo any more.
        take_from_notices(db, JOINED, class_id, [*members, *again])
        people_store.forget_people(db, found[2]["made"])
        caller.log(db, UNDONE, entry, None, None)
        return len(members) + len(again)


def _preview(
    db: sqlite3.Connection, caller: Teacher, class_id: int, table: Table, choices: Choices
) -> ListPreview[StudentLine]:
    read, lines = read_class_list(table, choices)
    return ListPreview(read, tuple(compare(db, class_id, lines)))


def compare(
    db: sqlite3.Connection, class_id: int, lines: Sequence[StudentLine]
) -> list[ReadLine[StudentLine]]:
    """Hold lines against who is in the class and who is known at the school."""
    present = {s.id: s for s in student_store.students(db, class_id) if s.until is None}
    there = _There(
        set(present),
        {_name_key(s.given_name, s.family_name) for s in present.values()},
        people_store.people_by_identifier(db, (line.identifier for line in lines)),
    )
    return [_compare_line(line, there) for line in lines]


@dataclass(frozen=True, slots=True)
class _There:
    """Who is in the class, by number and by name, who is at the school, by identifier, and on which
    line of the list each stood first.
    """

    present: set[int]
    names: set[str]
    known: Mapping[str, people_store.Person]
    seen: dict[str, int] = field(default_factory=dict)


def _compare_line(line: StudentLine, there: _There) -> ReadLine[StudentLine]:
    if line.problem:
        return bad(line, line.problem, line.field)
    name = _name_key(line.given_name, line.family_name)
    key = line.identifier or name
    if key in there.seen:
        what = f"The identifier {key}" if line.identifier else line.name
        return bad(
            line,
            f"{what} is in line {there.seen[key]} already",
            "identifier" if line.identifier else "given_name",
        )
    there.seen[key] = line.number
    if not line.identifier:
        return ReadLine(line, LineStatus.ALREADY_THERE if name in there.names else LineStatus.NEW)
    person = there.known.get(line.identifier)
    if person is None:
        return ReadLine(line, LineStatus.NEW)
    if _name_key(person.given_name, person.family_name) != name:
        return bad(line, taken(line.identifier), "identifier")
    status = LineStatus.ALREADY_THERE if person.id in there.present else LineStatus.JOINS
    return ReadLine(line, status, person.id)


def _name_key(given: str, family: str) -> str:
    return f"{given}\0{family}".casefold()


def add_lines(
    db: sqlite3.Connection,
    caller: Teacher,
    klass: ClassRow,
    lines: Sequence[ReadLine[StudentLine]],
) -> list[int]:
    """Make the students of lines members of the class, and tell the teachers of who is at the
    school already; gives their numbers.
    """
    new = [read.line for read in lines if read.known_id is None]
    made = iter(
        people_store.add_people(
            db,
            [
                (one.given_name, one.family_name, one.identifier or None, one.email or None)
                for one in new
            ],
            caller.person_id,
        )
    )
    people = [next(made) if read.known_id is None else read.known_id for read in lines]
    day = caller.now.astimezone(school_zone(db)).date()
    # A class list imported during the term speaks of the whole term; who comes later, or again,
    # comes then.
    from_list = min(day, klass.first_day)
    earlier = {one.student_id for one in student_store.memberships(db, klass.id)}
    members = [
        (person, from_list if read.line.from_list and person not in earlier else day)
        for person, read in zip(people, lines, strict=True)
    ]
    tell_of_joining(db, caller, klass, [read.known_id for read in lines if read.known_id])
    student_store.add_members(db, klass.id, "student", members)
    return people
