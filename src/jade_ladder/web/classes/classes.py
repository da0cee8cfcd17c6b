"""Classes and their method."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date
from enum import StrEnum

from pydantic import BaseModel

from jade_ladder.core.evidence import Combining
from jade_ladder.core.methods import Method
from jade_ladder.core.rollup import StrandRollup
from jade_ladder.service.classes import classes as service
from jade_ladder.service.classes import students
from jade_ladder.service.work import tasks
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.web.outcomes.methods import MethodOut
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Day, Text, Whole
from jade_ladder.web.shared.models import Made

router = router_of("classes", "/classes")


class ClassIn(BaseModel):
    """What a teacher says of a class."""

    name: Text
    first_day: Day
    last_day: Day


class ClassChange(ClassIn):
    """A change, with the version it was based on."""

    version: Whole


class FirstStep(StrEnum):
    """The steps to the first marked student, in their order."""

    STUDENTS = "students"
    OUTCOMES = "outcomes"
    RUBRIC = "rubric"
    TASK = "task"
    MARK = "mark"


class ClassOut(BaseModel):
    """A class; `to_mark` is how much waits for the teacher, `students` who is in it now;
    one that is `set_aside` can only be looked at; a `sample` can be deleted whole; `first_steps`
    are those that are done.
    """

    id: int
    name: str
    first_day: date
    last_day: date
    scale_id: int
    method: MethodOut
    combining: Combining
    version: int
    students: int
    to_mark: int
    set_aside: bool
    sample: bool
    first_steps: list[FirstStep]


def _out(caller: AsTeacher, rows: Iterable[ClassRow]) -> list[ClassOut]:
    present = students.present_by_class(caller)
    waiting = tasks.to_mark_by_class(caller)
    steps = service.first_steps(caller)
    return [
        ClassOut(
            id=row.id,
            name=row.name,
            first_day=row.first_day,
            last_day=row.last_day,
            scale_id=row.scale_id,
            method=MethodOut.of(Method(row.method, row.newest, row.last)),
            combining=row.combining,
            version=row.version,
            students=present[row.id],
            to_mark=waiting[row.id],
            set_aside=row.set_aside_at is not None,
            sample=row.sample,
            first_steps=[step for step in FirstStep if getattr(steps[row.id], step.value)],
        )
        for row in rows
    ]


@router.get("")
def read_classes(caller: AsTeacher) -> list[ClassOut]:
    """List the classes one teaches."""
    return _out(caller, service.my_classes(caller))


@router.post("", status_code=201)
def make_class(body: ClassIn, caller: AsTeacher) -> Made:
    """Make a class."""
    return Made(id=service.make_class(caller, body.name, body.first_day, body.last_day))


@router.get("/{class_id:int}")
def read_class(class_id: int, caller: AsTeacher) -> ClassOut:
    """Give one class."""
    return _out(caller, [service.get_class(caller, class_id)])[0]


@router.patch("/{class_id:int}")
def change_class(class_id: int, body: ClassChange, caller: AsTeacher) -> ClassOut:
    """Change a class's name and days."""
    service.change_class(caller, class_id, body.version, body.name, body.first_day, body.last_day)
    return read_class(class_id, caller)


class StrandRollUpChange(BaseModel):
    """What a strand comes to for a student, based on a version of the class."""

    strand_roll_up: StrandRollup
    version: Whole


@router.put("/{class_id:int}/strand-roll-up")
def change_strand_roll_up(class_id: int, body: StrandRollUpChange, caller: AsTeacher) -> ClassOut:
    """Change what a strand comes to for a student."""
    service.change_strand_roll_up(caller, class_id, body.version, body.strand_roll_up)
    return read_class(class_id, caller)
