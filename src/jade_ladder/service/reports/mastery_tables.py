"""Where a class stands, as tables that go out."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date

from jade_ladder.core.mastery import Mastery, State
from jade_ladder.core.numbers import Hundredths, write_hundredths
from jade_ladder.core.rollup import class_picture, roll_up_student
from jade_ladder.core.scale import Scale
from jade_ladder.formats.exported.table import Column, ExportTable, Number, Sign, Value
from jade_ladder.service.evidence.class_standing import ClassOnDay, Frame, WallCell
from jade_ladder.service.mastery.wall import Wall, wall
from jade_ladder.service.reports.evidence_tables import (
    EVIDENCE,
    STUDENT,
    EvidenceRows,
    in_blocks,
    student_cells,
)
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.classes.students import StudentRow
from jade_ladder.store.outcomes.outcomes import OutcomeRow

_STATES = {
    State.NO_EVIDENCE: "no evidence",
    State.NEEDS_EVIDENCE: "needs evidence",
    State.NOT_YET: "not yet",
    State.MASTERED: "mastered",
}
_MASTERY = (
    *STUDENT,
    Column("Outcome", 10),
    Column("Title", 40),
    Column("Value"),
    Column("Level", 16),
    Column("Level number"),
    Column("State", 15),
    Column("Pieces"),
    Column("Direction"),
    *map(Column, ("Slipped", "Close", "Thin", "Wide swings", "Judged")),
    Column("Calculated"),
)
_OUTCOMES = (
    Column("Outcome", 10),
    Column("Title", 40),
    Column("Strand", 20),
    Column("Method", 24),
    Column("Own method"),
    Column("Pieces needed"),
    Column("Mastered from"),
    Column("Levels", 50),
    *map(Column, ("Mastered", "Counted", "Need evidence", "Without", "Median", "Mean")),
)


@dataclass(frozen=True, slots=True)
class ClassStanding:
    """Where the students of a class stand as of a day, worked out some students at a time: the wall
    of none of them (`frame`) with all of their cells.
    """

    caller: Teacher
    frame: Wall
    students: tuple[StudentRow, ...]
    cells: tuple[tuple[WallCell, ...], ...]
    counts: tuple[tuple[int, int], ...]

    @classmethod
    def load(cls, caller: Teacher, class_id: int, as_of: date | None) -> ClassStanding:
        """Work it out. Part of a reading."""
        frame = wall(caller, class_id, as_of, only=())
        cells: list[tuple[WallCell, ...]] = []
        counts: list[tuple[int, int]] = []
        with caller.reading() as db:
            there = student_store.students(db, class_id, frame.as_of)
            for some in in_blocks(there):
                block = ClassOnDay.of(db, Frame.load(db, caller, frame.klass, frame.as_of, some))
                for student in some:
                    row = tuple(block.cell(student.id, one.id) for one in frame.outcomes)
                    counted = roll_up_student(cell.mastery for cell in row if cell.expected)
                    cells.append(row)
                    counts.append((counted.mastered, counted.of))
        return cls(caller, frame, tuple(there), tuple(cells), tuple(counts))

    def tables(self, db: sqlite3.Connection) -> tuple[ExportTable, ...]:
        """Give the wall, all that it says cell by cell, the outcomes, and the evidence."""
        evidence = EvidenceRows(db, self.frame, self.caller)
        return (
            self._wall(),
            ExportTable("Mastery", _MASTERY, self._mastery(), frozen=2),
            ExportTable("Outcomes", _OUTCOMES, self._outcomes()),
            ExportTable("Evidence", EVIDENCE, evidence.of_all(self.students), frozen=2),
        )

    def _wall(self) -> ExportTable:
        codes = [Column(one.code, max(10, min(24, len(one.code) + 2))) for one in self._taught]
        columns = (*STUDENT, *codes, Column("Mastered"), Column("Of"))
        rows = (
            (*student_cells(student), *map(self._wall_cell, cells, self._scales), *count)
            for student, cells, count in zip(self.students, self.cells, self.counts, strict=True)
        )
        return ExportTable("Wall", columns, rows, frozen=2)

    @staticmethod
    def _wall_cell(cell: WallCell, scale: Scale) -> Value:
        mastery = cell.mastery
        if not cell.expected:
            return "not expected"
        if mastery.value is None or mastery.level is None:
            return None
        return Number(mastery.value, scale.levels[mastery.level].code, _sign(mastery))

    def _mastery(self) -> Iterator[Sequence[Value]]:
        for student, cells in zip(self.students, self.cells, strict=True):
            for outcome, cell, scale in zip(self._taught, cells, self._scales, strict=True):
                mastery = cell.mastery
                level = mastery.level
                yield (
                    *student_cells(student),
                    outcome.code,
                    outcome.title,
                    _number(mastery.value),
                    *(("", None) if level is None else (scale.levels[level].name, level + 1)),
                    _STATES[mastery.state] if cell.expected else "not expected",
                    mastery.pieces,
                    str(cell.direction) if mastery.value is not None else "",
                    _yes(cell.slipped),
                    _yes(cell.close),
                    _yes(cell.thin),
                    _yes(cell.swings),
                    _yes(mastery.judged),
                    _number(mastery.calculated),
                )

    def _outcomes(self) -> Iterator[Sequence[Value]]:
        titles = {one.id: one.title for one in self.frame.strands}
        for at, (outcome, rules) in enumerate(zip(self._taught, self.frame.rules, strict=True)):
            scale = rules.scale
            levels = [f"{one.name} from {write_hundredths(one.cut)}" for one in scale.levels]
            column = [row[at].mastery for row in self.cells if row[at].expected]
            picture = class_picture(scale, column)
            yield (
                outcome.code,
                outcome.title,
                titles.get(outcome.strand_id or 0, ""),
                rules.method.name,
                _yes(outcome.id in self.frame.own_methods),
                rules.minimum,
                _number(scale.mastery_cut),
                ", ".join(levels),
                picture.mastered,
                picture.counted,
                picture.needing,
                picture.without,
                _number(picture.median),
                _number(picture.mean),
            )

    @property
    def _taught(self) -> Sequence[OutcomeRow]:
        return self.frame.outcomes

    @property
    def _scales(self) -> list[Scale]:
        return [rules.scale for rules in self.frame.rules]


def _sign(mastery: Mastery) -> Sign:
    mastered = mastery.state is State.MASTERED
    if mastery.judged:
        return Sign.JUDGED_MASTERED if mastered else Sign.JUDGED
    if mastery.state is State.NEEDS_EVIDENCE:
        return Sign.NEEDS_EVIDENCE
    return Sign.MASTERED if mastered else Sign.NONE


def _number(value: Hundredths | None) -> Number | None:
    return None if value is None else Number(value)


def _yes(holds: bool) -> str:
    return "yes" if holds else ""
