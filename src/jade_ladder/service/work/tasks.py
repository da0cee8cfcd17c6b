"""Tasks: setting them, and entering what was handed in."""

from __future__ import annotations

import sqlite3
from collections import Counter
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.core.marking import (
    WAITS_FOR_TEACHER,
    DeskState,
    Progress,
    desk_state,
)
from jade_ladder.core.numbers import LARGEST, Hundredths
from jade_ladder.core.rubric import highest_points
from jade_ladder.service.rubrics.rubrics import own_rubric
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import check_day, in_utc, school_zone, today
from jade_ladder.service.shared.forms import check_version, collect_errors, needed
from jade_ladder.service.shared.guards import own_class, own_task
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.rubrics import criteria as criterion_store
from jade_ladder.store.work import tasks as store
from jade_ladder.store.work.tasks import TaskKind, TaskRow, TaskStudentRow

LONGEST_INSTRUCTIONS = 20_000


@dataclass(frozen=True, slots=True)
class TaskWords:
    """What a teacher says of a task; `due_at` without a zone is by the school's clock, `points`
    None means the sum of the rubric's highest points.
    """

    title: str
    instructions: str
    kind: TaskKind
    rubric_id: int
    due_at: datetime | None
    points: Hundredths | None
    practice: bool


@dataclass(frozen=True, slots=True)
class StudentAtTask:
    """One student at one task: where they stand, and how many criteria are left to mark."""

    row: TaskStudentRow
    state: DeskState
    left: int


@dataclass(frozen=True, slots=True)
class TaskView:
    """A task with where everybody stands; `points` are those that count."""

    row: TaskRow
    points: Hundredths
    students: tuple[StudentAtTask, ...]

    @property
    def counts(self) -> Counter[DeskState]:
        """How many students stand where."""
        return Counter(student.state for student in self.students)

    @property
    def to_mark(self) -> int:
        """How many wait for the teacher."""
        return sum(student.state in WAITS_FOR_TEACHER for student in self.students)

    @property
    def handed_in(self) -> int:
        """How many have work or a mark."""
        return sum(student.row.attempt_id is not None for student in self.students)


def class_tasks(caller: Teacher, class_id: int) -> list[TaskView]:
    """List a class's tasks by due time, each with where everybody stands."""
    with caller.reading() as db:
        own_class(db, caller, class_id)
        return [view_of(db, caller, row) for row in store.class_tasks(db, class_id)]


def get_task(caller: Teacher, task_id: int) -> TaskView:
    """Give one task of the caller's."""
    with caller.reading() as db:
        return view_of(db, caller, own_task(db, caller, task_id)[0])


def view_of(db: sqlite3.Connection, caller: Teacher, row: TaskRow) -> TaskView:
    """Work out where everybody stands with a task. Part of a transaction."""
    criteria = [stored.criterion for stored in criterion_store.criteria(db, row.revision_id)]
    needing = sum(not criterion.bonus for criterion in criteria)
    due_passed = row.due_at is None or row.due_at <= caller.now
    students = []
    for student in store.task_students(db, row.id, row.class_id, today(db, caller)):
        progress = Progress(
            student.excused, student.has_work, student.version, student.finished_version
        )
        missing_counts = due_passed and not (row.due_at is None and row.kind is TaskKind.HANDED_IN)
        state = desk_state(progress, row.kind is TaskKind.OBSERVED, missing_counts)
        students.append(StudentAtTask(student, state, needing - student.chosen))
    points = highest_points(criteria) if row.points is None else row.points
    return TaskView(row, points, tuple(students))


def make_task(caller: Teacher, class_id: int, words: TaskWords) -> int:
    """Set a task for a class; gives its number."""
    with caller.transaction() as db:
        klass = own_class(db, caller, class_id)
        title, revision_id, due_at = _checked(db, caller, klass, words)
        return store.add_task(
            db,
            class_id,
            revision_id,
            title,
            words.instructions.strip(),
            words.kind,
            due_at,
            words.points,
            words.practice,
            caller.now,
        )


def change_task(caller: Teacher, task_id: int, based_on: int, words: TaskWords) -> None:
    """Change a task. Once something is marked, its rubric and kind stay."""
    with caller.transaction() as db:
        row, klass = own_task(db, caller, task_id)
        check_version(based_on, row.version, "The task")
        title, revision_id, due_at = _checked(db, caller, klass, words, row)
        if store.has_marks(db, task_id) and (revision_id, words.kind) != (
            row.revision_id,
            row.kind,
        ):
            field = "rubric_id" if revision_id != row.revision_id else "kind"
            raise Refused("Some of it is marked already, so that this stays as it is", field)
        store.change_task(
            db,
            task_id,
            revision_id,
            title,
            words.instructions.strip(),
            words.kind,
            due_at,
            words.points,
            words.practice,
        )


def _checked(
    db: sqlite3.Connection,
    caller: Teacher,
    klass: ClassRow,
    words: TaskWords,
    now: TaskRow | None = None,
) -> tuple[str, int, datetime | None]:
    collect_errors(
        lambda: needed(words.title, "title", "A title for the task"),
        lambda: _check_instructions(words.instructions),
        lambda: _final_rubric(db, caller, words.rubric_id),
        lambda: _check_points(words.points),
        lambda: _check_due(words.due_at, klass),
    )
    revision_id = _final_rubric(db, caller, words.rubric_id)
    due_at = None if words.due_at is None else in_utc(words.due_at, school_zone(db))
    if now is not None and now.rubric_id == words.rubric_id:
        revision_id = now.revision_id
    return words.title.strip(), revision_id, due_at


def _check_due(due_at: datetime | None, klass: ClassRow) -> None:
    if due_at is not None:
        check_day(due_at.date(), "due_at", klass)


def _check_instructions(instructions: str) -> None:
    if len(instructions) > LONGEST_INSTRUCTIONS:
        raise Refused(
            f"The instructions have more than {LONGEST_INSTRUCTIONS:,} characters", "instructions"
        )


def _final_rubric(db: sqlite3.Connection, caller: Teacher, rubric_id: int) -> int:
    """Give the newest final revision of a rubric."""
    try:
        rubric = own_rubric(db, caller, rubric_id)
    except NotFound:
        raise Refused("Choose a rubric of yours", "rubric_id") from None
    if rubric.final_revision_id is None:
        raise Refused(f"“{rubric.title}” is still a draft: finalise it first", "rubric_id")
    return rubric.final_revision_id


def _check_points(points: Hundredths | None) -> None:
    if points is not None and not 0 < points <= LARGEST:
        raise Refused("Points lie above 0 and at or below 10,000", "points")


def delete_task(caller: Teacher, task_id: int) -> None:
    """Delete a task that nobody has work or a mark on."""
    with caller.transaction() as db:
        own_task(db, caller, task_id)
        if store.has_attempts(db, task_id):
            raise Refused("There is work or a mark on this task, so that it stays")
        store.delete_task(db, task_id)
