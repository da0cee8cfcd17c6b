"""All marks of a task as they stand at the desk, and what each comes to."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import NamedTuple
from zoneinfo import ZoneInfo

from jade_ladder.core.evidence import AttemptsRule
from jade_ladder.core.numbers import Hundredths
from jade_ladder.core.result_word import ResultWord
from jade_ladder.core.rubric import task_points
from jade_ladder.core.total import (
    NO_ADJUSTMENTS,
    TOGETHER,
    Adjustments,
    Total,
    late_rule,
    over_attempts,
)
from jade_ladder.service.marking.choices import Choice, Totals, choice_of
from jade_ladder.service.marking.met import MetCriteria
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import school_zone
from jade_ladder.service.shared.guards import own_task
from jade_ladder.store.marking import hand_backs as hand_back_store
from jade_ladder.store.marking import marks as store
from jade_ladder.store.marking.adjustments import adjusted_at, adjusted_marks
from jade_ladder.store.marking.marks import TaskMark
from jade_ladder.store.rubrics import criteria as criterion_store
from jade_ladder.store.rubrics.criteria import StoredCriterion
from jade_ladder.store.work.tasks import TaskFields, TaskRow


class MarkTotal(NamedTuple):
    """A mark, what is chosen by criterion, and what that comes to (None: nothing to total);
    `word` is what came of its finished version (None: nothing is said),
    `final` what that version comes to.
    """

    mark: TaskMark
    choices: Mapping[int, Choice]
    total: Total | None
    word: ResultWord | None = None
    final: Hundredths | None = None


@dataclass(frozen=True, slots=True)
class TaskMarks:
    """The marks of a task on which anything was ever chosen, loaded once."""

    row: TaskRow
    criteria: Sequence[StoredCriterion]
    marks: Sequence[TaskMark]
    _choices: Mapping[int, Mapping[int, Choice]]
    _finished: Mapping[int, Mapping[int, Choice]]
    _adjusted: Mapping[int, Adjustments]
    _finally_adjusted: Mapping[int, Adjustments]
    _earlier: Mapping[int, Sequence[StoredCriterion]]
    _met: MetCriteria
    _zone: ZoneInfo

    @classmethod
    def load(cls, db: sqlite3.Connection, row: TaskRow) -> TaskMarks:
        """Load them in eight statements, however many there are. Part of a reading."""
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
            adjusted_at(db, [(mark, version) for mark, version in versions.items() if version]),
            _earlier_criteria(db, row, criteria, finished, versions),
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
            word = None if finished is None else self._met.result_word(finished)
            final = None
            if finished is not None:
                under = self._earlier.get(mark.id)
                of = totals if under is None else Totals(under, points)
                adjusted = self._finally_adjusted.get(mark.id, NO_ADJUSTMENTS)
                final_total = of.total(finished, late, mark.handed_in_at, adjusted)
                final = None if final_total is None else final_total.final
            yield MarkTotal(mark, choices, total, word, final)

    def with_all_met(self) -> list[int]:
        """List the students of whose newest attempt every criterion is met as it is finished, so
        that another attempt would ask nothing again.
        """
        newest = {mark.student_id: mark for mark in self.marks}
        return [
            student_id
            for student_id, mark in newest.items()
            if (finished := self._finished.get(mark.id)) is not None
            and all(
                stored.id in finished and self._met.is_met(stored, finished[stored.id])
                for stored in self.criteria
            )
        ]


def over_attempts_of(marks: Iterable[MarkTotal], rule: AttemptsRule) -> dict[int, Hundredths]:
    """Give the task's total over their attempts, by student, of those who have several finished
    ones with a total (docs/calculations.md, “Over attempts”).
    """
    finals: dict[int, list[Hundredths]] = {}
    for one in marks:
        if one.final is not None:
            finals.setdefault(one.mark.student_id, []).append(one.final)
    return {
        student_id: total
        for student_id, several in finals.items()
        if len(several) > 1 and (total := over_attempts(several, rule)) is not None
    }


def final_totals(row: TaskRow, marks: Iterable[MarkTotal]) -> Mapping[int, Hundredths]:
    """Give what counts as each student's total (docs/calculations.md, “Over attempts”): of their
    finished marks, by the task's attempts rule.
    """
    found = list(marks)
    newest = {one.mark.student_id: one.final for one in found if one.final is not None}
    return newest | over_attempts_of(found, row.attempts_rule)


def _earlier_criteria(
    db: sqlite3.Connection,
    row: TaskRow,
    criteria: Sequence[StoredCriterion],
    finished: Mapping[int, Mapping[int, Choice]],
    versions: Mapping[int, int | None],
) -> dict[int, Sequence[StoredCriterion]]:
    """Give the criteria of the revision that a finished version was given under, by the mark, where
    that is an earlier one.
    """
    known = {stored.id for stored in criteria}
    by_revision: dict[int, Sequence[StoredCriterion]] = {}
    found: dict[int, Sequence[StoredCriterion]] = {}
    for mark_id, choices in finished.items():
        if choices.keys() <= known:
            continue
        revision_id = hand_back_store.revision_of_mark(db, mark_id, versions[mark_id] or 0)
        if revision_id is not None and revision_id != row.revision_id:
            if revision_id not in by_revision:
                by_revision[revision_id] = criterion_store.criteria(db, revision_id, row.asked)
            found[mark_id] = by_revision[revision_id]
    return found


@dataclass(frozen=True, slots=True)
class TaskTotals:
    """What the marks of a task come to, student by student, by attempt; and over their attempts, by
    student, of those with several that are finished, where that can be another than the newest's.
    """

    marks: tuple[MarkTotal, ...]
    over_attempts: Mapping[int, Hundredths]


def totals_of_task(caller: Teacher, task_id: int) -> TaskTotals:
    """Give the marks of a task with what each comes to."""
    with caller.reading() as db:
        row, _ = own_task(db, caller, task_id)
        marks = tuple(TaskMarks.load(db, row).totals())
        rule = row.attempts_rule
        return TaskTotals(marks, over_attempts_of(marks, rule) if rule in TOGETHER else {})
