"""The texts of a teacher's remark bank, and where each is used."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.core.names import folded
from jade_ladder.core.remark_bank import FullName
from jade_ladder.store.shared.rows import fetch, fetch_number, fetch_one


@dataclass(frozen=True, slots=True)
class BankPlace:
    """Where a remark stands in a mark: on the whole, on a criterion, or on a passage, which may be
    tied to one; with the keys of the criterion and of the level that is chosen there ('': none).
    """

    place: str
    criterion_key: str
    level_key: str

    @classmethod
    def of_criterion(cls, criterion_key: str | None, level_key: str | None) -> BankPlace:
        """The place of the remark on a criterion, or (None) on the whole."""
        if criterion_key is None:
            return cls("whole", "", "")
        return cls(f"on {criterion_key}", criterion_key, level_key or "")

    @classmethod
    def of_passage(cls, key: str, criterion_key: str | None, level_key: str | None) -> BankPlace:
        """The place of a remark on a passage."""
        return cls(f"at {key}", criterion_key or "", level_key or "")


def class_names(db: sqlite3.Connection, task_id: int) -> list[tuple[int, FullName]]:
    """List everybody who is or was a student in the class of a task, with their number."""
    rows = db.execute(
        """SELECT DISTINCT p.id, p.given_name, p.family_name
           FROM task t JOIN membership l ON l.class_id = t.class_id AND l.role = 'student'
           JOIN person p ON p.id = l.person_id WHERE t.id = ? ORDER BY p.id""",
        (task_id,),
    )
    return [(number, FullName(given, family)) for number, given, family in rows]


def names_of_students(db: sqlite3.Connection, teacher_id: int) -> list[FullName]:
    """List everybody who is or was a student in a class that somebody teaches."""
    return fetch(
        db,
        FullName,
        """SELECT DISTINCT p.given_name AS given, p.family_name AS family
           FROM membership t JOIN membership l ON l.class_id = t.class_id AND l.role = 'student'
           JOIN person p ON p.id = l.person_id
           WHERE t.person_id = ? AND t.role = 'teacher' AND t.until IS NULL
           ORDER BY p.family_name, p.given_name""",
        (teacher_id,),
    )


def use(
    db: sqlite3.Connection,
    teacher_id: int,
    mark_id: int,
    place: BankPlace,
    text: str,
    now: datetime,
) -> None:
    """Let a text of the bank, taken into it where it is new, stand at a place of a mark; an empty
    one frees the place. What stood there is used one time less.
    """
    if not text:
        db.execute("DELETE FROM bank_use WHERE mark_id = ? AND place = ?", (mark_id, place.place))
        return
    after = db.execute(
        """INSERT INTO bank_remark (teacher_id, text, words, used_at) VALUES (?, ?, ?, ?)
           ON CONFLICT (teacher_id, text) DO UPDATE SET used_at = excluded.used_at RETURNING id""",
        (teacher_id, text, folded(text), now),
    ).fetchone()[0]
    db.execute(
        """INSERT INTO bank_use (mark_id, place, criterion_key, level_key, remark_id, teacher_id,
                                 used_at)
           VALUES (?, ?, ?, ?, ?, ?, ?)
           ON CONFLICT (mark_id, place) DO UPDATE SET criterion_key = excluded.criterion_key,
             level_key = excluded.level_key, remark_id = excluded.remark_id,
             teacher_id = excluded.teacher_id, used_at = excluded.used_at""",
        (mark_id, place.place, place.criterion_key, place.level_key, after, teacher_id, now),
    )


def level_chosen(
    db: sqlite3.Connection, mark_id: int, criterion_key: str, level_id: int | None
) -> None:
    """Let what is remarked on a criterion of a mark be of the level that is chosen there now."""
    db.execute(
        """UPDATE bank_use
           SET level_key = coalesce((SELECT key FROM criterion_level WHERE id = ?), '')
           WHERE mark_id = ? AND criterion_key = ?""",
        (level_id, mark_id, criterion_key),
    )


@dataclass(frozen=True, slots=True)
class OfferRow:
    """A text that is offered: how near it was used (0 at this level of this criterion, 1 on this
    criterion, 2 elsewhere), and how often there.
    """

    id: int
    text: str
    pinned: bool
    nearness: int
    uses: int


def offers(
    db: sqlite3.Connection,
    teacher_id: int,
    criterion_key: str,
    level_key: str,
    words: str,
    most: int,
) -> list[OfferRow]:
    """List what is offered for a criterion at a level, the first first, among the texts that
    contain `words` (folded; '' takes all).
    """
    found: dict[int, OfferRow] = {}
    for nearness, level in ((0, level_key), (1, None)):
        if not criterion_key or (nearness == 0 and not level) or len(found) >= most:
            continue
        rows = fetch(
            db,
            OfferRow,
            """SELECT r.id, r.text, r.pinned, ?1 AS nearness, u.uses
               FROM (SELECT remark_id, count(*) AS uses, max(used_at) AS used_at FROM bank_use
                     WHERE teacher_id = ?2 AND criterion_key = ?3
                       AND (?4 IS NULL OR level_key = ?4) GROUP BY remark_id) u
               JOIN bank_remark r ON r.id = u.remark_id
               WHERE r.deleted = 0 AND (?5 = '' OR instr(r.words, ?5) > 0)
               ORDER BY r.pinned DESC, u.uses DESC, u.used_at DESC, r.id DESC LIMIT ?6""",
            (nearness, teacher_id, criterion_key, level, words, most + len(found)),
        )
        for row in rows:
            found.setdefault(row.id, row)
    if len(found) < most:
        rows = fetch(
            db,
            OfferRow,
            """SELECT id, text, pinned, 2 AS nearness, uses FROM bank_remark
               WHERE teacher_id = ?1 AND deleted = 0 AND (?2 = '' OR instr(words, ?2) > 0)
               ORDER BY pinned DESC, uses DESC, used_at DESC, id DESC LIMIT ?3""",
            (teacher_id, words, most + len(found)),
        )
        for row in rows:
            found.setdefault(row.id, row)
    return list(found.values())[:most]


@dataclass(frozen=True, slots=True)
class BankRow:
    """A text of the bank; `criteria` are the titles of those it is used on, one to a line."""

    id: int
    text: str
    uses: int
    used_at: datetime
    pinned: bool
    criteria: str


_ROW = """SELECT r.id, r.text, r.uses, r.used_at, r.pinned,
                 coalesce((SELECT group_concat(title, char(10)) FROM (
                   SELECT DISTINCT c.title FROM bank_use u
                   JOIN mark m ON m.id = u.mark_id
                   JOIN attempt a ON a.id = m.attempt_id
                   JOIN task_student ts ON ts.id = a.task_student_id
                   JOIN task t ON t.id = ts.task_id
                   JOIN criterion c ON c.revision_id = t.revision_id AND c.key = u.criterion_key
                   WHERE u.remark_id = r.id ORDER BY c.title LIMIT 3)), '') AS criteria
          FROM bank_remark r"""


def bank(db: sqlite3.Connection, teacher_id: int, words: str, most: int) -> list[BankRow]:
    """List the texts of a bank that contain `words` (folded), pinned ones first, then those that
    are used most; at most so many.
    """
    return fetch(
        db,
        BankRow,
        f"""{_ROW} WHERE r.teacher_id = ?1 AND r.deleted = 0
              AND (?2 = '' OR instr(r.words, ?2) > 0)
            ORDER BY r.pinned DESC, r.uses DESC, r.used_at DESC, r.id DESC LIMIT ?3""",
        (teacher_id, words, most),
    )


def count_bank(db: sqlite3.Connection, teacher_id: int, words: str) -> int:
    """Count the texts of a bank that contain `words` (folded)."""
    sql = """SELECT count(*) FROM bank_remark
             WHERE teacher_id = ?1 AND deleted = 0 AND (?2 = '' OR instr(words, ?2) > 0)"""
    return fetch_number(db, sql, (teacher_id, words)) or 0


def bank_remark(db: sqlite3.Connection, teacher_id: int, remark_id: int) -> BankRow | None:
    """Give a text of somebody's bank, deleted or not."""
    return fetch_one(
        db, BankRow, f"{_ROW} WHERE r.teacher_id = ? AND r.id = ?", (teacher_id, remark_id)
    )


