"""What is done about a notice in one press: a joining undone, slips granted."""

from __future__ import annotations

from jade_ladder.service.classes import joining, slips
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher

router = router_of("notices", "/notices/{notice_id:int}")


@router.post("/undo-joining", status_code=204)
def undo_joining(notice_id: int, caller: AsTeacher) -> None:
    """Remove the students of a notice from the class that they were added to."""
    joining.undo_joining(caller, notice_id)


@router.post("/grant-slips", status_code=204)
def grant_slips(notice_id: int, caller: AsTeacher) -> None:
    """Let who asked make the slips that a notice asks for."""
    slips.grant_slips(caller, notice_id)
