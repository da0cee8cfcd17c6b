"""Exemplars: pieces of work with agreed levels."""

from __future__ import annotations

from pydantic import BaseModel, Field

from jade_ladder.service.marking import exemplars as service
from jade_ladder.service.marking.exemplars import LONGEST_TITLE, Exemplar
from jade_ladder.web.marking.models import ATTEMPT
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Text
from jade_ladder.web.work.parts import WorkPartOut

router = router_of("marking")


class AgreedOut(BaseModel):
    """The level that is agreed on a criterion, by keys that are the same in every revision."""

    criterion_key: str
    level_key: str
    level: str
    half_way: bool


class ExemplarOut(BaseModel):
    """A piece of work with agreed levels, and the task that it was done for."""

    id: int
    title: str
    task: str
    parts: list[WorkPartOut]
    levels: list[AgreedOut]

    @classmethod
    def of(cls, found: Exemplar) -> ExemplarOut:
        """Show an exemplar."""
        return cls(
            id=found.row.id,
            title=found.row.title,
            task=found.row.task,
            parts=[WorkPartOut.of(part) for part in found.parts],
            levels=[
                AgreedOut(
                    criterion_key=one.criterion_key,
                    level_key=one.level_key,
                    level=one.level,
                    half_way=one.half_way,
                )
                for one in found.levels
            ],
        )


class ExemplarIn(BaseModel):
    """What a piece of work is called as an exemplar."""

    title: Text = Field(json_schema_extra={"maxLength": LONGEST_TITLE})


@router.get("/tasks/{task_id:int}/exemplars")
def read_exemplars(task_id: int, caller: AsTeacher) -> list[ExemplarOut]:
    """Give the exemplars for the rubric of a task."""
    return [ExemplarOut.of(one) for one in service.exemplars(caller, task_id)]


@router.put(f"{ATTEMPT}/exemplar", status_code=204)
def pin_exemplar(
    task_id: int, student_id: int, attempt: int, body: ExemplarIn, caller: AsTeacher
) -> None:
    """Make a student's work an exemplar, with the levels of its finished mark."""
    service.pin_exemplar(caller, task_id, student_id, body.title, attempt)


@router.delete("/exemplars/{exemplar_id:int}", status_code=204)
def unpin_exemplar(exemplar_id: int, caller: AsTeacher) -> None:
    """Let a piece of work be no exemplar any more."""
    service.unpin_exemplar(caller, exemplar_id)
