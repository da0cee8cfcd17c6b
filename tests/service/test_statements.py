"""How many statements a look or a save runs: as many in a large school as in a small one."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, timedelta

from jade_ladder.formats.class_list import StudentLine
from jade_ladder.service.classes import classes, students
from jade_ladder.service.marking import desk, handing_back, pile, saving
from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.mastery import (
    coverage,
    outcome_page,
    own_ladder,
    student_page,
    trail,
    wall,
)
from jade_ladder.service.outcomes import outcomes
from jade_ladder.service.rubrics import rubrics
from jade_ladder.service.search import find
from jade_ladder.service.shared.caller import Student, Teacher
from jade_ladder.service.student.task_page import task_page
from jade_ladder.service.work import handing_in, tasks
from tests.builders import Small, small


def student(caller: Teacher, made: Small) -> Student:
    """The first student of the small class."""
    return Student(caller.database, made.students[0], caller.now)


LOOKS: dict[str, Callable[[Teacher, Small], object]] = {
    "desk": lambda c, s: desk.desk(c, s.task_id),
    "work at the desk": lambda c, s: desk.work_at_desk(c, s.task_id, s.students[0]),
    "wall": lambda c, s: wall.wall(c, s.class_id),
    "trail": lambda c, s: trail.trail(c, s.class_id, s.students[0], s.outcomes[0]),
    "student page": lambda c, s: student_page.student_page(c, s.class_id, s.students[0]),
    "pile": lambda c, s: pile.pile(c, s.class_id),
    "what waits": lambda c, s: tasks.to_mark_by_class(c),
    "tasks": lambda c, s: tasks.class_tasks(c, s.class_id),
    "task": lambda c, s: tasks.get_task(c, s.task_id),
    "coverage": lambda c, s: coverage.coverage(c, s.class_id),
    "outcome page": lambda c, s: outcome_page.outcome_page(c, s.class_id, s.outcomes[0]),
    "rubric": lambda c, s: rubrics.get_rubric(c, s.rubric_id),
    "rubrics": lambda c, s: rubrics.rubrics(c),
    "finder": lambda c, s: find.everything(c),
    "handing back": lambda c, s: handing_back.handing_back(c, s.task_id),
    "a student's task": lambda c, s: task_page(student(c, s), s.task_id),
    "a student's tasks": lambda c, s: handing_in.own_tasks(student(c, s)),
    "a student's ladder": lambda c, s: own_ladder.own_ladder(student(c, s)),
}
SAVE_AT_MOST = 14
"""Two of them ask whether evidence is stale, before it is read and at the end."""


def grow(made: Small, more_tasks: int, more_students: int, more_classes: int) -> None:
    """Make more of everything; the first student is marked on every task."""
    caller = made.caller
    for number in range(more_students):
        line = StudentLine(1, "More", f"{more_tasks} {number}")
        students.add_student(caller, made.class_id, line)
    for number in range(more_tasks):
        when = caller.now - timedelta(days=1 + number % 30)
        task_id = made.new_task(f"Task {more_tasks} {number}", due_at=when)
        made.mark(made.students[0], 3, 2, task_id=task_id)
    for number in range(more_classes):
        class_id = classes.make_class(caller, f"C{number}", caller.now.date(), date(2027, 6, 30))
        students.add_student(caller, class_id, StudentLine(1, "There", str(number)))
        outcomes.teach_outcomes(caller, class_id, list(made.outcomes))


def statements_of(caller: Teacher, work: Callable[[], object]) -> list[str]:
    """Give the statements that something runs."""
    statements: list[str] = []

    def take(statement: str) -> None:
        # A trigger is told as the statement that it is fired by.
        if statement not in statements[-1:]:
            statements.append(statement)

    with caller.database.looking() as db:
        db.set_trace_callback(take)
        try:
            work()
        finally:
            db.set_trace_callback(None)
    return statements


def counts(caller: Teacher, made: Small) -> dict[str, int]:
    found = {
        name: len(statements_of(caller, lambda look=look: look(caller, made)))
        for name, look in LOOKS.items()
    }
    first = desk.desk(caller, made.task_id).criteria[0]
    for level in first.level_ids[:2]:
        choice = Choice(level)
        ran = statements_of(
            caller,
            lambda choice=choice: saving.choose(
                caller, made.task_id, made.students[0], first.id, choice, 10_000
            ),
        )
        found["save"] = len(ran)
    return found


def test_statements_do_not_grow_with_tasks_students_and_classes(caller: Teacher) -> None:
    made = small(caller)
    made.mark(made.students[0], 3, 2)
    grow(made, 9, 18, 0)
    few = counts(caller, made)
    grow(made, 90, 20, 4)
    assert counts(caller, made) == few
    assert few["save"] <= SAVE_AT_MOST


def test_a_save_costs_no_more_after_many_changes_to_the_same_mark(caller: Teacher) -> None:
    made = small(caller)
    first = desk.desk(caller, made.task_id).criteria[0]
    steps: list[int] = []

    def save(number: int) -> None:
        choice = Choice(first.level_ids[number % 2])
        saving.choose(caller, made.task_id, made.students[0], first.id, choice, 10_000)

    def steps_of_a_save(number: int) -> int:
        steps.clear()
        with caller.database.looking() as db:
            # Called at every tenth step of SQLite's machine: a count that no clock disturbs.
            db.set_progress_handler(lambda: steps.append(1), 10)
            save(number)
            db.set_progress_handler(None, 0)
        return len(steps)

    save(0)
    few = steps_of_a_save(1)
    for number in range(2, 200):
        save(number)
    assert steps_of_a_save(200) <= 1.1 * few
