"""The school's days and clock."""

from __future__ import annotations

import sqlite3
from datetime import UTC, date, datetime, time, timedelta
from zoneinfo import ZoneInfo

from jade_ladder.core.errors import Refused
from jade_ladder.service.shared.caller import Caller
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.people import people as people_store


def school_zone(db: sqlite3.Connection) -> ZoneInfo:
    """Give the school's time zone."""
    school = people_store.school(db)
    return ZoneInfo(school.time_zone if school else "UTC")


def today(db: sqlite3.Connection, caller: Caller) -> date:
    """Give the day it is at the school."""
    return caller.now.astimezone(school_zone(db)).date()


def start_of(day: date, zone: ZoneInfo) -> datetime:
    """Give the moment at which a day begins at the school, in UTC."""
    return datetime.combine(day, time(), zone).astimezone(UTC)


def end_of(day: date, zone: ZoneInfo) -> datetime:
    """Give the moment at which a day ends at the school: the start of the next."""
    return start_of(day + timedelta(days=1), zone)


FIRST_YEAR, LAST_YEAR = 1990, 2100


YEARS_AROUND = 3
"""Days and times of a class lie within so many years of its own days."""


def check_day(day: date, field: str, klass: ClassRow | None = None) -> None:
    """Refuse a day outside a sane span, which is a slip of the keyboard: of all years, and within
    some years of a class where one is given.
    """
    first, last = FIRST_YEAR, LAST_YEAR
    if klass is not None:
        first = max(first, klass.first_day.year - YEARS_AROUND)
        last = min(last, klass.last_day.year + YEARS_AROUND)
    if not first <= day.year <= last:
        raise Refused(
            f"The year {day.year} is not between {first} and {last}: is it a slip of the keyboard?",
            field,
        )


def in_utc(moment: datetime, zone: ZoneInfo) -> datetime:
    """Take a time without a zone as the school's clock, and give it in UTC."""
    local = moment if moment.tzinfo else moment.replace(tzinfo=zone)
    return local.astimezone(UTC)


def on_the_clock(moment: datetime, zone: ZoneInfo) -> datetime:
    """Give a time as the school's clock shows it, to the second and without a zone."""
    return moment.astimezone(zone).replace(tzinfo=None, microsecond=0)


def day_and_time(moment: datetime, zone: ZoneInfo) -> str:
    """Give a time in words by the school's clock: "Thursday 3 December 2026, 11:00"."""
    local = moment.astimezone(zone)
    return f"{local:%A} {local.day} {local:%B %Y, %H:%M}"


def time_of_evidence(
    db: sqlite3.Connection, caller: Caller, klass: ClassRow, moment: datetime, field: str
) -> datetime:
    """Give a time that a teacher says work of a class was done at, in UTC; refuse one that has not
    come yet, or that is before the class began (docs/calculations.md, “Time and order”).
    """
    check_day(moment.date(), field, klass)
    zone = school_zone(db)
    when = in_utc(moment, zone)
    if when > caller.now:
        raise Refused("This time has not come yet", field)
    if when < start_of(klass.first_day, zone):
        raise Refused(
            f"{klass.name} began on {klass.first_day.isoformat()}: choose a later time", field
        )
    return when


def as_of_day(db: sqlite3.Connection, caller: Caller, as_of: date | None) -> date:
    """Give the day that is asked for, or today; refuse one that is insane or has not come yet."""
    now = today(db, caller)
    if as_of is not None:
        check_day(as_of, "as_of")
        if as_of > now:
            raise Refused(f"{as_of.isoformat()} has not come yet", "as_of")
    return as_of or now
