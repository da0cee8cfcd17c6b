"""The days of the demo: a plan without input or output, reckoned back from a time.

It counts school days, Monday to Friday, so that whatever day the demo is made on, what follows
something in the plan follows it in the term, on a day of its own and about as long after it.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from zoneinfo import ZoneInfo

WEEK = 5
"""School days."""


@dataclass(frozen=True, slots=True)
class Calendar:
    """The term's days as seen at a time (`now`, in UTC), by the school's clock."""

    now: datetime
    zone: ZoneInfo

    @property
    def today(self) -> date:
        """The day that it is at the school."""
        return self.now.astimezone(self.zone).date()

    def day(self, offset: int) -> date:
        """Give the school day so many before (negative) or after the present one, which at the
        weekend is the Friday.
        """
        present = self.today - timedelta(days=max(0, self.today.weekday() - 4))
        weeks, rest = divmod(present.weekday() + offset, WEEK)
        return present - timedelta(days=present.weekday()) + timedelta(weeks=weeks, days=rest)

    def moment(self, day: date, hour: int, minute: int = 0) -> datetime:
        """Give a time by the school's clock, in UTC; never later than now."""
        local = datetime.combine(day, time(hour, minute), self.zone).astimezone(UTC)
        return min(local, self.now)

    def at(self, offset: int, hour: int, minute: int = 0) -> datetime:
        """Give a time of a school day."""
        return self.moment(self.day(offset), hour, minute)
