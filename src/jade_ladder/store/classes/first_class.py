"""The class that took a student first, whose teachers answer for them at the school."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable, Mapping

# Whose teacher a person is now (of any class, or of the class that took the student first).
_TEACHERS = """SELECT s.person_id, t.person_id
       FROM membership s JOIN membership t ON t.class_id = s.class_id
       JOIN person p ON p.id = t.person_id
       WHERE s.person_id IN (SELECT value FROM json_each(:students)) AND s.role = 'student'
         AND t.role = 'teacher' AND t.until IS NULL AND p.ended_at IS NULL"""
_FIRST = """(SELECT min(f.id) FROM membership f
             WHERE f.person_id = s.person_id AND f.role = 'student')"""


def teachers_of(db: sqlite3.Connection, students: Iterable[int]) -> Mapping[int, set[int]]:
    """Give who teaches some students now, and who teaches the class that took them first, by
    student.
    """
    sql = f"{_TEACHERS} AND (s.until IS NULL OR s.id = {_FIRST})"
    return _by_student(db, sql, students)


def first_teachers(db: sqlite3.Connection, students: Iterable[int]) -> Mapping[int, set[int]]:
    """Give the active teachers of the class that took some students first, by student."""
    return _by_student(db, f"{_TEACHERS} AND s.id = {_FIRST}", students)


def _by_student(
    db: sqlite3.Connection, sql: str, students: Iterable[int]
) -> Mapping[int, set[int]]:
    numbers = list(students)
    found: dict[int, set[int]] = {number: set() for number in numbers}
    for student_id, teacher_id in db.execute(sql, {"students": json.dumps(numbers)}):
        found[student_id].add(teacher_id)
    return found


def administrators(db: sqlite3.Connection) -> set[int]:
    """Give the administrators who can sign in."""
    rows = db.execute(
        """SELECT id FROM person WHERE administrator = 1 AND ended_at IS NULL
           AND password_hash IS NOT NULL ORDER BY id"""
    )
    return {number for (number,) in rows}


def emails(db: sqlite3.Connection, class_id: int) -> dict[int, tuple[str, int | None]]:
    """Give the e-mails of a class's students and who wrote each, by student; none of who has
    none.
    """
    rows = db.execute(
        """SELECT DISTINCT p.id, p.email, p.email_by
           FROM membership m JOIN person p ON p.id = m.person_id
           WHERE m.class_id = ? AND m.role = 'student' AND p.email IS NOT NULL ORDER BY p.id""",
        (class_id,),
    )
    return {number: (email, by) for number, email, by in rows}
