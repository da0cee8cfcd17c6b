"""Where pages from before attempts had numbers send their saves: of the first attempt.

A page may stay open while the server is renewed, and what waits in it is not to be lost.
"""

from __future__ import annotations

from jade_ladder.web.marking import desk
from jade_ladder.web.marking.desk import ChoiceIn, RemarkIn
from jade_ladder.web.marking.models import MarkOut
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher

router = router_of("marking", "/tasks/{task_id:int}/students/{student_id:int}")


@router.put("/choices/{criterion_id:int}", deprecated=True)
def choose_before(
    task_id: int, student_id: int, criterion_id: int, body: ChoiceIn, caller: AsTeacher
) -> MarkOut:
    """Save a choice on the first attempt."""
    return desk.choose(task_id, student_id, criterion_id, 1, body, caller)


@router.put("/remarks/{criterion_id:int}", deprecated=True)
def remark_on_criterion_before(
    task_id: int, student_id: int, criterion_id: int, body: RemarkIn, caller: AsTeacher
) -> MarkOut:
    """Save a remark on a criterion of the first attempt."""
    return desk.remark_on_criterion(task_id, student_id, criterion_id, 1, body, caller)


@router.put("/remark", deprecated=True)
def remark_on_whole_before(
    task_id: int, student_id: int, body: RemarkIn, caller: AsTeacher
) -> MarkOut:
    """Save a remark on the whole of the first attempt."""
    return desk.remark_on_whole(task_id, student_id, 1, body, caller)


@router.post("/finish", deprecated=True)
def finish_before(task_id: int, student_id: int, caller: AsTeacher) -> MarkOut:
    """Finish the mark of the first attempt."""
    return desk.finish(task_id, student_id, 1, caller)
