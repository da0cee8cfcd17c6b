"""Tasks: setting them, and entering what was handed in."""

from __future__ import annotations

import sqlite3
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.core.evidence import AttemptsRule
from jade_ladder.core.marking import (
    WAITS_FOR_TEACHER,
    DeskState,
    Progress,
)
from jade_ladder.core.numbers import LARGEST, Hundredths
from jade_ladder.core.rubric import highest_points
from jade_ladder.service.rubrics.rubrics import own_rubric
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import check_day, in_utc, school_zone, today
from jade_ladder.service.shared.forms import check_version, collect_errors, needed
from jade_ladder.service.shared.guards import own_class, own_student, own_task
from jade_ladder.service.work.standing import (
    Setting,
    StudentAtTask,
    setting_of,
    state_of,
    student_at_task,
)
from jade_ladder.store.classes import classes as class_store
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.mastery.evidence import renew_evidence_of_task
from jade_ladder.store.rubrics import criteria as criterion_store
from jade_ladder.store.rubrics.criteria import StoredCriterion
from jade_ladder.store.work import counts
from jade_ladder.store.work import task_files as file_store
from jade_ladder.store.work import tasks as store
from jade_ladder.store.work.counts import TaskGroup
from jade_ladder.store.work.task_files import TaskFile
from jade_ladder.store.work.tasks import TaskFields, TaskKind, TaskRow

LONGEST_INSTRUCTIONS = 20_000
LONGEST_CATEGORY = 60


@dataclass(frozen=True, slots=True)
class TaskWords:
    """What a teacher says of a task; `due_at` and `closes_at` without a zone are by the school's
    clock, `points` None means the sum of the rubric's highest points; late work costs so many per
    cent of the points per started day (`late_per_day`), at most `late_most`. Students see it from
    `set_at` on (None: at once), unless it is a `draft`; it is for all of the class, or for those
    of `student_ids`. Each begins with a copy of the `starting_text`.
    """

    title: str
    instructions: str
    kind: TaskKind
    rubric_id: int
    due_at: datetime | None
    points: Hundredths | None
    practice: bool
    closes_at: datetime | None = None
    rubric_shown: bool = True
    late_per_day: int = 0
    late_most: int = 100
    attempts_rule: AttemptsRule = AttemptsRule.LATEST
    category: str = ""
    draft: bool = False
    set_at: datetime | None = None
    student_ids: tuple[int, ...] | None = None
    starting_text: str = ""


class Stage(StrEnum):
    """Where a task stands in a term: to be marked, coming or open, or past."""

    TO_MARK = "to-mark"
    COMING = "coming"
    PAST = "past"


@dataclass(frozen=True, slots=True)
class TaskLine:
    """A task with how many students of the class stand where; `handed_in` have work or a mark."""

    row: TaskRow
    counts: Counter[DeskState]
    handed_in: int
    due_passed: bool

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
        """How many wait for the teacher."""
        return sum(self.counts[state] for state in WAITS_FOR_TEACHER)


@dataclass(frozen=True, slots=True)
class TaskView(TaskLine):
    """A task with where everybody stands; `points` are those that count, `chosen` whom it is for
    where it is not for all.
    """

    points: Hundredths
    students: tuple[StudentAtTask, ...]
    chosen: tuple[int, ...]
    files: tuple[TaskFile, ...]


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
            groups = _groups(counts.task_groups(db, [class_id], today(db, caller)))
            rows = store.class_tasks(db, class_id)
            lines = [_line(row, groups.get(row.id, ()), caller.now) for row in rows]
    by_stage: dict[Stage, list[TaskLine]] = {stage: [] for stage in Stage}
    for line in lines:
        by_stage[line.stage].append(line)
    by_stage[Stage.PAST].reverse()
    return [line for stage in Stage for line in by_stage[stage]]


def waiting_lines(
    db: sqlite3.Connection, caller: Teacher, class_ids: Iterable[int]
) -> list[TaskLine]:
    """List the tasks of classes on which something may wait for the teacher, by due time. Part of a
    reading.
    """
    groups = _groups(counts.task_groups(db, class_ids, today(db, caller), waiting=True))
    rows = store.tasks_by_id(db, groups)
    return [_line(row, groups[row.id], caller.now) for row in rows]


def _groups(found: Iterable[TaskGroup]) -> dict[int, list[TaskGroup]]:
    groups: dict[int, list[TaskGroup]] = {}
    for group in found:
        groups.setdefault(group.task_id, []).append(group)
    return groups


