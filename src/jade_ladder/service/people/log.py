"""The log as an administrator reads it."""

from __future__ import annotations

from jade_ladder.service.shared.caller import Administrator
from jade_ladder.store.shared import log as store
from jade_ladder.store.shared.log import LogRow

PAGE = 100


def read_log(caller: Administrator, before: int | None = None, subject: str = "") -> list[LogRow]:
    """List what was changed, the newest first, a page at a time: those before an entry, of one kind
    of subject or of all.
    """
    with caller.reading() as db:
        return store.page(db, PAGE, before, subject)
