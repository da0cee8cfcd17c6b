"""The log as an administrator reads it: in sentences, by person, kind and days."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from jade_ladder.service.people.log_sentences import sentences
from jade_ladder.service.shared.caller import Administrator
from jade_ladder.service.shared.days import end_of, school_zone, start_of
from jade_ladder.store.shared import log as store
from jade_ladder.store.shared.log import LogRow, LogSubject, Wanted

PAGE = 100


@dataclass(frozen=True, slots=True)
class LogPage:
    """Entries, the newest first, what each says, and whom any entry of the log is by."""

    rows: tuple[LogRow, ...]
    said: tuple[str, ...]
    people: tuple[tuple[int, str], ...]


def read_log(
    caller: Administrator,
    before: int | None = None,
    person_id: int | None = None,
    subject: LogSubject | None = None,
    since: date | None = None,
    until: date | None = None,
) -> LogPage:
    """Read what was changed, a page at a time: entries before one, of one person, of one kind, from
    a day of the school and until the end of another; or all.
    """
    with caller.reading() as db:
        zone = school_zone(db)
        wanted = Wanted(
            before,
            person_id,
            subject,
            start_of(since, zone) if since else None,
            end_of(until, zone) if until else None,
        )
        rows = store.page(db, PAGE, wanted)
        said = sentences(rows, zone, lambda kind, numbers: store.names(db, kind, numbers))
        return LogPage(tuple(rows), tuple(said), tuple(store.who_changed(db)))
