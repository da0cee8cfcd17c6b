"""What in a class is worth a look: who slipped, who reached what, who stands just below, what is
thin (docs/calculations.md, “Words with a number behind them”).
"""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import NamedTuple

from jade_ladder.core.marking import DeskState
from jade_ladder.core.mastery import State
from jade_ladder.core.scale import Scale
from jade_ladder.core.signs import (
    LATELY,
    MISSING_OF_LAST,
    REACHED_LATELY,
    many_close,
    missing_again,
    thin_for_many,
)
from jade_ladder.core.trail import PointBy
from jade_ladder.service.evidence.class_standing import ClassOnDay, Frame
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import school_zone, start_of
from jade_ladder.service.work.standing import setting_of, student_at_task
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.classes.students import StudentRow
from jade_ladder.store.evidence.pieces import EvidenceRow
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.shared.connection import write_time
from jade_ladder.store.work import standing as standing_store
from jade_ladder.store.work import tasks as task_store
from jade_ladder.store.work.tasks import TaskRow


@dataclass(frozen=True, slots=True)
class Slipped:
    """A student who slipped on an outcome lately, when that became known, and what did it."""

    klass: ClassRow
    student: StudentRow
    outcome: OutcomeRow
    level: int | None
    scale: Scale
    at: datetime
    by: PointBy


@dataclass(frozen=True, slots=True)
class Reached:
    """The students who reached an outcome lately, the last one first, and when it became known of
    that one.
    """

    klass: ClassRow
    outcome: OutcomeRow
    students: tuple[StudentRow, ...]
    at: datetime


@dataclass(frozen=True, slots=True)
class JudgedBefore:
    """A student who is judged on an outcome, and whose evidence changed since."""

    klass: ClassRow
    student: StudentRow
    outcome: OutcomeRow


@dataclass(frozen=True, slots=True)
class ManyOn:
    """An outcome with so many students of `of`: just below mastery, or thin and `without`."""

    klass: ClassRow
    outcome: OutcomeRow
    students: int
    of: int
    without: int = 0


@dataclass(frozen=True, slots=True)
class Missing:
    """A student who is missing again: `missing` of the last `of` due tasks, and the newest one."""

    klass: ClassRow
    student_id: int
    name: str
    missing: int
    of: int
    task: TaskRow


class ClassLines(NamedTuple):
    """What in one class is worth a look."""

    slipped: list[Slipped]
    reached: list[Reached]
    judged: list[JudgedBefore]
    close: list[ManyOn]
    thin: list[ManyOn]
    missing: list[Missing]


def lines_of(db: sqlite3.Connection, caller: Teacher, klass: ClassRow, day: date) -> ClassLines:
    """Say what in a class is worth a look on a day. Part of a reading."""
    standing = ClassOnDay.of(db, Frame.load(db, caller, klass, day))
    zone = school_zone(db)
    since = start_of(day - timedelta(days=LATELY - 1), zone)
    reached_since = start_of(day - timedelta(days=REACHED_LATELY - 1), zone)
    found = ClassLines([], [], [], [], [], list(_missing(db, caller, klass, day)))
    for outcome in standing.outcomes:
        reached: list[tuple[datetime, StudentRow]] = []
        close = thin = without = expected = 0
        for student in standing.students:
            cell = standing.cell(student.id, outcome.id)
            if not cell.expected:
                continue
            expected += 1
            close += cell.close
            thin += cell.thin
            without += cell.mastery.state is State.NO_EVIDENCE
            if cell.mastery.evidence_changed:
                found.judged.append(JudgedBefore(klass, student, outcome))
            if not _moved_since(standing, student.id, outcome.id, since):
                continue
            trail = standing.trail(student.id, outcome.id)
            rows = standing.kept.rows(student.id, outcome.id)
            if trail.slipped_at and trail.slipped_by:
                at = _known_at(rows, trail.slipped_at)
                if at >= since:
                    scale = standing.rules(outcome.id).scale
                    level = cell.mastery.level
                    found.slipped.append(
                        Slipped(klass, student, outcome, level, scale, at, trail.slipped_by)
                    )
            if trail.held_since and (at := _known_at(rows, trail.held_since)) >= reached_since:
                reached.append((at, student))
        if reached:
            reached.sort(key=lambda one: one[0], reverse=True)
            students = tuple(student for _, student in reached)
            found.reached.append(Reached(klass, outcome, students, reached[0][0]))
        if many_close(close):
            found.close.append(ManyOn(klass, outcome, close, expected))
        if thin_for_many(thin, without, expected):
            found.thin.append(ManyOn(klass, outcome, thin, expected, without))
    return found


def _moved_since(standing: ClassOnDay, student_id: int, outcome_id: int, since: datetime) -> bool:
    """Whether anything may have moved since a time: only then is the whole trail replayed."""
    if not standing.course(student_id, outcome_id).plain:
        return True
    moment = write_time(since)
    rows = standing.kept.rows(student_id, outcome_id)
    return any(row.done_at >= moment or row.finished_at >= moment for row in rows)


def _known_at(rows: Sequence[EvidenceRow], at: datetime) -> datetime:
    """Give when a point of the trail became known: when it was, or, where that is later, when the
    evidence that made it was first finished.
    """
    moment = write_time(at)
    finished = (datetime.fromisoformat(row.finished_at) for row in rows if row.done_at == moment)
    return max([at, *finished])


def _missing(
    db: sqlite3.Connection, caller: Teacher, klass: ClassRow, day: date
) -> Iterator[Missing]:
    rows = {
        row.id: row
        for row in task_store.class_tasks(db, klass.id)
        if row.kind.hands_in and row.set_at is not None and row.set_at <= caller.now
    }
    zone = school_zone(db)
    joined = {
        one.id: start_of(one.since, zone) for one in student_store.students(db, klass.id, day)
    }
    due: dict[int, list[tuple[datetime, int, bool]]] = {}
    names: dict[int, str] = {}
    for one in standing_store.students_at(db, rows, day):
        row = rows[one.task_id]
        due_at = one.own_due_at or row.due_at
        if due_at is None or due_at > caller.now or one.excused:
            continue
        if due_at < joined[one.student_id]:
            continue
        state = student_at_task(one, setting_of(row), one.needing, caller.now).state
        names[one.student_id] = one.name
        place = due_at, row.id, state is DeskState.MISSING
        due.setdefault(one.student_id, []).append(place)
    for student_id, tasks in due.items():
        last = sorted(tasks)[-MISSING_OF_LAST:]
        gone = [task_id for _, task_id, missing in last if missing]
        if missing_again([missing for _, _, missing in last]):
            yield Missing(
                klass, student_id, names[student_id], len(gone), len(last), rows[gone[-1]]
            )