def _line(row: TaskRow, groups: Iterable[TaskGroup], now: datetime) -> TaskLine:
    counts: Counter[DeskState] = Counter()
    handed_in = 0
    for group in groups:
        counts[_state(group, now)] += group.students
        handed_in += group.students if group.has_attempt else 0
    return TaskLine(row, counts, handed_in, _due_passed(row.due_at, now))


def _due_passed(due_at: datetime | None, now: datetime) -> bool:
    return due_at is not None and due_at <= now


def _state(group: TaskGroup, now: datetime) -> DeskState:
    progress = Progress(group.excused, group.has_work, group.version, group.finished_version)
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
        return view_of(db, caller, row, criterion_store.criteria(db, row.revision_id))


def view_of(
    db: sqlite3.Connection, caller: Teacher, row: TaskRow, stored: Sequence[StoredCriterion]
) -> TaskView:
    """Work out where everybody stands with a task. Part of a reading."""
    criteria = [one.criterion for one in stored]
    needing = sum(not criterion.bonus for criterion in criteria)
    students = tuple(
        student_at_task(student, setting_of(row), needing, caller.now)
        for student in store.task_students(db, row.id, row.class_id, today(db, caller))
    )
    points = highest_points(criteria) if row.points is None else row.points
    present = [student for student in students if student.row.left_on is None]
    counts = Counter(student.state for student in present)
    handed_in = sum(student.row.attempt_id is not None for student in present)
    due_passed = _due_passed(row.due_at, caller.now)
    chosen = () if row.for_all else tuple(store.chosen_students(db, row.id))
    files = tuple(file_store.task_files(db, row.id))
    return TaskView(row, counts, handed_in, due_passed, points, students, chosen, files)


def make_task(caller: Teacher, class_id: int, words: TaskWords) -> int:
    """Set a task for a class; gives its number."""
    with caller.transaction() as db:
        klass = own_class(db, caller, class_id)
        fields = _checked(db, caller, klass, words)
        number = store.add_task(db, class_id, fields, caller.now)
        store.choose_students(db, number, words.student_ids or ())
        return number


def change_task(caller: Teacher, task_id: int, based_on: int, words: TaskWords) -> None:
    """Change a task. Once something is marked, its rubric and kind stay."""
    with caller.transaction() as db:
        row, klass = own_task(db, caller, task_id)
        check_version(based_on, row.version, "The task")
        fields = _checked(db, caller, klass, words, row)
        if store.has_marks(db, task_id) and (fields.revision_id, fields.kind) != (
            row.revision_id,
            row.kind,
        ):
            field = "rubric_id" if fields.revision_id != row.revision_id else "kind"
            raise Refused(
                "Part of this task is marked already, so this can no longer be changed", field
            )
        if words.draft and store.has_attempts(db, task_id):
            raise Refused("There is work or a mark on it, so it is no draft any more", "draft")
        store.change_task(db, task_id, fields)
        store.choose_students(db, task_id, words.student_ids or ())
        if fields.practice != row.practice:
            renew_evidence_of_task(db, task_id)


def _checked(
    db: sqlite3.Connection,
    caller: Teacher,
    klass: ClassRow,
    words: TaskWords,
    now: TaskRow | None = None,
) -> TaskFields:
    collect_errors(
        lambda: needed(words.title, "title", "A title for the task"),
        lambda: _check_instructions(words.instructions),
        lambda: _final_rubric(db, caller, words.rubric_id),
        lambda: _check_points(words.points),
        lambda: _check_due(words.due_at, klass),
        lambda: _check_closing(words, klass),
        lambda: _check_percent(words.late_per_day, "late_per_day"),
        lambda: _check_percent(words.late_most, "late_most"),
        lambda: _check_category(words.category),
        lambda: _check_instructions(words.starting_text, "starting_text"),
        lambda: _check_students(db, klass, words.student_ids),
    )
    revision_id = _final_rubric(db, caller, words.rubric_id)
    zone = school_zone(db)
    due_at = None if words.due_at is None else in_utc(words.due_at, zone)
    closes_at = None if words.closes_at is None else in_utc(words.closes_at, zone)
    if due_at is not None and closes_at is not None and closes_at < due_at:
        raise Refused("It closes at the due time or later", "closes_at")
    set_at = None if words.draft else caller.now
    if words.set_at is not None and not words.draft:
        set_at = in_utc(words.set_at, zone)
    elif now is not None and now.set_at is not None and now.set_at < caller.now and set_at:
        set_at = now.set_at
    if set_at is not None and due_at is not None and set_at > max(due_at, caller.now):
        raise Refused("It is set before it is due", "set_at")
    if now is not None and now.rubric_id == words.rubric_id:
        revision_id = now.revision_id
    return TaskFields(
        revision_id,
        words.title.strip(),
        words.instructions.strip(),
        words.kind,
        due_at,
        words.points,
        words.practice,
        closes_at,
        words.rubric_shown,
        words.late_per_day,
        words.late_most,
        words.attempts_rule,
        words.category.strip(),
        set_at,
        words.student_ids is None,
        words.starting_text.rstrip(),
    )


