"""Rubrics, their revisions, criteria, levels and alignments."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.core.alignment import AlignmentMap, Basis, Cell
from jade_ladder.core.rubric import Criterion, CriterionKind, CriterionLevel
from jade_ladder.store.rows import fetch, fetch_number, fetch_one, insert


@dataclass(frozen=True, slots=True)
class RubricRow:
    """A rubric with its newest revision; `tasks` is how many tasks use any revision."""

    id: int
    title: str
    version: int
    changed_at: datetime
    revision_id: int
    number: int
    final_at: datetime | None
    criteria: int
    tasks: int


@dataclass(frozen=True, slots=True)
class StoredAlignment:
    """The tie from a criterion to an outcome, with a cell per level, lowest first."""

    outcome_id: int
    weight: int
    map: AlignmentMap


@dataclass(frozen=True, slots=True)
class StoredCriterion:
    """A criterion of one revision, with the numbers of its rows and its alignments."""

    id: int
    criterion: Criterion
    level_ids: tuple[int, ...]
    alignments: tuple[StoredAlignment, ...]


_RUBRIC = """
  SELECT r.id, r.title, r.version, r.changed_at, v.id, v.number, v.final_at,
         (SELECT count(*) FROM criterion c WHERE c.revision_id = v.id),
         (SELECT count(*) FROM task t JOIN revision u ON u.id = t.revision_id
          WHERE u.rubric_id = r.id)
  FROM rubric r JOIN revision v ON v.rubric_id = r.id
    AND v.number = (SELECT max(number) FROM revision WHERE rubric_id = r.id)"""


def rubrics(db: sqlite3.Connection, owner_id: int) -> list[RubricRow]:
    """List a teacher's rubrics, the last changed first."""
    return fetch(
        db,
        RubricRow,
        f"{_RUBRIC} WHERE r.owner_id = ? ORDER BY r.changed_at DESC, r.id DESC",
        (owner_id,),
    )


def rubric(db: sqlite3.Connection, rubric_id: int, owner_id: int) -> RubricRow | None:
    """Give one of a teacher's rubrics."""
    return fetch_one(
        db, RubricRow, f"{_RUBRIC} WHERE r.id = ? AND r.owner_id = ?", (rubric_id, owner_id)
    )


def rubric_of_revision(db: sqlite3.Connection, revision_id: int) -> tuple[int, str]:
    """Give the number and title of the rubric that a revision belongs to."""
    row: tuple[int, str] = db.execute(
        """SELECT r.id, r.title FROM revision v JOIN rubric r ON r.id = v.rubric_id
           WHERE v.id = ?""",
        (revision_id,),
    ).fetchone()
    return row


def add_rubric(db: sqlite3.Connection, owner_id: int, title: str, now: datetime) -> int:
    """Add a rubric with an empty draft as its first revision; give the rubric's number."""
    number = insert(
        db,
        "INSERT INTO rubric (owner_id, title, changed_at) VALUES (?, ?, ?)",
        (owner_id, title, now),
    )
    db.execute("INSERT INTO revision (rubric_id, number) VALUES (?, 1)", (number,))
    return number


def touch_rubric(db: sqlite3.Connection, rubric_id: int, title: str, now: datetime) -> None:
    """Set a rubric's title and count its version up."""
    db.execute(
        "UPDATE rubric SET title = ?, changed_at = ?, version = version + 1 WHERE id = ?",
        (title, now, rubric_id),
    )


def set_final(db: sqlite3.Connection, revision_id: int, final_at: datetime | None) -> None:
    """Make a revision final, or a draft again with None."""
    db.execute("UPDATE revision SET final_at = ? WHERE id = ?", (final_at, revision_id))


def delete_rubric(db: sqlite3.Connection, rubric_id: int) -> None:
    """Delete a rubric that no task uses."""
    db.execute("DELETE FROM rubric WHERE id = ?", (rubric_id,))


def tasks_of_rubric(db: sqlite3.Connection, rubric_id: int) -> list[tuple[int, str, str]]:
    """List the tasks that use a rubric: number, title, name of the class."""
    return db.execute(
        """SELECT t.id, t.title, c.name FROM task t
           JOIN revision v ON v.id = t.revision_id JOIN school_class c ON c.id = t.class_id
           WHERE v.rubric_id = ? ORDER BY t.due_at IS NULL, t.due_at, t.id""",
        (rubric_id,),
    ).fetchall()


@dataclass(frozen=True, slots=True)
class _CriterionRow:
    id: int
    key: str
    title: str
    kind: CriterionKind
    bonus: bool
    half_way: bool
    weight: int | None


@dataclass(frozen=True, slots=True)
class _LevelRow:
    id: int
    criterion_id: int
    key: str
    name: str
    descriptor: str
    points: int


@dataclass(frozen=True, slots=True)
class _CellRow:
    criterion_id: int
    outcome_id: int
    weight: int
    basis: Basis
    value: int | None
    follows: int | None
    by_hand: bool


