"""What came of tasks, as tables that go out: totals, marks and what was said."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator, Mapping, Sequence
from datetime import datetime
from zoneinfo import ZoneInfo

from jade_ladder.core.marking import DeskState
from jade_ladder.core.names import level_words
from jade_ladder.core.numbers import write_hundredths
from jade_ladder.core.rubric import task_points
from jade_ladder.formats.exported.table import Column, ExportTable, Number, Value
from jade_ladder.service.marking.task_marks import TaskMarks, final_totals
from jade_ladder.service.reports.evidence_tables import NOTE, STUDENT, student_cells
from jade_ladder.service.reports.words import STATES, chosen_level, result_word
from jade_ladder.service.shared.caller import Caller
from jade_ladder.service.shared.days import on_the_clock, today
from jade_ladder.service.work.standing import setting_of, student_at_task
from jade_ladder.store.classes.students import StudentRow
from jade_ladder.store.marking.said import said_at_tasks
from jade_ladder.store.notes import notes as note_store
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.work.standing import students_at
from jade_ladder.store.work.tasks import TaskRow

_REMARKS = (
    *STUDENT,
    Column("Task", 30),
    Column("Attempt"),
    Column("On", 26),
    Column("Level", 16),
    Column("Passage", 40),
    Column("Remark", 70),
    Column("At", 19),
)
_SAID_BY_STATE = frozenset({DeskState.EXCUSED, DeskState.MISSING})


def total_table(
    db: sqlite3.Connection, caller: Caller, students: Sequence[StudentRow], tasks: Sequence[TaskRow]
) -> ExportTable:
    """Give the totals of a class: a column for each task, with what counts over its attempts."""
    columns = []
    by_task = []
    for row in tasks:
        marks = TaskMarks.load(db, row)
        out_of = task_points(row.points, [stored.criterion for stored in marks.criteria])
        columns.append(Column(f"{row.title} (of {write_hundredths(out_of)})", 16))
        by_task.append(final_totals(row, marks.totals()))
    states = _states(db, caller, tasks, students)

    def rows() -> Iterator[Sequence[Value]]:
        for student in students:
            cells: list[Value] = []
            for row, totals in zip(tasks, by_task, strict=True):
                total = totals.get(student.id)
                said = states.get((row.id, student.id), "")
                excused = said == STATES[DeskState.EXCUSED]
                cells.append(said if total is None or excused else Number(total))
            yield (*student_cells(student), *cells)

    return ExportTable("Totals", (*STUDENT, *columns), rows(), frozen=2)


def _states(
    db: sqlite3.Connection,
    caller: Caller,
    tasks: Sequence[TaskRow],
    students: Sequence[StudentRow],
) -> dict[tuple[int, int], str]:
    """Say who is excused or missing, by task and student."""
    settings = {row.id: setting_of(row) for row in tasks}
    there = {one.id for one in students}
    found = {}
    for one in students_at(db, settings, today(db, caller)):
        if one.student_id in there:
            state = student_at_task(one, settings[one.task_id], one.needing, caller.now).state
            if state in _SAID_BY_STATE:
                found[one.task_id, one.student_id] = STATES[state]
    return found


def mark_table(students: Sequence[StudentRow], marks: TaskMarks, zone: ZoneInfo) -> ExportTable:
    """Give the marks of a task attempt by attempt, as they stand: the level of each criterion, and
    what it comes to.
    """
    titles = [Column(stored.criterion.title, 18) for stored in marks.criteria]
    columns = (
        *STUDENT,
        Column("Attempt"),
        Column("Done at", 19),
        Column("Finished", 10),
        *titles,
        *map(Column, ("Total", "Out of", "Calculated")),
        Column("Result", 40),
    )
    names = {one.id: one for one in students}

    def rows() -> Iterator[Sequence[Value]]:
        for one in marks.totals():
            student = names.get(one.mark.student_id)
            if student is None:
                continue
            excused = one.mark.excused
            total = one.total if one.choices and not excused else None
            finished = "yes" if one.mark.finished_version == one.mark.version else "not yet"
            yield (
                *student_cells(student),
                one.mark.number,
                on_the_clock(one.mark.done_at, zone),
                STATES[DeskState.EXCUSED] if excused else finished,
                *(chosen_level(stored, one.choices.get(stored.id)) for stored in marks.criteria),
                *((Number(total.value), Number(total.out_of)) if total else (None, None)),
                None if total is None or total.calculated is None else Number(total.calculated),
                result_word(one.word),
            )

    return ExportTable("Marks", columns, rows(), frozen=2)


def remark_table(
    db: sqlite3.Connection,
    students: Sequence[StudentRow],
    tasks: Sequence[TaskRow],
    zone: ZoneInfo,
    notes_on: Sequence[OutcomeRow] = (),
) -> ExportTable:
    """Give what was said in the finished marks of tasks, and in notes on outcomes."""
    names = {one.id: one for one in students}
    titles = {row.id: row.title for row in tasks}

    def rows() -> Iterator[Sequence[Value]]:
        for one in said_at_tasks(db, titles):
            student = names.get(one.student_id)
            if student is None:
                continue
            at = on_the_clock(datetime.fromisoformat(one.finished_at), zone)
            yield (
                *student_cells(student),
                *(titles[one.task_id], one.number, one.criterion or "the whole"),
                level_words(one.level, bool(one.half_way)) if one.level else "",
                *("what is drawn" if one.drawn else one.quote, one.text, at),
            )
        yield from _notes(db, names, notes_on, zone)

    return ExportTable("Remarks", _REMARKS, rows())


def _notes(
    db: sqlite3.Connection,
    names: Mapping[int, StudentRow],
    outcomes: Sequence[OutcomeRow],
    zone: ZoneInfo,
) -> Iterator[Sequence[Value]]:
    codes = {one.id: one.code for one in outcomes}
    for note in note_store.notes_of_students(db, names, codes):
        if note.words:
            yield (
                *student_cells(names[note.student_id]),
                *(NOTE, None, codes[note.outcome_id], "", "", note.words),
                on_the_clock(note.seen_at, zone),
            )
