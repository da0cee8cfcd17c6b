"""Tasks: setting them, and entering what was handed in."""

from __future__ import annotations

import sqlite3
from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from datetime import datetime
from enum import StrEnum

from jade_ladder.core.errors import Refused
from jade_ladder.core.marking import (
    WAITS_FOR_TEACHER,
    DeskState,
    Progress,
)
from jade_ladder.core.numbers import Hundredths
from jade_ladder.core.rubric import Criterion, task_points
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import today
from jade_ladder.service.shared.forms import check_version
from jade_ladder.service.shared.guards import own_class, own_task
from jade_ladder.service.work.instructions import rendered, shown_instructions
from jade_ladder.service.work.setting import (
    LONGEST_INSTRUCTIONS,
    TaskWords,
    check_change,
    checked_fields,
)
from jade_ladder.service.work.standing import (
    Setting,
    StudentAtTask,
    setting_of,
    state_of,
    student_at_task,
)
from jade_ladder.store.classes import classes as class_store
from jade_ladder.store.rubrics import criteria as criterion_store
from jade_ladder.store.rubrics.criteria import StoredCriterion, asked_of
from jade_ladder.store.work import counts
from jade_ladder.store.work import standing as standing_store
from jade_ladder.store.work import task_files as file_store
from jade_ladder.store.work import tasks as store
from jade_ladder.store.work.counts import TaskGroup
from jade_ladder.store.work.task_files import TaskFile
from jade_ladder.store.work.tasks import TaskRow


class Stage(StrEnum):
    """Where a task stands in a term: to be marked, coming or open, or past."""

    TO_MARK = "to-mark"
    COMING = "coming"
    PAST = "past"


@dataclass(frozen=True, slots=True)
class TaskLine:
    """A task with how many students of the class stand where; `handed_in` have work or a mark,
    `asking` asked for another attempt and have no answer.
    """

    row: TaskRow
    counts: Counter[DeskState]
    handed_in: int
    due_passed: bool
    asking: int

    @property
    def stage(self) -> Stage:
        """Where it stands: what is all marked and has no due time is past."""
        if self.to_mark:
            return Stage.TO_MARK
        marked = self.counts[DeskState.DONE]
        all_marked = marked > 0 and marked + self.counts[DeskState.EXCUSED] == self.counts.total()
        return Stage.PAST if self.due_passed or all_marked else Stage.COMING

    @property
    def to_mark(self) -> int:
        """How many wait for the teacher to mark them."""
        return sum(self.counts[state] for state in WAITS_FOR_TEACHER)


@dataclass(frozen=True, slots=True)
class TaskView(TaskLine):
    """A task with where everybody stands; `points` are those that count, `criteria` those of
    its rubric, of which it asks those with the keys `asked`; `chosen` whom it is for where it is
    not for all; `instructions` are HTML, where a task is looked at by itself.
    """

    points: Hundredths
    students: tuple[StudentAtTask, ...]
    chosen: tuple[int, ...]
    criteria: tuple[Criterion, ...]
    asked: frozenset[str]
    files: tuple[TaskFile, ...]
    instructions: str = ""


def class_tasks(caller: Teacher, class_id: int, waiting: bool = False) -> list[TaskLine]:
    """List a class's tasks, each with how many stand where: first those with something to mark,
    then what is coming, each by due time and without one last; then what is past, the latest
    first. With `waiting`, only those on which something may wait for the teacher.
    """
    with caller.reading() as db:
        own_class(db, caller, class_id)
        if waiting:
            lines = waiting_lines(db, caller, [class_id])
        else:
            lines = lines_of_classes(db, caller, [class_id])
    by_stage: dict[Stage, list[TaskLine]] = {stage: [] for stage in Stage}
    for line in lines:
        by_stage[line.stage].append(line)
    by_stage[Stage.PAST].reverse()
    return [line for stage in Stage for line in by_stage[stage]]


def lines_of_classes(
    db: sqlite3.Connection, caller: Teacher, class_ids: Iterable[int]
) -> list[TaskLine]:
    """List all tasks of classes, each with how many stand where, by due time, without one last.
    Part of a reading.
    """
    wanted = list(class_ids)
    day = today(db, caller)
    groups = _groups(counts.task_groups(db, wanted, day))
    asking = counts.open_wishes(db, wanted, day)
    rows = store.tasks_of_classes(db, wanted)
    return [_line(row, groups.get(row.id, ()), caller.now, asking) for row in rows]


def waiting_lines(
    db: sqlite3.Connection, caller: Teacher, class_ids: Iterable[int]
) -> list[TaskLine]:
    """List the tasks of classes on which something may wait for the teacher, by due time. Part of a
    reading.
    """
    wanted, day = list(class_ids), today(db, caller)
    groups = _groups(counts.task_groups(db, wanted, day, waiting=True))
    asking = counts.open_wishes(db, wanted, day)
    rows = store.tasks_by_id(db, groups)
    return [_line(row, groups[row.id], caller.now, asking) for row in rows]


