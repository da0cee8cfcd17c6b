"""The class at hand: all that observing one task needs, as it stands at a moment."""

from __future__ import annotations

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime

from jade_ladder.core.errors import Refused
from jade_ladder.core.mastery import Mastery
from jade_ladder.service.marking.choices import NOTHING, Choice, choice_of
from jade_ladder.service.marking.state import carried_choices
from jade_ladder.service.mastery.wall import wall
from jade_ladder.service.observing.days import attempt_on
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import school_zone
from jade_ladder.service.shared.guards import own_class, own_task
from jade_ladder.service.work.standing import StudentAtTask, setting_of, student_at_task
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.marking.again import CarriedRow
from jade_ladder.store.observing import observing as store
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.outcomes.scales import StoredScale
from jade_ladder.store.rubrics import criteria as criterion_store
from jade_ladder.store.rubrics.criteria import StoredCriterion
from jade_ladder.store.work import standing as standing_store
from jade_ladder.store.work.tasks import TaskRow


@dataclass(frozen=True, slots=True)
class SeenEarlier:
    """What was seen of a student at an earlier observation, by the criterion's record, and when."""

    day: date
    choices: Mapping[int, Choice]
    remarks: Mapping[int, str]


@dataclass(frozen=True, slots=True)
class StudentAtHand:
    """One student: where they stand with the task, the number of the attempt that a tap goes to
    now (None: to none), what stands in it by the criterion's record, what was seen at the
    observation before it, whether a teacher opened it, and where they stand on each outcome.
    """

    standing: StudentAtTask
    attempt: int | None
    choices: Mapping[int, Choice]
    remarks: Mapping[int, str]
    files: Mapping[int, int]
    earlier: SeenEarlier | None
    opened: bool
    glances: Sequence[Mastery | None]


@dataclass(frozen=True, slots=True)
class ClassAtHand:
    """A class for one task that is observed; `seats` are its students in the order they sit,
    `unfinished` is how many marks *Finish* would finish now.
    """

    task: TaskRow
    klass: ClassRow
    day: date
    now: datetime
    criteria: Sequence[StoredCriterion]
    outcomes: Sequence[OutcomeRow]
    scales: Mapping[int, StoredScale]
    students: Sequence[StudentAtHand]
    seats: Sequence[int]
    unfinished: int


def class_at_hand(caller: Teacher, task_id: int) -> ClassAtHand:
    """Give the class for a task that is observed, as it stands now."""
    with caller.reading() as db:
        task, klass = own_task(db, caller, task_id)
        if not task.kind.watched:
            raise Refused("This task is not observed: its work is marked at the desk")
        zone = school_zone(db)
        day = caller.now.astimezone(zone).date()
        criteria = criterion_store.criteria(db, task.revision_id, task.asked)
        rows = standing_store.task_students(db, task_id, klass.id, day)
        times = store.all_attempt_times(db, task_id)
        standing_choices = _choices(db, task_id)
        coming = _coming(db, task_id, criteria)
        remarks, files = _said(db, task_id)
        seats = store.seats(db, klass.id)
        unfinished = len(store.marks_to_finish(db, task_id))
    seen = wall(caller, klass.id)
    about = {tie.outcome_id for stored in criteria for tie in stored.alignments}
    columns = [place for place, outcome in enumerate(seen.outcomes) if outcome.id in about]
    cells = {
        student.id: [row[place].mastery if row[place].expected else None for place in columns]
        for student, row in zip(seen.students, seen.cells, strict=True)
    }
    needing = sum(not stored.criterion.bonus for stored in criteria)
    students = []
    for row in rows:
        if row.left_on is not None and row.left_on <= day:
            continue
        there = times.get(row.student_id, [])
        number = attempt_on(there, caller.now, zone)
        now = next((one.id for one in there if one.number == number), 0)
        earlier = [one for one in there if one.number < (number or len(there) + 1)]
        students.append(
            StudentAtHand(
                student_at_task(row, setting_of(task), needing, caller.now),
                number,
                standing_choices.get(now, {}) if now else coming.get(row.student_id, {}),
                remarks.get(now, {}),
                files.get(now, {}),
                SeenEarlier(
                    earlier[-1].done_at.astimezone(zone).date(),
                    standing_choices.get(earlier[-1].id, {}),
                    remarks.get(earlier[-1].id, {}),
                )
                if earlier
                else None,
                bool(earlier and earlier[-1].next_opened_at),
                cells.get(row.student_id, [None] * len(columns)),
            )
        )
    outcomes = [seen.outcomes[place] for place in columns]
    scales = {outcome.scale_id: seen.scales[outcome.scale_id] for outcome in outcomes}
    return ClassAtHand(
        task, klass, day, caller.now, criteria, outcomes, scales, students, seats, unfinished
    )


def _choices(db: sqlite3.Connection, task_id: int) -> dict[int, dict[int, Choice]]:
    found: dict[int, dict[int, Choice]] = {}
    for row in store.seen(db, task_id):
        choice = choice_of(row)
        if choice != NOTHING:
            found.setdefault(row.attempt_id, {})[row.criterion_id] = choice
    return found


def _coming(
    db: sqlite3.Connection, task_id: int, criteria: Sequence[StoredCriterion]
) -> dict[int, dict[int, Choice]]:
    """What is carried over into attempts that were opened and are not begun, by student."""
    rows: dict[int, list[CarriedRow]] = {}
    for row in store.carried_into_opened(db, task_id):
        rows.setdefault(row.student_id, []).append(row)
    return {
        student: {at: choice_of(row) for at, row in carried_choices(several, criteria).items()}
        for student, several in rows.items()
    }


def _said(
    db: sqlite3.Connection, task_id: int
) -> tuple[dict[int, dict[int, str]], dict[int, dict[int, int]]]:
    remarks: dict[int, dict[int, str]] = {}
    files: dict[int, dict[int, int]] = {}
    for row in store.said(db, task_id):
        if row.files:
            files.setdefault(row.attempt_id, {})[row.criterion_id] = row.files
        else:
            remarks.setdefault(row.attempt_id, {})[row.criterion_id] = row.text
    return remarks, files


def arrange_seats(caller: Teacher, class_id: int, student_ids: Sequence[int]) -> None:
    """Say in what order the students of a class sit."""
    with caller.transaction() as db:
        own_class(db, caller, class_id)
        if len(set(student_ids)) != len(student_ids):
            raise Refused("Each student sits in one place", "student_ids")
        if not store.are_students(db, class_id, student_ids):
            raise Refused("Somebody of these is no student of this class", "student_ids")
        store.set_seats(db, class_id, student_ids)
