"""The marking pile: all that waits to be marked, in one class or in all that one teaches."""

from __future__ import annotations

from dataclasses import dataclass

from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import today
from jade_ladder.service.work.standing import StudentAtTask, setting_of, student_at_task
from jade_ladder.service.work.tasks import TaskLine, class_tasks, waiting_lines
from jade_ladder.store.classes import classes as class_store
from jade_ladder.store.work import standing as standing_store


@dataclass(frozen=True, slots=True)
class WaitingTask:
    """A task with something to mark or to answer, and the class it is of."""

    line: TaskLine
    class_name: str


@dataclass(frozen=True, slots=True)
class WaitingStudent:
    """A student whose work waits to be marked, or to be marked on."""

    task_id: int
    student: StudentAtTask


@dataclass(frozen=True, slots=True)
class Pile:
    """All that waits for a teacher: task by task, and student by student."""

    tasks: tuple[WaitingTask, ...]
    students: tuple[WaitingStudent, ...]


def pile(caller: Teacher, class_id: int) -> list[TaskLine]:
    """List the tasks of a class in which something waits to be marked, or for an answer to who
    asked for another attempt, the oldest due first.
    """
    return [line for line in class_tasks(caller, class_id, waiting=True) if _waits(line)]


def whole_pile(caller: Teacher) -> Pile:
    """Give all that waits for the caller in the classes they teach: tasks by due time, students in
    the order of tasks and names. Five statements, however much waits.
    """
    with caller.reading() as db:
        classes = {
            klass.id: klass.name
            for klass in class_store.classes_of_teacher(db, caller.person_id)
            if klass.set_aside_at is None
        }
        lines = [line for line in waiting_lines(db, caller, classes) if _waits(line)]
        rows = {line.row.id: line.row for line in lines}
        found = standing_store.students_at(db, rows, today(db, caller))
        students = [
            WaitingStudent(
                one.task_id,
                student_at_task(one, setting_of(rows[one.task_id]), one.needing, caller.now),
            )
            for one in found
        ]
    return Pile(
        tuple(WaitingTask(line, classes[line.row.class_id]) for line in lines),
        tuple(one for one in students if one.student.waits),
    )


def _waits(line: TaskLine) -> bool:
    return bool(line.to_mark or line.asking)