def _groups(found: Iterable[TaskGroup]) -> dict[int, list[TaskGroup]]:
    groups: dict[int, list[TaskGroup]] = {}
    for group in found:
        groups.setdefault(group.task_id, []).append(group)
    return groups


def _line(
    row: TaskRow, groups: Iterable[TaskGroup], now: datetime, asking: Mapping[int, int]
) -> TaskLine:
    counts: Counter[DeskState] = Counter()
    handed_in = 0
    for group in groups:
        counts[_state(group, now)] += group.students
        handed_in += group.students if group.has_attempt else 0
    passed = _due_passed(row.due_at, now)
    return TaskLine(row, counts, handed_in, passed, asking.get(row.id, 0))


def _due_passed(due_at: datetime | None, now: datetime) -> bool:
    return due_at is not None and due_at <= now


def _state(group: TaskGroup, now: datetime) -> DeskState:
    progress = Progress(
        group.excused,
        group.has_work,
        group.version,
        group.finished_version,
        group.absent,
        group.there_when_due,
    )
    return state_of(progress, Setting(group.kind, group.due_at, group.set_at), now)


def to_mark_by_class(caller: Teacher) -> Counter[int]:
    """Count what waits for the caller, by class, in one statement for all of them."""
    waiting: Counter[int] = Counter()
    with caller.reading() as db:
        classes = class_store.classes_of_teacher(db, caller.person_id)
        day = today(db, caller)
        for group in counts.task_groups(db, (klass.id for klass in classes), day, waiting=True):
            if _state(group, caller.now) in WAITS_FOR_TEACHER:
                waiting[group.class_id] += group.students
    return waiting


def get_task(caller: Teacher, task_id: int) -> TaskView:
    """Give one task of the caller's."""
    with caller.reading() as db:
        row = own_task(db, caller, task_id)[0]
        view = view_of(db, caller, row, criterion_store.criteria(db, row.revision_id))
        return replace(view, instructions=shown_instructions(db, task_id, row.instructions))


def view_of(
    db: sqlite3.Connection, caller: Teacher, row: TaskRow, stored: list[StoredCriterion]
) -> TaskView:
    """Work out where everybody stands with a task; `stored` are all criteria of its rubric. Part of
    a reading.
    """
    day = today(db, caller)
    criteria = [one.criterion for one in asked_of(stored, row.asked)]
    needing = sum(not criterion.bonus for criterion in criteria)
    students = tuple(
        student_at_task(student, setting_of(row), needing, caller.now)
        for student in standing_store.task_students(db, row.id, row.class_id, day)
    )
    points = task_points(row.points, criteria)
    present = [student for student in students if student.row.left_on is None]
    of_state = Counter(student.state for student in present)
    handed_in = sum(student.row.attempt_id is not None for student in present)
    due_passed = _due_passed(row.due_at, caller.now)
    asking = counts.open_wishes(db, [row.class_id], day).get(row.id, 0)
    chosen = () if row.for_all else tuple(store.chosen_students(db, row.id))
    rubric = tuple(one.criterion for one in stored)
    asked = frozenset(criterion.key for criterion in criteria)
    files = tuple(file_store.task_files(db, row.id))
    return TaskView(
        row,
        of_state,
        handed_in,
        due_passed,
        asking,
        points,
        students,
        chosen,
        rubric,
        asked,
        files,
    )


def make_task(caller: Teacher, class_id: int, words: TaskWords) -> int:
    """Set a task for a class; gives its number."""
    html = _rendered(words)
    with caller.transaction() as db:
        klass = own_class(db, caller, class_id)
        fields = checked_fields(db, caller, klass, words)
        number = store.add_task(db, class_id, fields, caller.now)
        store.keep_instructions(db, number, html)
        store.choose_students(db, number, words.student_ids or ())
        return number


def change_task(caller: Teacher, task_id: int, based_on: int, words: TaskWords) -> None:
    """Change a task: all of it that can still be changed (`check_change`)."""
    html = _rendered(words)
    with caller.transaction() as db:
        row, klass = own_task(db, caller, task_id)
        check_version(based_on, row.version, "The task")
        fields = checked_fields(db, caller, klass, words, row)
        check_change(db, row, fields)
        store.change_task(db, task_id, fields)
        store.keep_instructions(db, task_id, html)
        store.choose_students(db, task_id, words.student_ids or ())


def _rendered(words: TaskWords) -> str:
    """Render instructions before anybody waits for the transaction; too long ones are refused there
    with all else that is wrong.
    """
    return rendered(words.instructions) if len(words.instructions) <= LONGEST_INSTRUCTIONS else ""


def delete_task(caller: Teacher, task_id: int) -> None:
    """Delete a task that nobody has work or a mark on."""
    with caller.transaction() as db:
        own_task(db, caller, task_id)
        if store.has_attempts(db, task_id):
            raise Refused("There is work or a mark on this task, so it cannot be deleted")
        store.delete_task(db, task_id)
