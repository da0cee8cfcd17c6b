"""What a student gets back: the levels, remarks and total of a version of their mark, and what it
moved.
"""

from __future__ import annotations

import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.core.numbers import Hundredths
from jade_ladder.core.result_word import ResultWord
from jade_ladder.core.rubric import task_points
from jade_ladder.core.total import TOGETHER, LateRule, Total, late_rule, over_attempts
from jade_ladder.service.marking.choices import Choice, choice_of, total_of_choices
from jade_ladder.service.marking.met import MetCriteria
from jade_ladder.service.marking.passages import NumberedPassage, numbered, with_replaced
from jade_ladder.service.shared.caller import Caller, Student, Teacher
from jade_ladder.service.shared.days import school_zone
from jade_ladder.service.shared.guards import own_student, own_task
from jade_ladder.service.student.criteria import ShownCriterion, shown_criteria
from jade_ladder.service.work.handing_in import OwnTask, task_of_student
from jade_ladder.store.marking import feedback_files as feedback_store
from jade_ladder.store.marking import hand_backs as store
from jade_ladder.store.marking import passages as passage_store
from jade_ladder.store.marking.adjustments import adjustments_of
from jade_ladder.store.marking.feedback_files import FeedbackRow
from jade_ladder.store.marking.hand_back_moves import KeptMove, kept_moves
from jade_ladder.store.marking.hand_backs import SeenRow, WishRow
from jade_ladder.store.marking.marks import RemarkRow
from jade_ladder.store.rubrics import criteria as criterion_store
from jade_ladder.store.rubrics import rubrics as rubric_store
from jade_ladder.store.rubrics.criteria import StoredCriterion
from jade_ladder.store.work.parts import WorkPart

LONGEST_WORD = 1_000


@dataclass(frozen=True, slots=True)
class Result:
    """What a student gets back of one attempt; `attempts` are the numbers of all that they see.

    `total` is None where only the levels are shown, `over_attempts` is the task's total over
    several attempts that they see with one, `word` what came of it (None: nothing is said).
    `moved` was kept when it was handed back: it is empty on a teacher's preview of what was not.
    `stored` are the criteria of the revision that it was given under.
    """

    task: OwnTask
    seen: SeenRow
    parts: tuple[WorkPart, ...]
    criteria: tuple[ShownCriterion, ...]
    choices: Mapping[int, Choice]
    remarks: Mapping[int | None, RemarkRow]
    passages: tuple[NumberedPassage, ...]
    feedback: tuple[FeedbackRow, ...]
    stored: tuple[StoredCriterion, ...]
    points_shown: bool
    total: Total | None
    over_attempts: Hundredths | None
    word: ResultWord | None
    moved: tuple[KeptMove, ...]
    attempts: tuple[int, ...]
    wish: WishRow | None


def own_result(caller: Student, task_id: int, attempt: int | None = None) -> Result:
    """Give what was handed back to the caller of an attempt at a task, or of the newest; NotFound
    for what was not handed back, in the same words as for what is not there.
    """
    with caller.reading() as db:
        return _seen_result(db, caller, caller.person_id, task_id, attempt)


def result_of_student(caller: Teacher, task_id: int, student_id: int) -> Result:
    """Give the page that a student of the caller's gets of their newest marked attempt: as they see
    it where it is handed back and was not changed since, else as it would be, handed back now.
    """
    with caller.reading() as db:
        row, _ = own_task(db, caller, task_id)
        own_student(db, row.class_id, student_id)
        rows = store.handed_back(db, task_id, caller.now)
        found = next((one for one in rows if one.student_id == student_id), None)
        if found is None:
            raise NotFound("Nothing of this student is marked at this task yet")
        if found.seen_version is not None and found.seen_version == found.version:
            return _seen_result(db, caller, student_id, task_id, found.number)
        would = SeenRow(
            0,
            found.attempt_id,
            found.number,
            found.mark_id,
            found.version,
            row.total_shown,
            caller.now,
            None,
            None,
            found.handed_in_at,
        )
        task = task_of_student(db, caller, student_id, task_id)
        return _result(db, caller, student_id, task, would, (found.number,), preview=True)


def read_result(caller: Student, task_id: int, attempt: int, next_word: str) -> None:
    """Remember that the caller has read what was handed back, with their own word on what to do
    next, which the teacher sees.
    """
    if len(next_word) > LONGEST_WORD:
        raise Refused(f"At most {LONGEST_WORD:,} characters", "next_word")
    with caller.transaction() as db:
        seen = _seen(db, caller, caller.person_id, task_id, attempt)[0]
        store.set_read(db, seen.hand_back_id, caller.now, next_word.strip() or None)


