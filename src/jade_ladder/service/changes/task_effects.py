"""What a change to a task that is set would do to its marks, before it is made."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import TypeAlias

from jade_ladder.core.rubric import task_points
from jade_ladder.core.total import TOGETHER, Total
from jade_ladder.service.changes.totals import TotalMove, moves
from jade_ladder.service.changes.what_if import Effects, what_if_changes
from jade_ladder.service.evidence.class_evidence import WhatIf
from jade_ladder.service.evidence.evidence import TaskRule
from jade_ladder.service.marking.task_marks import MarkTotal, TaskMarks, over_attempts_of
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import today
from jade_ladder.service.shared.guards import own_task
from jade_ladder.service.work.setting import (
    TaskWords,
    check_change,
    checked_fields,
    checked_own_times,
)
from jade_ladder.service.work.standing import late_minutes
from jade_ladder.store.evidence.choices import outcomes_of_task
from jade_ladder.store.marking import hand_backs as hand_back_store
from jade_ladder.store.marking.marks import TaskMark
from jade_ladder.store.work import standing as standing_store
from jade_ladder.store.work.tasks import TaskFields, TaskRow

DueAfter: TypeAlias = Callable[[int, datetime | None], datetime | None]
"""When a task would be due for a student, who has a due time of their own now, or none."""


@dataclass(frozen=True, slots=True)
class TaskChangeEffects:
    """What a change to a task would do: which totals and levels would be others, and who would be
    late or would not be any more; `seen` counts those of the totals that students see already.
    """

    totals: tuple[TotalMove, ...]
    seen: int
    late: tuple[str, ...]
    not_late: tuple[str, ...]
    levels: Effects


def task_effects(caller: Teacher, task_id: int, words: TaskWords) -> TaskChangeEffects:
    """Say what it would do to the marks of a task if it were changed to this. Nothing is changed;
    what the change would be refused for is refused here, too.
    """
    with caller.reading() as db:
        row, klass = own_task(db, caller, task_id)
        fields = checked_fields(db, caller, klass, words, row)
        check_change(db, row, fields)
        levels = Effects((), 0)
        rule = TaskRule(fields.practice, fields.attempts_rule)
        if rule != TaskRule(row.practice, row.attempts_rule):
            what = WhatIf(tasks={task_id: rule})
            levels = what_if_changes(db, caller, outcomes_of_task(db, task_id), what)
        return _effects(db, caller, row, fields, lambda _, own: own or fields.due_at, levels)


def own_times_effects(
    caller: Teacher,
    task_id: int,
    student_ids: Sequence[int],
    due_at: datetime | None,
    closes_at: datetime | None,
) -> TaskChangeEffects:
    """Say what it would do to the marks of a task if these students had times of their own (None:
    those of the task again). Nothing is changed.
    """
    with caller.reading() as db:
        row, klass = own_task(db, caller, task_id)
        due, _ = checked_own_times(db, row, klass, student_ids, due_at, closes_at)
        chosen = frozenset(student_ids)

        def due_after(student_id: int, own: datetime | None) -> datetime | None:
            return (due if student_id in chosen else own) or row.due_at

        return _effects(db, caller, row, row.fields(), due_after, Effects((), 0))


def _effects(
    db: sqlite3.Connection,
    caller: Teacher,
    row: TaskRow,
    after: TaskFields,
    due_after: DueAfter,
    levels: Effects,
) -> TaskChangeEffects:
    students = standing_store.task_students(db, row.id, row.class_id, today(db, caller))
    own_due = {one.student_id: one.own_due_at for one in students}
    there = TaskMarks.load(db, row)
    now = list(there.totals())
    then = list(
        there.totals(after, lambda mark: due_after(mark.student_id, own_due.get(mark.student_id)))
    )
    moved = [
        (was.mark, TotalMove(was.mark.name, was.total, will.total))
        for was, will in zip(now, then, strict=True)
        if moves(was.total, will.total)
    ]
    if TOGETHER & {row.attempts_rule, after.attempts_rule}:
        moved += _over_attempts(there, now, then, after)
    seen = hand_back_store.seen_with_total(db, row.id, caller.now)
    late: list[str] = []
    not_late: list[str] = []
    for student in students:
        if (student.number or 1) == 1:
            dues = (
                student.own_due_at or row.due_at,
                due_after(student.student_id, student.own_due_at),
            )
            was, will = (late_minutes(student.handed_in_at, after.kind, due) for due in dues)
            if bool(was) != bool(will):
                (late if will else not_late).append(student.name)
    return TaskChangeEffects(
        tuple(move for _, move in moved),
        sum(mark.id in seen for mark, _ in moved),
        tuple(late),
        tuple(not_late),
        levels,
    )


def _over_attempts(
    there: TaskMarks, now: Sequence[MarkTotal], then: Sequence[MarkTotal], after: TaskFields
) -> list[tuple[TaskMark, TotalMove]]:
    """Give the totals over several attempts that would be others, each with the newest mark."""
    criteria = [stored.criterion for stored in there.criteria]
    before = over_attempts_of(now, there.row.attempts_rule)
    will = over_attempts_of(then, after.attempts_rule)
    points = task_points(there.row.points, criteria), task_points(after.points, criteria)
    last = {one.mark.student_id: one.mark for one in now}
    return [
        (
            last[student_id],
            TotalMove(
                f"{last[student_id].name}, over attempts",
                Total((), total, points[0], True),
                Total((), will[student_id], points[1], True),
            ),
        )
        for student_id, total in before.items()
        if (will[student_id], points[1]) != (total, points[0])
    ]
