"""Frameworks that come in from files and go out: outcomes, strands and rubrics by their lasting
identifiers, many at once.
"""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date

from jade_ladder.store.shared.rows import fetch, fetch_number


@dataclass(frozen=True, slots=True)
class KnownOutcome:
    """An outcome of a teacher, of the school, or in a class; `taught` says whether the class
    teaches it now. The school's has no owner.
    """

    id: int
    owner_id: int | None
    guid: str
    code: str
    title: str
    description: str
    strand_id: int | None
    framework: str | None
    version: int
    in_class: bool
    taught: bool
    retired_on: date | None


def known_outcomes(db: sqlite3.Connection, person_id: int, class_id: int) -> list[KnownOutcome]:
    """List the outcomes of a teacher, of the school, and whosever are in a class, and how the class
    stands to them.
    """
    return fetch(
        db,
        KnownOutcome,
        """SELECT o.id, o.owner_id, o.guid, o.code, o.title, o.description, o.strand_id,
                  o.framework, o.version, co.class_id IS NOT NULL AS in_class,
                  co.class_id IS NOT NULL AND co.active_until IS NULL AS taught,
                  co.active_until AS retired_on
           FROM outcome o LEFT JOIN class_outcome co ON co.outcome_id = o.id AND co.class_id = ?2
           WHERE o.owner_id = ?1 OR o.owner_id IS NULL OR co.class_id IS NOT NULL ORDER BY o.id""",
        (person_id, class_id),
    )


def taken_guids(db: sqlite3.Connection, table: str, guids: Iterable[str]) -> set[str]:
    """Give which of these identifiers are taken among outcomes, strands or rubrics, whosever."""
    sql = {
        "outcome": "SELECT guid FROM outcome JOIN json_each(?) g ON guid = g.value",
        "strand": "SELECT guid FROM strand JOIN json_each(?) g ON guid = g.value",
        "rubric": "SELECT guid FROM rubric JOIN json_each(?) g ON guid = g.value",
    }[table]
    return {guid for (guid,) in db.execute(sql, (json.dumps(list(guids)),))}


def own_guids(db: sqlite3.Connection, table: str, owner_id: int) -> dict[str, int]:
    """Give a teacher's strands or rubrics by identifier."""
    sql = {
        "strand": "SELECT guid, id FROM strand WHERE owner_id = ?1 OR owner_id IS NULL",
        "rubric": "SELECT guid, id FROM rubric WHERE owner_id = ?1",
    }[table]
    return dict(db.execute(sql, (owner_id,)).fetchall())


def guids_of(db: sqlite3.Connection, table: str, numbers: Iterable[int]) -> dict[int, str]:
    """Give the identifiers of some strands or rubrics, whosever they are."""
    sql = {
        "strand": "SELECT id, guid FROM strand WHERE id IN (SELECT value FROM json_each(?))",
        "rubric": "SELECT id, guid FROM rubric WHERE id IN (SELECT value FROM json_each(?))",
    }[table]
    return dict(db.execute(sql, (json.dumps(sorted(numbers)),)).fetchall())


def class_guid(db: sqlite3.Connection, class_id: int) -> str:
    """Give the identifier of a class's own document."""
    (guid,) = db.execute("SELECT guid FROM school_class WHERE id = ?", (class_id,)).fetchone()
    return str(guid)


def add_outcomes(db: sqlite3.Connection, rows: Sequence[tuple[object, ...]]) -> list[int]:
    """Add outcomes, each as guid, owner, strand, scale, code, title, description and framework;
    give their numbers.
    """
    first = (fetch_number(db, "SELECT max(id) FROM outcome") or 0) + 1
    numbers = list(range(first, first + len(rows)))
    db.executemany(
        """INSERT INTO outcome
             (id, guid, owner_id, strand_id, scale_id, code, title, description, framework)
           VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)""",
        [(number, *row) for number, row in zip(numbers, rows, strict=True)],
    )
    return numbers


