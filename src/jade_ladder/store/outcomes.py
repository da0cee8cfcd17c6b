"""Strands, outcomes, and which class teaches which."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import date

from jade_ladder.core.methods import MethodKind
from jade_ladder.store.rows import fetch, fetch_number, fetch_one, insert


@dataclass(frozen=True, slots=True)
class StrandRow:
    """A named group of outcomes."""

    id: int
    title: str
    position: int


@dataclass(frozen=True, slots=True)
class OutcomeRow:
    """An outcome as one class teaches it; `method` is None where the class's holds."""

    id: int
    guid: str
    owner_id: int | None
    strand_id: int | None
    scale_id: int
    code: str
    title: str
    description: str
    version: int
    position: int
    method: MethodKind | None
    newest: int
    last: int
    minimum: int
    active_from: date
    active_until: date | None


_OUTCOME = """SELECT o.id, o.guid, o.owner_id, o.strand_id, o.scale_id, o.code, o.title,
                     o.description, o.version, co.position, co.method, co.newest, co.last,
                     co.minimum, co.active_from, co.active_until
              FROM class_outcome co JOIN outcome o ON o.id = co.outcome_id
              LEFT JOIN strand s ON s.id = o.strand_id"""
_ORDER = "ORDER BY s.position IS NULL, s.position, s.id, co.position, o.id"


def strands(db: sqlite3.Connection, owner_id: int) -> list[StrandRow]:
    """List the strands of a teacher and of the school, in order."""
    return fetch(
        db,
        StrandRow,
        """SELECT id, title, position FROM strand
           WHERE owner_id = ? OR owner_id IS NULL ORDER BY position, id""",
        (owner_id,),
    )


def add_strand(db: sqlite3.Connection, owner_id: int, title: str) -> int:
    """Add a strand after the teacher's others; give its number."""
    return insert(
        db,
        """INSERT INTO strand (owner_id, title, position)
           SELECT ?1, ?2, coalesce(max(position), 0) + 1 FROM strand
           WHERE owner_id = ?1 OR owner_id IS NULL""",
        (owner_id, title),
    )


def change_strand(db: sqlite3.Connection, strand_id: int, title: str) -> None:
    """Rename a strand."""
    db.execute("UPDATE strand SET title = ? WHERE id = ?", (title, strand_id))


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
    """Whether an outcome is in this strand."""
    found = fetch_number(db, "SELECT 1 FROM outcome WHERE strand_id = ? LIMIT 1", (strand_id,))
    return found is not None


def class_outcomes(db: sqlite3.Connection, class_id: int) -> list[OutcomeRow]:
    """List all outcomes of a class, retired ones too, in the order of strands and their own."""
    return fetch(db, OutcomeRow, f"{_OUTCOME} WHERE co.class_id = ? {_ORDER}", (class_id,))


def class_outcome(db: sqlite3.Connection, class_id: int, outcome_id: int) -> OutcomeRow | None:
    """Give one outcome as a class teaches it."""
    return fetch_one(
        db, OutcomeRow, f"{_OUTCOME} WHERE co.class_id = ? AND o.id = ?", (class_id, outcome_id)
    )


@dataclass(frozen=True, slots=True)
class OwnOutcome:
    """An outcome that a teacher may align to."""

    id: int
    code: str
    title: str
    scale_id: int
    active: bool


def own_outcomes(db: sqlite3.Connection, person_id: int) -> list[OwnOutcome]:
    """List the outcomes that are a teacher's own, the school's, or taught in one of their classes,
    in the order of strands and classes; `active` where one of their classes teaches it now.
    """
    return fetch(
        db,
        OwnOutcome,
        """SELECT o.id, o.code, o.title, o.scale_id,
                  max(co.outcome_id IS NOT NULL AND co.active_until IS NULL) AS active
           FROM outcome o
           LEFT JOIN strand s ON s.id = o.strand_id
           LEFT JOIN class_outcome co ON co.outcome_id = o.id AND co.class_id IN (
             SELECT class_id FROM membership
             WHERE person_id = :person AND role = 'teacher' AND until IS NULL)
           WHERE o.owner_id = :person OR o.owner_id IS NULL OR co.class_id IS NOT NULL
           GROUP BY o.id
           ORDER BY s.position IS NULL, s.position, s.id, min(co.position), o.id""",
        {"person": person_id},
    )


def add_outcome(
    db: sqlite3.Connection,
    guid: str,
    owner_id: int,
    strand_id: int | None,
    scale_id: int,
    code: str,
    title: str,
    description: str,
) -> int:
    """Add an outcome; give its number."""
    return insert(
        db,
        """INSERT INTO outcome (guid, owner_id, strand_id, scale_id, code, title, description)
           VALUES (?, ?, ?, ?, ?, ?, ?)""",
        (guid, owner_id, strand_id, scale_id, code, title, description),
    )


def teach_outcome(
    db: sqlite3.Connection, class_id: int, outcome_id: int, active_from: date
) -> None:
    """Let a class teach an outcome, after its others."""
    db.execute(
        """INSERT INTO class_outcome (class_id, outcome_id, position, active_from)
           SELECT ?1, ?2, coalesce(max(position), 0) + 1, ?3
           FROM class_outcome WHERE class_id = ?1""",
        (class_id, outcome_id, active_from),
    )


def change_outcome(
    db: sqlite3.Connection,
    outcome_id: int,
    strand_id: int | None,
    code: str,
    title: str,
    description: str,
) -> None:
    """Change an outcome's words and place, and count its version up."""
    db.execute(
        """UPDATE outcome SET strand_id = ?, code = ?, title = ?, description = ?,
                              version = version + 1
           WHERE id = ?""",
        (strand_id, code, title, description, outcome_id),
    )


def change_class_outcome(
    db: sqlite3.Connection,
    class_id: int,
    outcome_id: int,
    method: MethodKind | None,
    newest: int,
    last: int,
    minimum: int,
) -> None:
    """Change how one outcome's mastery is worked out in one class; counts its version up."""
    db.execute(
        """UPDATE class_outcome SET method = ?, newest = ?, last = ?, minimum = ?
           WHERE class_id = ? AND outcome_id = ?""",
        (method, newest, last, minimum, class_id, outcome_id),
    )
    db.execute("UPDATE outcome SET version = version + 1 WHERE id = ?", (outcome_id,))


def retire_outcome(
    db: sqlite3.Connection, class_id: int, outcome_id: int, active_until: date | None
) -> None:
    """Retire an outcome from a day on, or bring it back with None."""
    db.execute(
        "UPDATE class_outcome SET active_until = ? WHERE class_id = ? AND outcome_id = ?",
        (active_until, class_id, outcome_id),
    )


def order_outcomes(db: sqlite3.Connection, class_id: int, outcome_ids: list[int]) -> None:
    """Put a class's outcomes in the order given."""
    db.executemany(
        "UPDATE class_outcome SET position = ? WHERE class_id = ? AND outcome_id = ?",
        [(position, class_id, outcome_id) for position, outcome_id in enumerate(outcome_ids, 1)],
    )
