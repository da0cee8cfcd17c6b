"""Marking: the pile, the desk, and every choice saved at once."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import datetime
from math import ceil

from jade_ladder.core.alignment import chosen_points
from jade_ladder.core.errors import NotFound, Refused, Stale
from jade_ladder.core.total import Total
from jade_ladder.service.marking.carried_marks import CountingUnder, counting_under
from jade_ladder.service.marking.choices import (
    Choice,
    choice_of,
    total_of_choices,
    unmarked_criteria,
)
from jade_ladder.service.marking.moves import AttemptMark, Move, moves
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.guards import own_student, own_task
from jade_ladder.service.work.attempts import begin_attempt
from jade_ladder.service.work.tasks import StudentAtTask, TaskView, class_tasks, view_of
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.marking import marks as store
from jade_ladder.store.marking.marks import ChoiceRow, MarkRow, RemarkRow
from jade_ladder.store.outcomes import outcomes as outcome_store
from jade_ladder.store.outcomes import scales as scale_store
from jade_ladder.store.outcomes.outcomes import OwnOutcome
from jade_ladder.store.outcomes.scales import StoredScale
from jade_ladder.store.rubrics import criteria as criterion_store
from jade_ladder.store.rubrics import revisions as revision_store
from jade_ladder.store.rubrics.criteria import StoredCriterion
from jade_ladder.store.work import attempts as attempt_store
from jade_ladder.store.work import tasks as task_store
from jade_ladder.store.work.attempts import WorkRow
from jade_ladder.store.work.tasks import TaskRow

LONGEST_REMARK = 5000


@dataclass(frozen=True, slots=True)
class Desk:
    """What stands still while a set is marked: the task, its rubric, everybody in it."""

    task: TaskView
    klass: ClassRow
    criteria: tuple[StoredCriterion, ...]
    outcomes: dict[int, OwnOutcome]
    scales: dict[int, StoredScale]


@dataclass(frozen=True, slots=True)
class StudentMark:
    """One student's work and mark as it stands; `counting` is what counts meanwhile, where that
    was given under an earlier revision of the rubric.
    """

    student: StudentAtTask
    work: WorkRow | None
    late_minutes: int
    version: int
    changed_at: datetime | None
    finished: bool
    choices: dict[int, ChoiceRow]
    remarks: dict[int | None, RemarkRow]
    unmarked: tuple[str, ...]
    total: Total | None
    moves: tuple[Move, ...]
    counting: CountingUnder | None


def pile(caller: Teacher, class_id: int) -> list[TaskView]:
    """List the tasks of a class in which something waits to be marked, the oldest due first."""
    return [view for view in class_tasks(caller, class_id) if view.to_mark]


def desk(caller: Teacher, task_id: int) -> Desk:
    """Give what the desk needs to mark a set."""
    with caller.reading() as db:
        row, klass = own_task(db, caller, task_id)
        criteria = criterion_store.criteria(db, row.revision_id)
        aligned = {tie.outcome_id for stored in criteria for tie in stored.alignments}
        outcomes = {
            outcome.id: outcome
            for outcome in outcome_store.own_outcomes(db, caller.person_id)
            if outcome.id in aligned
        }
        return Desk(
            view_of(db, caller, row), klass, tuple(criteria), outcomes, scale_store.scales(db)
        )


def student_mark(caller: Teacher, task_id: int, student_id: int) -> StudentMark:
    """Give one student's work and mark."""
    with caller.reading() as db:
        row, klass = own_task(db, caller, task_id)
        own_student(db, row.class_id, student_id)
        return _student_mark(db, caller, row, klass, student_id)


def choose(
    caller: Teacher,
    task_id: int,
    student_id: int,
    criterion_id: int,
    choice: Choice,
    based_on: int,
) -> StudentMark:
    """Save a choice on one criterion; gives the mark as it then stands.

    The same choice sent twice is one. Raises Stale only when this very criterion was chosen
    differently after version `based_on`: choices on others never stand in each other's way.
    """
    with caller.transaction() as db:
        row, klass = own_task(db, caller, task_id)
        stored = _criterion(db, row, criterion_id)
        _check_choice(stored, choice)
        mark = _begin_mark(db, caller, task_id, student_id)
        standing = store.choices(db, mark.id, mark.version).get(criterion_id)
        if choice_of(standing) != choice:
            if standing and standing.since_version > based_on:
                raise Stale(
                    f"“{stored.criterion.title}” was marked differently in another tab",
                    mark.version,
                )
            store.append_choice(
                db,
                mark.id,
                criterion_id,
                choice.level_id,
                choice.half_way,
                choice.not_assessed,
                caller.now,
                caller.person_id,
            )
        return _student_mark(db, caller, row, klass, student_id)


