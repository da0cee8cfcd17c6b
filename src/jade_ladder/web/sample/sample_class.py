"""A sample class to look at."""

from __future__ import annotations

from pydantic import BaseModel

from jade_ladder.service.sample import sample_class as service
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.models import Made

router = router_of("sample class", "/classes")


class SampleSizeOut(BaseModel):
    """How much is deleted with a sample class; `students` are those in no other class."""

    students: int
    tasks: int
    marks: int


@router.post("/sample", status_code=201)
def make_sample_class(caller: AsTeacher) -> Made:
    """Make a sample class, with students, outcomes, a rubric, tasks, work and marks."""
    return Made(id=service.make_sample_class(caller))


@router.get("/{class_id:int}/sample")
def read_sample_size(class_id: int, caller: AsTeacher) -> SampleSizeOut:
    """Say how much is deleted with a sample class."""
    size = service.sample_size(caller, class_id)
    return SampleSizeOut(students=size.students, tasks=size.tasks, marks=size.marks)


@router.delete("/{class_id:int}/sample", status_code=204)
def delete_sample_class(class_id: int, caller: AsTeacher) -> None:
    """Delete a sample class whole, with what came with it."""
    service.delete_sample_class(caller, class_id)
