"""Taps in the room: levels, words and absences, each taken once, whenever it arrives."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from jade_ladder.core.errors import Refused, Stale
from jade_ladder.service.marking.again import carry_into_next
from jade_ladder.service.marking.choices import NOTHING, Choice, choice_of
from jade_ladder.service.marking.saving import (
    begin,
    check_choice,
    checked_remark,
    criterion_of,
    put_choice,
    put_remark,
)
from jade_ladder.service.marking.state import Marking, MarkState, carried_choices
from jade_ladder.service.observing.days import attempt_on
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import in_utc, school_zone, start_of
from jade_ladder.service.shared.forms import check_key
from jade_ladder.service.shared.guards import check_begun, own_student, own_task
from jade_ladder.store.marking import again as again_store
from jade_ladder.store.observing import observing as store
from jade_ladder.store.observing.observing import AttemptTime
from jade_ladder.store.rubrics.criteria import StoredCriterion
from jade_ladder.store.work import attempts as attempt_store
from jade_ladder.store.work import tasks as task_store
from jade_ladder.store.work.attempts import Dating
from jade_ladder.store.work.tasks import TaskRow


@dataclass(frozen=True, slots=True)
class Tap:
    """What one tap says of a student: a choice or a remark on a criterion, or whether they are
    absent; none of these only begins the attempt of that day.

    `age` is how long it waited by the clock of its device, `loaded_at` when the server gave the
    device the class it was made in. `before` is what the device showed when it was made; None:
    it holds whatever stands there. With `carries`, what was carried over on the criterion stands
    again, if anything was.
    """

    key: str
    age: timedelta
    loaded_at: datetime | None = None
    criterion_id: int | None = None
    choice: Choice | None = None
    remark: str | None = None
    absent: bool | None = None
    before: Choice | str | None = None
    carries: bool = False


def tap(caller: Teacher, task_id: int, student_id: int, made: Tap) -> MarkState:
    """Take a tap; gives the mark of the attempt of its day as it then stands.

    The same tap sent twice is one. Raises Stale where the criterion was marked differently on
    another device meanwhile.
    """
    check_key(made.key)
    if sum(one is not None for one in (made.choice, made.remark, made.absent)) > 1:
        raise Refused("A tap says one thing: a level, words, or an absence", "choice")
    with caller.transaction() as db:
        task, klass = own_task(db, caller, task_id)
        if not task.kind.watched:
            raise Refused("This task is not observed: its work is marked at the desk")
        if task.set_at is None:
            raise Refused("This task is a draft: set it before anybody is observed")
        own_student(db, klass.id, student_id)
        zone = school_zone(db)
        earliest = start_of(klass.first_day, zone)
        if made.loaded_at is not None:
            earliest = max(earliest, in_utc(made.loaded_at, zone))
        when = _time_of(made.age, caller.now, earliest)
        day = when.astimezone(zone).date()
        there = store.attempt_times(db, task_id, student_id)
        number = attempt_on(there, when, zone)
        # Of an attempt that this tap would begin, the one before it is looked at.
        at_hand = number if number and number <= len(there) else max(1, len(there))
        before = Marking.load(db, caller, task_id, student_id, at_hand)
        new = store.take_tap(
            *(db, caller.person_id, made.key, task_id, student_id, when, caller.now)
        )
        if new is None:
            raise Refused("This key was that of another tap", "key")
        if not new:
            return before.state()
        _check(before, number, day)
        taking = _Taking(before, task, there, number or 1, when, day)
        if made.absent is not None:
            return taking.absent(made.absent)
        return taking.seen(made)


def _time_of(age: timedelta, now: datetime, earliest: datetime) -> datetime:
    """Give when a tap was made: by the server's clock, less what it waited by its own; neither in
    the future nor before the device had the class, or the class began.
    """
    return max(now - max(age, timedelta()), min(earliest, now))


def _check(before: Marking, number: int | None, day: date) -> None:
    place = before.place
    if number is None:
        raise Refused(
            f"{place.student.name} was observed again after {day.isoformat()}, when this was seen: "
            "choose it at the desk, or write a note of it"
        )
    if place.student.left_on is not None and place.student.left_on <= day:
        raise Refused(f"{place.student.name} left the class on {place.student.left_on.isoformat()}")
    if place.student.excused:
        raise Refused(f"{place.student.name} is excused from this task")


@dataclass(slots=True)
class _Taking:
    """A tap that is being taken: the mark it is of as it stood `before`, the attempts `there`, and
    the number of the attempt that it goes to.
    """

    before: Marking
    task: TaskRow
    there: Sequence[AttemptTime]
    number: int
    when: datetime
    day: date

    def absent(self, absent: bool) -> MarkState:
        """Say that the student is absent, or is not."""
        before, place = self.before, self.before.place
        if absent and self.number <= len(self.there) and _has_own_choice(before):
            raise Refused(
                f"{place.student.name} was seen on this day: if they are absent, clear what is "
                "chosen first"
            )
        self._set_absent(absent)
        # The last day of all there are is not known from this one.
        after = Marking.load_by(
            before.db, before.right, self.task.id, place.student.id, place.attempt.number
        )
        after.waited = before.waited
        return after.state()

    def seen(self, made: Tap) -> MarkState:
        """Let a level or a remark stand on a criterion."""
        marking = self._begun()
        if made.choice is None and made.remark is None:
            return marking.state()
        stored = criterion_of(marking, made.criterion_id or 0)
        if made.choice is not None:
            choice = self._carried(marking, stored, made.choice) if made.carries else made.choice
            self._choose(marking, stored, choice, made.before)
        else:
            self._remark(marking, stored, checked_remark(made.remark or ""), made.before)
        return self._unless_bare(marking)

    def _carried(self, marking: Marking, stored: StoredCriterion, otherwise: Choice) -> Choice:
        """Give what was carried over on a criterion into this attempt."""
        record = marking.place.student.task_student_id or 0
        rows = again_store.carried_into(marking.db, record, self.number)
        found = carried_choices(rows, marking.criteria).get(stored.id)
        return otherwise if found is None else choice_of(found)

    def _unless_bare(self, marking: Marking) -> MarkState:
        """Give the mark, or, where nothing stands in the attempt any more, that of the attempt
        before: then it was never begun.
        """
        db, place = marking.db, marking.place
        if place.attempt.id is None or not store.delete_bare(db, place.attempt.id):
            return marking.state()
        last = self.there[self.number - 2] if 1 < self.number <= len(self.there) + 1 else None
        if last is not None and last.next_opened_at is None:
            again_store.set_carried(db, last.id, ())
        number = max(1, self.number - 1)
        left = Marking.load_by(db, marking.right, self.task.id, place.student.id, number)
        left.waited = marking.waited
        return left.state()

    def _choose(
        self, marking: Marking, stored: StoredCriterion, choice: Choice, before: Choice | str | None
    ) -> None:
        check_choice(stored, choice)
        stands = choice_of(marking.standing.choices.get(stored.id))
        if stands == choice:
            return
        # What was carried over nobody chose here.
        if before is not None and stands.carried_from is None and stands != before:
            raise _stale(marking, stored)
        put_choice(marking, begin(marking), stored, choice)
        if choice != NOTHING and marking.place.student.absent_on == self.day:
            self._set_absent(False)
            marking.saved("student", absent_on=None)

    def _remark(
        self, marking: Marking, stored: StoredCriterion, text: str, before: Choice | str | None
    ) -> None:
        standing = marking.standing.remarks.get(stored.id)
        stands = standing.text if standing else ""
        if stands == text:
            return
        if before is not None and stands != before:
            raise _stale(marking, stored)
        put_remark(marking, begin(marking), stored, text)

    def _begun(self) -> Marking:
        """Let the attempt be there, dated by the first tap on it."""
        before, task, number = self.before, self.task, self.number
        db, caller, student_id = before.db, before.caller, before.place.student.id
        last = self.there[-1] if self.there else None
        if number > len(self.there):
            check_begun(db, caller, task.class_id)
            if last is not None and last.next_opened_at is None:
                carry_into_next(db, caller, task, student_id, last.id)
            record = task_store.task_student(db, task.id, student_id)
            attempt_store.add_attempt(db, record, self.when, Dating.OBSERVED)
        elif self.there[number - 1].dating is Dating.UNDECIDED:
            attempt = self.there[number - 1].id
            attempt_store.date_attempt(db, attempt, self.when, Dating.OBSERVED)
        else:
            return before
        marking = Marking.load_by(db, before.right, task.id, student_id, number)
        marking.waited = before.waited
        return marking

    def _set_absent(self, absent: bool) -> None:
        db, caller = self.before.db, self.before.caller
        record = task_store.task_student(db, self.task.id, self.before.place.student.id)
        store.set_absent(db, record, self.day, absent, caller.now, caller.person_id)


def _has_own_choice(marking: Marking) -> bool:
    return any(
        choice != NOTHING and choice.carried_from is None for choice in marking.choices.values()
    )


def _stale(marking: Marking, stored: StoredCriterion) -> Stale:
    return Stale(
        f"{marking.place.student.name}, “{stored.criterion.title}”: it was marked differently on "
        "another device meanwhile",
        marking.place.mark.version or 0,
    )
