"""The remark bank."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel, Field

from jade_ladder.core.remark_bank import LONGEST
from jade_ladder.service.marking import remark_bank as service
from jade_ladder.service.marking.remark_bank import Offer
from jade_ladder.store.marking.remark_bank import BankRow
from jade_ladder.web.marking.models import ATTEMPT
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Text, Whole, YesNo

router = router_of("remark bank")


class OfferIn(BaseModel):
    """For what the bank is asked: a criterion (null: the whole), the level that is chosen there,
    and words to look for.
    """

    criterion_id: Whole | None
    level_id: Whole | None
    search: Text = ""


class OfferOut(BaseModel):
    """A text that is offered: how near it was used (0 at this level of this criterion, 1 on this
    criterion, 2 elsewhere), how often there, and as it reads for the student.
    """

    id: int
    nearness: int
    uses: int
    pinned: bool
    filled: str

    @classmethod
    def of(cls, offer: Offer) -> OfferOut:
        """Show an offer."""
        row = offer.row
        return cls(
            id=row.id,
            nearness=row.nearness,
            uses=row.uses,
            pinned=row.pinned,
            filled=offer.filled,
        )


class BankRemarkOut(BaseModel):
    """A text of the bank with its fields, and the titles of some criteria that it is used on."""

    id: int
    text: str
    uses: int
    used_at: datetime
    pinned: bool
    criteria: list[str]

    @classmethod
    def of(cls, row: BankRow) -> BankRemarkOut:
        """Show a text."""
        return cls(
            id=row.id,
            text=row.text,
            uses=row.uses,
            used_at=row.used_at,
            pinned=row.pinned,
            criteria=row.criteria.splitlines(),
        )


class BankOut(BaseModel):
    """The first texts of the bank, and how many there are in all."""

    remarks: list[BankRemarkOut]
    count: int


class NewBankRemarkIn(BaseModel):
    """A text for the bank."""

    text: Text = Field(json_schema_extra={"maxLength": LONGEST})


class BankRemarkIn(NewBankRemarkIn):
    """A text of the bank as it is to be."""

    pinned: YesNo


@router.post(f"{ATTEMPT}/bank")
def offer_remarks(
    task_id: int, student_id: int, attempt: int, body: OfferIn, caller: AsTeacher
) -> list[OfferOut]:
    """Give what the bank offers for a criterion, at most nine texts. Nothing is changed."""
    found = service.offers(
        caller, task_id, student_id, body.criterion_id, body.level_id, body.search, attempt
    )
    return [OfferOut.of(one) for one in found]


@router.get("/bank")
def read_bank(caller: AsTeacher, search: str = "") -> BankOut:
    """Give one's bank, or what of it contains some words."""
    found = service.bank(caller, search)
    return BankOut(remarks=[BankRemarkOut.of(row) for row in found.rows], count=found.count)


@router.post("/bank")
def add_to_bank(body: NewBankRemarkIn, caller: AsTeacher) -> BankRemarkOut:
    """Put a text into one's bank."""
    return BankRemarkOut.of(service.add_to_bank(caller, body.text))


@router.put("/bank/{remark_id:int}")
def change_in_bank(remark_id: int, body: BankRemarkIn, caller: AsTeacher) -> BankRemarkOut:
    """Edit and pin a text of one's bank."""
    return BankRemarkOut.of(service.change_in_bank(caller, remark_id, body.text, body.pinned))


@router.delete("/bank/{remark_id:int}", status_code=204)
def delete_from_bank(remark_id: int, caller: AsTeacher) -> None:
    """Delete a text from one's bank."""
    service.delete_from_bank(caller, remark_id, True)


@router.post("/bank/{remark_id:int}/restore", status_code=204)
def restore_in_bank(remark_id: int, caller: AsTeacher) -> None:
    """Put a text back that was deleted from one's bank."""
    service.delete_from_bank(caller, remark_id, False)
