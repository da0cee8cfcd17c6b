"""Turns: writers wait for each other in the order they came."""

from __future__ import annotations

import threading
from collections import deque
from collections.abc import Iterator
from contextlib import contextmanager

from jade_ladder.core.errors import Unavailable


class Turns:
    """A fair lock. SQLite lets whoever asks at the right moment write next, so that under load
    some wait ten times as long as others; here the first to come is the first to go.
    """

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._taken = False
        self._waiting: deque[threading.Event] = deque()

    @contextmanager
    def turn(self, seconds: float) -> Iterator[None]:
        """Wait for one's turn and hold it; raises Unavailable after so many seconds."""
        self._take(seconds)
        try:
            yield
        finally:
            self._pass_on()

    def _take(self, seconds: float) -> None:
        with self._lock:
            if not self._taken:
                self._taken = True
                return
            called = threading.Event()
            self._waiting.append(called)
        if called.wait(seconds):
            return
        with self._lock:
            # Called in the very moment of giving up: the turn is ours, and is taken.
            if called.is_set():
                return
            self._waiting.remove(called)
        raise Unavailable(
            "Nothing was changed, since too much is being saved at once. Try again in a moment."
        )

    def _pass_on(self) -> None:
        with self._lock:
            if self._waiting:
                self._waiting.popleft().set()
            else:
                self._taken = False
