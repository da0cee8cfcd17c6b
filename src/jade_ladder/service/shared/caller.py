"""Who does an operation, when, and on which database."""

from __future__ import annotations

import sqlite3
from contextlib import AbstractContextManager
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from jade_ladder.store.people import people as people_store
from jade_ladder.store.shared import log
from jade_ladder.store.shared.connection import Database


@dataclass(frozen=True, slots=True)
class Caller:
    """A signed-in person at a moment. An operation takes the kind of caller it is for, so that a
    call by another kind does not type-check; which kind somebody is, is decided where the session
    is read (`caller_of`).
    """

    database: Database
    person_id: int
    now: datetime

    def transaction(self) -> AbstractContextManager[sqlite3.Connection]:
        """Open the one transaction of an operation."""
        return self.database.transaction(self.person_id)

    def reading(self) -> AbstractContextManager[sqlite3.Connection]:
        """Read from one moment."""
        return self.database.reading()

    def log(
        self, db: sqlite3.Connection, subject: str, subject_id: int, before: Any, after: Any
    ) -> int:
        """Keep what the caller changed now, as part of the transaction; gives the entry's number.
        `before` and `after` are anything JSON can hold.
        """
        return log.add_entry(db, self.now, self.person_id, subject, subject_id, before, after)


@dataclass(frozen=True, slots=True)
class Teacher(Caller):
    """Somebody who may teach."""


@dataclass(frozen=True, slots=True)
class Administrator(Teacher):
    """A teacher who also looks after what belongs to the whole school."""


@dataclass(frozen=True, slots=True)
class Student(Caller):
    """Somebody who learns and does not teach."""


def caller_of(database: Database, person: people_store.Person, now: datetime) -> Caller:
    """Give the kind of caller that a person is now."""
    if not person.may_teach:
        return Student(database, person.id, now)
    kind = Administrator if person.administrator else Teacher
    return kind(database, person.id, now)