def remark(
    caller: Teacher,
    task_id: int,
    student_id: int,
    criterion_id: int | None,
    text: str,
    based_on: int,
) -> StudentMark:
    """Save a remark on a criterion, or (None) on the whole; an empty one takes it back."""
    if len(text) > LONGEST_REMARK:
        raise Refused(f"A remark has at most {LONGEST_REMARK} characters", "text")
    text = text.strip()
    with caller.transaction() as db:
        row, klass = own_task(db, caller, task_id)
        if criterion_id is not None:
            _criterion(db, row, criterion_id)
        mark = _begin_mark(db, caller, task_id, student_id, choosing=False)
        standing = store.remarks(db, mark.id, mark.version).get(criterion_id)
        if (standing.text if standing else "") != text:
            if standing and standing.since_version > based_on:
                raise Stale("This remark was changed in another tab", mark.version)
            store.append_remark(db, mark.id, criterion_id, text, caller.now, caller.person_id)
        return _student_mark(db, caller, row, klass, student_id)


def finish(caller: Teacher, task_id: int, student_id: int) -> StudentMark:
    """Finish a mark: from now on this version counts. Refused while a criterion is unmarked."""
    with caller.transaction() as db:
        row, klass = own_task(db, caller, task_id)
        mark = _begin_mark(db, caller, task_id, student_id)
        criteria = criterion_store.criteria(db, row.revision_id)
        left = unmarked_criteria(criteria, _chosen(store.choices(db, mark.id, mark.version)))
        if left:
            raise Refused(f"Still to mark: {', '.join(c.title for c in left)}", "criteria")
        if mark.finished_version != mark.version:
            store.finish(db, mark.id, caller.now)
        return _student_mark(db, caller, row, klass, student_id)


def _begin_mark(
    db: sqlite3.Connection, caller: Teacher, task_id: int, student_id: int, choosing: bool = True
) -> MarkRow:
    attempt_id = begin_attempt(db, caller, task_id, student_id, choosing)
    return store.begin_mark(db, attempt_id, caller.now)


def _criterion(db: sqlite3.Connection, row: TaskRow, criterion_id: int) -> StoredCriterion:
    for stored in criterion_store.criteria(db, row.revision_id):
        if stored.id == criterion_id:
            return stored
    found = revision_store.revision_of_criterion(db, criterion_id)
    if found and found[0] == row.rubric_id:
        raise Refused(
            f"This task was put on revision {row.revision} of its rubric in the meantime: "
            "reload the page, and choose by that one"
        )
    raise NotFound("There is no such criterion in this task's rubric")


def _check_choice(stored: StoredCriterion, choice: Choice) -> None:
    if choice.level_id is None:
        if choice.half_way:
            raise Refused("Half-way stands between two levels: choose the lower one", "half_way")
        return
    if choice.not_assessed:
        raise Refused("A level or not assessed, not both", "not_assessed")
    if choice.level_id not in stored.level_ids:
        raise Refused("This level is of another criterion", "level_id")
    # Refuses half-way where it cannot be.
    chosen_points(stored.criterion, stored.level_ids.index(choice.level_id), choice.half_way)


def _chosen(choices: dict[int, ChoiceRow]) -> dict[int, Choice]:
    return {number: choice_of(row) for number, row in choices.items()}


def _student_mark(
    db: sqlite3.Connection, caller: Teacher, row: TaskRow, klass: ClassRow, student_id: int
) -> StudentMark:
    view = view_of(db, caller, row)
    student = next((s for s in view.students if s.row.student_id == student_id), None)
    if student is None:
        raise NotFound("This student has left the class and has nothing on this task")
    attempt_id = student.row.attempt_id
    mark = None if attempt_id is None else store.mark(db, attempt_id)
    choices = store.choices(db, mark.id, mark.version) if mark else {}
    criteria = criterion_store.criteria(db, row.revision_id)
    return StudentMark(
        student,
        None if attempt_id is None else attempt_store.work(db, attempt_id),
        _late_minutes(row, student.row.handed_in_at),
        mark.version if mark else 0,
        mark.changed_at if mark and mark.version else None,
        bool(mark and mark.finished_version == mark.version),
        choices,
        store.remarks(db, mark.id, mark.version) if mark else {},
        tuple(criterion.key for criterion in unmarked_criteria(criteria, _chosen(choices))),
        total_of_choices(criteria, _chosen(choices), view.points),
        tuple(_moves(db, caller, row, klass, student, choices)),
        counting_under(db, mark, criteria) if mark else None,
    )


def _late_minutes(row: TaskRow, handed_in_at: datetime | None) -> int:
    """How many minutes after the due time it was handed in; 0 when in time, observed, or when
    nobody said when it was handed in.
    """
    if handed_in_at is None or row.due_at is None or row.kind is task_store.TaskKind.OBSERVED:
        return 0
    return max(0, ceil((handed_in_at - row.due_at).total_seconds() / 60))


def _moves(
    db: sqlite3.Connection,
    caller: Teacher,
    row: TaskRow,
    klass: ClassRow,
    student: StudentAtTask,
    choices: dict[int, ChoiceRow],
) -> list[Move]:
    record = student.row
    if record.attempt_id is None or record.done_at is None:
        return []
    mark = store.mark(db, record.attempt_id)
    attempt = AttemptMark(
        record.attempt_id,
        row.id,
        record.number or 1,
        tuple(
            (choice.criterion_id, choice.level_id, choice.half_way)
            for choice in choices.values()
            if choice.level_id is not None
        ),
        record.done_at,
        mark.first_finished_at if mark and mark.first_finished_at else caller.now,
        row.practice,
        record.excused,
    )
    return moves(db, caller, klass, record.student_id, attempt)
