"""The page of one student in a class: their outcomes, their tasks, and what waits."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import timedelta

from jade_ladder.service.mastery.own_ladder import SeenOtherwise, seen_otherwise
from jade_ladder.service.mastery.wall import Wall, wall
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import today
from jade_ladder.service.shared.guards import own_class, own_student
from jade_ladder.service.work.standing import TaskOfStudent, tasks_of_student
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.classes.students import StudentRow


@dataclass(frozen=True, slots=True)
class StudentPage:
    """A student in a class; `wall` has their row alone, of someone who left as of their last day
    there, and none where that was no day at all; `seen` is by outcome what they see otherwise.
    """

    student: StudentRow
    wall: Wall
    tasks: tuple[TaskOfStudent, ...]
    seen: Mapping[int, SeenOtherwise]


def student_page(caller: Teacher, class_id: int, student_id: int) -> StudentPage:
    """Give the page of a student who is or was in the class."""
    with caller.reading() as db:
        own_class(db, caller, class_id)
        own_student(db, class_id, student_id)
        (student,) = (one for one in student_store.students(db, class_id) if one.id == student_id)
        day = today(db, caller)
        if student.until is not None:
            day = min(day, student.until - timedelta(days=1))
        tasks = tasks_of_student(db, caller, class_id, student_id)
        seen = seen_otherwise(db, caller, class_id, student_id)
    return StudentPage(student, wall(caller, class_id, day, {student_id}), tuple(tasks), seen)