def _check_category(category: str) -> None:
    if len(category.strip()) > LONGEST_CATEGORY:
        raise Refused(f"A category has at most {LONGEST_CATEGORY} characters", "category")


def _check_students(
    db: sqlite3.Connection, klass: ClassRow, student_ids: Sequence[int] | None
) -> None:
    if student_ids is None:
        return
    if not student_ids:
        raise Refused("Choose at least one student, or all of the class", "student_ids")
    for number in student_ids:
        own_student(db, klass.id, number)


def _check_percent(percent: int, field: str) -> None:
    if not 0 <= percent <= 100:
        raise Refused("A whole number from 0 to 100", field)


def _check_closing(words: TaskWords, klass: ClassRow) -> None:
    if words.closes_at is None:
        return
    if words.due_at is None:
        raise Refused("Say first when it is due", "closes_at")
    check_day(words.closes_at.date(), "closes_at", klass)


def _check_due(due_at: datetime | None, klass: ClassRow, field: str = "due_at") -> None:
    if due_at is not None:
        check_day(due_at.date(), field, klass)


def _check_instructions(text: str, field: str = "instructions") -> None:
    if len(text) > LONGEST_INSTRUCTIONS:
        raise Refused(f"At most {LONGEST_INSTRUCTIONS:,} characters", field)


def _final_rubric(db: sqlite3.Connection, caller: Teacher, rubric_id: int) -> int:
    """Give the newest final revision of a rubric."""
    try:
        rubric = own_rubric(db, caller, rubric_id)
    except NotFound:
        raise Refused("Choose one of your rubrics", "rubric_id") from None
    if rubric.final_revision_id is None:
        raise Refused(f"“{rubric.title}” is still a draft: finalise it first", "rubric_id")
    return rubric.final_revision_id


def _check_points(points: Hundredths | None) -> None:
    if points is not None and not 0 < points <= LARGEST:
        raise Refused("Points are more than 0 and at most 10,000", "points")


def set_own_times(
    caller: Teacher,
    task_id: int,
    student_ids: Sequence[int],
    due_at: datetime | None,
    closes_at: datetime | None,
) -> None:
    """Give students a due time of their own, and with it a closing time or none, by the school's
    clock where they have no zone; with None, the task's times hold for them again.
    """
    if not student_ids:
        raise Refused("Choose the students who have times of their own", "student_ids")
    with caller.transaction() as db:
        row, klass = own_task(db, caller, task_id)
        zone = school_zone(db)
        if row.kind is not TaskKind.HANDED_IN:
            raise Refused("Nothing is handed in at this task", "due_at")
        collect_errors(
            lambda: _check_due(due_at, klass),
            lambda: _check_due(closes_at, klass, "closes_at"),
        )
        due = None if due_at is None else in_utc(due_at, zone)
        closes = None if closes_at is None else in_utc(closes_at, zone)
        if closes is not None and (due is None or closes < due):
            raise Refused("It closes at the due time or later", "closes_at")
        if due is not None and closes is None and row.closes_at is not None:
            # The task's closing time would fall before it.
            closes = max(due, row.closes_at)
        for student_id in dict.fromkeys(student_ids):
            own_student(db, row.class_id, student_id)
            record = store.task_student(db, task_id, student_id)
            store.set_own_times(db, record, due, closes)
            caller.log(db, "own-times", task_id, None, {"student": student_id, "due": due})


def delete_task(caller: Teacher, task_id: int) -> None:
    """Delete a task that nobody has work or a mark on."""
    with caller.transaction() as db:
        own_task(db, caller, task_id)
        if store.has_attempts(db, task_id):
            raise Refused("There is work or a mark on this task, so it cannot be deleted")
        store.delete_task(db, task_id)
