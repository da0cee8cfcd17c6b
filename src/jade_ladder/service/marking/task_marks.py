"""All marks of a task as they stand at the desk, and what each comes to."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import NamedTuple
from zoneinfo import ZoneInfo

from jade_ladder.core.rubric import task_points
from jade_ladder.core.total import NO_ADJUSTMENTS, Adjustments, Total, late_rule
from jade_ladder.service.marking.choices import Choice, Totals, choice_of
from jade_ladder.service.marking.met import MetCriteria
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import school_zone
from jade_ladder.service.shared.guards import own_task
from jade_ladder.store.marking import marks as store
from jade_ladder.store.marking.adjustments import adjusted_marks
from jade_ladder.store.marking.marks import TaskMark
from jade_ladder.store.rubrics import criteria as criterion_store
from jade_ladder.store.rubrics.criteria import StoredCriterion
from jade_ladder.store.work.tasks import TaskFields, TaskRow


class MarkTotal(NamedTuple):
    """A mark, what is chosen by criterion, and what that comes to (None: nothing to total);
    `not_yet` are the titles of what was not met in its finished version (None: nothing is said).
    """

    mark: TaskMark
    choices: Mapping[int, Choice]
    total: Total | None
    not_yet: list[str] | None = None


@dataclass(frozen=True, slots=True)
class TaskMarks:
    """The marks of a task on which anything was ever chosen, loaded once."""

    row: TaskRow
    criteria: Sequence[StoredCriterion]
    marks: Sequence[TaskMark]
    _choices: Mapping[int, Mapping[int, Choice]]
    _finished: Mapping[int, Mapping[int, Choice]]
    _adjusted: Mapping[int, Adjustments]
    _met: MetCriteria
    _zone: ZoneInfo

    @classmethod
    def load(cls, db: sqlite3.Connection, row: TaskRow) -> TaskMarks:
        """Load them in seven statements, however many there are. Part of a reading."""
        marks = [mark for mark in store.marks_of_tasks(db, [row.id]) if mark.version]
        versions = {mark.id: mark.finished_version for mark in marks}
        choices: dict[int, dict[int, Choice]] = {}
        finished: dict[int, dict[int, Choice]] = {}
        for one in store.ever_chosen(db, (mark.id for mark in marks)):
            if one.until is None:
                choices.setdefault(one.mark_id, {})[one.criterion_id] = choice_of(one)
            version = versions[one.mark_id]
            if version and one.since <= version and (one.until is None or one.until > version):
                finished.setdefault(one.mark_id, {})[one.criterion_id] = choice_of(one)
        criteria = criterion_store.criteria(db, row.revision_id, row.asked)
        return cls(
            row,
            criteria,
            marks,
            choices,
            finished,
            adjusted_marks(db, (mark.id for mark in marks)),
            MetCriteria(db, criteria),
            school_zone(db),
        )

    def totals(
        self,
        fields: TaskFields | None = None,
        due: Callable[[TaskMark], datetime | None] = lambda mark: mark.due_at,
    ) -> Iterator[MarkTotal]:
        """Give each mark with what it comes to (docs/calculations.md, "A task's total"), as the
        task is, or as it would be with other points, late rule and due times.
        """
        fields = fields or self.row.fields()
        points = task_points(fields.points, [stored.criterion for stored in self.criteria])
        totals = Totals(self.criteria, points)
        for mark in self.marks:
            choices = self._choices.get(mark.id, {})
            late = late_rule(
                fields.late_per_day, fields.late_most, due(mark), mark.number, self._zone
            )
            said = self._adjusted.get(mark.id, NO_ADJUSTMENTS)
            total = totals.total(choices, late, mark.handed_in_at, said)
            finished = self._finished.get(mark.id)
            word = None if finished is None else self._met.not_yet(finished)
            yield MarkTotal(mark, choices, total, word)


def totals_of_task(caller: Teacher, task_id: int) -> list[MarkTotal]:
    """List the marks of a task with what each comes to, student by student, by attempt."""
    with caller.reading() as db:
        row, _ = own_task(db, caller, task_id)
        return list(TaskMarks.load(db, row).totals())