def same_text(db: sqlite3.Connection, teacher_id: int, text: str) -> int | None:
    """Give the number of the same text in a bank, deleted ones included."""
    sql = "SELECT id FROM bank_remark WHERE teacher_id = ? AND text = ?"
    return fetch_number(db, sql, (teacher_id, text))


def change(db: sqlite3.Connection, remark_id: int, text: str, pinned: bool, now: datetime) -> None:
    """Write a text of a bank anew; it stays from now on, used or not."""
    db.execute(
        """UPDATE bank_remark SET text = ?, words = ?, pinned = ?, kept = 1, deleted = 0,
                                  used_at = CASE WHEN text = ?1 THEN used_at ELSE ? END
           WHERE id = ?""",
        (text, folded(text), pinned, now, remark_id),
    )


def merge(db: sqlite3.Connection, from_id: int, into_id: int) -> None:
    """Let one text take the place of another wherever it is used; the other goes."""
    db.execute("UPDATE bank_use SET remark_id = ? WHERE remark_id = ?", (into_id, from_id))
    db.execute("DELETE FROM bank_remark WHERE id = ?", (from_id,))


def add(db: sqlite3.Connection, teacher_id: int, text: str, now: datetime) -> int:
    """Put a text into a bank by hand; gives its number."""
    row: tuple[int] = db.execute(
        """INSERT INTO bank_remark (teacher_id, text, words, used_at, kept) VALUES (?, ?, ?, ?, 1)
           ON CONFLICT (teacher_id, text) DO UPDATE SET kept = 1, deleted = 0 RETURNING id""",
        (teacher_id, text, folded(text), now),
    ).fetchone()
    return row[0]


def set_deleted(db: sqlite3.Connection, remark_id: int, deleted: bool) -> None:
    """Delete a text from a bank, or undo that."""
    db.execute("UPDATE bank_remark SET deleted = ? WHERE id = ?", (deleted, remark_id))
