"""Excusing a student, or not any more: seeing first what it moves."""

from __future__ import annotations

from jade_ladder.service.changes.excusing import excuse_effects
from jade_ladder.web.changes.level_changes import MovesOut
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.heavy import heavy

router = router_of("tasks", "/tasks/{task_id:int}/students/{student_id:int}/excused")


@router.get("/effects")
@heavy
def read_excuse_effects(
    task_id: int, student_id: int, caller: AsTeacher, excused: bool = True
) -> MovesOut:
    """Say which levels of a student would change if they were excused, or were not any more;
    nothing is changed.
    """
    return MovesOut.of(excuse_effects(caller, task_id, student_id, excused))
