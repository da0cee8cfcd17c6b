"""The outbox, and the thread that sends what is in it."""

from __future__ import annotations

import logging
import threading
from datetime import datetime

from fastapi import Request
from pydantic import BaseModel

from jade_ladder.core.errors import StoreError
from jade_ladder.formats.mail import Mail, body_of
from jade_ladder.outside import clock
from jade_ladder.service.messages import outbox as service
from jade_ladder.service.messages.outbox import Mailer
from jade_ladder.store.messages.outbox import MailRow
from jade_ladder.store.shared.connection import Database
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsAdministrator

router = router_of("outbox", "/outbox")
EVERY = 2.0
"""Seconds between two looks for mail that is due."""
_log = logging.getLogger(__name__)


class MailOut(BaseModel):
    """A message as its receiver gets it, and what became of it."""

    id: int
    address: str
    subject: str
    text: str
    made_at: datetime
    next_try_at: datetime
    tries: int
    sent_at: datetime | None
    gave_up_at: datetime | None
    problem: str | None


class OutboxOut(BaseModel):
    """The outbox; where mail is `simulated`, nothing leaves the machine."""

    simulated: bool
    mail: list[MailOut]


@router.get("")
def read_outbox(request: Request, caller: AsAdministrator) -> OutboxOut:
    """List mail with what became of it, the newest first."""
    settings = request.app.state.settings
    base = settings.address.url
    return OutboxOut(
        simulated=settings.mail_simulated,
        mail=[_out(row, base) for row in service.outbox(caller)],
    )


def _out(row: MailRow, base: str | None) -> MailOut:
    mail = Mail(row.message_key, row.address, row.subject, row.text, row.path, row.made_at)
    return MailOut(
        id=row.id,
        address=row.address,
        subject=row.subject,
        text=body_of(mail, base),
        made_at=row.made_at,
        next_try_at=row.next_try_at,
        tries=row.tries,
        sent_at=row.sent_at,
        gave_up_at=row.gave_up_at,
        problem=row.problem,
    )


class MailSender:
    """Sends what is due in a thread of its own: a slow mail server keeps nobody waiting."""

    def __init__(self, database: Database, mailer: Mailer) -> None:
        self._database = database
        self._mailer = mailer
        self._stopping = threading.Event()
        self._thread = threading.Thread(target=self._run, name="mail", daemon=True)

    def begin(self) -> None:
        """Begin to send."""
        self._thread.start()

    def close(self) -> None:
        """Stop; what is not sent waits in the outbox."""
        self._stopping.set()
        self._thread.join(timeout=EVERY + 1)

    def _run(self) -> None:
        while not self._stopping.wait(EVERY):
            try:
                while service.deliver(self._database, self._mailer, clock.now()):
                    if self._stopping.is_set():
                        return
            except StoreError as error:
                # The database is busy or full: it waits in the outbox.
                _log.warning("Mail was not looked for: %s", error)
