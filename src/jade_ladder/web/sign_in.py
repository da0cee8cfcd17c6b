"""Who is calling: the session cookie, and what slows guessing down."""

from __future__ import annotations

import threading
import time
from datetime import UTC, datetime
from typing import Annotated

from fastapi import Depends, Request, Response

from jade_ladder.core.errors import NotSignedIn
from jade_ladder.service.caller import Caller
from jade_ladder.service.people import SESSION_LASTS, person_of_session
from jade_ladder.store.connection import Database
from jade_ladder.store.people import Person

COOKIE = "jade_ladder_session"
GUESSES, WAIT_SECONDS = 5, 30.0


def the_database(request: Request) -> Database:
    """Give the application's database."""
    database: Database = request.app.state.settings.database
    return database


def the_person(request: Request) -> Person:
    """Give the signed-in person; NotSignedIn for anybody else."""
    token = request.cookies.get(COOKIE)
    if not token:
        raise NotSignedIn("Please sign in")
    return person_of_session(the_database(request), token, datetime.now(UTC))


def the_caller(request: Request, person: Annotated[Person, Depends(the_person)]) -> Caller:
    """Give the caller that the services ask for."""
    return Caller(the_database(request), person.id, datetime.now(UTC))


Db = Annotated[Database, Depends(the_database)]
SignedIn = Annotated[Person, Depends(the_person)]
Teacher = Annotated[Caller, Depends(the_caller)]


def set_cookie(request: Request, response: Response, token: str) -> None:
    """Hand out the session: not readable by scripts, not sent from other sites."""
    response.set_cookie(
        COOKIE,
        token,
        max_age=int(SESSION_LASTS.total_seconds()),
        httponly=True,
        samesite="lax",
        secure=request.url.scheme == "https",
        path="/",
    )


class Guesses:
    """Counts failed sign-ins per e-mail; after five, each further try has to wait."""

    def __init__(self) -> None:
        self._failed: dict[str, tuple[int, float]] = {}
        self._lock = threading.Lock()

    def seconds_to_wait(self, email: str) -> int:
        """Say how long this e-mail has to wait; 0 when it may try."""
        count, since = self._failed.get(email.casefold(), (0, 0.0))
        left = since + WAIT_SECONDS - time.monotonic()
        return int(left) + 1 if count >= GUESSES and left > 0 else 0

    def failed(self, email: str) -> None:
        """Count a failed try."""
        with self._lock:
            if len(self._failed) > 10_000:
                self._failed.clear()
            count, _ = self._failed.get(email.casefold(), (0, 0.0))
            self._failed[email.casefold()] = (count + 1, time.monotonic())

    def succeeded(self, email: str) -> None:
        """Forget the failed tries."""
        with self._lock:
            self._failed.pop(email.casefold(), None)
