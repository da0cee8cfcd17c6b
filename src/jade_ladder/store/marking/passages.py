"""Remarks on passages of the work, version by version of a mark."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.core.passage import Place
from jade_ladder.formats.annotation import read_place, write_place
from jade_ladder.store.marking.adjustments import next_version
from jade_ladder.store.shared.rows import fetch_number, insert
from jade_ladder.store.shared.versions import in_version


@dataclass(frozen=True, slots=True)
class Passage:
    """A remark on a passage of a part, on a criterion (by its key) or on the whole (None)."""

    part_id: int
    criterion_key: str | None
    text: str
    place: Place


@dataclass(frozen=True, slots=True)
class PassageRow(Passage):
    """A passage that stands, by its own key, since a version of the mark."""

    key: str
    since_version: int


_COLUMNS = "part_id, criterion_key, text, place, key, since_version"


def _row(row: tuple[int, str | None, str, str, str, int]) -> PassageRow:
    part_id, criterion_key, text, place, key, since = row
    return PassageRow(part_id, criterion_key, text, read_place(place), key, since)


def passages_at(
    db: sqlite3.Connection, mark_id: int, version: int | None = None
) -> list[PassageRow]:
    """List the passages that stood in a version of a mark, or (None) that stand now."""
    rows = db.execute(
        f"""SELECT {_COLUMNS} FROM passage
            WHERE mark_id = ?1 AND place <> '' AND CASE WHEN ?2 IS NULL THEN until_version IS NULL
              ELSE {in_version("", "?2")} END
            ORDER BY id""",
        (mark_id, version),
    )
    return [_row(row) for row in rows]


def last_said(db: sqlite3.Connection, mark_id: int, key: str) -> tuple[Passage | None, int]:
    """Give what stands of a passage now (None: nothing, or it was deleted), and since which version
    (0: it never was).
    """
    row = db.execute(
        f"""SELECT {_COLUMNS} FROM passage
            WHERE mark_id = ? AND key = ? AND until_version IS NULL""",
        (mark_id, key),
    ).fetchone()
    if row is None:
        return None, 0
    if not row[3]:
        return None, row[5]
    found = _row(row)
    said = Passage(found.part_id, found.criterion_key, found.text, found.place)
    return said, found.since_version


def count_passages(db: sqlite3.Connection, mark_id: int) -> int:
    """Count the passages that stand in a mark."""
    sql = "SELECT count(*) FROM passage WHERE mark_id = ? AND until_version IS NULL AND place <> ''"
    return fetch_number(db, sql, (mark_id,)) or 0


def is_of_attempt(db: sqlite3.Connection, part_id: int, attempt_id: int) -> bool:
    """Whether a part is, or was until it was replaced, of an attempt."""
    sql = "SELECT 1 FROM work_part WHERE id = ? AND coalesce(attempt_id, replaced_of) = ?"
    return db.execute(sql, (part_id, attempt_id)).fetchone() is not None


def append_passage(
    db: sqlite3.Connection,
    mark_id: int,
    key: str,
    passage: Passage | None,
    part_id: int,
    now: datetime,
    person_id: int,
) -> int:
    """Append what stands of a passage from now on (None: it is deleted) as a new version of the
    mark; gives the version.
    """
    version = next_version(db, mark_id, now)
    db.execute(
        """UPDATE passage SET until_version = ?
           WHERE mark_id = ? AND key = ? AND until_version IS NULL""",
        (version, mark_id, key),
    )
    insert(
        db,
        """INSERT INTO passage (mark_id, key, part_id, criterion_key, text, place, since_version,
                                made_at, made_by)
           VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)""",
        (
            mark_id,
            key,
            part_id,
            passage and passage.criterion_key,
            passage.text if passage else "",
            write_place(passage.place) if passage else "",
            version,
            now,
            person_id,
        ),
    )
    return version


def last_said_in(
    db: sqlite3.Connection, mark_id: int, version: int
) -> list[tuple[str, str | None, str]]:
    """List what was said of passages in a version of a mark: the key, the criterion's key and the
    words, none where it was deleted.
    """
    rows = db.execute(
        """SELECT key, criterion_key, text FROM passage WHERE mark_id = ? AND since_version = ?
           ORDER BY id""",
        (mark_id, version),
    )
    return rows.fetchall()
