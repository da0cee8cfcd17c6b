"""The cells of walls, kept while the process that reads them lives: after a new mark only the row
of its student is worked out.

What a cell comes of is compared, so that nothing has to say that it changed: of the evidence by the
stamp that the database gives it, of all else by itself.
"""

from __future__ import annotations

import sqlite3
from collections import OrderedDict
from collections.abc import Mapping
from dataclasses import dataclass, field
from threading import Lock
from typing import NamedTuple
from weakref import WeakKeyDictionary

from jade_ladder.service.evidence.class_standing import Frame, WallCell
from jade_ladder.store.evidence.evidence import evidence_stamps
from jade_ladder.store.shared.connection import Database
from jade_ladder.store.work import tasks as task_store

MOST_CELLS = 100_000
"""So many cells are kept at most, some 25 MB."""


class _Row(NamedTuple):
    """The cells of a student, and what of the student they come of."""

    comes_of: object
    cells: tuple[WallCell, ...]


@dataclass(frozen=True, slots=True)
class _KeptWall:
    """The rows of a class, by student, and what of the class they come of."""

    comes_of: object
    rows: Mapping[int, _Row]

    @property
    def size(self) -> int:
        """How many cells it has."""
        return sum(len(row.cells) for row in self.rows.values())


@dataclass(slots=True)
class _KeptWalls:
    """Walls by class, the one looked at last at the end."""

    _walls: OrderedDict[int, _KeptWall] = field(default_factory=OrderedDict)
    _lock: Lock = field(default_factory=Lock)

    def rows(self, class_id: int, comes_of: object) -> Mapping[int, _Row]:
        """Give what is kept of a class, if it still is what it comes of."""
        with self._lock:
            found = self._walls.get(class_id)
        return found.rows if found and found.comes_of == comes_of else {}

    def keep(self, class_id: int, wall: _KeptWall) -> None:
        """Keep a wall, and let go of those not looked at for longest where there are too many."""
        with self._lock:
            self._walls[class_id] = wall
            self._walls.move_to_end(class_id)
            size = sum(one.size for one in self._walls.values())
            while size > MOST_CELLS:
                size -= self._walls.popitem(last=False)[1].size


_KEPT: WeakKeyDictionary[Database, _KeptWalls] = WeakKeyDictionary()


def cells_of(
    database: Database, db: sqlite3.Connection, frame: Frame
) -> tuple[tuple[WallCell, ...], ...]:
    """Give the cells of the students of a class on its outcomes, row by row; of today, those that
    are kept where what they come of is the same. Part of the reading that loaded the frame.
    """
    if not frame.is_today:
        worked_out = _work_out(db, frame, {one.id: None for one in frame.students})
        return tuple(row.cells for row in worked_out.values())
    walls = _KEPT.setdefault(database, _KeptWalls())
    of_class = _of_class(db, frame)
    of_students = _of_students(db, frame)
    before = walls.rows(frame.klass.id, of_class)
    kept = {
        number: before[number]
        for number, comes_of in of_students.items()
        if number in before and before[number].comes_of == comes_of
    }
    changed = {number: of for number, of in of_students.items() if number not in kept}
    rows = {**kept, **_work_out(db, frame, changed)}
    walls.keep(frame.klass.id, _KeptWall(of_class, {**before, **rows}))
    return tuple(rows[student.id].cells for student in frame.students)


def _of_class(db: sqlite3.Connection, frame: Frame) -> object:
    return (
        frame.day,
        tuple((one.id, frame.courses.of_outcome(one.id)) for one in frame.outcomes),
        frame.courses.history.zone,
        frame.thin_below,
        task_store.attempts_rules(db),
    )


def _of_students(db: sqlite3.Connection, frame: Frame) -> dict[int, object]:
    stamps = evidence_stamps(db, frame.limits)
    lifted: dict[int, set[int]] = {}
    for student, outcome in frame.lifted:
        lifted.setdefault(student, set()).add(outcome)
    judged: dict[int, list[object]] = {}
    for (student, _), rows in frame.courses.judged.items():
        judged.setdefault(student, []).append(rows)
    return {
        student: (stamps.get(student), limit, lifted.get(student), judged.get(student))
        for student, limit in frame.limits.items()
    }


def _work_out(
    db: sqlite3.Connection, frame: Frame, of_students: Mapping[int, object]
) -> dict[int, _Row]:
    evidence = frame.evidence_of(db, of_students)
    return {
        number: _Row(
            comes_of,
            tuple(frame.cell_by(evidence, number, one.id) for one in frame.outcomes),
        )
        for number, comes_of in of_students.items()
    }
