"""The criteria of a revision, with their levels and alignments."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import groupby
from operator import itemgetter

from jade_ladder.core.alignment import AlignmentMap, Basis, Cell
from jade_ladder.core.rubric import Criterion, CriterionKind, CriterionLevel
from jade_ladder.store.shared.rows import fetch, insert


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


@dataclass(frozen=True, slots=True)
class _CriterionRow:
    id: int
    key: str
    title: str
    kind: CriterionKind
    bonus: bool
    half_way: bool
    weight: int | None
    remarks: bool
    any_order: bool


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
        """SELECT id, key, title, kind, bonus, half_way, weight, remarks, any_order
           FROM criterion
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
                row.remarks,
                row.any_order,
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
                 (revision_id, key, position, title, kind, bonus, half_way, weight, remarks,
                  any_order)
               VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)""",
            (
                revision_id,
                criterion.key,
                position,
                criterion.title,
                criterion.kind,
                criterion.bonus,
                criterion.half_way,
                criterion.weight,
                criterion.remarks,
                criterion.any_order,
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


def reword_criteria(
    db: sqlite3.Connection, revision_id: int, criteria: Sequence[Criterion]
) -> None:
    """Write the words and the order of a revision's criteria; keys tell which is which, and rows
    that marks refer to stay.
    """
    db.executemany(
        """UPDATE criterion SET position = ?, title = ?, remarks = ?, any_order = ?
           WHERE revision_id = ? AND key = ?""",
        [
            (place, one.title, one.remarks, one.any_order, revision_id, one.key)
            for place, one in enumerate(criteria)
        ],
    )
    db.executemany(
        """UPDATE criterion_level SET name = ?, descriptor = ?
           WHERE key = ? AND criterion_id = (
             SELECT id FROM criterion WHERE revision_id = ? AND key = ?)""",
        [
            (level.name, level.descriptor, level.key, revision_id, one.key)
            for one in criteria
            for level in one.levels
        ],
    )


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
class OutcomeAlignment:
    """An alignment to an outcome, with the criterion it is of and whose rubric that is."""

    id: int
    outcome_id: int
    rubric_id: int
    rubric: str
    owner_id: int
    criterion: Criterion
    level_ids: tuple[int, ...]
    map: AlignmentMap


def alignments_of_outcomes(
    db: sqlite3.Connection, outcome_ids: Iterable[int]
) -> list[OutcomeAlignment]:
    """List every alignment to these outcomes, of whatever rubric and revision."""
    rows = db.execute(
        """SELECT a.id, a.criterion_id, a.outcome_id, c.revision_id, r.id, r.title, r.owner_id
           FROM json_each(?) o JOIN alignment a ON a.outcome_id = o.value
           JOIN criterion c ON c.id = a.criterion_id JOIN revision v ON v.id = c.revision_id
           JOIN rubric r ON r.id = v.rubric_id
           ORDER BY c.revision_id, a.id""",
        (json.dumps(list(outcome_ids)),),
    ).fetchall()
    found = []
    for revision_id, ties in groupby(rows, key=itemgetter(3)):
        stored = {criterion.id: criterion for criterion in criteria(db, revision_id)}
        for alignment_id, criterion_id, outcome_id, _, rubric_id, rubric, owner_id in ties:
            one = stored[criterion_id]
            (tie,) = (tie for tie in one.alignments if tie.outcome_id == outcome_id)
            found.append(
                OutcomeAlignment(
                    alignment_id,
                    outcome_id,
                    rubric_id,
                    rubric,
                    owner_id,
                    one.criterion,
                    one.level_ids,
                    tie.map,
                )
            )
    return found


def set_alignment_map(
    db: sqlite3.Connection, alignment_id: int, level_ids: Sequence[int], cells: AlignmentMap
) -> None:
    """Give an alignment another map."""
    db.execute("UPDATE alignment SET basis = ? WHERE id = ?", (cells.basis, alignment_id))
    db.executemany(
        """UPDATE alignment_cell SET value = ?, follows = ?, by_hand = ?
           WHERE alignment_id = ? AND level_id = ?""",
        [
            (cell.value, cell.follows, cell.by_hand, alignment_id, level_id)
            for level_id, cell in zip(level_ids, cells.cells, strict=True)
        ],
    )
