"""Notices: what somebody else did to one's things."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel

from jade_ladder.service.people import notices as service
from jade_ladder.service.people.notices import Answer
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher

router = router_of("notices", "/notices")


class NoticeOut(BaseModel):
    """A notice, with the rubric, or the class whose slips, it is about, and what can be done about
    it in one press.
    """

    id: int
    at: datetime
    text: str
    rubric_id: int | None
    slips_of: int | None
    answer: Answer | None


@router.get("")
def read_notices(caller: AsTeacher) -> list[NoticeOut]:
    """List the notices that one has not seen yet."""
    return [
        NoticeOut(
            id=one.id,
            at=one.at,
            text=one.text,
            rubric_id=one.rubric_id,
            slips_of=one.slips_of,
            answer=one.answer,
        )
        for one in service.notices(caller)
    ]


@router.post("/{notice_id:int}/seen", status_code=204)
def see_notice(notice_id: int, caller: AsTeacher) -> None:
    """Put a notice away."""
    service.see_notice(caller, notice_id)
