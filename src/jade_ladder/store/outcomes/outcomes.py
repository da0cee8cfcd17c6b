"""Outcomes, and which class teaches which."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date

from jade_ladder.core.methods import Method, MethodKind
from jade_ladder.store.shared.rows import fetch, fetch_one, insert


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


def outcome_heads(db: sqlite3.Connection, outcome_ids: Iterable[int]) -> dict[int, tuple[str, int]]:
    """Give code and scale of outcomes, by number, whosever they are."""
    rows = db.execute(
        """SELECT o.id, o.code, o.scale_id FROM json_each(?) n JOIN outcome o ON o.id = n.value
           ORDER BY o.id""",
        (json.dumps(list(outcome_ids)),),
    )
    return {number: (code, scale_id) for number, code, scale_id in rows}


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


def set_own_method(
    db: sqlite3.Connection, class_id: int, outcome_id: int, method: Method | None
) -> None:
    """Give an outcome a method of its own in a class, or the class's (None); counts its version
    up.
    """
    kind, newest, last = (method.kind, method.newest, method.last) if method else (None,) * 3
    db.execute(
        """UPDATE class_outcome SET method = ?, newest = coalesce(?, newest),
                                    last = coalesce(?, last)
           WHERE class_id = ? AND outcome_id = ?""",
        (kind, newest, last, class_id, outcome_id),
    )
    db.execute("UPDATE outcome SET version = version + 1 WHERE id = ?", (outcome_id,))


def set_minimum(db: sqlite3.Connection, class_id: int, outcome_id: int, minimum: int) -> None:
    """Set how much evidence an outcome needs in a class; counts its version up."""
    db.execute(
        "UPDATE class_outcome SET minimum = ? WHERE class_id = ? AND outcome_id = ?",
        (minimum, class_id, outcome_id),
    )
    db.execute("UPDATE outcome SET version = version + 1 WHERE id = ?", (outcome_id,))


def retire_outcome(
    db: sqlite3.Connection, class_id: int, outcome_id: int, active_until: date | None
) -> None:
    """Retire an outcome from a day on, or restore it with None."""
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


@dataclass(frozen=True, slots=True)
class OutcomeElsewhere:
    """An outcome of a teacher's that a class does not teach; `classes` names those that do."""

    id: int
    code: str
    title: str
    description: str
    strand_id: int | None
    scale_id: int
    strand: str
    classes: str


def outcomes_elsewhere(
    db: sqlite3.Connection, person_id: int, class_id: int
) -> list[OutcomeElsewhere]:
    """List the outcomes that are a teacher's own, the school's, or taught in one of their classes,
    and that a class has never taught, in the order of strands and codes.
    """
    return fetch(
        db,
        OutcomeElsewhere,
        """SELECT o.id, o.code, o.title, o.description, o.strand_id, o.scale_id,
                  coalesce(s.title, '') AS strand,
                  coalesce(group_concat(DISTINCT c.name), '') AS classes
           FROM outcome o
           LEFT JOIN strand s ON s.id = o.strand_id
           LEFT JOIN class_outcome co ON co.outcome_id = o.id AND co.active_until IS NULL
             AND co.class_id IN (SELECT class_id FROM membership WHERE person_id = :person
                                 AND role = 'teacher' AND until IS NULL)
           LEFT JOIN school_class c ON c.id = co.class_id
           WHERE (o.owner_id = :person OR o.owner_id IS NULL OR co.class_id IS NOT NULL)
             AND o.id NOT IN (SELECT outcome_id FROM class_outcome WHERE class_id = :class)
           GROUP BY o.id
           ORDER BY s.position IS NULL, s.position, s.id, o.code COLLATE NOCASE, o.id""",
        {"person": person_id, "class": class_id},
    )


def also_taught(db: sqlite3.Connection, class_id: int) -> dict[int, list[str]]:
    """Give the names of the other classes that teach a class's outcomes now, by outcome."""
    found: dict[int, list[str]] = {}
    for outcome_id, name in db.execute(
        """SELECT mine.outcome_id, c.name FROM class_outcome mine
           JOIN class_outcome other ON other.outcome_id = mine.outcome_id
             AND other.class_id <> mine.class_id AND other.active_until IS NULL
           JOIN school_class c ON c.id = other.class_id
           WHERE mine.class_id = ? ORDER BY mine.outcome_id, c.name, c.id""",
        (class_id,),
    ):
        found.setdefault(outcome_id, []).append(name)
    return found


def taught_without(db: sqlite3.Connection, outcome_id: int, teacher_id: int) -> list[str]:
    """Give the names of the classes of others that teach an outcome or taught it."""
    rows = db.execute(
        """SELECT c.name FROM class_outcome co JOIN school_class c ON c.id = co.class_id
           WHERE co.outcome_id = ? AND c.id NOT IN (
             SELECT class_id FROM membership
             WHERE person_id = ? AND role = 'teacher' AND until IS NULL)
           ORDER BY c.name, c.id""",
        (outcome_id, teacher_id),
    )
    return [name for (name,) in rows]


def set_owner(db: sqlite3.Connection, outcome_id: int, owner_id: int | None) -> None:
    """Make an outcome a teacher's or, with None, the school's, with the strands that it is in: they
    are the school's as long as one of the school's outcomes is in them.
    """
    db.execute(
        "UPDATE outcome SET owner_id = ?, version = version + 1 WHERE id = ?",
        (owner_id, outcome_id),
    )
    db.execute(
        """WITH around AS (
             SELECT s.id, s.parent_id FROM outcome o JOIN strand s ON s.id = o.strand_id
             WHERE o.id = :outcome)
           UPDATE strand SET owner_id = :owner
           WHERE id IN (SELECT id FROM around UNION SELECT parent_id FROM around)
             AND (:owner IS NULL OR NOT EXISTS (
               SELECT 1 FROM outcome o JOIN strand s ON s.id = o.strand_id
               WHERE o.owner_id IS NULL AND (s.id = strand.id OR s.parent_id = strand.id)))""",
        {"outcome": outcome_id, "owner": owner_id},
    )


def copy_class_outcomes(
    db: sqlite3.Connection, from_class: int, to_class: int, on: date, since: date
) -> None:
    """Let a class teach what another one teaches on a day, from a day on: in the same order, by the
    same methods.
    """
    db.execute(
        """INSERT INTO class_outcome
             (class_id, outcome_id, position, method, newest, last, minimum, active_from)
           SELECT :to, outcome_id, position, method, newest, last, minimum, :since
           FROM class_outcome
           WHERE class_id = :from AND (active_until IS NULL OR active_until > :on)""",
        {"to": to_class, "from": from_class, "on": on, "since": since},
    )
