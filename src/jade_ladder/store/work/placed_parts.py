"""Where a part of work is, and who may see it now."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.store.files.files import FileRow
from jade_ladder.store.shared.rows import fetch_one
from jade_ladder.store.work.kinds import HANDS_IN
from jade_ladder.store.work.parts import PartKind


@dataclass(frozen=True, slots=True)
class PlacedPart:
    """A part, and where it is: the task, whose it is, and whether it is not handed in yet."""

    id: int
    kind: PartKind
    file_id: int | None
    file_name: str | None
    task_id: int
    student_id: int
    entered_by: int
    drafted: bool


_PLACED = """SELECT p.id, p.kind, p.file_id, p.file_name, ts.task_id, ts.student_id, p.entered_by,
                    p.draft_of IS NOT NULL AS drafted
             FROM work_part p
             LEFT JOIN attempt a ON a.id = coalesce(p.attempt_id, p.replaced_of)
             JOIN task_student ts ON ts.id = coalesce(p.draft_of, a.task_student_id)
             JOIN task t ON t.id = ts.task_id
             JOIN membership l ON l.class_id = t.class_id AND l.person_id = :person
             WHERE p.id = :part"""


def part_of_teacher(db: sqlite3.Connection, person_id: int, part_id: int) -> PlacedPart | None:
    """Give a part of what was handed in, in a class that somebody teaches now."""
    return fetch_one(
        db,
        PlacedPart,
        f"""{_PLACED} AND p.draft_of IS NULL AND l.role = 'teacher' AND l.until IS NULL""",
        {"person": person_id, "part": part_id},
    )


def part_of_student(
    db: sqlite3.Connection, person_id: int, part_id: int, now: datetime
) -> PlacedPart | None:
    """Give a part of somebody's own work, handed in or not, in a class that they are or were in.
    What a teacher noted of them at other kinds of tasks they see once it is handed back.
    """
    return fetch_one(
        db,
        PlacedPart,
        f"""{_PLACED} AND l.role = 'student' AND ts.student_id = :person
              AND ({HANDS_IN} OR p.entered_by = ts.student_id OR EXISTS (
                SELECT 1 FROM teachers_mark m JOIN hand_back h ON h.mark_id = m.id
                WHERE m.attempt_id = a.id AND h.taken_back_at IS NULL
                  AND h.visible_at <= :now))
            LIMIT 1""",
        {"person": person_id, "part": part_id, "now": now},
    )


def file_of_part(db: sqlite3.Connection, part_id: int) -> FileRow | None:
    """Give the file of a part, if it is one."""
    return fetch_one(
        db,
        FileRow,
        """SELECT f.id, f.hash, f.size, f.kind, f.media_type
           FROM work_part p JOIN file f ON f.id = p.file_id WHERE p.id = ?""",
        (part_id,),
    )