def ask_again(caller: Student, task_id: int, attempt: int, words: str) -> None:
    """Ask for another attempt at a task, with a word why; once for each attempt."""
    if len(words) > LONGEST_WORD:
        raise Refused(f"At most {LONGEST_WORD:,} characters", "words")
    with caller.transaction() as db:
        task = task_of_student(db, caller, caller.person_id, task_id)
        seen = _seen(db, caller, caller.person_id, task_id, attempt)[0]
        if not task.row.present:
            raise Refused("You are not in this class any more", "words")
        if task.row.kind.entries:
            raise Refused("At this task your teacher enters what they see, as it comes", "words")
        if seen.number != task.row.number:
            raise Refused("There is a newer attempt already", "words")
        if task.row.wished:
            raise Refused("You have asked already", "words")
        store.add_wish(db, seen.attempt_id, words.strip(), caller.now)


def _seen(
    db: sqlite3.Connection, caller: Caller, student_id: int, task_id: int, attempt: int | None
) -> tuple[SeenRow, tuple[int, ...]]:
    rows = store.seen_attempts(db, task_id, student_id, caller.now)
    for row in rows:
        if attempt is None or row.number == attempt:
            return row, tuple(one.number for one in rows)
    raise NotFound("Nothing was handed back here")


def _seen_result(
    db: sqlite3.Connection, caller: Caller, student_id: int, task_id: int, attempt: int | None
) -> Result:
    task = task_of_student(db, caller, student_id, task_id)
    seen, attempts = _seen(db, caller, student_id, task_id, attempt)
    return _result(db, caller, student_id, task, seen, attempts)


def _result(
    db: sqlite3.Connection,
    caller: Caller,
    student_id: int,
    task: OwnTask,
    seen: SeenRow,
    attempts: tuple[int, ...],
    preview: bool = False,
) -> Result:
    revision_id = store.revision_of_mark(db, seen.mark_id, seen.version) or task.row.revision_id
    criteria = criterion_store.criteria(db, revision_id, task.row.asked)
    standing = store.standing_at(db, seen.mark_id, seen.version)
    choices = {number: choice_of(row) for number, row in standing.choices.items()}
    rows = passage_store.passages_at(db, seen.mark_id, seen.version)
    parts = with_replaced(db, seen.attempt_id, rows)
    moved = () if preview else kept_moves(db, seen.hand_back_id)
    return Result(
        task,
        seen,
        parts,
        shown_criteria(db, criteria),
        choices,
        standing.remarks,
        numbered(rows, parts, criteria),
        tuple(feedback_store.feedback_at(db, seen.mark_id, seen.version)),
        tuple(criteria),
        rubric_store.points_shown(db, revision_id),
        _total(db, task, seen),
        None
        if preview or len(attempts) < 2 or task.row.attempts_rule not in TOGETHER
        else _over_attempts(db, caller, student_id, task),
        MetCriteria(db, criteria).result_word(choices),
        tuple(moved),
        attempts,
        store.wish_of(db, seen.attempt_id),
    )


def _total(db: sqlite3.Connection, task: OwnTask, seen: SeenRow) -> Total | None:
    """Give the total that they see of an attempt; None where only the levels are shown."""
    if not seen.total_shown:
        return None
    revision_id = store.revision_of_mark(db, seen.mark_id, seen.version) or task.row.revision_id
    criteria = criterion_store.criteria(db, revision_id, task.row.asked)
    standing = store.standing_at(db, seen.mark_id, seen.version)
    return total_of_choices(
        criteria,
        {number: choice_of(row) for number, row in standing.choices.items()},
        task_points(task.row.points, [stored.criterion for stored in criteria]),
        _late(db, task, seen),
        seen.handed_in_at,
        adjustments_of(standing.adjustments),
    )


def _over_attempts(
    db: sqlite3.Connection, caller: Caller, student_id: int, task: OwnTask
) -> Hundredths | None:
    """Give the task's total over the attempts that they see with a total, where there are several
    (docs/calculations.md, “Over attempts”).
    """
    rows = store.seen_attempts(db, task.row.id, student_id, caller.now)
    shown = (_total(db, task, row) for row in sorted(rows, key=lambda row: row.number))
    finals = [one.final for one in shown if one is not None and one.final is not None]
    return over_attempts(finals, task.row.attempts_rule) if len(finals) > 1 else None


def _late(db: sqlite3.Connection, task: OwnTask, seen: SeenRow) -> LateRule | None:
    row = task.row
    return late_rule(
        row.late_per_day, row.late_most, row.first_due_at, seen.number, school_zone(db)
    )
