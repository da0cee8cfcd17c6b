"""What slows guessing of passwords down, without locking out who has the right one."""

from __future__ import annotations

import threading
import time
from collections import OrderedDict
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass

from fastapi import Request

from jade_ladder.core.errors import Refused, TooManyTries, Unavailable, WrongSecret
from jade_ladder.web.people.known_devices import known_device

PER_ACCOUNT, PER_ADDRESS = 5, 40
"""Tries that fail before one has to wait: with one e-mail from one address, and from one address
with any e-mail (a whole school may stand behind one)."""
CODES_PER_ADDRESS = 300
"""With codes from one address: a whole class types them at once, and of so many there are, that a
guesser who has all of these gets nowhere."""
WAIT_SECONDS = 30.0
MOST_KEPT = 10_000
LONGEST_EMAIL = 200
HASHES_AT_ONCE, MOST_WAITING = 2, 16


def account_key(email: str) -> str:
    """Give an e-mail as it is counted: blanks, case and length make no other one of it."""
    return "".join(email.split()).casefold()[:LONGEST_EMAIL]


@dataclass(slots=True)
class _Count:
    tries: int
    last: float


class Guesses:
    """Counts tries before the password is looked at, and takes those that were right back.

    Wrong tries from one address never make another address wait, nor a device there in which
    somebody signed in before: it is counted by itself. With one account, an address as a whole has
    as many tries, with such devices too. The oldest counts are forgotten
    one by one when there are too many, never all at once.
    """

    def __init__(self, clock: Callable[[], float] = time.monotonic) -> None:
        self._clock = clock
        self._counts: OrderedDict[tuple[str, ...], _Count] = OrderedDict()
        self._lock = threading.Lock()

    def begin(
        self, email: str, address: str, at_address: int = PER_ADDRESS, device: str | None = None
    ) -> int:
        """Count a try; or, where there were too many, count none and give the seconds to wait. A
        known `device` has a limit of its own in place of the address's.
        """
        keys = {(account_key(email), address): PER_ACCOUNT, (device or address,): at_address}
        with self._lock:
            wait = max(self._wait(key, most) for key, most in keys.items())
            if not wait:
                for key in keys:
                    self._count(key)
            return wait

    def right(self, email: str, address: str, device: str | None = None) -> None:
        """Take a try back that was right, and forget the wrong ones with this e-mail from there."""
        with self._lock:
            self._counts.pop((account_key(email), address), None)
            at_address = self._counts.get((device or address,))
            if at_address is not None:
                at_address.tries = max(0, at_address.tries - 1)

    def not_looked_at(self, email: str, address: str, device: str | None = None) -> None:
        """Take a try back that nobody had time to look at."""
        with self._lock:
            for key in ((account_key(email), address), (device or address,)):
                if key in self._counts:
                    self._counts[key].tries = max(0, self._counts[key].tries - 1)

    def _wait(self, key: tuple[str, ...], most: int) -> int:
        count = self._counts.get(key)
        if count is None:
            return 0
        left = count.last + WAIT_SECONDS - self._clock()
        if left <= 0:
            # The wait is over: the next wrong try makes one wait again at once.
            count.tries = min(count.tries, most - 1)
            return 0
        return int(left) + 1 if count.tries >= most else 0

    def _count(self, key: tuple[str, ...]) -> None:
        count = self._counts.setdefault(key, _Count(0, 0.0))
        count.tries += 1
        count.last = self._clock()
        self._counts.move_to_end(key)
        while len(self._counts) > MOST_KEPT:
            self._counts.popitem(last=False)


class Hashing:
    """Lets few passwords be hashed at a time: each takes much memory, on purpose."""

    def __init__(self, at_once: int = HASHES_AT_ONCE, most_waiting: int = MOST_WAITING) -> None:
        self._places = threading.Semaphore(at_once)
        self._waiting = threading.Semaphore(at_once + most_waiting)

    @contextmanager
    def place(self) -> Iterator[None]:
        """Wait for a place and hold it; raises Unavailable where too many wait already."""
        if not self._waiting.acquire(blocking=False):
            raise Unavailable("Too many people sign in at once. Try again in a moment.")
        try:
            with self._places:
                yield
        finally:
            self._waiting.release()


@contextmanager
def counted_try(request: Request, who: str, code: bool = False) -> Iterator[None]:
    """Count a try at somebody's password or at a code; what ends without an error was right, and is
    taken back, as is what failed for another reason. Codes are counted apart, so that wrong ones
    keep nobody from signing in. Raises TooManyTries.
    """
    guesses: Guesses = request.app.state.guesses
    host = request.client.host if request.client else ""
    address = f"codes from {host}" if code else host
    device = None if code else known_device(request)
    wait = guesses.begin(who, address, CODES_PER_ADDRESS if code else PER_ADDRESS, device)
    if wait:
        raise TooManyTries(wait)
    try:
        yield
    except WrongSecret:
        raise
    except (Unavailable, Refused):
        guesses.not_looked_at(who, address, device)
        raise
    guesses.right(who, address, device)
