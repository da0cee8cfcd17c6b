"""The teachers of the school: their accounts and their classes."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import date, datetime

from jade_ladder.core.names import Named
from jade_ladder.store.shared.rows import fetch, fetch_number, fetch_one


@dataclass(frozen=True, slots=True)
class TeacherRow(Named):
    """A teacher's account: `joined` once there is a password, `ended_at` since when it is ended."""

    id: int
    given_name: str
    family_name: str
    email: str
    administrator: bool
    joined: bool
    ended_at: datetime | None


_TEACHER = """SELECT id, given_name, family_name, coalesce(email, '') AS email, administrator,
                     password_hash IS NOT NULL AS joined, ended_at
              FROM person"""


def teachers(db: sqlite3.Connection) -> list[TeacherRow]:
    """List the accounts of all teachers by name, ended ones too."""
    return fetch(
        db,
        TeacherRow,
        f"""{_TEACHER} WHERE may_teach = 1
            ORDER BY family_name COLLATE names, given_name COLLATE names, id""",
    )


def teacher(db: sqlite3.Connection, person_id: int) -> TeacherRow | None:
    """Give a teacher's account."""
    return fetch_one(db, TeacherRow, f"{_TEACHER} WHERE may_teach = 1 AND id = ?", (person_id,))


@dataclass(frozen=True, slots=True)
class TaughtClass:
    """A class that is not set aside and one of its teachers; `alone` where there is no other."""

    class_id: int
    name: str
    teacher_id: int
    responsible: bool
    alone: bool


def taught_classes(db: sqlite3.Connection) -> list[TaughtClass]:
    """List who teaches which classes now, by class."""
    return fetch(
        db,
        TaughtClass,
        """SELECT c.id AS class_id, c.name, m.person_id AS teacher_id,
                  c.responsible_id IS m.person_id AS responsible,
                  count(*) OVER (PARTITION BY c.id) = 1 AS alone
           FROM school_class c JOIN membership m ON m.class_id = c.id
           WHERE m.role = 'teacher' AND m.until IS NULL AND c.set_aside_at IS NULL
           ORDER BY c.name, c.id, m.id""",
    )


@dataclass(frozen=True, slots=True)
class UntaughtClass:
    """A class that nobody teaches any more; `set_aside` where it is over."""

    id: int
    name: str
    set_aside: bool


def untaught_classes(db: sqlite3.Connection) -> list[UntaughtClass]:
    """List the classes without a teacher, by name."""
    return fetch(
        db,
        UntaughtClass,
        """SELECT c.id, c.name, c.set_aside_at IS NOT NULL AS set_aside FROM school_class c
           WHERE NOT EXISTS (SELECT 1 FROM membership m
                             WHERE m.class_id = c.id AND m.role = 'teacher' AND m.until IS NULL)
           ORDER BY c.name, c.id""",
    )


def other_administrators(db: sqlite3.Connection, person_id: int) -> bool:
    """Whether somebody else who can sign in is an administrator."""
    found = fetch_number(
        db,
        """SELECT 1 FROM person WHERE administrator = 1 AND may_teach = 1 AND ended_at IS NULL
           AND password_hash IS NOT NULL AND id <> ? LIMIT 1""",
        (person_id,),
    )
    return found is not None


def end_account(db: sqlite3.Connection, person_id: int, at: datetime | None) -> None:
    """End an account, or, with None, restore it."""
    db.execute("UPDATE person SET ended_at = ? WHERE id = ?", (at, person_id))


@dataclass(frozen=True, slots=True)
class ClassTeacher(Named):
    """A teacher of a class; `responsible` is the one who answers for it."""

    id: int
    given_name: str
    family_name: str
    responsible: bool


def class_teachers(db: sqlite3.Connection, class_id: int) -> list[ClassTeacher]:
    """List the teachers of a class, the responsible one first."""
    return fetch(
        db,
        ClassTeacher,
        """SELECT p.id, p.given_name, p.family_name, c.responsible_id IS p.id AS responsible
           FROM membership m JOIN person p ON p.id = m.person_id
           JOIN school_class c ON c.id = m.class_id
           WHERE m.class_id = ? AND m.role = 'teacher' AND m.until IS NULL
           ORDER BY c.responsible_id IS NOT p.id, p.family_name COLLATE names, p.id""",
        (class_id,),
    )


def set_responsible(db: sqlite3.Connection, class_id: int, person_id: int) -> None:
    """Say who answers for a class."""
    db.execute("UPDATE school_class SET responsible_id = ? WHERE id = ?", (person_id, class_id))


def stop_teaching(
    db: sqlite3.Connection, person_id: int, until: date, class_id: int | None = None
) -> None:
    """Let a teacher no longer teach a class, or any."""
    db.execute(
        """UPDATE membership SET until = max(?, since)
           WHERE person_id = ? AND role = 'teacher' AND until IS NULL
             AND (? IS NULL OR class_id = ?)""",
        (until, person_id, class_id, class_id),
    )
