"""Which attempt what is seen on a day is of (docs/calculations.md, “Observed in the room”)."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from zoneinfo import ZoneInfo

from jade_ladder.store.observing.observing import AttemptTime
from jade_ladder.store.work.attempts import Dating


def attempt_on(attempts: Sequence[AttemptTime], day: date, zone: ZoneInfo) -> int | None:
    """Give the number of the attempt that a tap of a day goes to, there or the next one; None where
    the student was observed on a later day already and not on that one.
    """
    if not attempts:
        return 1
    newest = attempts[-1]
    if newest.opened:
        return newest.number + 1
    if newest.dating is Dating.UNDECIDED:
        return newest.number
    days = {one.done_at.astimezone(zone).date(): one.number for one in attempts}
    if day in days:
        return days[day]
    return newest.number + 1 if day > newest.done_at.astimezone(zone).date() else None
