"""Notices: telling people what somebody else did to their things."""

from __future__ import annotations

import json
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.core.errors import NotFound
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.store.people import notices as store

CELLS_MOVED = "cells-moved"


@dataclass(frozen=True, slots=True)
class Notice:
    """A notice in words, and the rubric it is about."""

    id: int
    at: datetime
    text: str
    rubric_id: int


def notices(caller: Teacher) -> list[Notice]:
    """List what the caller has not seen yet, the oldest first."""
    with caller.reading() as db:
        return [_in_words(row) for row in store.unseen(db, caller.person_id)]


def see_notice(caller: Teacher, notice_id: int) -> None:
    """Remember that the caller has seen a notice."""
    with caller.transaction() as db:
        if not store.mark_seen(db, notice_id, caller.person_id, caller.now):
            raise NotFound("There is no such notice for you")


def _in_words(row: store.NoticeRow) -> Notice:
    said = json.loads(row.details)
    count = said["cells"]
    cells = "a value that you wrote by hand" if count == 1 else f"{count} values written by hand"
    text = (
        f"{said['by']} changed the scale “{said['scale']}”. In your rubric “{said['rubric']}”, "
        f"{cells} would now mean another level, and took the place on the changed scale that "
        "matches the old one. Look at whether that is what you mean."
    )
    return Notice(row.id, row.at, text, said["rubric_id"])
