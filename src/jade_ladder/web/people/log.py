"""What was changed at the school, as an administrator reads it."""

from __future__ import annotations

import json
from datetime import datetime
from typing import Any

from pydantic import BaseModel

from jade_ladder.service.people import log as service
from jade_ladder.store.shared.log import LogRow
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsAdministrator

router = router_of("log", "/log")


class LogEntryOut(BaseModel):
    """Who changed what: the kind of subject, its name where it has one, before and after."""

    id: int
    at: datetime
    person: str | None
    subject: str
    subject_id: int
    name: str | None
    before: Any
    after: Any

    @classmethod
    def of(cls, row: LogRow) -> LogEntryOut:
        """Show an entry."""
        return cls(
            id=row.id,
            at=row.at,
            person=row.person,
            subject=row.subject,
            subject_id=row.subject_id,
            name=row.name,
            before=None if row.before is None else json.loads(row.before),
            after=None if row.after is None else json.loads(row.after),
        )


@router.get("")
def read_log(
    caller: AsAdministrator, before: int | None = None, subject: str = ""
) -> list[LogEntryOut]:
    """List what was changed, the newest first, a hundred at a time."""
    return [LogEntryOut.of(row) for row in service.read_log(caller, before, subject)]
