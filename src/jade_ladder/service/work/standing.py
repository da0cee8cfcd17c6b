"""Where students stand with tasks: in what state, how late, and with how much left to mark."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import datetime
from math import ceil
from typing import NamedTuple

from jade_ladder.core.marking import WAITS_FOR_TEACHER, DeskState, Progress, desk_state
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.store.work import standing as store
from jade_ladder.store.work import tasks as task_store
from jade_ladder.store.work.standing import TaskStudentRow
from jade_ladder.store.work.tasks import TaskRow


@dataclass(frozen=True, slots=True)
class StudentAtTask:
    """One student at one task: where they stand, how many criteria are left to mark, and how many
    minutes after the due time the work was handed in.
    """

    row: TaskStudentRow
    state: DeskState
    left: int
    late_minutes: int

    @property
    def waits(self) -> bool:
        """Whether they wait for the teacher; who has left the class does not."""
        return self.row.left_on is None and self.state in WAITS_FOR_TEACHER


class Setting(NamedTuple):
    """How a task is set: its kind, when it is due, and from when students see it (None: draft)."""

    kind: TaskKind
    due_at: datetime | None
    set_at: datetime | None


def state_of(progress: Progress, setting: Setting, now: datetime) -> DeskState:
    """Say what the desk says of one student, by when the task is due: what is not set yet is
    neither missing nor to be observed, and where there is no rubric, work that is there is done.
    """
    kind, due_at, set_at = setting
    if not kind.rubric and progress.has_work and not progress.excused:
        return DeskState.DONE
    if kind.entries:
        # What was seen waits once it is entered; nobody owes anything.
        return desk_state(progress, observed=False, due_passed=False)
    due_passed = due_at <= now if due_at else not kind.hands_in
    is_set = set_at is not None and set_at <= now
    return desk_state(progress, kind.watched, due_passed and is_set)


def student_at_task(
    row: TaskStudentRow, setting: Setting, needing: int, now: datetime
) -> StudentAtTask:
    """Say where one student stands with a task, of which so many criteria need a choice; what is
    set for them alone holds over what is set for all.
    """
    absent = row.absent_on is not None
    there = row.there_when_due
    progress = Progress(row.excused, row.has_work, row.version, row.finished_version, absent, there)
    if row.own_due_at is not None:
        setting = setting._replace(due_at=row.own_due_at)
    if (row.number or 1) > 1 and not setting.kind.entries:
        # A further attempt, which was opened, is neither late nor missing.
        setting = setting._replace(due_at=None)
    state = state_of(progress, setting, now)
    late = late_minutes(row.handed_in_at, setting.kind, setting.due_at)
    return StudentAtTask(row, state, needing - row.chosen, late)


def late_minutes(handed_in_at: datetime | None, kind: TaskKind, due_at: datetime | None) -> int:
    """Give how many minutes after the due time work was handed in; 0 when in time, when nothing
    is handed in, or when nobody said when it was handed in. docs/calculations.md, Time and order.
    """
    if handed_in_at is None or due_at is None or not kind.hands_in:
        return 0
    return max(0, ceil((handed_in_at - due_at).total_seconds() / 60))


def setting_of(row: TaskRow) -> Setting:
    """Give how a task is set for all."""
    return Setting(row.kind, row.due_at, row.set_at)


@dataclass(frozen=True, slots=True)
class TaskOfStudent:
    """A task of a class, and where one student stands with it."""

    row: TaskRow
    standing: StudentAtTask


def tasks_of_student(
    db: sqlite3.Connection, caller: Teacher, class_id: int, student_id: int
) -> list[TaskOfStudent]:
    """List a class's tasks for one student: what waits for the teacher first, then what is
    missing, then the rest, the latest due first in each. Part of a reading.
    """
    rows = {row.id: row for row in task_store.class_tasks(db, class_id)}
    found = [
        TaskOfStudent(
            row := rows[one.task_id],
            student_at_task(one, setting_of(row), one.needing, caller.now),
        )
        for one in store.student_tasks(db, class_id, student_id)
    ]
    found.reverse()
    return sorted(
        found,
        key=lambda one: (not one.standing.waits, one.standing.state is not DeskState.MISSING),
    )
