"""The outbox: mail is sent after what it tells is stored, and tried again while it cannot be."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Protocol

from jade_ladder.formats.mail import Mail
from jade_ladder.service.shared.caller import Administrator
from jade_ladder.store.messages import outbox as store
from jade_ladder.store.messages.outbox import MailRow
from jade_ladder.store.shared.connection import Database

AT_ONCE = 20
MOST_SHOWN = 200
GIVES_UP = timedelta(days=3)
_LONGEST_WAIT = timedelta(hours=1)


class Mailer(Protocol):
    """What takes mail: a mail server, or the stand-in for one."""

    def send(self, mail: Mail) -> None:
        """Hand mail over; raises OSError when that cannot be done now."""


def deliver(database: Database, mailer: Mailer, now: datetime) -> int:
    """Send mail that is due, at most some at once; gives how many were tried.

    No transaction is open while it is sent. Where the program ends between the mail server's answer
    and the record of it, the same mail is sent once more, with the same Message-ID.
    """
    with database.looking() as db:
        due = store.due_mail(db, now, AT_ONCE)
    for row in due:
        try:
            mailer.send(Mail(row.message_key, row.address, row.subject, row.text, row.path, now))
        except OSError as error:
            with database.transaction() as db:
                store.mail_failed(db, row.id, str(error)[:300], _again(row, now), now)
        else:
            with database.transaction() as db:
                store.mail_sent(db, row.id, now)
    return len(due)


def _again(row: MailRow, now: datetime) -> datetime | None:
    """Give when mail is tried again: after 1, 2, 4, … minutes, at most an hour; after three days no
    more.
    """
    if now - row.made_at > GIVES_UP and row.tries > 0:
        return None
    return now + min(timedelta(minutes=2 ** min(row.tries, 10)), _LONGEST_WAIT)


def outbox(caller: Administrator) -> list[MailRow]:
    """List mail with what became of it, the newest first."""
    with caller.reading() as db:
        return store.all_mail(db, MOST_SHOWN)
