"""Find anything."""

from __future__ import annotations

from fastapi import APIRouter
from pydantic import BaseModel

from jade_ladder.service import find as service
from jade_ladder.service.find import FoundKind
from jade_ladder.web.sign_in import Teacher

router = APIRouter(prefix="/find", tags=["find"])


class FoundOut(BaseModel):
    """A thing that can be gone to."""

    kind: FoundKind
    id: int
    class_id: int | None
    title: str
    detail: str


@router.get("")
def find_everything(caller: Teacher) -> list[FoundOut]:
    """List all that can be found."""
    return [
        FoundOut(kind=f.kind, id=f.id, class_id=f.class_id, title=f.title, detail=f.detail)
        for f in service.everything(caller)
    ]
