"""Strands: named groups of outcomes, some within another."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass

from jade_ladder.store.shared.rows import fetch, fetch_number, insert, new_guid


@dataclass(frozen=True, slots=True)
class StrandRow:
    """A named group of outcomes; `parent_id` is the strand it is within; `schools` where it is the
    school's and no teacher's, `in_use` where outcomes are in it, of whichever class.
    """

    id: int
    title: str
    parent_id: int | None
    position: int
    schools: bool
    in_use: bool


def strands(db: sqlite3.Connection, owner_id: int) -> list[StrandRow]:
    """List the strands of a teacher and of the school, and those of colleagues that a class of
    theirs has outcomes in, in order.
    """
    return fetch(
        db,
        StrandRow,
        """WITH taught AS (
             SELECT o.strand_id AS id FROM membership m
             JOIN class_outcome co ON co.class_id = m.class_id
             JOIN outcome o ON o.id = co.outcome_id
             WHERE m.person_id = :person AND m.role = 'teacher' AND m.until IS NULL)
           SELECT id, title, parent_id, position, owner_id IS NULL AS schools,
                  EXISTS (SELECT 1 FROM outcome WHERE strand_id = strand.id) AS in_use
           FROM strand
           WHERE owner_id = :person OR owner_id IS NULL OR id IN taught
             OR id IN (SELECT parent_id FROM strand WHERE id IN taught)
           ORDER BY position, id""",
        {"person": owner_id},
    )


def strands_by_id(
    db: sqlite3.Connection, strand_ids: Iterable[int | None]
) -> list[tuple[int, str]]:
    """List some strands, whosever they are, by number and title in order."""
    return db.execute(
        """SELECT id, title FROM strand WHERE id IN (SELECT value FROM json_each(?))
           ORDER BY position, id""",
        (json.dumps(list(strand_ids)),),
    ).fetchall()


def add_strand(
    db: sqlite3.Connection,
    owner_id: int,
    title: str,
    parent_id: int | None = None,
    guid: str | None = None,
) -> int:
    """Add a strand after the teacher's others; give its number."""
    return insert(
        db,
        """INSERT INTO strand (owner_id, title, parent_id, guid, position)
           SELECT ?1, ?2, ?3, ?4, coalesce(max(position), 0) + 1 FROM strand
           WHERE owner_id = ?1 OR owner_id IS NULL""",
        (owner_id, title, parent_id, guid or new_guid()),
    )


def change_strand(
    db: sqlite3.Connection, strand_id: int, title: str, parent_id: int | None
) -> None:
    """Change a strand's title and the strand it is within."""
    db.execute(
        "UPDATE strand SET title = ?, parent_id = ? WHERE id = ?", (title, parent_id, strand_id)
    )


def order_strands(db: sqlite3.Connection, strand_ids: list[int]) -> None:
    """Put strands in the order given."""
    db.executemany(
        "UPDATE strand SET position = ? WHERE id = ?",
        [(position, strand_id) for position, strand_id in enumerate(strand_ids, start=1)],
    )


def delete_strand(db: sqlite3.Connection, strand_id: int) -> None:
    """Delete a strand that no outcome is in."""
    db.execute("DELETE FROM strand WHERE id = ?", (strand_id,))


def strand_is_used(db: sqlite3.Connection, strand_id: int) -> bool:
    """Whether an outcome or another strand is in this strand."""
    found = fetch_number(
        db,
        """SELECT 1 FROM outcome WHERE strand_id = ?1
           UNION ALL SELECT 1 FROM strand WHERE parent_id = ?1 LIMIT 1""",
        (strand_id,),
    )
    return found is not None
