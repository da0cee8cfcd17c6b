"""Messages, and the outbox of those that go by mail."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from jade_ladder.store.shared.rows import fetch


class MessageKind(StrEnum):
    """What a message is about; each can be switched off as mail by who receives it."""

    REMINDER = "reminder"
    HANDED_BACK = "handed-back"
    ATTEMPT = "attempt"
    SLIP = "slip"


@dataclass(frozen=True, slots=True)
class NewMessage:
    """A message to one person; `path` is the page of theirs that it is about."""

    person_id: int
    kind: MessageKind
    subject: str
    text: str
    path: str
    task_id: int | None
    visible_at: datetime


def add_messages(
    db: sqlite3.Connection,
    messages: Iterable[NewMessage],
    made_by: int,
    now: datetime,
) -> None:
    """Add messages, and queue as mail those whose receiver has an e-mail and wants that kind so."""
    for one in messages:
        number = db.execute(
            """INSERT INTO message (person_id, kind, subject, text, path, task_id, visible_at,
                                    made_at, made_by)
               VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)""",
            (
                one.person_id,
                one.kind,
                one.subject,
                one.text,
                one.path,
                one.task_id,
                one.visible_at,
                now,
                made_by,
            ),
        ).lastrowid
        db.execute(
            """INSERT INTO mail (message_id, message_key, address, next_try_at)
               SELECT ?1, lower(hex(randomblob(16))), p.email, ?2 FROM person p
               WHERE p.id = ?3 AND p.email LIKE '_%@_%' AND NOT EXISTS (
                 SELECT 1 FROM mail_off o WHERE o.person_id = p.id AND o.kind = ?4)""",
            (number, one.visible_at, one.person_id, one.kind),
        )


def drop_coming(
    db: sqlite3.Connection,
    task_id: int,
    people: Iterable[int],
    kind: MessageKind,
    now: datetime,
) -> None:
    """Forget messages about a task that were not seen yet: what they tell was taken back."""
    db.execute(
        """DELETE FROM message WHERE task_id = ? AND kind = ? AND visible_at > ?
             AND person_id IN (SELECT value FROM json_each(?))""",
        (task_id, kind, now, json.dumps(list(people))),
    )


@dataclass(frozen=True, slots=True)
class MessageRow:
    """A message as its receiver reads it."""

    id: int
    kind: MessageKind
    subject: str
    text: str
    path: str
    visible_at: datetime
    sender: str
    seen_at: datetime | None


def messages_of(
    db: sqlite3.Connection, person_id: int, now: datetime, most: int = 100
) -> list[MessageRow]:
    """List what somebody was told by now, the newest first."""
    return fetch(
        db,
        MessageRow,
        """SELECT m.id, m.kind, m.subject, m.text, m.path, m.visible_at,
                  p.given_name || ' ' || p.family_name AS sender, m.seen_at
           FROM message m JOIN person p ON p.id = m.made_by
           WHERE m.person_id = ? AND m.visible_at <= ?
           ORDER BY m.visible_at DESC, m.id DESC LIMIT ?""",
        (person_id, now, most),
    )


def set_seen(db: sqlite3.Connection, message_id: int, person_id: int, at: datetime) -> bool:
    """Remember that its receiver has seen a message; gives whether there is such a one."""
    found = db.execute(
        """UPDATE message SET seen_at = coalesce(seen_at, ?)
           WHERE id = ? AND person_id = ? AND visible_at <= ?""",
        (at, message_id, person_id, at),
    )
    return found.rowcount > 0


def kinds_off(db: sqlite3.Connection, person_id: int) -> set[MessageKind]:
    """Give the kinds that somebody does not want as mail."""
    rows = db.execute("SELECT kind FROM mail_off WHERE person_id = ? ORDER BY kind", (person_id,))
    return {MessageKind(kind) for (kind,) in rows}


def set_kind_off(db: sqlite3.Connection, person_id: int, kind: MessageKind, off: bool) -> None:
    """Say whether somebody wants a kind of message as mail."""
    db.execute("DELETE FROM mail_off WHERE person_id = ? AND kind = ?", (person_id, kind))
    if off:
        db.execute("INSERT INTO mail_off (person_id, kind) VALUES (?, ?)", (person_id, kind))


@dataclass(frozen=True, slots=True)
class SentRow:
    """What was sent about a task at one time: to how many, of whom so many have seen it."""

    kind: MessageKind
    subject: str
    text: str
    made_at: datetime
    sender: str
    people: int
    seen: int
    mailed: int


def sent_about(db: sqlite3.Connection, task_id: int) -> list[SentRow]:
    """List what was sent about a task, the newest first; the text is that of one of them."""
    return fetch(
        db,
        SentRow,
        """SELECT m.kind, m.subject, min(m.text) AS text, m.made_at,
                  p.given_name || ' ' || p.family_name AS sender, count(*) AS people,
                  count(m.seen_at) AS seen, count(l.sent_at) AS mailed
           FROM message m JOIN person p ON p.id = m.made_by LEFT JOIN mail l ON l.message_id = m.id
           WHERE m.task_id = ?
           GROUP BY m.made_at, m.kind, m.subject, p.id
           ORDER BY m.made_at DESC, m.kind, m.subject""",
        (task_id,),
    )
