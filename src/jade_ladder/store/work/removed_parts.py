"""Files and links that students removed from what they have not handed in, and can put back."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.store.shared.rows import fetch_one, insert

_COLUMNS = "draft_of, kind, text, file_name, file_id, sent_hash, entered_at, entered_by"


def remove_from_draft(db: sqlite3.Connection, part_id: int, now: datetime) -> int:
    """Take a part out of a draft, to be put back for a while; gives the number of what was."""
    number = insert(
        db,
        f"""INSERT INTO removed_part ({_COLUMNS}, removed_at)
            SELECT {_COLUMNS}, ? FROM work_part WHERE id = ?""",
        (now, part_id),
    )
    db.execute("DELETE FROM work_part WHERE id = ?", (part_id,))
    return number


@dataclass(frozen=True, slots=True)
class RemovedRow:
    """Something that was removed from the draft of a task, of a file its size."""

    id: int
    task_id: int
    draft_of: int
    size: int
    removed_at: datetime


def removed_part(db: sqlite3.Connection, student_id: int, number: int) -> RemovedRow | None:
    """Give what a student removed."""
    return fetch_one(
        db,
        RemovedRow,
        """SELECT r.id, ts.task_id, r.draft_of, coalesce(f.size, 0) AS size, r.removed_at
           FROM removed_part r JOIN task_student ts ON ts.id = r.draft_of
           LEFT JOIN file f ON f.id = r.file_id
           WHERE r.id = ? AND ts.student_id = ?""",
        (number, student_id),
    )


def put_back(db: sqlite3.Connection, number: int) -> int:
    """Put what was removed back into its draft, behind what is there; gives the part's number."""
    part = insert(
        db,
        f"""INSERT INTO work_part ({_COLUMNS}, position)
            SELECT {_COLUMNS}, 1 + max(1, coalesce(
              (SELECT max(position) FROM work_part p WHERE p.draft_of = removed_part.draft_of), 1))
            FROM removed_part WHERE id = ?""",
        (number,),
    )
    db.execute("DELETE FROM removed_part WHERE id = ?", (number,))
    return part
