"""Whether work can be handed in, and taken back (docs/calculations.md, “Handing in”)."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

# Between blanks, up to the first letter or digit, and on to the next blank.
_LETTER = re.compile(r"[^\W_]")


class Closed(StrEnum):
    """Why nothing can be handed in."""

    OBSERVED = "observed"
    LEFT = "left"
    EXCUSED = "excused"
    PAST_CLOSING = "past-closing"
    MARKED = "marked"
    PAST_DUE = "past-due"


@dataclass(frozen=True, slots=True)
class StateOfWork:
    """Where a student stands with handing in at a task: whether there is work in the newest
    attempt, whether they handed it in themselves, whether marking of it was begun, and whether
    another attempt was granted. A further attempt has its own due time, or none, and never closes.
    With `observed`, nothing is handed in at all: the teacher enters what they saw.
    """

    observed: bool
    present: bool
    excused: bool
    due_at: datetime | None
    closes_at: datetime | None
    has_work: bool
    by_student: bool
    marked: bool
    granted: bool


def why_closed(standing: StateOfWork, now: datetime) -> Closed | None:
    """Say why nothing can be handed in now, or None where it can.

    What was handed in can be replaced until it is due, or marked. A granted attempt is open,
    whatever the closing time.
    """
    if standing.observed:
        return Closed.OBSERVED
    if not standing.present:
        return Closed.LEFT
    if standing.excused:
        return Closed.EXCUSED
    if standing.granted:
        return None
    if standing.marked:
        return Closed.MARKED
    if standing.closes_at is not None and now > standing.closes_at:
        return Closed.PAST_CLOSING
    if standing.has_work and standing.due_at is not None and now > standing.due_at:
        return Closed.PAST_DUE
    return None


def can_take_back(standing: StateOfWork, now: datetime) -> bool:
    """Whether what was handed in can be taken back: until it is due, or marking was begun. What a
    teacher entered is not the student's to take back.
    """
    return (
        standing.by_student
        and not standing.marked
        and standing.present
        and (standing.due_at is None or now <= standing.due_at)
    )


def count_words(text: str) -> int:
    """Count the words of a text: what stands between blanks and has a letter or digit in it."""
    # Blank by blank: an expression for whole words takes for ever with a long one of signs alone.
    return sum(_LETTER.search(word) is not None for word in text.split())
