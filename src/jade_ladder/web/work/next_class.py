"""A year later: setting a class aside, and going on as another."""

from __future__ import annotations

from pydantic import BaseModel

from jade_ladder.service.work import next_class as service
from jade_ladder.service.work.next_class import NextClass
from jade_ladder.web.classes.classes import ClassIn
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import YesNo
from jade_ladder.web.shared.models import Made

router = router_of("classes", "/classes/{class_id:int}")


class NextClassIn(ClassIn):
    """How a class goes on; outcomes and methods it always takes."""

    students: YesNo
    tasks: YesNo


class AsideIn(BaseModel):
    """Whether a class is set aside."""

    aside: YesNo


@router.post("/next", status_code=201)
def copy_class(class_id: int, body: NextClassIn, caller: AsTeacher) -> Made:
    """Make the class of the next year or term."""
    as_class = NextClass(body.name, body.first_day, body.last_day, body.students, body.tasks)
    return Made(id=service.copy_class(caller, class_id, as_class))


@router.put("/aside", status_code=204)
def set_class_aside(class_id: int, body: AsideIn, caller: AsTeacher) -> None:
    """Set a class aside, or take it up again."""
    service.set_class_aside(caller, class_id, body.aside)
