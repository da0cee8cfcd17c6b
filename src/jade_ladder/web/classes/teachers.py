"""Who teaches a class."""

from __future__ import annotations

from pydantic import BaseModel

from jade_ladder.service.classes import teachers as service
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsAdministrator, AsTeacher
from jade_ladder.web.shared.fields import Whole

router = router_of("classes", "/classes/{class_id:int}/teachers")


class ClassTeacherOut(BaseModel):
    """A teacher of a class; one is responsible for it."""

    id: int
    name: str
    responsible: bool


class ClassTeacherIn(BaseModel):
    """Which teacher of the school."""

    person_id: Whole


@router.get("")
def read_class_teachers(class_id: int, caller: AsTeacher) -> list[ClassTeacherOut]:
    """List the teachers of a class, the responsible one first."""
    return [
        ClassTeacherOut(id=one.id, name=one.name, responsible=one.responsible)
        for one in service.class_teachers(caller, class_id)
    ]


@router.post("", status_code=204)
def add_class_teacher(class_id: int, body: ClassTeacherIn, caller: AsTeacher) -> None:
    """Let a colleague teach a class, too."""
    service.add_class_teacher(caller, class_id, body.person_id)


@router.put("/responsible", status_code=204)
def hand_over_class(class_id: int, body: ClassTeacherIn, caller: AsTeacher) -> None:
    """Make a colleague responsible for a class."""
    service.hand_over_class(caller, class_id, body.person_id)


@router.put("/assigned", status_code=204)
def assign_class(class_id: int, body: ClassTeacherIn, caller: AsAdministrator) -> None:
    """Make a teacher responsible for any class of the school."""
    service.assign_class(caller, class_id, body.person_id)


@router.delete("/{person_id:int}", status_code=204)
def remove_class_teacher(class_id: int, person_id: int, caller: AsTeacher) -> None:
    """Let somebody no longer teach a class."""
    service.remove_class_teacher(caller, class_id, person_id)
