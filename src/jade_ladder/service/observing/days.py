"""Which attempt what is seen on a day is of (docs/calculations.md, “Observed in the room”)."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from zoneinfo import ZoneInfo

from jade_ladder.store.observing.observing import AttemptTime
from jade_ladder.store.work.attempts import Dating


def attempt_on(attempts: Sequence[AttemptTime], when: datetime, zone: ZoneInfo) -> int | None:
    """Give the number of the attempt that a tap made at a time goes to, there or the next one; None
    where the student was observed on a later day already and not on that one.

    One that was opened is begun by a tap made after that; an older tap goes by its day.
    """
    if not attempts:
        return 1
    newest = attempts[-1]
    if newest.next_opened_at is not None and when >= newest.next_opened_at:
        return newest.number + 1
    if newest.dating is Dating.UNDECIDED:
        return newest.number
    day = when.astimezone(zone).date()
    days = {one.done_at.astimezone(zone).date(): one.number for one in attempts}
    if day in days:
        return days[day]
    return newest.number + 1 if day > newest.done_at.astimezone(zone).date() else None
