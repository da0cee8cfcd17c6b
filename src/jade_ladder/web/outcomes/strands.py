"""Strands of outcomes."""

from __future__ import annotations

from pydantic import BaseModel

from jade_ladder.service.outcomes import strands as service
from jade_ladder.store.outcomes.strands import StrandRow
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Text, Whole
from jade_ladder.web.shared.models import Made, OrderIn

router = router_of("strands", "/strands")


class StrandIn(BaseModel):
    """A strand's title, and the strand it is within."""

    title: Text
    parent_id: Whole | None = None


class StrandOut(BaseModel):
    """A named group of outcomes, perhaps within another; `in_use` where outcomes of some class are
    in it.
    """

    id: int
    title: str
    parent_id: int | None
    in_use: bool

    @classmethod
    def of(cls, row: StrandRow) -> StrandOut:
        """Show a strand."""
        return cls(id=row.id, title=row.title, parent_id=row.parent_id, in_use=row.in_use)


@router.post("", status_code=201)
def add_strand(body: StrandIn, caller: AsTeacher) -> Made:
    """Add a strand."""
    return Made(id=service.add_strand(caller, body.title, body.parent_id))


@router.put("/order", status_code=204)
def order_strands(body: OrderIn, caller: AsTeacher) -> None:
    """Put one's strands in order; those within another stay after it."""
    service.order_strands(caller, body.order)


@router.put("/{strand_id:int}", status_code=204)
def change_strand(strand_id: int, body: StrandIn, caller: AsTeacher) -> None:
    """Rename a strand, or put it within another."""
    service.change_strand(caller, strand_id, body.title, body.parent_id)


@router.delete("/{strand_id:int}", status_code=204)
def delete_strand(strand_id: int, caller: AsTeacher) -> None:
    """Delete a strand that holds nothing."""
    service.delete_strand(caller, strand_id)
