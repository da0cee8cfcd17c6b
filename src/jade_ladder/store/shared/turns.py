"""Turns: writers wait for each other, and people take turns."""

from __future__ import annotations

import threading
from collections import OrderedDict, deque
from collections.abc import Iterator
from contextlib import contextmanager

from jade_ladder.core.errors import Unavailable


class Turns:
    """A fair lock. SQLite lets whoever asks at the right moment write next, so that under load
    some wait ten times as long as others; here the first to come is the first to go, but for who
    has more than one thing to write: between two of theirs, each of the others has a turn.
    """

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._taken = False
        # By whose they are, in the order in which people have their turns.
        self._waiting: OrderedDict[int | None, deque[threading.Event]] = OrderedDict()

    @contextmanager
    def turn(self, seconds: float, whose: int | None = None) -> Iterator[None]:
        """Wait for a turn, as somebody's or nobody's, and hold it; raises Unavailable after so many
        seconds.
        """
        self._take(seconds, whose)
        try:
            yield
        finally:
            self._pass_on()

    def _take(self, seconds: float, whose: int | None) -> None:
        with self._lock:
            if not self._taken:
                self._taken = True
                return
            called = threading.Event()
            self._waiting.setdefault(whose, deque()).append(called)
        if called.wait(seconds):
            return
        with self._lock:
            # Called in the very moment of giving up: the turn is ours, and is taken.
            if called.is_set():
                return
            theirs = self._waiting[whose]
            theirs.remove(called)
            if not theirs:
                del self._waiting[whose]
        raise Unavailable(
            "Nothing was changed, since too much is being saved at once. Try again in a moment."
        )

    def _pass_on(self) -> None:
        with self._lock:
            if not self._waiting:
                self._taken = False
                return
            whose, theirs = self._waiting.popitem(last=False)
            theirs.popleft().set()
            if theirs:
                # Behind everybody else who waits.
                self._waiting[whose] = theirs
