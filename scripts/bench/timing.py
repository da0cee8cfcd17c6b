"""How long things take."""

from __future__ import annotations

import time
from collections.abc import Callable


def timed(act: Callable[[], None]) -> float:
    """Give how long an act takes, in seconds."""
    began = time.perf_counter()
    act()
    return time.perf_counter() - began
