"""The demo's plan of days, tried as of every day of two years, with a leap day, two New Years and
four changes of the clock.
"""

from __future__ import annotations

from datetime import UTC, date, datetime, time, timedelta
from itertools import pairwise
from zoneinfo import ZoneInfo

import pytest

from jade_ladder.core.signs import LATELY
from jade_ladder.demo.calendar import Calendar
from jade_ladder.demo.scenario import TIME_ZONE
from jade_ladder.demo.words import TASKS

ZONE = ZoneInfo(TIME_ZONE)
DAYS = [date(2027, 6, 1) + timedelta(days=number) for number in range(731)]
FIRST, LAST = -60, 22


@pytest.fixture(
    params=[time(0, 5), time(7, 59), time(12, 30), time(23, 55)], ids=lambda hour: f"{hour:%H%M}"
)
def calendars(request: pytest.FixtureRequest) -> list[Calendar]:
    return [
        Calendar(datetime.combine(day, request.param, ZONE).astimezone(UTC), ZONE) for day in DAYS
    ]


def test_every_day_is_a_school_day_of_its_own_in_order(calendars: list[Calendar]) -> None:
    assert date(2028, 2, 29) in DAYS
    for calendar in calendars:
        days = [calendar.day(offset) for offset in range(FIRST, LAST + 1)]
        assert all(day.weekday() < 5 for day in days), calendar.now
        # No school day lies between two of them.
        for earlier, later in pairwise(days):
            assert (later - earlier).days == (3 if earlier.weekday() == 4 else 1), calendar.now
        assert timedelta(0) <= calendar.today - calendar.day(0) <= timedelta(days=2)
        assert calendar.day(1) > calendar.today


def test_times_are_of_the_day_by_the_schools_clock_and_have_passed(
    calendars: list[Calendar],
) -> None:
    for calendar in calendars:
        for offset in (FIRST, -32, -10, -1):
            then = calendar.at(offset, 16).astimezone(ZONE)
            assert (then.date(), then.time()) == (calendar.day(offset), time(16)), calendar.now
            assert calendar.at(offset, 8) < calendar.at(offset, 9) < calendar.at(offset + 1, 8)
        assert calendar.at(0, 17) <= calendar.now


def test_what_the_signs_are_about_lies_as_far_back_on_every_day(calendars: list[Calendar]) -> None:
    """What happened lately did so within the days that *lately* means (docs/calculations.md)."""
    for calendar in calendars:
        ago = [
            (calendar.today - calendar.day(offset)).days for offset in (-3, -8, -10, -11, -16, -18)
        ]
        assert ago[0] <= 5
        assert ago[1] < LATELY < ago[3]
        assert ago[2] <= 16
        assert 2 <= ago[5] - ago[4] <= 4, "judged before the walk that changed the evidence"
        coming = [calendar.day(task.due) for task in TASKS if task.due > 0]
        assert all(0 < (day - calendar.today).days <= LATELY for day in coming)
