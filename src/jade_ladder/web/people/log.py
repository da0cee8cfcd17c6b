"""What was changed at the school, as an administrator reads it."""

from __future__ import annotations

from datetime import date, datetime

from pydantic import BaseModel

from jade_ladder.service.people import log as service
from jade_ladder.store.shared.log import LogSubject
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsAdministrator

router = router_of("log", "/log")


class LogEntryOut(BaseModel):
    """Who changed something (nobody: the program), of which kind, and what, in words that follow
    the name.
    """

    id: int
    at: datetime
    person: str | None
    subject: LogSubject
    said: str


class LogPersonOut(BaseModel):
    """Somebody whom an entry is by."""

    id: int
    name: str


class LogOut(BaseModel):
    """Entries, the newest first, at most a hundred, and whom any entry of the log is by."""

    entries: list[LogEntryOut]
    people: list[LogPersonOut]


@router.get("")
def read_log(
    caller: AsAdministrator,
    before: int | None = None,
    person_id: int | None = None,
    subject: LogSubject | None = None,
    since: date | None = None,
    until: date | None = None,
) -> LogOut:
    """Read what was changed, the newest first, a hundred entries at a time: those before one, of a
    person, of a kind, from a day until the end of another.
    """
    found = service.read_log(caller, before, person_id, subject, since, until)
    entries = [
        LogEntryOut(id=row.id, at=row.at, person=row.person, subject=row.subject, said=said)
        for row, said in zip(found.rows, found.said, strict=True)
    ]
    people = [LogPersonOut(id=number, name=name) for number, name in found.people]
    return LogOut(entries=entries, people=people)
