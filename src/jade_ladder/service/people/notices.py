"""Notices: telling people what somebody else did to their things."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum
from typing import Any

from jade_ladder.core.errors import NotFound
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.store.people import notices as store

CELLS_MOVED = "cells-moved"
JOINED, JOINING_UNDONE = "joined", "joining-undone"
SLIPS_MADE, SLIPS_ASKED, SLIPS_GRANTED = "slips-made", "slips-asked", "slips-granted"

MOST_NAMED = 4


class Answer(StrEnum):
    """What can be done about a notice, in one press."""

    UNDO_JOINING = "undo-joining"
    GRANT_SLIPS = "grant-slips"


@dataclass(frozen=True, slots=True)
class Notice:
    """A notice in words, with the rubric, or the class whose slips, it is about, and what can be
    done about it.
    """

    id: int
    at: datetime
    text: str
    rubric_id: int | None = None
    slips_of: int | None = None
    answer: Answer | None = None


def notices(caller: Teacher) -> list[Notice]:
    """List what the caller has not seen yet, the oldest first."""
    with caller.reading() as db:
        return [_in_words(row) for row in store.unseen(db, caller.person_id)]


def see_notice(caller: Teacher, notice_id: int) -> None:
    """Remember that the caller has seen a notice."""
    with caller.transaction() as db:
        if not store.mark_seen(db, notice_id, caller.person_id, caller.now):
            raise NotFound("There is no such notice for you")


def names_of(students: Sequence[Mapping[str, Any]]) -> str:
    """Name a few students, or say how many they are."""
    names = [one["name"] for one in students]
    if len(names) > MOST_NAMED:
        return f"{len(names)} of your students"
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


def _in_words(row: store.NoticeRow) -> Notice:
    said = json.loads(row.details)
    if row.kind == CELLS_MOVED:
        return Notice(row.id, row.at, _of_cells(said), rubric_id=said["rubric_id"])
    by, whom = said["by"], names_of(said["students"])
    match row.kind:
        case "joined":
            text = f"{by} added {whom} to {said['class']}, and sees their mastery there."
            return Notice(row.id, row.at, text, answer=Answer.UNDO_JOINING)
        case "joining-undone":
            text = f"{by} removed {whom} from {said['class']} again."
            return Notice(row.id, row.at, text)
        case "slips-made":
            text = (
                f"{by} made a new slip for {whom}: a new password can be set with it, and whoever "
                "was signed in is signed out."
            )
            return Notice(row.id, row.at, text)
        case "slips-asked":
            text = (
                f"{by} asks for a new slip for {whom} in {said['class']}, by which a new password "
                "can be set."
            )
            return Notice(row.id, row.at, text, answer=Answer.GRANT_SLIPS)
        case _:
            text = f"{by} agreed to a new slip for {whom}: you can make it now."
            return Notice(row.id, row.at, text, slips_of=said["class_id"])


def _of_cells(said: Mapping[str, Any]) -> str:
    count = said["cells"]
    cells = "a value that you wrote by hand" if count == 1 else f"{count} values written by hand"
    return (
        f"{said['by']} changed the scale “{said['scale']}”. In your rubric “{said['rubric']}”, "
        f"{cells} would now mean another level, and took the place on the changed scale that "
        "matches the old one. Look at whether that is what you mean."
    )
