"""One outcome: where it is assessed, and the class on it over time."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from datetime import date
from operator import itemgetter

from jade_ladder.core.mastery import mastery_of
from jade_ladder.core.rollup import ClassPicture, class_picture
from jade_ladder.service.mastery.class_evidence import gather_class
from jade_ladder.service.mastery.coverage import CoverageCell, _by_day, _of
from jade_ladder.service.mastery.rules import as_it_stood, rules_of
from jade_ladder.service.outcomes.outcomes import own_outcome
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import school_zone, today
from jade_ladder.service.shared.guards import own_class
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.mastery import coverage as store
from jade_ladder.store.mastery import evidence as evidence_store
from jade_ladder.store.mastery.coverage import AlignedCriterion
from jade_ladder.store.mastery.expectation import not_expected
from jade_ladder.store.outcomes import outcomes as outcome_store
from jade_ladder.store.outcomes import scales as scale_store
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
        zone = school_zone(db)
        scales = scale_store.scales(db)
        students = student_store.students(db, class_id, day)
        now = gather_class(db, klass, students, [outcome], day)
        last: dict[int, date] = {}
        for piece in (piece for found in now.values() for piece in found.attempts):
            done = piece.done_at.astimezone(zone).date()
            last[piece.source[1]] = max(done, last.get(piece.source[1], done))
        titles = evidence_store.task_titles(db, last)
        pictures = []
        for task_id, one in sorted(last.items(), key=itemgetter(1, 0))[-MOST_PICTURES:]:
            there = student_store.students(db, class_id, one)
            lifted = not_expected(db, (student.id for student in there), one)
            gathered = gather_class(db, klass, there, [outcome], one)
            then, (outcome_then,) = as_it_stood(db, klass, [outcome], one)
            rules = rules_of(then, outcome_then, scales)
            masteries = (
                mastery_of(_of(gathered, student.id, outcome_id).pieces(), rules)
                for student in there
                if (student.id, outcome_id) not in lifted
            )
            picture = class_picture(rules.scale, masteries)
            pictures.append(PictureAfter(titles[task_id][0], one, picture))
        tasks = {task.id: task for task in task_store.class_tasks(db, class_id)}
        with_evidence = Counter(
            source
            for found in now.values()
            for source in {piece.source[1] for piece in found.attempts}
        )
        cells = [
            CoverageCell(outcome_id, one.task_id, one.criteria, with_evidence[one.task_id])
            for one in store.assessed_in(db, class_id)
            if one.outcome_id == outcome_id
        ]
        return OutcomePage(
            outcome,
            tuple(store.aligned_criteria(db, caller.person_id, outcome_id)),
            tuple(_by_day((tasks[cell.task_id], cell) for cell in cells)),
            tuple(pictures),
            tuple(outcome_store.also_taught(db, class_id).get(outcome_id, ())),
        )
