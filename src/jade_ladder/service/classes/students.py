"""The students of a class."""

from __future__ import annotations

import sqlite3
from collections import Counter
from collections.abc import Sequence
from dataclasses import asdict, dataclass
from datetime import date

from jade_ladder.core.errors import NotAllowed, Refused
from jade_ladder.formats.class_list import StudentLine
from jade_ladder.service.classes.class_list import add_lines, compare, taken
from jade_ladder.service.shared.caller import Administrator, Teacher
from jade_ladder.service.shared.days import today
from jade_ladder.service.shared.forms import needed
from jade_ladder.service.shared.guards import own_class, own_student
from jade_ladder.service.shared.list_preview import LineStatus
from jade_ladder.store.classes import first_class
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.classes.students import StudentRow
from jade_ladder.store.people import people as people_store
from jade_ladder.store.shared.log import LogSubject


@dataclass(frozen=True, slots=True)
class ListedStudent(StudentRow):
    """A student on a class list; the e-mail is told to who wrote it, to teachers of the class that
    took them first, and to administrators: to others it is `email_hidden`.
    """

    email: str | None
    email_hidden: bool


def students(caller: Teacher, class_id: int) -> list[ListedStudent]:
    """List everybody who is or was a student of the class."""
    with caller.reading() as db:
        own_class(db, caller, class_id)
        return listed(db, caller, class_id, student_store.students(db, class_id))


def listed(
    db: sqlite3.Connection, caller: Teacher, class_id: int, rows: Sequence[StudentRow]
) -> list[ListedStudent]:
    """Put students of a class on a list for its teacher. Part of a reading."""
    emails = first_class.emails(db, class_id)
    first = first_class.first_teachers(db, emails)
    found = []
    for row in rows:
        email, by = emails.get(row.id, (None, None))
        told = (
            email is None
            or by == caller.person_id
            or caller.person_id in first[row.id]
            or isinstance(caller, Administrator)
        )
        told_email = email if told else None
        found.append(ListedStudent(**asdict(row), email=told_email, email_hidden=not told))
    return found


def present_by_class(caller: Teacher) -> Counter[int]:
    """Count the students who are in each of the caller's classes and have not left."""
    with caller.reading() as db:
        return student_store.present_by_class(db, caller.person_id)


def add_student(caller: Teacher, class_id: int, line: StudentLine) -> int:
    """Add one student to a class; gives their number."""
    with caller.transaction() as db:
        klass = own_class(db, caller, class_id)
        (read,) = compare(db, class_id, [line])
        if read.problem:
            raise Refused(read.problem, read.field)
        if read.status is LineStatus.ALREADY_THERE:
            raise Refused(f"{line.name} is in the class already", "given_name")
        (number,) = add_lines(db, caller, klass, [read])
        caller.log(db, LogSubject.MEMBERSHIP, number, None, {"class": class_id})
        return number


def change_student(caller: Teacher, class_id: int, student_id: int, line: StudentLine) -> None:
    """Change what is known of a student."""
    with caller.transaction() as db:
        own_class(db, caller, class_id)
        now = own_student(db, class_id, student_id)
        needed(line.given_name + line.family_name, "given_name", "A name")
        email = line.email or None
        if _is_email_hidden(db, caller, class_id, student_id):
            if email:
                raise Refused(
                    f"The e-mail of {now.name} is changed by teachers of the class that took them "
                    "first, or by an administrator",
                    "email",
                )
            email = now.email
        other = line.identifier and people_store.person_by_identifier(db, line.identifier)
        if other and other.id != student_id:
            raise Refused(taken(line.identifier), "identifier")
        said = (line.given_name, line.family_name, line.identifier or None, email)
        differs = said != (now.given_name, now.family_name, now.identifier, now.email)
        if email != now.email and student_store.has_joined(db, student_id):
            raise Refused(f"{now.name} signs in now, and changes their e-mail themselves", "email")
        shared = student_store.taught_by_others(db, student_id, caller.person_id)
        if differs and shared and not isinstance(caller, Administrator):
            raise NotAllowed(
                f"Others teach {now.name} too: the administrator of the school changes the name, "
                "identifier and e-mail"
            )
        people_store.change_person(db, student_id, *said, caller.person_id)


def _is_email_hidden(
    db: sqlite3.Connection, caller: Teacher, class_id: int, student_id: int
) -> bool:
    rows = [one for one in student_store.students(db, class_id) if one.id == student_id]
    return any(one.email_hidden for one in listed(db, caller, class_id, rows))


def set_left(caller: Teacher, class_id: int, student_id: int, left_on: date | None) -> None:
    """Say on which day a student left a class, the first no longer in it, today or earlier; None:
    they did not. Everything of theirs is kept.
    """
    with caller.transaction() as db:
        own_class(db, caller, class_id)
        own_student(db, class_id, student_id)
        if left_on is not None:
            since = student_store.latest_membership(db, class_id, student_id).since
            if left_on > today(db, caller):
                raise Refused("That day is still to come: choose today or a day before", "left_on")
            if left_on < since:
                raise Refused(
                    f"They came on {since.day} {since:%B %Y}: choose that day or later", "left_on"
                )
        student_store.set_left(db, class_id, student_id, left_on)
        caller.log(db, LogSubject.MEMBERSHIP, student_id, class_id, {"until": left_on})


def bring_back_student(caller: Teacher, class_id: int, student_id: int) -> None:
    """Let a student who left belong to the class again from today."""
    with caller.transaction() as db:
        own_class(db, caller, class_id)
        own_student(db, class_id, student_id)
        if student_store.latest_membership(db, class_id, student_id).until is None:
            raise Refused("This student is in the class already")
        student_store.add_member(db, class_id, student_id, "student", today(db, caller))
