"""Students who are at the school already come into a further class: who teaches them is told, and
can undo it.
"""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable, Mapping
from typing import Any

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.service.people.notices import JOINED, JOINING_UNDONE
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.guards import check_open
from jade_ladder.store.classes import classes as class_store
from jade_ladder.store.classes import first_class
from jade_ladder.store.classes import students as store
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.people import notices as notice_store
from jade_ladder.store.people import people as people_store
from jade_ladder.store.shared.log import LogSubject


def tell_of_joining(
    db: sqlite3.Connection, caller: Teacher, klass: ClassRow, students: Iterable[int]
) -> None:
    """Tell the teachers of students whom the caller does not teach yet that they come into a
    class. Before they do, as part of the transaction.
    """
    teachers = first_class.teachers_of(db, students)
    new = {number: of for number, of in teachers.items() if caller.person_id not in of}
    about = {"class": klass.name, "class_id": klass.id, "by_id": caller.person_id}
    tell_teachers(db, caller, new, JOINED, about)


def tell_teachers(
    db: sqlite3.Connection,
    caller: Teacher,
    teachers: Mapping[int, set[int]],
    kind: str,
    about: dict[str, Any],
) -> None:
    """Leave a notice for each of some teachers, but the caller, about the students of theirs;
    `teachers` are by student. Part of a transaction.
    """
    by, named = own_name(db, caller), people_store.names(db, teachers)
    for teacher_id in sorted(set().union(*teachers.values()) - {caller.person_id}):
        students = [
            {"id": number, "name": name}
            for number, name in named.items()
            if teacher_id in teachers[number]
        ]
        said = {"by": by, "students": students, **about}
        # Students who are added one by one make one notice.
        add = notice_store.add_to_notice if kind == JOINED else notice_store.add_notice
        add(db, teacher_id, caller.now, kind, said)


def own_name(db: sqlite3.Connection, caller: Teacher) -> str:
    """Give the caller's name."""
    return people_store.names(db, [caller.person_id])[caller.person_id]


def undo_joining(caller: Teacher, notice_id: int) -> None:
    """Let the students of a notice be in the class no longer that they were added to, as if they
    had not been; who added them is told. Refused once one of them has work there.
    """
    with caller.transaction() as db:
        notice = notice_store.notice(db, notice_id, caller.person_id)
        if notice is None or notice.kind != JOINED:
            raise NotFound("There is no such notice for you")
        said = json.loads(notice.details)
        klass = class_store.any_class(db, said["class_id"])
        if klass is not None:
            check_open(db, klass)
        there = {one.id for one in store.students(db, said["class_id"])}
        students = [one for one in said["students"] if one["id"] in there]
        numbers = [one["id"] for one in students]
        at_work = store.at_work(db, said["class_id"], numbers)
        if at_work:
            raise Refused(
                f"{at_work[0]} has work in {said['class']} by now, or left it: speak to "
                f"{said['by']}"
            )
        store.remove_members(db, said["class_id"], numbers)
        notice_store.mark_seen(db, notice_id, caller.person_id, caller.now)
        caller.log(db, LogSubject.JOINING_UNDONE, said["class_id"], {"members": numbers}, None)
        if students:
            told = {"by": own_name(db, caller), "class": said["class"], "students": students}
            notice_store.add_notice(db, said["by_id"], caller.now, JOINING_UNDONE, told)
