"""Signing in: passwords, sessions, and links by which a password is set."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.store.people.people import PERSON, Person
from jade_ladder.store.shared.rows import fetch, fetch_number, fetch_one


def sign_in_secret(db: sqlite3.Connection, name: str, key: str) -> tuple[int, str] | None:
    """Give the number and password hash of the teacher with this e-mail, or of the student with
    this key of a name to sign in with.
    """
    row = db.execute(
        """SELECT id, password_hash FROM person
           WHERE password_hash IS NOT NULL AND ended_at IS NULL
             AND CASE may_teach WHEN 1 THEN lower(email) = lower(?1) ELSE sign_in_key = ?2 END""",
        (name, key),
    ).fetchone()
    return None if row is None else (row[0], row[1])


def set_sign_in_name(db: sqlite3.Connection, person_id: int, name: str, key: str) -> None:
    """Give a student a name to sign in with."""
    db.execute(
        "UPDATE person SET sign_in_name = ?, sign_in_key = ? WHERE id = ?", (name, key, person_id)
    )


def is_sign_in_key_taken(db: sqlite3.Connection, key: str, but: int) -> bool:
    """Whether somebody else signs in by a name with this key."""
    found = fetch_number(db, "SELECT 1 FROM person WHERE sign_in_key = ? AND id <> ?", (key, but))
    return found is not None


def sign_in_name(db: sqlite3.Connection, person_id: int) -> str | None:
    """Give the name that a student signs in with, if they have one."""
    row = db.execute("SELECT sign_in_name FROM person WHERE id = ?", (person_id,)).fetchone()
    return None if row is None else row[0]


def password_of(db: sqlite3.Connection, person_id: int) -> str | None:
    """Give the password hash of a person."""
    row = db.execute("SELECT password_hash FROM person WHERE id = ?", (person_id,)).fetchone()
    return None if row is None else row[0]


def set_password(db: sqlite3.Connection, person_id: int, password_hash: str) -> None:
    """Give a person another password; links that were made for them lead nowhere any more."""
    db.execute("UPDATE person SET password_hash = ? WHERE id = ?", (password_hash, person_id))
    void_invitations(db, person_id)


def add_session(
    db: sqlite3.Connection,
    token_hash: str,
    person_id: int,
    made: datetime,
    expires: datetime,
    device: str,
    idle: bool = False,
) -> None:
    """Remember a sign-in, one that ends when nothing is done for a while where it is `idle`;
    sessions that have run out are swept away.
    """
    db.execute("DELETE FROM session WHERE expires_at <= ?", (made,))
    db.execute(
        """INSERT INTO session (token_hash, person_id, made_at, expires_at, device, idle)
           VALUES (?, ?, ?, ?, ?, ?)""",
        (token_hash, person_id, made, expires, device, idle),
    )


def person_of_session(db: sqlite3.Connection, token_hash: str, now: datetime) -> Person | None:
    """Give the person of a session that has not ended."""
    return fetch_one(
        db,
        Person,
        f"""{PERSON} WHERE id = (
              SELECT person_id FROM session WHERE token_hash = ? AND expires_at > ?)
            AND ended_at IS NULL""",
        (token_hash, now),
    )


def idle_session_ends(db: sqlite3.Connection, token_hash: str) -> datetime | None:
    """Give when a session ends by itself if nothing is done, where it does."""
    row = db.execute(
        "SELECT expires_at FROM session WHERE token_hash = ? AND idle = 1", (token_hash,)
    ).fetchone()
    return None if row is None else datetime.fromisoformat(row[0])


def prolong_session(db: sqlite3.Connection, token_hash: str, expires: datetime) -> None:
    """Let a session last until a later time."""
    db.execute("UPDATE session SET expires_at = ? WHERE token_hash = ?", (expires, token_hash))


def end_session(db: sqlite3.Connection, token_hash: str) -> None:
    """Forget a sign-in."""
    db.execute("DELETE FROM session WHERE token_hash = ?", (token_hash,))


@dataclass(frozen=True, slots=True)
class SessionRow:
    """Where a person is signed in; `device` says on what, in the browser's words."""

    id: int
    made_at: datetime
    device: str
    this: bool


def sessions_of(
    db: sqlite3.Connection, person_id: int, token_hash: str, now: datetime
) -> list[SessionRow]:
    """List where a person is signed in, the newest first; `this` is the session of the token."""
    return fetch(
        db,
        SessionRow,
        """SELECT id, made_at, device, token_hash = ? AS this FROM session
           WHERE person_id = ? AND expires_at > ? ORDER BY made_at DESC, id DESC""",
        (token_hash, person_id, now),
    )


def end_sessions(
    db: sqlite3.Connection, person_id: int, but: str | None = None, number: int | None = None
) -> int:
    """End the sessions of a person, or one of them by its number, but for that of a token; gives
    how many.
    """
    return db.execute(
        """DELETE FROM session
           WHERE person_id = :person AND token_hash IS NOT :but
             AND (:number IS NULL OR id = :number)""",
        {"person": person_id, "but": but, "number": number},
    ).rowcount


def add_invitation(
    db: sqlite3.Connection,
    person_id: int,
    token_hash: str,
    made_by: int,
    made_at: datetime,
    expires_at: datetime,
) -> None:
    """Remember a link by which a person sets their password, in place of earlier ones."""
    void_invitations(db, person_id)
    db.execute(
        """INSERT INTO invitation (person_id, token_hash, made_by, made_at, expires_at)
           VALUES (?, ?, ?, ?, ?)""",
        (person_id, token_hash, made_by, made_at, expires_at),
    )


def void_invitations(db: sqlite3.Connection, person_id: int) -> None:
    """Let the links and codes of a person lead nowhere any more."""
    db.execute("DELETE FROM invitation WHERE person_id = ? AND used_at IS NULL", (person_id,))


def invited(db: sqlite3.Connection, token_hash: str, now: datetime) -> Person | None:
    """Give the person whom a link invites that was not used and has not run out."""
    return fetch_one(
        db,
        Person,
        f"""{PERSON} WHERE ended_at IS NULL AND id = (
              SELECT person_id FROM invitation
              WHERE token_hash = ? AND used_at IS NULL AND expires_at > ?)""",
        (token_hash, now),
    )


def use_invitation(db: sqlite3.Connection, token_hash: str, now: datetime) -> None:
    """Remember that a link was used: it is good for once."""
    db.execute("UPDATE invitation SET used_at = ? WHERE token_hash = ?", (now, token_hash))


def is_email_taken(db: sqlite3.Connection, email: str, but: int | None = None) -> str | None:
    """Name the teacher who has an e-mail, whatever its capitals, if somebody else has it."""
    row = db.execute(
        """SELECT given_name || ' ' || family_name FROM person
           WHERE may_teach = 1 AND lower(email) = lower(?) AND id IS NOT ?""",
        (email, but),
    ).fetchone()
    return None if row is None else row[0]


def teacher_by_email(db: sqlite3.Connection, email: str) -> Person | None:
    """Give the teacher who signs in with an e-mail, whatever its capitals."""
    return fetch_one(
        db,
        Person,
        f"{PERSON} WHERE may_teach = 1 AND ended_at IS NULL AND lower(email) = lower(?)",
        (email,),
    )
