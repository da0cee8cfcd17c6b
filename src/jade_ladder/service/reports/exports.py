"""All of a class, or of a task, as tables that go out: as a workbook, or as CSV files."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import date, datetime
from typing import NamedTuple
from zoneinfo import ZoneInfo

from jade_ladder.core.errors import NotFound
from jade_ladder.formats.exported.table import Column, Export, ExportTable, Value
from jade_ladder.service.marking.task_marks import TaskMarks
from jade_ladder.service.mastery.wall import wall
from jade_ladder.service.reports.evidence_tables import EVIDENCE, EvidenceRows, judgement_table
from jade_ladder.service.reports.mastery_tables import ClassStanding
from jade_ladder.service.reports.work_tables import mark_table, remark_table, total_table
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import on_the_clock, school_zone
from jade_ladder.service.shared.guards import own_task
from jade_ladder.store.classes import classes as class_store
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.shared.connection import Database
from jade_ladder.store.work import tasks as task_store

_ABOUT = (Column("About", 22), Column("", 90))
_MASTERY_KEY = (
    ("Wall", "Students by outcomes: the value, its level's short name, and what is said of it."),
    ("✓", "Mastered."),
    ("In brackets", "Needs evidence: it has less than the outcome asks for, and is not counted."),
    ("judged", "The teacher's own level; Mastery has the calculated value beside it."),
    ("Empty", "No evidence, which is not a zero."),
    ("not expected", "The outcome is lifted for this student."),
)


@contextmanager
def class_export(caller: Teacher, class_id: int, as_of: date | None = None) -> Iterator[Export]:
    """Give a class as of a day (today at first): the wall, all of its cells, the outcomes, the
    evidence, the totals with what was said as they are now, and the judgements. The tables can be
    read as long as it is open.
    """
    with caller.reading() as db:
        standing = ClassStanding.load(caller, class_id, as_of)
        frame, students = standing.frame, standing.students
        zone = school_zone(db)
        tasks = task_store.class_tasks(db, class_id)
        tables = (
            *standing.tables(db),
            total_table(db, caller, students, tasks),
            remark_table(db, students, tasks, zone, frame.outcomes),
            judgement_table(db, frame, students, zone),
            _about(frame.klass.name, frame.as_of, caller.now, zone, frame.class_method.name),
        )
        yield Export(frame.klass.name, frame.as_of, tables)


@contextmanager
def task_export(caller: Teacher, task_id: int, class_id: int | None = None) -> Iterator[Export]:
    """Give a task as it is now: its marks, what was said, and the evidence from it. NotFound where
    it is of another class than one that is given.
    """
    with caller.reading() as db:
        row, klass = own_task(db, caller, task_id)
        if class_id not in (None, klass.id):
            raise NotFound(f"There is no such task in this class; {row.title} is in {klass.name}")
        frame = wall(caller, klass.id, only=())
        students = student_store.students(db, klass.id)
        zone = school_zone(db)
        tables = (
            mark_table(students, TaskMarks.load(db, row), zone),
            remark_table(db, students, [row], zone),
            ExportTable(
                "Evidence",
                EVIDENCE,
                EvidenceRows(db, frame, caller, row.id).of_all(students),
                frozen=2,
            ),
            _about(f"{row.title}, {klass.name}", frame.as_of, caller.now, zone),
        )
        yield Export(f"{klass.name} {row.title}", frame.as_of, tables)


def _about(
    title: str, day: date, now: datetime, zone: ZoneInfo, method: str | None = None
) -> ExportTable:
    rows: list[tuple[Value, Value]] = [
        ("Of", title),
        ("As of", day),
        ("Made at", on_the_clock(now, zone)),
        ("Time zone", str(zone)),
    ]
    if method is not None:
        rows += [("Method of the class", method), *_MASTERY_KEY]
    return ExportTable("About", _ABOUT, rows)


class ClassAtHand(NamedTuple):
    """A class of the school, and one who teaches it."""

    id: int
    name: str
    teacher_id: int


def class_at_hand(database: Database, wanted: str) -> ClassAtHand:
    """Find a class for whoever keeps the school's data, by its name or number; raises NotFound with
    the classes that there are.
    """
    with database.reading() as db:
        there = [ClassAtHand(*one) for one in class_store.taught_classes(db)]
    found = [one for one in there if wanted.casefold().strip() == one.name.casefold()]
    found = found or [one for one in there if wanted == str(one.id)]
    if len(found) == 1:
        return found[0]
    known = "; ".join(f"{one.id} {one.name}" for one in found or there) or "none"
    if found:
        raise NotFound(f"Several classes are called {wanted}: say which by its number: {known}")
    raise NotFound(f"There is no class {wanted}. The classes are: {known}")
