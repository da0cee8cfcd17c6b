"""Find anything: students, outcomes, rubrics and tasks of all the caller's classes."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from jade_ladder.service.shared.caller import Teacher
from jade_ladder.store.classes import classes as class_store
from jade_ladder.store.rubrics import rubrics as rubric_store
from jade_ladder.store.search import find as store


class FoundKind(StrEnum):
    """What was found."""

    STUDENT = "student"
    OUTCOME = "outcome"
    RUBRIC = "rubric"
    TASK = "task"


@dataclass(frozen=True, slots=True)
class Found:
    """A thing with the class it is in (None for rubrics), and what else it is known by."""

    kind: FoundKind
    id: int
    class_id: int | None
    title: str
    detail: str
    also: str = ""


def everything(caller: Teacher) -> list[Found]:
    """List all that can be found, class by class."""
    with caller.reading() as db:
        classes = {
            klass.id: klass.name for klass in class_store.classes_of_teacher(db, caller.person_id)
        }
        of_class: dict[int, list[Found]] = {class_id: [] for class_id in classes}
        for kind, rows in (
            (FoundKind.STUDENT, store.students(db, classes)),
            (FoundKind.OUTCOME, store.outcomes(db, classes)),
            (FoundKind.TASK, store.tasks(db, classes)),
        ):
            for class_id, number, title, also in rows:
                of_class[class_id].append(
                    Found(kind, number, class_id, title, classes[class_id], also)
                )
        found = [one for several in of_class.values() for one in several]
        for rubric in rubric_store.rubrics(db, caller.person_id):
            state = "final" if rubric.final_at else "draft"
            found.append(Found(FoundKind.RUBRIC, rubric.id, None, rubric.title, state))
    return found
