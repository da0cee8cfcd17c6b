"""The errors that the core and the services raise.

JadeLadderError
├── Refused      what was asked cannot be; names the field at fault
│   ├── RefusedMany  several fields at once
│   └── WrongSecret  a password or code is not the right one
├── NotFound     there is no such thing, or it is not one's own
├── NotSignedIn  nobody is signed in, or the sign-in failed
├── NotAllowed   the person who is signed in may not do this
├── TooManyTries a password or code was guessed too often; carries how long to wait
├── OtherPerson  a write names another person than the one who is signed in
├── Stale        somebody saved in between; carries what is there now
└── StoreError   the database cannot be used
    └── Unavailable  not at this moment: it is busy, or nothing can be written to it
        └── BeingPrepared  a file is made ready to be shown; it will be in a moment
"""

from __future__ import annotations

from dataclasses import dataclass


class JadeLadderError(Exception):
    """The base of every error raised on purpose."""


class Refused(JadeLadderError):
    """A rule does not allow what was asked.

    `message` says what was expected and what came; `field` names where, in the words of the call
    ("points", "criteria.2.title"), or is empty when it is about the whole.
    """

    def __init__(self, message: str, field: str = "") -> None:
        super().__init__(message)
        self.message = message
        self.field = field


@dataclass(frozen=True, slots=True)
class Problem:
    """One thing that is wrong, and where."""

    field: str
    message: str


class RefusedMany(Refused):
    """Several things are wrong at once, each with its place."""

    def __init__(self, message: str, problems: list[Problem]) -> None:
        super().__init__(message, problems[0].field if problems else "")
        self.problems = problems


class WrongSecret(Refused):
    """A password or code that was given is not the right one: it counts as a wrong try."""


class NotFound(JadeLadderError):
    """There is no such thing here, or it belongs to somebody else (which is not told apart)."""


class NotSignedIn(JadeLadderError):
    """Nobody is signed in, or the name and password do not belong together."""


class NotAllowed(JadeLadderError):
    """The person who is signed in may not do this, whatever it is done to."""


class TooManyTries(JadeLadderError):
    """Too many wrong tries: nothing was looked at. `seconds` is how long to wait."""

    def __init__(self, seconds: int) -> None:
        super().__init__(f"Too many tries; wait {seconds} seconds")
        self.seconds = seconds


class OtherPerson(JadeLadderError):
    """A write says it is one person's, and another one is signed in: nothing was changed."""


class Stale(JadeLadderError):
    """The save was based on a version that is no longer the newest.

    `current` is the version there is now, so that the caller can show both and lose neither.
    """

    def __init__(self, message: str, current: int) -> None:
        super().__init__(message)
        self.message = message
        self.current = current


class StoreError(JadeLadderError):
    """The database cannot be opened, or is of a newer program."""


class Unavailable(StoreError):
    """The database does not take this now: it is busy, its disk is full, or it is read-only.

    Nothing was changed; the same call can be sent again after `retry_after` seconds.
    """

    def __init__(self, message: str, retry_after: int = 2) -> None:
        super().__init__(message)
        self.retry_after = retry_after


class BeingPrepared(Unavailable):
    """A file is being made ready to be shown: until then nothing of it is, and it is not served."""
