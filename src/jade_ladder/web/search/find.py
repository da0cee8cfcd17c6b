"""Find anything."""

from __future__ import annotations

from pydantic import BaseModel

from jade_ladder.service.search import find as service
from jade_ladder.service.search.find import FoundKind
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher

router = router_of("find", "/find")


class FoundOut(BaseModel):
    """A thing that can be gone to; `also` is what else it is known by: a student's identifier."""

    kind: FoundKind
    id: int
    class_id: int | None
    title: str
    detail: str
    also: str


@router.get("")
def find_everything(caller: AsTeacher) -> list[FoundOut]:
    """List all that can be found."""
    return [
        FoundOut(
            kind=one.kind,
            id=one.id,
            class_id=one.class_id,
            title=one.title,
            detail=one.detail,
            also=one.also,
        )
        for one in service.everything(caller)
    ]
