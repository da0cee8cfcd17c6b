"""The students of a class, and their days in it."""

from __future__ import annotations

import json
import sqlite3
from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime

from jade_ladder.core.names import Named
from jade_ladder.store.shared.rows import fetch, fetch_number, fetch_one, insert


@dataclass(frozen=True, slots=True)
class StudentRow(Named):
    """A student of a class, with their days in it; `until` is the first day no longer in it."""

    id: int
    given_name: str
    family_name: str
    identifier: str | None
    since: date
    until: date | None


def students(db: sqlite3.Connection, class_id: int, on: date | None = None) -> list[StudentRow]:
    """List a class's students by family name: all there ever were, or those there on a day.

    A student who came twice is listed once, with the latest time.
    """
    return fetch(
        db,
        StudentRow,
        """SELECT p.id, p.given_name, p.family_name, p.identifier, m.since, m.until
           FROM membership m JOIN person p ON p.id = m.person_id
           WHERE m.class_id = :class AND m.role = 'student'
             AND m.id = (SELECT max(l.id) FROM membership l
                         WHERE l.class_id = m.class_id AND l.person_id = m.person_id
                           AND l.role = 'student'
                           AND (:on IS NULL OR (l.since <= :on AND coalesce(l.until > :on, 1))))
           ORDER BY p.family_name COLLATE names, p.given_name COLLATE names, p.id""",
        {"class": class_id, "on": on},
    )


def present_by_class(db: sqlite3.Connection, teacher_id: int) -> Counter[int]:
    """Count the students who have not left, by class of a teacher."""
    rows = db.execute(
        """SELECT m.class_id, count(DISTINCT m.person_id)
           FROM membership t JOIN membership m ON m.class_id = t.class_id
           WHERE t.person_id = ? AND t.role = 'teacher' AND t.until IS NULL
             AND m.role = 'student' AND m.until IS NULL
           GROUP BY m.class_id ORDER BY m.class_id""",
        (teacher_id,),
    )
    return Counter(dict(rows.fetchall()))


@dataclass(frozen=True, slots=True)
class Membership:
    """A student's time in a class; `until` is the first day no longer in it."""

    student_id: int
    since: date
    until: date | None


def memberships(db: sqlite3.Connection, class_id: int) -> list[Membership]:
    """List the times of all students in a class, by family name."""
    return fetch(
        db,
        Membership,
        """SELECT m.person_id AS student_id, m.since, m.until
           FROM membership m JOIN person p ON p.id = m.person_id
           WHERE m.class_id = ? AND m.role = 'student'
           ORDER BY p.family_name COLLATE names, p.given_name COLLATE names, p.id, m.id""",
        (class_id,),
    )


def there_on(members: Iterable[Membership], day: date) -> list[int]:
    """Give the students who are in the class on a day, each once."""
    there = (
        one.student_id
        for one in members
        if one.since <= day and (one.until is None or day < one.until)
    )
    return list(dict.fromkeys(there))


def add_member(
    db: sqlite3.Connection, class_id: int, person_id: int, role: str, since: date
) -> int:
    """Make a person a member of a class from a day on."""
    return insert(
        db,
        "INSERT INTO membership (class_id, person_id, role, since) VALUES (?, ?, ?, ?)",
        (class_id, person_id, role, since),
    )


def add_members(
    db: sqlite3.Connection, class_id: int, role: str, people: Iterable[tuple[int, date]]
) -> None:
    """Make people members of a class, each from a day on."""
    db.executemany(
        "INSERT INTO membership (class_id, person_id, role, since) VALUES (?, ?, ?, ?)",
        ((class_id, person_id, role, since) for person_id, since in people),
    )


# What a student has in a class: work or a mark, being excused, a note, or times of leaving.
_AT_WORK = """EXISTS (SELECT 1 FROM task_student ts JOIN task t ON t.id = ts.task_id
                     WHERE ts.student_id = p.id AND t.class_id = :class)
             OR EXISTS (SELECT 1 FROM note n WHERE n.student_id = p.id AND n.class_id = :class)
             OR (SELECT count(*) + count(m.until) FROM membership m
                 WHERE m.person_id = p.id AND m.class_id = :class) > 1"""


def judged(db: sqlite3.Connection, people: Iterable[int]) -> list[str]:
    """Name those of some students who have a judgement or an outcome that is not expected of them,
    in whatever class, by number.
    """
    condition = """EXISTS (SELECT 1 FROM not_expected e WHERE e.student_id = p.id)
                OR EXISTS (SELECT 1 FROM judgement j WHERE j.student_id = p.id)"""
    return _names_where(db, condition, 0, people)


def left(db: sqlite3.Connection, class_id: int, people: Iterable[int]) -> list[str]:
    """Name those of some students who have left a class, by number."""
    condition = """NOT EXISTS (
      SELECT 1 FROM membership m WHERE m.person_id = p.id AND m.class_id = :class
        AND m.role = 'student' AND m.until IS NULL)"""
    return _names_where(db, condition, class_id, people)


