"""One outcome: where it is assessed, and the class on it over time."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from datetime import date, datetime
from operator import itemgetter

from jade_ladder.core.rollup import ClassPicture, class_picture
from jade_ladder.service.evidence.class_term import Term
from jade_ladder.service.mastery.coverage import CoverageCell, by_day
from jade_ladder.service.outcomes.outcomes import own_outcome
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import today
from jade_ladder.service.shared.guards import own_class
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.evidence import sources
from jade_ladder.store.mastery import coverage as store
from jade_ladder.store.mastery.coverage import AlignedCriterion
from jade_ladder.store.outcomes import outcomes as outcome_store
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.work import tasks as task_store
from jade_ladder.store.work.tasks import TaskRow

MOST_PICTURES = 12


@dataclass(frozen=True, slots=True)
class PictureAfter:
    """Where a class stood on an outcome when the last evidence from a task was in."""

    task: str
    day: date
    picture: ClassPicture


@dataclass(frozen=True, slots=True)
class OutcomePage:
    """Where an outcome is assessed, and the class on it over time."""

    outcome: OutcomeRow
    criteria: tuple[AlignedCriterion, ...]
    tasks: tuple[tuple[TaskRow, CoverageCell], ...]
    pictures: tuple[PictureAfter, ...]
    classes: tuple[str, ...]


def outcome_page(caller: Teacher, class_id: int, outcome_id: int) -> OutcomePage:
    """Say where an outcome is assessed, and where the class stood on it after each of the last
    tasks.
    """
    with caller.reading() as db:
        klass = own_class(db, caller, class_id)
        outcome = own_outcome(db, caller, class_id, outcome_id)
        day = today(db, caller)
        term = Term.load(db, klass, day, outcome_id)
        kept, zone = term.kept, term.courses.history.zone
        there = student_store.there_on(term.members, day)
        last: dict[int, str] = {}
        for student_id in there:
            for row in kept.rows(student_id, outcome_id):
                # A note is of one student, and no picture of the class.
                if row.task_id is not None:
                    last[row.task_id] = max(row.done_at, last.get(row.task_id, ""))
        days = {
            task_id: datetime.fromisoformat(at).astimezone(zone).date()
            for task_id, at in last.items()
        }
        shown = sorted(days.items(), key=itemgetter(1, 0))[-MOST_PICTURES:]
        titles = sources.task_titles(db, (one for one, _ in shown), caller.person_id)
        scale = term.scales[outcome.scale_id].scale
        pictures = [
            PictureAfter(
                titles[task_id][0], one, class_picture(scale, term.standing(outcome, one).values())
            )
            for task_id, one in shown
        ]
        with_evidence = Counter(
            task_id for student_id in there for task_id in kept.tasks(student_id, outcome_id)
        )
        cells = [
            CoverageCell(outcome_id, one.task_id, one.criteria, with_evidence[one.task_id])
            for one in store.assessed_in(db, class_id, outcome_id)
        ]
        tasks = {
            task.id: task
            for task in task_store.class_tasks(db, class_id, [cell.task_id for cell in cells])
        }
        return OutcomePage(
            outcome,
            tuple(store.aligned_criteria(db, caller.person_id, outcome_id)),
            tuple(by_day((tasks[cell.task_id], cell) for cell in cells)),
            tuple(pictures),
            tuple(outcome_store.also_taught(db, class_id).get(outcome_id, ())),
        )
