"""How many requests of a person, and of all students, are worked on at once: the others wait where
they hold no thread, so that nobody's flood holds a teacher's save.
"""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator, Hashable
from contextlib import asynccontextmanager
from dataclasses import dataclass, field

from fastapi import FastAPI

from jade_ladder.core.errors import Unavailable

OF_A_PERSON, OF_STUDENTS = 6, 1
"""A browser has six connections. Students are worked on one after the other: more threads would do
no more of them, since they share one interpreter, and teachers' saves would wait among them.
"""
MOST_WAITING = 60
"""Of a person."""


@dataclass(slots=True)
class _Person:
    places: asyncio.Semaphore = field(default_factory=lambda: asyncio.Semaphore(OF_A_PERSON))
    there: int = 0


class Admission:
    """Lets requests in. It belongs to one event loop."""

    def __init__(self) -> None:
        self._people: dict[Hashable, _Person] = {}
        self._students = asyncio.Semaphore(OF_STUDENTS)

    @asynccontextmanager
    async def of(self, person_id: Hashable, student: bool) -> AsyncIterator[None]:
        """Wait for a place, in the order of coming, and hold it. Raises Unavailable where too many
        of the same person wait already.
        """
        person = self._people.setdefault(person_id, _Person())
        if person.there >= OF_A_PERSON + MOST_WAITING:
            raise Unavailable("Too much is asked for at once. Try again in a moment.")
        person.there += 1
        try:
            async with person.places:
                if student:
                    async with self._students:
                        yield
                else:
                    yield
        finally:
            person.there -= 1
            if not person.there:
                del self._people[person_id]


def begin_admission(app: FastAPI) -> None:
    """Begin to let requests in, as the application begins to answer."""
    app.state.admission = Admission()