def at_work(db: sqlite3.Connection, class_id: int, people: Iterable[int]) -> list[str]:
    """Name those of some students who have work, a mark or a note in a class, are excused there, or
    have left or come again, by number.
    """
    return _names_where(db, _AT_WORK, class_id, people)


def _names_where(
    db: sqlite3.Connection, condition: str, class_id: int, people: Iterable[int]
) -> list[str]:
    rows = db.execute(
        f"""SELECT p.given_name || ' ' || p.family_name FROM person p
           WHERE p.id IN (SELECT value FROM json_each(:people)) AND ({condition})
           ORDER BY p.id""",
        {"people": json.dumps(list(people)), "class": class_id},
    )
    return [name for (name,) in rows]


def remove_members(db: sqlite3.Connection, class_id: int, people: Iterable[int]) -> None:
    """Forget that some students were in a class."""
    db.execute(
        """DELETE FROM membership WHERE class_id = ? AND role = 'student'
           AND person_id IN (SELECT value FROM json_each(?))""",
        (class_id, json.dumps(list(people))),
    )


def remove_latest(db: sqlite3.Connection, class_id: int, people: Iterable[int]) -> None:
    """Forget the latest time of some students in a class; earlier ones stay."""
    db.execute(
        """DELETE FROM membership WHERE id IN (
             SELECT max(id) FROM membership WHERE class_id = ? AND role = 'student'
               AND person_id IN (SELECT value FROM json_each(?)) GROUP BY person_id)""",
        (class_id, json.dumps(list(people))),
    )


def latest_membership(db: sqlite3.Connection, class_id: int, person_id: int) -> Membership:
    """Give the latest time of a student in a class; there must be one."""
    found = fetch_one(
        db,
        Membership,
        """SELECT person_id AS student_id, since, until FROM membership
           WHERE class_id = ? AND person_id = ? AND role = 'student' ORDER BY id DESC LIMIT 1""",
        (class_id, person_id),
    )
    assert found is not None, "an own student has been in the class"
    return found


def set_left(db: sqlite3.Connection, class_id: int, person_id: int, left_on: date | None) -> None:
    """Set the first day on which a student is no longer in a class, of their latest time there."""
    db.execute(
        """UPDATE membership SET until = ?
           WHERE id = (SELECT max(id) FROM membership
                       WHERE class_id = ? AND person_id = ? AND role = 'student')""",
        (left_on, class_id, person_id),
    )


def is_student(db: sqlite3.Connection, class_id: int, person_id: int) -> bool:
    """Whether a person is or was a student of a class."""
    found = fetch_number(
        db,
        """SELECT 1 FROM membership
           WHERE class_id = ? AND person_id = ? AND role = 'student' LIMIT 1""",
        (class_id, person_id),
    )
    return found is not None


def taught_by_others(db: sqlite3.Connection, student_id: int, teacher_id: int) -> bool:
    """Whether somebody else teaches a student now."""
    found = fetch_number(
        db,
        """SELECT 1 FROM membership s JOIN membership t ON t.class_id = s.class_id
           WHERE s.person_id = ? AND s.role = 'student' AND s.until IS NULL
             AND t.role = 'teacher' AND t.until IS NULL AND t.person_id <> ? LIMIT 1""",
        (student_id, teacher_id),
    )
    return found is not None


@dataclass(frozen=True, slots=True)
class SignInRow(Named):
    """A student who is in a class now, and whether they can sign in: `joined` once they have a
    password, `slip_until` while a slip waits to be used.
    """

    id: int
    given_name: str
    family_name: str
    sign_in_name: str | None
    joined: bool
    slip_until: datetime | None


def signing_in(db: sqlite3.Connection, class_id: int, on: date) -> list[SignInRow]:
    """List the students of a class on a day by family name, with how they sign in."""
    return fetch(
        db,
        SignInRow,
        """SELECT p.id, p.given_name, p.family_name, p.sign_in_name,
                  p.password_hash IS NOT NULL AS joined,
                  (SELECT max(i.expires_at) FROM invitation i
                   WHERE i.person_id = p.id AND i.used_at IS NULL) AS slip_until
           FROM person p
           WHERE p.id IN (SELECT person_id FROM membership
                          WHERE class_id = :class AND role = 'student' AND since <= :on
                            AND (until IS NULL OR until > :on))
           ORDER BY p.family_name COLLATE names, p.given_name COLLATE names, p.id""",
        {"class": class_id, "on": on},
    )


def teaches_somewhere(db: sqlite3.Connection, person_id: int) -> bool:
    """Whether a person teaches a class, or may."""
    found = fetch_number(
        db,
        """SELECT 1 FROM person p WHERE p.id = ?1 AND (p.may_teach = 1 OR EXISTS (
             SELECT 1 FROM membership
             WHERE person_id = ?1 AND role = 'teacher' AND until IS NULL))""",
        (person_id,),
    )
    return found is not None


def has_joined(db: sqlite3.Connection, person_id: int) -> bool:
    """Whether a person has set a password of their own."""
    found = fetch_number(
        db, "SELECT 1 FROM person WHERE id = ? AND password_hash IS NOT NULL", (person_id,)
    )
    return found is not None
