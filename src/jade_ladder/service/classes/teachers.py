"""Who teaches a class: several teachers, of whom one is responsible, and handing it over."""

from __future__ import annotations

import sqlite3

from jade_ladder.core.errors import NotAllowed, NotFound, Refused
from jade_ladder.service.shared.caller import Administrator, Teacher
from jade_ladder.service.shared.days import today
from jade_ladder.service.shared.guards import own_class
from jade_ladder.store.classes import classes as class_store
from jade_ladder.store.classes import students as member_store
from jade_ladder.store.people import teachers as store
from jade_ladder.store.people.teachers import ClassTeacher, TeacherRow
from jade_ladder.store.shared.log import LogSubject


def class_teachers(caller: Teacher, class_id: int) -> list[ClassTeacher]:
    """List the teachers of a class of the caller's, the responsible one first."""
    with caller.reading() as db:
        own_class(db, caller, class_id)
        return store.class_teachers(db, class_id)


def add_class_teacher(caller: Teacher, class_id: int, person_id: int) -> None:
    """Let a colleague teach a class, too; the responsible teacher says so."""
    with caller.transaction() as db:
        _responsible(db, caller, class_id)
        colleague = _colleague(db, person_id)
        if any(one.id == person_id for one in store.class_teachers(db, class_id)):
            raise Refused(f"{colleague.name} teaches this class already", "person_id")
        member_store.add_member(db, class_id, person_id, "teacher", today(db, caller))
        caller.log(db, LogSubject.CLASS_TEACHER, class_id, None, {"name": colleague.name})


def remove_class_teacher(caller: Teacher, class_id: int, person_id: int) -> None:
    """Let somebody no longer teach a class: the responsible teacher anybody else, others only
    themselves. Who is responsible hands the class over first.
    """
    with caller.transaction() as db:
        own_class(db, caller, class_id)
        if person_id != caller.person_id:
            _responsible(db, caller, class_id)
        found = next(
            (one for one in store.class_teachers(db, class_id) if one.id == person_id), None
        )
        if found is None:
            raise NotFound("There is no such teacher in this class")
        if found.responsible:
            raise Refused(f"{found.name} is responsible for this class: hand it over first")
        store.stop_teaching(db, person_id, today(db, caller), class_id)
        caller.log(db, LogSubject.CLASS_TEACHER, class_id, {"name": found.name}, None)


def hand_over_class(caller: Teacher, class_id: int, person_id: int) -> None:
    """Make a colleague responsible for a class; who was stays one of its teachers."""
    with caller.transaction() as db:
        before = _responsible(db, caller, class_id)
        _give(db, caller, class_id, person_id, before)


def assign_class(caller: Administrator, class_id: int, person_id: int) -> None:
    """Make a teacher responsible for any class of the school, as when its teacher has left."""
    with caller.transaction() as db:
        if class_store.any_class(db, class_id) is None:
            raise NotFound("There is no such class at the school")
        before = next(
            (one.name for one in store.class_teachers(db, class_id) if one.responsible), ""
        )
        _give(db, caller, class_id, person_id, before)


def _give(
    db: sqlite3.Connection, caller: Teacher, class_id: int, person_id: int, before: str
) -> None:
    colleague = _colleague(db, person_id)
    if not any(one.id == person_id for one in store.class_teachers(db, class_id)):
        member_store.add_member(db, class_id, person_id, "teacher", today(db, caller))
    store.set_responsible(db, class_id, person_id)
    caller.log(
        db, LogSubject.CLASS_RESPONSIBLE, class_id, {"name": before}, {"name": colleague.name}
    )


def _responsible(db: sqlite3.Connection, caller: Teacher, class_id: int) -> str:
    """Give the name of who is responsible, the caller; NotAllowed for the other teachers."""
    own_class(db, caller, class_id)
    found = next((one for one in store.class_teachers(db, class_id) if one.responsible), None)
    if found is not None and found.id != caller.person_id:
        raise NotAllowed(f"{found.name} is responsible for this class, and says who teaches it")
    return "" if found is None else found.name


def _colleague(db: sqlite3.Connection, person_id: int) -> TeacherRow:
    found = store.teacher(db, person_id)
    if found is None or found.ended_at is not None:
        raise Refused("Choose a teacher of the school", "person_id")
    return found
