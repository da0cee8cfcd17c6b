"""Messages to people: queued with what they tell, read in the application, and by mail."""

from __future__ import annotations

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.service.shared.caller import Student
from jade_ladder.store.messages import messages as store
from jade_ladder.store.messages.messages import MessageKind, MessageRow

SWITCHABLE = (MessageKind.REMINDER, MessageKind.HANDED_BACK, MessageKind.ATTEMPT)
"""The kinds that can be switched off as mail."""


def own_messages(caller: Student) -> list[MessageRow]:
    """List what the caller was told by now, the newest first."""
    with caller.reading() as db:
        return store.messages_of(db, caller.person_id, caller.now)


def see_message(caller: Student, message_id: int) -> None:
    """Remember that the caller has seen a message."""
    with caller.transaction() as db:
        if not store.set_seen(db, message_id, caller.person_id, caller.now):
            raise NotFound("There is no such message for you")


def kinds_off(caller: Student) -> set[MessageKind]:
    """Give the kinds of message that the caller does not want as mail."""
    with caller.reading() as db:
        return store.kinds_off(db, caller.person_id)


def set_kind_off(caller: Student, kind: MessageKind, off: bool) -> None:
    """Say whether the caller wants a kind of message as mail; in the application it is always.
    That a new slip was made for them is always told.
    """
    if kind not in SWITCHABLE:
        raise Refused("This is always told by mail, too: it is about your password", "kind")
    with caller.transaction() as db:
        store.set_kind_off(db, caller.person_id, kind, off)
