"""Find anything: students, outcomes, rubrics and tasks of all the caller's classes."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from jade_ladder.service.shared.caller import Teacher
from jade_ladder.store.classes import classes as class_store
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.outcomes import outcomes as outcome_store
from jade_ladder.store.rubrics import rubrics as rubric_store
from jade_ladder.store.work import tasks as task_store


class FoundKind(StrEnum):
    """What was found."""

    STUDENT = "student"
    OUTCOME = "outcome"
    RUBRIC = "rubric"
    TASK = "task"


@dataclass(frozen=True, slots=True)
class Found:
    """A thing with the class it is in (None for rubrics)."""

    kind: FoundKind
    id: int
    class_id: int | None
    title: str
    detail: str


def everything(caller: Teacher) -> list[Found]:
    """List all that can be found, class by class."""
    found: list[Found] = []
    with caller.reading() as db:
        for klass in class_store.classes_of_teacher(db, caller.person_id):
            for student in student_store.students(db, klass.id):
                if student.until is None:
                    found.append(
                        Found(FoundKind.STUDENT, student.id, klass.id, student.name, klass.name)
                    )
            for outcome in outcome_store.class_outcomes(db, klass.id):
                title = f"{outcome.code} · {outcome.title}"
                found.append(Found(FoundKind.OUTCOME, outcome.id, klass.id, title, klass.name))
            for task in task_store.class_tasks(db, klass.id):
                found.append(Found(FoundKind.TASK, task.id, klass.id, task.title, klass.name))
        for rubric in rubric_store.rubrics(db, caller.person_id):
            state = "final" if rubric.final_at else "draft"
            found.append(Found(FoundKind.RUBRIC, rubric.id, None, rubric.title, state))
    return found
