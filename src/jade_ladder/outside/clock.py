"""The one clock of the application. Nothing else asks the machine what time it is.

It runs with the machine's own, set forward or back by as many seconds as an environment variable
says, so that a demo or a test can be on any day: processes that are started inherit it, and the
front end takes the time from the server's answers.
"""

from __future__ import annotations

import os
from datetime import UTC, datetime, timedelta

OFFSET = "JADE_LADDER_CLOCK_OFFSET"
# Read once: the time is asked for several times in each call, and the environment is slow to read.
_ahead = timedelta(seconds=float(os.environ.get(OFFSET, "0")))


def now() -> datetime:
    """Give the time, in UTC."""
    return device_time() + _ahead


def device_time() -> datetime:
    """Give the time by the machine's own clock, which its disk writes on files."""
    return datetime.now(UTC)


def set_clock(to: datetime) -> None:
    """Let it be a time from now on, in this process and all that it starts; time goes on."""
    global _ahead
    _ahead = to - device_time()
    os.environ[OFFSET] = str(_ahead.total_seconds())
