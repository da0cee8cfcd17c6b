"""By what right somebody marks an attempt.

Who marks in another role gets a right here, with its guard, and a condition in
`store/marking/desk.py`.
"""

from __future__ import annotations

import sqlite3
from collections.abc import Callable
from dataclasses import dataclass

from jade_ladder.core.errors import NotFound
from jade_ladder.core.marking import MarkRole
from jade_ladder.service.shared.caller import Caller, Student, Teacher
from jade_ladder.service.shared.guards import check_open, own_student, own_task
from jade_ladder.service.work.handing_in import task_of_student
from jade_ladder.store.classes.classes import any_class
from jade_ladder.store.marking import desk as store
from jade_ladder.store.work import tasks as task_store


@dataclass(frozen=True, slots=True)
class Right:
    """By what right a caller marks: in which role. `check` is the guard of a task and a student: it
    raises NotFound for what is not theirs, and Refused where nothing is changed any more.
    """

    role: MarkRole
    caller: Caller
    check: Callable[[sqlite3.Connection, int, int], None]


def as_teacher(teacher: Teacher) -> Right:
    """Mark as one who teaches the class."""

    def check(db: sqlite3.Connection, task_id: int, student_id: int) -> None:
        task, _ = own_task(db, teacher, task_id)
        own_student(db, task.class_id, student_id)

    return Right(MarkRole.TEACHER, teacher, check)


def as_student(student: Student) -> Right:
    """Mark as the student whose attempt it is."""

    def check(db: sqlite3.Connection, task_id: int, student_id: int) -> None:
        whose = student.person_id if student_id == student.person_id else 0
        task_of_student(db, student, whose, task_id)

    return Right(MarkRole.SELF, student, check)


def as_assigned(assigned: Caller, role: MarkRole) -> Right:
    """Mark as one who was assigned to the attempt in a role, a reader or a second marker, with
    attempts that are there; what is not assigned to them in it is not found.
    """

    def check(db: sqlite3.Connection, task_id: int, student_id: int) -> None:
        if not store.is_assigned(db, role, assigned.person_id, task_id, student_id):
            raise NotFound("There is no such attempt")
        task = task_store.task(db, task_id)
        klass = None if task is None else any_class(db, task.class_id)
        if klass is not None:
            check_open(db, klass)

    return Right(role, assigned, check)
