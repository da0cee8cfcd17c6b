"""Changing a task that is set: seeing first what it does to marks."""

from __future__ import annotations

from pydantic import BaseModel

from jade_ladder.service.changes import task_effects as service
from jade_ladder.service.changes.task_effects import TaskChangeEffects
from jade_ladder.web.changes.level_changes import MovesOut
from jade_ladder.web.changes.totals import TotalMoveOut
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.heavy import heavy
from jade_ladder.web.work.tasks import OwnTimesIn, TaskIn

router = router_of("tasks", "/tasks/{task_id:int}")


class TaskEffectsOut(BaseModel):
    """What a change to a task would do: whose totals and levels would be others, who would be late
    or would not be any more; `seen` counts those of the totals that students see already.
    """

    totals: list[TotalMoveOut]
    seen: int
    late: list[str]
    not_late: list[str]
    levels: MovesOut

    @classmethod
    def of(cls, effects: TaskChangeEffects) -> TaskEffectsOut:
        """Show what a change would do."""
        return cls(
            totals=[TotalMoveOut.of(move) for move in effects.totals],
            seen=effects.seen,
            late=list(effects.late),
            not_late=list(effects.not_late),
            levels=MovesOut.of(effects.levels),
        )


@router.post("/effects")
@heavy
def read_task_effects(task_id: int, body: TaskIn, caller: AsTeacher) -> TaskEffectsOut:
    """Say what a change to a task would do to its marks; nothing is changed."""
    return TaskEffectsOut.of(service.task_effects(caller, task_id, body.words()))


@router.post("/own-times/effects")
@heavy
def read_own_times_effects(task_id: int, body: OwnTimesIn, caller: AsTeacher) -> TaskEffectsOut:
    """Say what times of their own for some students would do to marks; nothing is changed."""
    return TaskEffectsOut.of(
        service.own_times_effects(caller, task_id, body.student_ids, body.due_at, body.closes_at)
    )
