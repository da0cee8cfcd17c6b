"""The marking desk: what stands still while a set is marked, and one student's work and mark."""

from __future__ import annotations

from dataclasses import dataclass

from jade_ladder.core.errors import NotFound
from jade_ladder.service.marking.moves import CriterionNeeds, needs
from jade_ladder.service.marking.passages import NumberedPassage, numbered, with_replaced
from jade_ladder.service.marking.state import Marking, MarkState
from jade_ladder.service.rubrics.rubrics import as_shares
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import today
from jade_ladder.service.shared.guards import own_task
from jade_ladder.service.work.standing import late_minutes
from jade_ladder.service.work.tasks import TaskView, view_of
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.marking import feedback_files as feedback_store
from jade_ladder.store.marking import passages as passage_store
from jade_ladder.store.marking.feedback_files import FeedbackRow
from jade_ladder.store.outcomes import outcomes as outcome_store
from jade_ladder.store.outcomes import scales as scale_store
from jade_ladder.store.outcomes.outcomes import OwnOutcome
from jade_ladder.store.outcomes.scales import StoredScale
from jade_ladder.store.rubrics import criteria as criterion_store
from jade_ladder.store.rubrics.criteria import StoredCriterion, asked_of
from jade_ladder.store.work.parts import WorkPart


@dataclass(frozen=True, slots=True)
class Desk:
    """What stands still while a set is marked: the task, its rubric, everybody in it."""

    task: TaskView
    klass: ClassRow
    criteria: tuple[StoredCriterion, ...]
    outcomes: dict[int, OwnOutcome]
    scales: dict[int, StoredScale]


@dataclass(frozen=True, slots=True)
class WorkAtDesk:
    """One attempt of a student: the parts of the work, how late it was, the mark, the passages of
    the work that are remarked on, the recordings and files of the mark, and what the criteria that
    a further attempt asks have to give; by these criteria.
    """

    attempt: int
    parts: tuple[WorkPart, ...]
    late_minutes: int
    mark: MarkState
    passages: tuple[NumberedPassage, ...]
    feedback: tuple[FeedbackRow, ...]
    needs: tuple[CriterionNeeds, ...]
    criteria: tuple[StoredCriterion, ...]


def desk(caller: Teacher, task_id: int) -> Desk:
    """Give what the desk needs to mark a set."""
    with caller.reading() as db:
        row, klass = own_task(db, caller, task_id)
        criteria = criterion_store.criteria(db, row.revision_id)
        asked = asked_of(criteria, row.asked)
        aligned = {tie.outcome_id for stored in asked for tie in stored.alignments}
        outcomes = {
            outcome.id: outcome
            for outcome in outcome_store.own_outcomes(db, caller.person_id)
            if outcome.id in aligned
        }
        view = view_of(db, caller, row, criteria)
        return Desk(view, klass, tuple(as_shares(asked)), outcomes, scale_store.scales(db))


def work_at_desk(caller: Teacher, task_id: int, student_id: int, attempt: int = 1) -> WorkAtDesk:
    """Give one student's work and mark; an attempt that is not there yet is empty."""
    with caller.reading() as db:
        marking = Marking.load(db, caller, task_id, student_id, attempt)
        place = marking.place
        if place.attempt.id is None:
            members = student_store.memberships(db, place.task.class_id)
            if student_id not in student_store.there_on(members, today(db, caller)):
                raise NotFound("This student has left the class and has nothing on this task")
        rows = passage_store.passages_at(db, place.mark.id) if place.mark.id else []
        parts = with_replaced(db, place.attempt.id, rows) if place.attempt.id else ()
        due_at = place.task.due_at if attempt == 1 else None
        late = late_minutes(place.attempt.handed_in_at, place.task.kind, due_at)
        passages = numbered(rows, parts, marking.criteria)
        feedback = feedback_store.feedback_at(db, place.mark.id) if place.mark.id else []
        return WorkAtDesk(
            attempt,
            parts,
            late,
            marking.state(),
            passages,
            tuple(feedback),
            tuple(needs(db, caller.now, place, marking.criteria, marking.choices)),
            tuple(marking.criteria),
        )
