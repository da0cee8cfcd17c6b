"""What a revision of a rubric would do to the tasks that use it, before it is applied."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from zoneinfo import ZoneInfo

from jade_ladder.core.errors import Refused
from jade_ladder.core.evidence import AttemptEvidence, SourceKind
from jade_ladder.core.mastery import Mastery
from jade_ladder.core.numbers import Hundredths
from jade_ladder.core.rubric import task_points
from jade_ladder.core.total import NO_ADJUSTMENTS, Adjustments, late_rule
from jade_ladder.service.changes.revisions import CarryPlan, carry_plan
from jade_ladder.service.changes.totals import TotalMove, moves
from jade_ladder.service.changes.what_if import Effects, LevelChange
from jade_ladder.service.evidence.class_evidence import ClassEvidence
from jade_ladder.service.marking.carried_marks import CarriedMark
from jade_ladder.service.marking.choices import Totals
from jade_ladder.service.marking.moves import AttemptMark
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import school_zone
from jade_ladder.store.classes import classes as class_store
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.classes.students import StudentRow
from jade_ladder.store.marking.adjustments import adjusted_marks
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.rubrics.criteria import StoredCriterion
from jade_ladder.store.work.tasks import TaskRow


@dataclass(frozen=True, slots=True)
class CarriedTotalMove(TotalMove):
    """A total that would be another, of a mark that is carried over: it says whether it counts at
    once, stays, or was not finished yet.
    """

    mark: CarriedMark


@dataclass(frozen=True, slots=True)
class TaskEffect:
    """What a revision would do to one task that is on another: its points before and after, how
    its marks would stand, and what moves if it alone is put on the revision.
    """

    task: TaskRow
    klass: ClassRow
    points: tuple[Hundredths, Hundredths]
    marks: tuple[CarriedMark, ...]
    totals: tuple[CarriedTotalMove, ...]
    moves: Effects


@dataclass(frozen=True, slots=True)
class RevisionEffects:
    """What a revision would do: task by task, and for the chosen tasks together. `elsewhere`
    counts tasks of classes that the caller does not teach; they stay as they are.
    """

    only_words: bool
    tasks: tuple[TaskEffect, ...]
    together: Effects
    elsewhere: int


def revision_effects(
    caller: Teacher, rubric_id: int, number: int, chosen: Sequence[int] | None = None
) -> RevisionEffects:
    """Say what putting tasks on a revision would do; together for the chosen ones (all at first).
    Nothing is changed.
    """
    with caller.reading() as db:
        found = carry_plan(db, caller, rubric_id, number)
        known = [task.id for task in found.tasks]
        chosen = known if chosen is None else chosen
        if not set(chosen) <= set(known):
            raise Refused("One of these tasks is not yours, or on this revision already", "tasks")
        outcome_ids = {
            tie.outcome_id
            for criteria in (found.criteria, *found.sources.values())
            for stored in criteria
            for tie in stored.alignments
        }
        sights = [
            _Sight(ClassEvidence.load(db, caller, klass, outcome_ids))
            for klass in class_store.classes_teaching(db, outcome_ids)
            if found.tasks
        ]
        own = {klass.id: klass for klass in class_store.classes_of_teacher(db, caller.person_id)}
        zone = school_zone(db)
        adjusted = adjusted_marks(
            db, (mark.mark.id for marks in found.marks.values() for mark in marks)
        )
    return RevisionEffects(
        found.only_words,
        tuple(_task_effect(found, task, own, sights, zone, adjusted) for task in found.tasks),
        _moves(sights, own, [mark for task_id in chosen for mark in found.marks[task_id]]),
        found.elsewhere,
    )


def _task_effect(
    found: CarryPlan,
    task: TaskRow,
    own: dict[int, ClassRow],
    sights: Sequence[_Sight],
    zone: ZoneInfo,
    adjusted: Mapping[int, Adjustments],
) -> TaskEffect:
    marks = found.marks[task.id]
    source, target = found.sources[task.id], found.targets[task.id]
    points = (_points(task, source), _points(task, target))
    totals_before, totals_after = Totals(source, points[0]), Totals(target, points[1])
    totals = []
    for mark in marks:
        late = late_rule(
            task.late_per_day, task.late_most, mark.mark.due_at, mark.mark.number, zone
        )
        said = adjusted.get(mark.mark.id, NO_ADJUSTMENTS)
        before = totals_before.total(mark.was, late, mark.mark.handed_in_at, said)
        after = totals_after.total(mark.choices, late, mark.mark.handed_in_at, said)
        if moves(before, after):
            totals.append(CarriedTotalMove(mark.mark.name, before, after, mark))
    return TaskEffect(
        task, own[task.class_id], points, tuple(marks), tuple(totals), _moves(sights, own, marks)
    )


def _points(task: TaskRow, criteria: Sequence[StoredCriterion]) -> Hundredths:
    return task_points(task.points, [stored.criterion for stored in criteria])


def _moves(
    sights: Iterable[_Sight], own: dict[int, ClassRow], marks: Sequence[CarriedMark]
) -> Effects:
    moves = [(sight.evidence.klass, tuple(sight.moves(marks))) for sight in sights]
    return Effects(
        tuple((klass, changes) for klass, changes in moves if klass.id in own),
        sum(len(changes) for klass, changes in moves if klass.id not in own),
    )


class _Sight:
    """A class's evidence as it is, to see what becomes of it when marks are carried over."""

    def __init__(self, evidence: ClassEvidence) -> None:
        self.evidence = evidence
        self._known: dict[int, dict[int, AttemptEvidence | None]] = {}
        self._before: dict[tuple[int, int], Mastery] = {}
        self._of_attempt: dict[int, dict[int, AttemptEvidence]] = {}
        for (_, outcome_id), attempts in evidence.found.attempts.items():
            for piece in attempts:
                if piece.key.kind is SourceKind.NOTE:
                    continue
                self._of_attempt.setdefault(piece.key.source, {})[outcome_id] = piece

    def moves(self, marks: Iterable[CarriedMark]) -> list[LevelChange]:
        """Say whose mastery would be another."""
        changed: dict[tuple[int, int], dict[int, AttemptEvidence | None]] = {}
        for mark in marks:
            if mark.counts:
                for outcome_id, piece in self._changed(mark).items():
                    place = changed.setdefault((mark.mark.student_id, outcome_id), {})
                    place[mark.mark.attempt_id] = piece
        return [
            move
            for student, outcome in self.evidence.places()
            if (new := changed.get((student.id, outcome.id)))
            and (move := self._move(student, outcome, new))
        ]

    def _changed(self, carried: CarriedMark) -> dict[int, AttemptEvidence | None]:
        """Give, by outcome, the evidence that a mark would be and is not yet."""
        mark = carried.mark
        known = self._known.get(mark.id)
        if known is not None:
            return known
        found = self._known[mark.id] = {}
        there = self._of_attempt.get(mark.attempt_id, {})
        attempt = AttemptMark(
            mark.attempt_id,
            mark.task_id,
            mark.number,
            mark.done_at,
            mark.first_finished_at or mark.done_at,
            mark.practice,
            mark.excused,
        )
        chosen = [
            (
                criterion_id,
                choice.level_id,
                int(choice.half_way),
                int(choice.carried_from is not None),
            )
            for criterion_id, choice in carried.choices.items()
            if choice.level_id is not None
        ]
        said = self.evidence.alignments.evidence(chosen, mark.combining)
        for outcome_id in there.keys() | said.keys():
            piece = there.get(outcome_id)
            value = said.get(outcome_id)
            if value != (piece.value if piece else None):
                new = None if value is None else attempt.evidence(outcome_id, value)
                if new is not None and piece is not None:
                    new = new._replace(set_aside=piece.set_aside)
                found[outcome_id] = new
        return found

    def _move(
        self, student: StudentRow, outcome: OutcomeRow, new: dict[int, AttemptEvidence | None]
    ) -> LevelChange | None:
        now = self.evidence.attempts(student.id, outcome.id)
        then = [
            piece
            for piece in now
            if piece.key.kind is SourceKind.NOTE or piece.key.source not in new
        ]
        then += [piece for piece in new.values() if piece is not None]
        before = self._before.get((student.id, outcome.id))
        if before is None:
            before = self.evidence.mastery(student.id, outcome.id, now)
            self._before[student.id, outcome.id] = before
        after = self.evidence.mastery(student.id, outcome.id, then)
        if (before.value, before.state, before.level) == (after.value, after.state, after.level):
            return None
        scale = self.evidence.scales[outcome.scale_id]
        klass = self.evidence.klass
        return LevelChange(klass, student, outcome, scale, scale, before, after)
