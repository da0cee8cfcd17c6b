"""Setting tasks: what a teacher says of one, checked."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.core.evidence import AttemptsRule
from jade_ladder.core.numbers import LARGEST, Hundredths
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.service.rubrics.rubrics import own_rubric
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import check_day, in_utc, school_zone
from jade_ladder.service.shared.forms import collect_errors, needed
from jade_ladder.service.shared.guards import own_student, own_task
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.rubrics import criteria as criterion_store
from jade_ladder.store.shared.log import LogSubject
from jade_ladder.store.work import tasks as store
from jade_ladder.store.work.tasks import TaskFields, TaskRow

LONGEST_INSTRUCTIONS = 20_000
LONGEST_CATEGORY = 60


@dataclass(frozen=True, slots=True)
class TaskWords:
    """What a teacher says of a task; `due_at` and `closes_at` without a zone are by the school's
    clock, `points` None means the sum of the rubric's highest points; late work costs so many per
    cent of the points per started day (`late_per_day`), at most `late_most`. Students see it from
    `set_at` on (None: at once), unless it is a `draft`; it is for all of the class, or for those
    of `student_ids`. Each begins with a copy of the `starting_text`. It asks all criteria of the
    rubric, or those with the keys `criteria`; a kind of task that has no rubric is given none.
    """

    title: str
    instructions: str
    kind: TaskKind
    rubric_id: int | None
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
    criteria: tuple[str, ...] | None = None


def checked_fields(
    db: sqlite3.Connection,
    caller: Teacher,
    klass: ClassRow,
    words: TaskWords,
    now: TaskRow | None = None,
) -> TaskFields:
    """Give what a teacher says of a task as it is kept, where there is nothing wrong with it; `now`
    is the task that is changed. All that is wrong is told at once. Part of a transaction.
    """
    collect_errors(
        lambda: needed(words.title, "title", "A title for the task"),
        lambda: _check_instructions(words.instructions),
        lambda: _final_rubric(db, caller, words),
        lambda: _check_points(words.points),
        lambda: _check_due(words.due_at, klass),
        lambda: _check_closing(words, klass),
        lambda: _check_percent(words.late_per_day, "late_per_day"),
        lambda: _check_percent(words.late_most, "late_most"),
        lambda: _check_category(words.category),
        lambda: _check_instructions(words.starting_text, "starting_text"),
        lambda: _check_students(db, klass, words.student_ids),
    )
    revision_id = _final_rubric(db, caller, words)
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
    _check_criteria(db, revision_id, words.criteria)
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
        # Each entry of other evidence is a piece of its own.
        AttemptsRule.EVERY if words.kind.entries else words.attempts_rule,
        words.category.strip(),
        set_at,
        words.student_ids is None,
        words.starting_text.rstrip(),
        None if words.criteria is None else json.dumps(sorted(set(words.criteria))),
    )


def _check_criteria(
    db: sqlite3.Connection, revision_id: int | None, keys: Sequence[str] | None
) -> None:
    if keys is None:
        return
    there = {one.criterion.key: one.criterion for one in criterion_store.criteria(db, revision_id)}
    if not set(keys) <= there.keys():
        raise Refused("One of these criteria is not in the rubric: choose anew", "criteria")
    if all(there[key].bonus for key in keys):
        raise Refused("Choose at least one criterion that is no bonus, or all", "criteria")


def check_change(db: sqlite3.Connection, row: TaskRow, fields: TaskFields) -> None:
    """Check what can be changed of a task: once something is marked, its kind, rubric and criteria
    stay; once there is work, it is no draft any more. Part of a transaction.
    """
    fixed = {
        "rubric_id": fields.revision_id != row.revision_id,
        "kind": fields.kind is not row.kind,
        "criteria": fields.asked != row.asked,
    }
    if any(fixed.values()) and store.has_marks(db, row.id):
        field = next(name for name, changed in fixed.items() if changed)
        raise Refused(
            "Part of this task is marked already, so this can no longer be changed", field
        )
    if fields.set_at is None and store.has_attempts(db, row.id):
        raise Refused("There is work or a mark on it, so it is no draft any more", "draft")


def still_asked(db: sqlite3.Connection, revision_id: int | None, asked: str | None) -> str | None:
    """Give which criteria a task asks when it is put on another revision anew: the same, or all
    where that one has none of them. Part of a transaction.
    """
    criteria = criterion_store.criteria(db, revision_id, asked)
    return None if all(one.criterion.bonus for one in criteria) else asked


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


def _final_rubric(db: sqlite3.Connection, caller: Teacher, words: TaskWords) -> int | None:
    """Give the newest final revision of the rubric, which a kind of task has or has not."""
    if not words.kind.rubric:
        if words.rubric_id is not None:
            raise Refused("A task of this kind has no rubric", "rubric_id")
        return None
    try:
        rubric = own_rubric(db, caller, words.rubric_id or 0)
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
    with caller.transaction() as db:
        row, klass = own_task(db, caller, task_id)
        due, closes = checked_own_times(db, row, klass, student_ids, due_at, closes_at)
        for student_id in dict.fromkeys(student_ids):
            record = store.task_student(db, task_id, student_id)
            store.set_own_times(db, record, due, closes)
            caller.log(db, LogSubject.OWN_TIMES, task_id, None, {"student": student_id, "due": due})


def checked_own_times(
    db: sqlite3.Connection,
    row: TaskRow,
    klass: ClassRow,
    student_ids: Sequence[int],
    due_at: datetime | None,
    closes_at: datetime | None,
) -> tuple[datetime | None, datetime | None]:
    """Give the due and the closing time that students would have for themselves, where there is
    nothing wrong with them. Part of a transaction.
    """
    if not student_ids:
        raise Refused("Choose the students who have times of their own", "student_ids")
    for student_id in student_ids:
        own_student(db, row.class_id, student_id)
    if not row.kind.hands_in:
        raise Refused("Nothing is handed in at this task", "due_at")
    collect_errors(
        lambda: _check_due(due_at, klass),
        lambda: _check_due(closes_at, klass, "closes_at"),
    )
    zone = school_zone(db)
    due = None if due_at is None else in_utc(due_at, zone)
    closes = None if closes_at is None else in_utc(closes_at, zone)
    if closes is not None and (due is None or closes < due):
        raise Refused("It closes at the due time or later", "closes_at")
    if due is not None and closes is None and row.closes_at is not None:
        # The task's closing time would fall before it.
        closes = max(due, row.closes_at)
    return due, closes
