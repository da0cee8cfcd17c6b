"""The outbox: mail that waits, and what became of it."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.store.shared.rows import fetch


@dataclass(frozen=True, slots=True)
class MailRow:
    """A message as mail, with what became of it: so many tries, sent or given up, and why not."""

    id: int
    message_key: str
    address: str
    subject: str
    text: str
    path: str
    made_at: datetime
    next_try_at: datetime
    tries: int
    sent_at: datetime | None
    gave_up_at: datetime | None
    problem: str | None


_MAIL = """SELECT l.id, l.message_key, l.address, m.subject, m.text, m.path, m.made_at,
                  l.next_try_at, l.tries, l.sent_at, l.gave_up_at, l.problem
           FROM mail l JOIN message m ON m.id = l.message_id"""


def due_mail(db: sqlite3.Connection, now: datetime, most: int) -> list[MailRow]:
    """List mail that is to be sent now, the longest waiting first."""
    return fetch(
        db,
        MailRow,
        f"""{_MAIL} WHERE l.sent_at IS NULL AND l.gave_up_at IS NULL AND l.next_try_at <= ?
            ORDER BY l.next_try_at, l.id LIMIT ?""",
        (now, most),
    )


def all_mail(db: sqlite3.Connection, most: int) -> list[MailRow]:
    """List mail, the newest first."""
    return fetch(db, MailRow, f"{_MAIL} ORDER BY l.id DESC LIMIT ?", (most,))


def mail_sent(db: sqlite3.Connection, mail_id: int, at: datetime) -> None:
    """Remember that mail was taken by the mail server."""
    db.execute(
        "UPDATE mail SET sent_at = ?, tries = tries + 1, problem = NULL WHERE id = ?",
        (at, mail_id),
    )


def mail_failed(
    db: sqlite3.Connection, mail_id: int, problem: str, again_at: datetime | None, now: datetime
) -> None:
    """Remember that mail could not be sent, and when it is tried again; None: no more."""
    db.execute(
        """UPDATE mail SET tries = tries + 1, problem = ?, next_try_at = coalesce(?, next_try_at),
                           gave_up_at = CASE WHEN ?2 IS NULL THEN ?3 END
           WHERE id = ?4""",
        (problem, again_at, now, mail_id),
    )