def criteria(db: sqlite3.Connection, revision_id: int) -> list[StoredCriterion]:
    """Give a revision's criteria in order, each with its levels and alignments."""
    levels: dict[int, list[_LevelRow]] = {}
    for level in fetch(
        db,
        _LevelRow,
        """SELECT l.id, l.criterion_id, l.key, l.name, l.descriptor, l.points
           FROM criterion_level l JOIN criterion c ON c.id = l.criterion_id
           WHERE c.revision_id = ? ORDER BY l.criterion_id, l.position""",
        (revision_id,),
    ):
        levels.setdefault(level.criterion_id, []).append(level)
    alignments = _alignments(db, revision_id)
    rows = fetch(
        db,
        _CriterionRow,
        """SELECT id, key, title, kind, bonus, half_way, weight FROM criterion
           WHERE revision_id = ? ORDER BY position, id""",
        (revision_id,),
    )
    return [
        StoredCriterion(
            row.id,
            Criterion(
                row.key,
                row.title,
                tuple(
                    CriterionLevel(level.key, level.name, level.points, level.descriptor)
                    for level in levels.get(row.id, [])
                ),
                row.kind,
                row.bonus,
                row.half_way,
                row.weight,
            ),
            tuple(level.id for level in levels.get(row.id, [])),
            tuple(alignments.get(row.id, [])),
        )
        for row in rows
    ]


def _alignments(db: sqlite3.Connection, revision_id: int) -> dict[int, list[StoredAlignment]]:
    ties: dict[tuple[int, int], list[_CellRow]] = {}
    for cell in fetch(
        db,
        _CellRow,
        """SELECT a.criterion_id, a.outcome_id, a.weight, a.basis, ac.value, ac.follows, ac.by_hand
           FROM alignment a JOIN criterion c ON c.id = a.criterion_id
           JOIN alignment_cell ac ON ac.alignment_id = a.id
           JOIN criterion_level l ON l.id = ac.level_id
           WHERE c.revision_id = ? ORDER BY a.id, l.position""",
        (revision_id,),
    ):
        ties.setdefault((cell.criterion_id, cell.outcome_id), []).append(cell)
    found: dict[int, list[StoredAlignment]] = {}
    for (criterion_id, outcome_id), rows in ties.items():
        cells = tuple(Cell(row.value, row.follows, row.by_hand) for row in rows)
        alignment = StoredAlignment(outcome_id, rows[0].weight, AlignmentMap(rows[0].basis, cells))
        found.setdefault(criterion_id, []).append(alignment)
    return found


def replace_criteria(
    db: sqlite3.Connection,
    revision_id: int,
    drafts: Sequence[tuple[Criterion, Sequence[StoredAlignment]]],
) -> None:
    """Write a draft's criteria anew; the keys tell which is which."""
    db.execute("DELETE FROM criterion WHERE revision_id = ?", (revision_id,))
    for position, (criterion, alignments) in enumerate(drafts):
        criterion_id = insert(
            db,
            """INSERT INTO criterion
                 (revision_id, key, position, title, kind, bonus, half_way, weight)
               VALUES (?, ?, ?, ?, ?, ?, ?, ?)""",
            (
                revision_id,
                criterion.key,
                position,
                criterion.title,
                criterion.kind,
                criterion.bonus,
                criterion.half_way,
                criterion.weight,
            ),
        )
        level_ids = [
            insert(
                db,
                """INSERT INTO criterion_level
                     (criterion_id, key, position, name, descriptor, points)
                   VALUES (?, ?, ?, ?, ?, ?)""",
                (criterion_id, level.key, place, level.name, level.descriptor, level.points),
            )
            for place, level in enumerate(criterion.levels)
        ]
        for alignment in alignments:
            _add_alignment(db, criterion_id, level_ids, alignment)


def _add_alignment(
    db: sqlite3.Connection,
    criterion_id: int,
    level_ids: Sequence[int],
    alignment: StoredAlignment,
) -> None:
    number = insert(
        db,
        "INSERT INTO alignment (criterion_id, outcome_id, weight, basis) VALUES (?, ?, ?, ?)",
        (criterion_id, alignment.outcome_id, alignment.weight, alignment.map.basis),
    )
    db.executemany(
        """INSERT INTO alignment_cell (alignment_id, level_id, value, follows, by_hand)
           VALUES (?, ?, ?, ?, ?)""",
        [
            (number, level_id, cell.value, cell.follows, cell.by_hand)
            for level_id, cell in zip(level_ids, alignment.map.cells, strict=True)
        ],
    )


@dataclass(frozen=True, slots=True)
class CellOnScale:
    """One cell of an alignment to an outcome on a certain scale."""

    alignment_id: int
    level_id: int
    basis: Basis
    value: int | None
    follows: int | None
    by_hand: bool


def cells_on_scale(db: sqlite3.Connection, scale_id: int) -> list[CellOnScale]:
    """List the cells of every alignment to an outcome on this scale, alignment by alignment."""
    return fetch(
        db,
        CellOnScale,
        """SELECT ac.alignment_id, ac.level_id, a.basis, ac.value, ac.follows, ac.by_hand
           FROM alignment_cell ac JOIN alignment a ON a.id = ac.alignment_id
           JOIN outcome o ON o.id = a.outcome_id JOIN criterion_level l ON l.id = ac.level_id
           WHERE o.scale_id = ? ORDER BY ac.alignment_id, l.position""",
        (scale_id,),
    )


def set_cell_value(
    db: sqlite3.Connection, alignment_id: int, level_id: int, value: int | None
) -> None:
    """Move one cell to another value."""
    db.execute(
        "UPDATE alignment_cell SET value = ? WHERE alignment_id = ? AND level_id = ?",
        (value, alignment_id, level_id),
    )


def is_revision_used(db: sqlite3.Connection, revision_id: int) -> bool:
    """Whether a task uses a revision."""
    found = fetch_number(db, "SELECT 1 FROM task WHERE revision_id = ? LIMIT 1", (revision_id,))
    return found is not None
