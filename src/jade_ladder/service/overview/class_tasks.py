"""What came of a class's tasks, and of their criteria (docs/calculations.md, “Over tasks”)."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from jade_ladder.core.numbers import Hundredths, half_up, round_half_up
from jade_ladder.core.rubric import task_points
from jade_ladder.service.marking.spread import CriterionSpread, spread
from jade_ladder.service.marking.task_marks import TaskMarks, final_totals
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import today
from jade_ladder.service.shared.guards import own_class
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.rubrics.criteria import StoredCriterion
from jade_ladder.store.work import tasks as task_store
from jade_ladder.store.work.tasks import TaskRow


@dataclass(frozen=True, slots=True)
class CriterionAtTask:
    """How the levels of a criterion have fallen at a task, and the mean level, the lowest being 1
    (None: nothing was chosen).
    """

    stored: StoredCriterion
    spread: CriterionSpread
    mean: Hundredths | None


@dataclass(frozen=True, slots=True)
class TaskOverTerm:
    """A task with the totals that count: of how many students, and as shares of its points, in
    hundredths of a per cent, their mean, the top and the lowest (None: there are none).
    """

    row: TaskRow
    points: Hundredths
    students: int
    mean: int | None
    top: int | None
    lowest: int | None
    criteria: tuple[CriterionAtTask, ...]


def class_tasks_over_term(caller: Teacher, class_id: int) -> list[TaskOverTerm]:
    """Give the tasks of a class on which anything is marked, by due time, those without last; in
    figures of those who are in the class today and not excused.
    """
    with caller.reading() as db:
        own_class(db, caller, class_id)
        there = {one.id for one in student_store.students(db, class_id, today(db, caller))}
        found = []
        for row in task_store.class_tasks(db, class_id):
            marks = TaskMarks.load(db, row)
            if not marks.marks:
                continue
            points = task_points(row.points, [stored.criterion for stored in marks.criteria])
            counted = (
                one
                for one in marks.totals()
                if one.mark.student_id in there and not one.mark.excused
            )
            totals = sorted(final_totals(row, counted).values())
            by_criterion = {one.criterion_id: one for one in spread(caller, row.id)}
            found.append(
                TaskOverTerm(
                    *(row, points, len(totals)),
                    *_shares(totals, points),
                    tuple(
                        CriterionAtTask(
                            stored, by_criterion[stored.id], _mean_level(by_criterion[stored.id])
                        )
                        for stored in marks.criteria
                    ),
                )
            )
        return found


def _shares(
    totals: list[Hundredths], points: Hundredths
) -> tuple[int | None, int | None, int | None]:
    if not totals or not points:
        return None, None, None
    mean = half_up(sum(totals) * 10_000, len(totals) * points)
    return mean, half_up(totals[-1] * 10_000, points), half_up(totals[0] * 10_000, points)


def _mean_level(found: CriterionSpread) -> Hundredths | None:
    count = sum(found.all.counts)
    if not count:
        return None
    places = sum(place * times for place, times in enumerate(found.all.counts))
    return round_half_up(1 + (places + Fraction(sum(found.all.half), 2)) / count)
