"""What is assessed how often and when: a class's outcomes against its tasks, and one outcome."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.core.signs import THIN_AT_FIRST, is_thin
from jade_ladder.service.evidence.kept_evidence import KeptEvidence, limits_of
from jade_ladder.service.evidence.rules import is_taught
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import today
from jade_ladder.service.shared.guards import own_class
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.mastery import coverage as store
from jade_ladder.store.mastery.expectation import not_expected
from jade_ladder.store.mastery.judgements import judged_on
from jade_ladder.store.outcomes import outcomes as outcome_store
from jade_ladder.store.outcomes import strands as strand_store
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.outcomes.strands import StrandRow
from jade_ladder.store.people import people as people_store
from jade_ladder.store.work import tasks as task_store
from jade_ladder.store.work.tasks import TaskRow


@dataclass(frozen=True, slots=True)
class CoverageCell:
    """A task that assesses an outcome: by how many criteria, and for how many students there is
    evidence from it.
    """

    outcome_id: int
    task_id: int
    criteria: int
    students: int


@dataclass(frozen=True, slots=True)
class OutcomeCoverage:
    """An outcome: how many counting tasks have given evidence or still will, which is due next, of
    how many of the students there now it is expected, and of how many of these the evidence is thin
    or there is none.
    """

    outcome: OutcomeRow
    tasks: int
    next_task: TaskRow | None
    thin: int
    without: int
    students: int


@dataclass(frozen=True, slots=True)
class Coverage:
    """A class's outcomes against its tasks in the order of their days; evidence from fewer
    different sources than `thin_below` is thin.
    """

    strands: tuple[StrandRow, ...]
    tasks: tuple[TaskRow, ...]
    outcomes: tuple[OutcomeCoverage, ...]
    cells: tuple[CoverageCell, ...]
    thin_below: int


def coverage(caller: Teacher, class_id: int) -> Coverage:
    """Say what of a class's outcomes is assessed where, how often, and when next."""
    with caller.reading() as db:
        own_class(db, caller, class_id)
        day = today(db, caller)
        students = student_store.students(db, class_id, day)
        outcomes = [o for o in outcome_store.class_outcomes(db, class_id) if is_taught(o, day)]
        tasks = sorted(task_store.class_tasks(db, class_id), key=day_of)
        kept = KeptEvidence.load(
            db, limits_of(db, students, day), (outcome.id for outcome in outcomes)
        )
        lifted = not_expected(db, (student.id for student in students), day)
        judged = judged_on(
            db, (student.id for student in students), (outcome.id for outcome in outcomes), day
        )
        assessed = store.assessed_in(db, class_id)
        strands = strand_store.strands(db, caller.person_id)
        school = people_store.school(db)
        thin_below = school.thin if school else THIN_AT_FIRST
    sources = {place: kept.tasks(*place) for place in kept.places}
    evidence = Counter(
        (outcome_id, task_id) for (_, outcome_id), found in sources.items() for task_id in found
    )
    by_id = {task.id: task for task in tasks}
    counting: dict[int, list[TaskRow]] = {}
    for one in assessed:
        if not by_id[one.task_id].practice:
            counting.setdefault(one.outcome_id, []).append(by_id[one.task_id])
    rows = []
    for outcome in outcomes:
        of_outcome = counting.get(outcome.id, [])
        coming = [task for task in of_outcome if task.due_at and task.due_at > caller.now]
        counts = [
            (len(sources.get((student.id, outcome.id), ())), (student.id, outcome.id) in judged)
            for student in students
            if (student.id, outcome.id) not in lifted
        ]
        rows.append(
            OutcomeCoverage(
                outcome,
                len(of_outcome),
                min(coming, key=day_of, default=None),
                sum(is_thin(count, judged=one, fewer_than=thin_below) for count, one in counts),
                sum(count == 0 for count, _ in counts),
                len(counts),
            )
        )
    cells = tuple(
        CoverageCell(
            one.outcome_id, one.task_id, one.criteria, evidence[one.outcome_id, one.task_id]
        )
        for one in assessed
    )
    return Coverage(tuple(strands), tuple(tasks), tuple(rows), cells, thin_below)


def day_of(task: TaskRow) -> tuple[datetime, int]:
    """Give the day by which tasks stand in order: when one is due, else when it was made."""
    return task.due_at or task.made_at, task.id


def by_day(
    pairs: Iterable[tuple[TaskRow, CoverageCell]],
) -> list[tuple[TaskRow, CoverageCell]]:
    """Put tasks in the order of their days."""
    return sorted(pairs, key=lambda pair: day_of(pair[0]))
