"""Who does an operation, when, and on which database."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from contextlib import AbstractContextManager, contextmanager
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from jade_ladder.core.errors import NotAllowed
from jade_ladder.store.evidence.evidence import settle
from jade_ladder.store.people import people as people_store
from jade_ladder.store.people.guests import GuestLink
from jade_ladder.store.shared import log
from jade_ladder.store.shared.connection import Database
from jade_ladder.store.shared.log import LogSubject


@dataclass(frozen=True, slots=True)
class Caller:
    """A signed-in person at a moment. An operation takes the kind of caller it is for, so that a
    call by another kind does not type-check; which kind somebody is, is decided where the session
    is read (`caller_of`).
    """

    database: Database
    person_id: int
    now: datetime

    @contextmanager
    def transaction(self) -> Iterator[sqlite3.Connection]:
        """Open the one transaction of an operation; what it changes of what evidence comes from is
        worked out anew at its end.
        """
        with self.database.transaction(self.person_id) as db:
            yield db
            settle(db)

    def reading(self) -> AbstractContextManager[sqlite3.Connection]:
        """Read from one moment."""
        return self.database.reading()

    def log(
        self,
        db: sqlite3.Connection,
        subject: LogSubject,
        subject_id: int,
        before: Any,
        after: Any,
        class_id: int | None = None,
    ) -> int:
        """Keep what the caller changed now, as part of the transaction; gives the entry's number.
        `before` and `after` are anything JSON can hold.
        """
        return log.add_entry(
            db, self.now, self.person_id, subject, subject_id, before, after, class_id
        )


@dataclass(frozen=True, slots=True)
class Teacher(Caller):
    """Somebody who may teach."""


@dataclass(frozen=True, slots=True)
class Administrator(Teacher):
    """A teacher who also looks after what belongs to the whole school."""


@dataclass(frozen=True, slots=True)
class Student(Caller):
    """Somebody who learns and does not teach."""


@dataclass(frozen=True, slots=True)
class Guest:
    """Who has no account and opened a link that was made for one student. A guest is no `Caller`,
    so that nothing that a person does takes one: they may read what an operation names them for.
    """

    database: Database
    link: GuestLink
    now: datetime

    def reading(self) -> AbstractContextManager[sqlite3.Connection]:
        """Read from one moment."""
        return self.database.reading()


def caller_of(database: Database, person: people_store.Person, now: datetime) -> Caller:
    """Give the kind of caller that a person is now; NotAllowed for who is of no kind. A teacher is
    no student, even where they are in a class of another.
    """
    kind: type[Caller]
    if person.may_teach:
        kind = Administrator if person.administrator else Teacher
    elif person.learns:
        kind = Student
    else:
        raise NotAllowed("You are in no class of the school: ask your teacher to take you into one")
    return kind(database, person.id, now)
