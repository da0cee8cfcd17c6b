"""The criteria of a revision, with their levels and alignments."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import lru_cache
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

    def level_key(self, level_id: int | None) -> str | None:
        """Give the key of one of its levels, which is the same in every revision."""
        if level_id not in self.level_ids:
            return None
        return self.criterion.levels[self.level_ids.index(level_id)].key


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
    levels: str
    cells: str


def criteria(
    db: sqlite3.Connection, revision_id: int | None, asked: str | None = None
) -> list[StoredCriterion]:
    """Give a revision's criteria in order, with levels and alignments, in one statement; or those
    that a task asks, whose keys are a JSON array.
    """
    rows = fetch(
        db,
        _CriterionRow,
        """SELECT c.id, c.key, c.title, c.kind, c.bonus, c.half_way, c.weight, c.remarks,
                  c.any_order,
                  (SELECT json_group_array(json_array(l.position, l.id, l.key, l.name, l.points,
                                                      l.descriptor))
                   FROM criterion_level l WHERE l.criterion_id = c.id) AS levels,
                  (SELECT json_group_array(json_array(a.id, l.position, a.outcome_id, a.weight,
                                                      a.basis, ac.value, ac.follows, ac.by_hand))
                   FROM alignment a JOIN alignment_cell ac ON ac.alignment_id = a.id
                   JOIN criterion_level l ON l.id = ac.level_id
                   WHERE a.criterion_id = c.id) AS cells
           FROM criterion c WHERE c.revision_id = ? ORDER BY c.position, c.id""",
        (revision_id,),
    )
    return asked_of([_stored(row) for row in rows], asked)


def asked_of(criteria: list[StoredCriterion], asked: str | None) -> list[StoredCriterion]:
    """Give those of some criteria whose keys are in a JSON array; all where there is none."""
    if asked is None:
        return criteria
    keys = set(json.loads(asked))
    return [one for one in criteria if one.criterion.key in keys]


@lru_cache(maxsize=1024)
def _stored(row: _CriterionRow) -> StoredCriterion:
    # Kept by all that is in the row: a rubric is read at every save.
    # What SQL gathers in an array has no order of its own: by position here.
    levels = sorted(json.loads(row.levels))
    alignments = []
    in_order = sorted(json.loads(row.cells), key=itemgetter(0, 1))
    for _, of_alignment in groupby(in_order, itemgetter(0)):
        cells = list(of_alignment)
        _, _, outcome_id, weight, basis, *_ = cells[0]
        found = tuple(Cell(value, follows, bool(hand)) for *_, value, follows, hand in cells)
        alignments.append(StoredAlignment(outcome_id, weight, AlignmentMap(Basis(basis), found)))
    return StoredCriterion(
        row.id,
        Criterion(
            row.key,
            row.title,
            tuple(
                CriterionLevel(key, name, points, descriptor)
                for _, _, key, name, points, descriptor in levels
            ),
            row.kind,
            row.bonus,
            row.half_way,
            row.weight,
            row.remarks,
            row.any_order,
        ),
        tuple(level[1] for level in levels),
        tuple(alignments),
    )


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
