"""A task's page for a student: what is asked, what counts, and where they stand with it."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from jade_ladder.core.mastery import Mastery
from jade_ladder.service.mastery.own_ladder import shown_outcomes
from jade_ladder.service.shared.caller import Student
from jade_ladder.service.student.criteria import ShownCriterion, shown_criteria
from jade_ladder.service.work.handing_in import OwnTask, Receipt, receipts, task_of_student
from jade_ladder.service.work.instructions import shown_instructions
from jade_ladder.store.classes import own_classes as class_store
from jade_ladder.store.marking import again as again_store
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.outcomes.scales import StoredScale
from jade_ladder.store.rubrics import criteria as criterion_store
from jade_ladder.store.rubrics import rubrics as rubric_store
from jade_ladder.store.rubrics.criteria import StoredCriterion
from jade_ladder.store.work import handing_in as store
from jade_ladder.store.work import parts as part_store
from jade_ladder.store.work import task_files as file_store
from jade_ladder.store.work.handing_in import DraftRow
from jade_ladder.store.work.parts import WorkPart
from jade_ladder.store.work.task_files import TaskFile


@dataclass(frozen=True, slots=True)
class TaskOutcome:
    """An outcome that a task is about, with the student's own ladder on it."""

    outcome: OutcomeRow
    scale: StoredScale
    mastery: Mastery


@dataclass(frozen=True, slots=True)
class StudentTaskPage:
    """A task as its student sees it, the `instructions` as HTML. The criteria are those of the
    rubric, none where it is not shown beforehand; `put_in` are the files and links that are not
    handed in yet, `handed_in` the parts of what was. `files` come with the task. Of a further
    attempt that is open, `carried` and `asked_again` are the titles of the criteria that are
    carried over and of the others, where the mark that says so was handed back.
    """

    task: OwnTask
    instructions: str
    criteria: tuple[ShownCriterion, ...]
    points_shown: bool
    outcomes: tuple[TaskOutcome, ...]
    draft: DraftRow | None
    put_in: tuple[WorkPart, ...]
    handed_in: tuple[WorkPart, ...]
    receipts: tuple[Receipt, ...]
    files: tuple[TaskFile, ...]
    carried: tuple[str, ...]
    asked_again: tuple[str, ...]


def task_page(caller: Student, task_id: int) -> StudentTaskPage:
    """Give a task's page for the caller."""
    with caller.reading() as db:
        task = task_of_student(db, caller, caller.person_id, task_id)
        row = task.row
        criteria = criterion_store.criteria(db, row.revision_id, row.asked)
        about = [tie.outcome_id for stored in criteria for tie in stored.alignments]
        klass = class_store.own_class(db, caller.person_id, row.class_id)
        assert klass is not None, "an own task is of an own class"
        shown = shown_outcomes(db, caller, caller.person_id, klass, about)
        parts = part_store.work_parts(db, row.attempt_id) if row.attempt_id and row.has_work else []
        return StudentTaskPage(
            task,
            shown_instructions(db, task_id, row.instructions),
            shown_criteria(db, criteria) if row.rubric_shown else (),
            rubric_store.points_shown(db, row.revision_id),
            tuple(
                TaskOutcome(
                    outcome,
                    shown.scales[outcome.scale_id],
                    shown.mastery(caller.person_id, outcome.id),
                )
                for outcome in shown.outcomes
            ),
            store.draft(db, caller.person_id, task_id),
            tuple(part_store.draft_parts(db, caller.person_id, task_id)),
            tuple(parts),
            tuple(receipts(db, caller.person_id, task_id)),
            tuple(one for one in file_store.task_files(db, task_id) if not one.starting),
            *_asked_again(db, task, criteria),
        )


def _asked_again(
    db: sqlite3.Connection, task: OwnTask, criteria: list[StoredCriterion]
) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Give what is carried over into the further attempt that is open, and what it asks again."""
    row = task.row
    if not row.granted or row.attempt_id is None or row.back_number != row.number:
        return (), ()
    over = set(again_store.carried_after(db, row.attempt_id))
    if not over:
        return (), ()
    titles = [(stored.criterion.key in over, stored.criterion.title) for stored in criteria]
    carried = tuple(title for is_over, title in titles if is_over)
    return carried, tuple(title for is_over, title in titles if not is_over)
