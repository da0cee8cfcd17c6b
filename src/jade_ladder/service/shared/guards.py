"""What is one's own: the guards that every operation passes."""

from __future__ import annotations

import sqlite3

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.service.shared.caller import Caller, Teacher
from jade_ladder.service.shared.days import today
from jade_ladder.store.classes import classes as class_store
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.people import people as people_store
from jade_ladder.store.shared.connection import is_writing
from jade_ladder.store.work import tasks as task_store
from jade_ladder.store.work.tasks import TaskRow


def own_class(db: sqlite3.Connection, caller: Teacher, class_id: int) -> ClassRow:
    """Give a class the caller teaches; NotFound for any other."""
    found = class_store.class_of_teacher(db, class_id, caller.person_id)
    if found is None:
        raise NotFound("There is no such class among yours")
    check_open(db, found)
    return found


def check_open(db: sqlite3.Connection, klass: ClassRow) -> None:
    """Refuse to change anything of a class that was set aside; it can be looked at."""
    if klass.set_aside_at is not None and is_writing(db):
        raise Refused(
            f"{klass.name} is set aside and can only be looked at: take it up again to change it"
        )


def check_begun(db: sqlite3.Connection, caller: Caller, class_id: int) -> None:
    """Refuse to begin work of a class that has not begun: nobody is in it yet."""
    klass = class_store.any_class(db, class_id)
    if klass is not None and today(db, caller) < klass.first_day:
        raise Refused(
            f"{klass.name} begins on {klass.first_day.isoformat()}: nothing is marked or entered "
            "before"
        )


def own_task(db: sqlite3.Connection, caller: Teacher, task_id: int) -> tuple[TaskRow, ClassRow]:
    """Give a task of a class the caller teaches; NotFound for any other, in the same words whether
    it is another teacher's or nobody's.
    """
    found = task_store.task(db, task_id)
    if found is not None:
        klass = class_store.class_of_teacher(db, found.class_id, caller.person_id)
        if klass is not None:
            check_open(db, klass)
            return found, klass
    raise NotFound("There is no such task in your classes")


def own_student(db: sqlite3.Connection, class_id: int, student_id: int) -> people_store.Person:
    """Give a student of a class; NotFound for anybody else."""
    person = people_store.person(db, student_id)
    if person is None or not student_store.is_student(db, class_id, student_id):
        raise NotFound("There is no such student in this class")
    return person