def teach_outcomes(
    db: sqlite3.Connection, class_id: int, outcome_ids: Iterable[int], active_from: date
) -> None:
    """Let a class teach outcomes, after its others; those it had retired are brought back."""
    last = fetch_number(
        db,
        "SELECT coalesce(max(position), 0) FROM class_outcome WHERE class_id = ?",
        (class_id,),
    )
    db.executemany(
        """INSERT INTO class_outcome (class_id, outcome_id, position, active_from)
           VALUES (?, ?, ?, ?)
           ON CONFLICT DO UPDATE SET active_until = NULL""",
        [
            (class_id, outcome_id, position, active_from)
            for position, outcome_id in enumerate(outcome_ids, start=(last or 0) + 1)
        ],
    )


def change_outcomes(db: sqlite3.Connection, rows: Iterable[tuple[object, ...]]) -> None:
    """Change outcomes' words, each as code, title, description, strand, framework and number."""
    db.executemany(
        """UPDATE outcome SET code = ?, title = ?, description = ?, strand_id = ?, framework = ?,
                              version = version + 1
           WHERE id = ?""",
        rows,
    )


def retire_again(
    db: sqlite3.Connection, class_id: int, were: Iterable[tuple[int, date | str]]
) -> None:
    """Let outcomes of a class be retired again, each from the day on which it was."""
    db.executemany(
        "UPDATE class_outcome SET active_until = ? WHERE class_id = ? AND outcome_id = ?",
        [(day, class_id, outcome_id) for outcome_id, day in were],
    )


def stop_teaching(
    db: sqlite3.Connection, class_id: int, outcome_ids: Iterable[int], day: date
) -> None:
    """Retire outcomes of a class from a day on."""
    db.execute(
        """UPDATE class_outcome SET active_until = ?
           WHERE class_id = ? AND outcome_id IN (SELECT value FROM json_each(?))""",
        (day, class_id, json.dumps(list(outcome_ids))),
    )


def forget_outcomes(db: sqlite3.Connection, class_id: int, outcome_ids: Iterable[int]) -> None:
    """Undo that a class teaches outcomes, as if it never had."""
    wanted = (class_id, json.dumps(list(outcome_ids)))
    for table in ("class_outcome", "method_before"):
        db.execute(
            f"""DELETE FROM {table}
               WHERE class_id = ? AND outcome_id IN (SELECT value FROM json_each(?))""",
            wanted,
        )


def unused_outcomes(db: sqlite3.Connection, outcome_ids: Iterable[int]) -> list[int]:
    """Give which of these outcomes nothing is aligned to, no class teaches, no student was excepted
    from, and no note or judgement is on.
    """
    rows = db.execute(
        """SELECT o.id FROM json_each(?) n JOIN outcome o ON o.id = n.value
           WHERE NOT EXISTS (SELECT 1 FROM alignment WHERE outcome_id = o.id)
             AND NOT EXISTS (SELECT 1 FROM class_outcome WHERE outcome_id = o.id)
             AND NOT EXISTS (SELECT 1 FROM not_expected WHERE outcome_id = o.id)
             AND NOT EXISTS (SELECT 1 FROM note WHERE outcome_id = o.id)
             AND NOT EXISTS (SELECT 1 FROM judgement WHERE outcome_id = o.id)
           ORDER BY o.id""",
        (json.dumps(list(outcome_ids)),),
    )
    return [number for (number,) in rows]


def aligned_outcomes(db: sqlite3.Connection, outcome_ids: Iterable[int]) -> set[int]:
    """Give which of these outcomes a criterion is aligned to."""
    rows = db.execute(
        """SELECT DISTINCT a.outcome_id FROM json_each(?) n
           JOIN alignment a ON a.outcome_id = n.value""",
        (json.dumps(list(outcome_ids)),),
    )
    return {number for (number,) in rows}


def delete_outcomes(db: sqlite3.Connection, outcome_ids: Iterable[int]) -> None:
    """Delete outcomes that nothing uses."""
    db.execute(
        "DELETE FROM outcome WHERE id IN (SELECT value FROM json_each(?))",
        (json.dumps(list(outcome_ids)),),
    )
