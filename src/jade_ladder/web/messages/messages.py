"""One's own messages, and which kinds one wants as mail."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel

from jade_ladder.service.messages import messages as service
from jade_ladder.store.messages.messages import MessageKind
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsStudent
from jade_ladder.web.shared.fields import YesNo

router = router_of("messages", "/my/messages")


class MessageOut(BaseModel):
    """A message: from whom, and the page that it is about."""

    id: int
    kind: MessageKind
    subject: str
    text: str
    path: str
    at: datetime
    sender: str
    seen_at: datetime | None


class MailedKind(BaseModel):
    """A kind of message, and whether it comes as mail, too."""

    kind: MessageKind
    mail: YesNo


@router.get("")
def read_own_messages(caller: AsStudent) -> list[MessageOut]:
    """List what one was told, the newest first."""
    return [
        MessageOut(
            id=one.id,
            kind=one.kind,
            subject=one.subject,
            text=one.text,
            path=one.path,
            at=one.visible_at,
            sender=one.sender,
            seen_at=one.seen_at,
        )
        for one in service.own_messages(caller)
    ]


@router.post("/{number:int}/seen", status_code=204)
def see_message(number: int, caller: AsStudent) -> None:
    """Say that one has seen a message."""
    service.see_message(caller, number)


@router.get("/kinds")
def read_kinds(caller: AsStudent) -> list[MailedKind]:
    """List the kinds of message that can be switched off as mail, and which come so."""
    off = service.kinds_off(caller)
    return [MailedKind(kind=kind, mail=kind not in off) for kind in service.SWITCHABLE]


@router.put("/kinds", status_code=204)
def set_kind_mailed(body: MailedKind, caller: AsStudent) -> None:
    """Say whether a kind of message comes as mail, too."""
    service.set_kind_off(caller, body.kind, not body.mail)
