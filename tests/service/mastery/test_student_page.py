"""The page of one student: their row of the wall, and where they stand with each task."""

from __future__ import annotations

from datetime import timedelta

import pytest

from jade_ladder.core.errors import NotFound
from jade_ladder.core.marking import DeskState
from jade_ladder.service.classes import students
from jade_ladder.service.mastery.student_page import student_page
from jade_ladder.service.mastery.wall import wall
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import attempts
from tests.builders import at, school_day, second_class, small


def test_it_has_the_row_of_the_wall_and_what_waits_before_what_is_missing(caller: Teacher) -> None:
    made = small(at(caller, -10))
    student = made.students[0]
    made.mark(student, 3, 4)
    before = caller.now - timedelta(days=1)
    missing = made.new_task("Missing", due_at=before)
    waiting = made.new_task("Waiting", due_at=before)
    coming = made.new_task("Coming", due_at=caller.now + timedelta(days=3))
    attempts.enter_work(caller, waiting, student, "My route")
    page = student_page(caller, made.class_id, student)
    seen = wall(caller, made.class_id)
    place = [one.id for one in seen.students].index(student)
    assert page.wall.cells == (seen.cells[place],)
    assert page.wall.roll_ups == (seen.roll_ups[place],)
    assert [(one.row.id, one.standing.state) for one in page.tasks] == [
        (waiting, DeskState.WAITING),
        (missing, DeskState.MISSING),
        (made.task_id, DeskState.DONE),
        (coming, DeskState.NOT_YET),
    ]


def test_of_who_left_it_is_as_of_their_last_day(caller: Teacher) -> None:
    made = small(at(caller, -10))
    student = made.students[0]
    made.mark(student, 3, 4)
    left = school_day(caller) - timedelta(days=2)
    students.set_left(caller, made.class_id, student, left)
    page = student_page(caller, made.class_id, student)
    assert (page.student.until, page.wall.as_of) == (left, left - timedelta(days=1))
    assert page.wall.students[0].id == student
    # Where they came and left on one day there is no row, but still the tasks.
    students.set_left(caller, made.class_id, student, page.student.since)
    page = student_page(caller, made.class_id, student)
    assert page.wall.cells == ()
    assert [one.row.id for one in page.tasks] == [made.task_id]


def test_a_student_of_another_class_has_no_page_here(caller: Teacher) -> None:
    made = small(caller)
    other = second_class(caller, made)
    with pytest.raises(NotFound):
        student_page(caller, other, made.students[1])
