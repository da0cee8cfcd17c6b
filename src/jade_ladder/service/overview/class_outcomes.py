"""A class on its outcomes, now and over the term (docs/calculations.md, “Roll-ups”)."""

from __future__ import annotations

import sqlite3
from collections import Counter
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from jade_ladder.core.evidence import SourceKind
from jade_ladder.core.mastery import Mastery, State
from jade_ladder.core.rollup import ClassPicture, class_picture
from jade_ladder.core.scale import Scale
from jade_ladder.core.signs import not_got, reads_unevenly, swing_ends
from jade_ladder.service.mastery.courses import Courses
from jade_ladder.service.mastery.kept_evidence import KeptEvidence, Replay, limits_of
from jade_ladder.service.mastery.rules import is_taught
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import as_of_day, end_of, school_zone, today
from jade_ladder.service.shared.guards import own_class
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.classes.students import Membership, StudentRow
from jade_ladder.store.mastery.expectation import Lifted, ever_not_expected
from jade_ladder.store.outcomes import outcomes as outcome_store
from jade_ladder.store.outcomes import scales as scale_store
from jade_ladder.store.outcomes import strands as strand_store
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.outcomes.scales import StoredScale
from jade_ladder.store.outcomes.strands import StrandRow
from jade_ladder.store.overview.chosen_values import ChosenValue, chosen_values
from jade_ladder.store.shared.connection import write_time

MOST_DAYS = 12
SINCE_AT_FIRST = 28
"""So many days ago is looked back to at first."""


@dataclass(frozen=True, slots=True)
class Moved:
    """The students who moved on an outcome between two days, by number."""

    reached: tuple[int, ...]
    slipped: tuple[int, ...]
    up: tuple[int, ...]
    down: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Uneven:
    """A criterion that stands at the `low` end (or the high one) of so many swings."""

    key: str
    title: str
    low: bool
    swings: int


@dataclass(frozen=True, slots=True)
class OutcomeOverTerm:
    """A class on one outcome: now, as of each of the days (None: it was not taught then), who moved
    since, whether the class as a whole has not got it, and how many students swing widely.
    """

    outcome: OutcomeRow
    scale: StoredScale
    now: ClassPicture
    over_term: tuple[ClassPicture | None, ...]
    moved: Moved
    not_got: bool
    swings: int
    uneven: tuple[Uneven, ...]


@dataclass(frozen=True, slots=True)
class ClassOutcomes:
    """A class on its outcomes; `since` is the day from which is told who moved."""

    klass: ClassRow
    day: date
    since: date
    days: tuple[date, ...]
    students: tuple[StudentRow, ...]
    strands: tuple[StrandRow, ...]
    outcomes: tuple[OutcomeOverTerm, ...]


def class_outcomes(caller: Teacher, class_id: int, since: date | None = None) -> ClassOutcomes:
    """Say where a class stands on its outcomes now and over the term, and who moved since a day
    (four weeks ago at first, or the class's first day).
    """
    with caller.reading() as db:
        klass = own_class(db, caller, class_id)
        day = today(db, caller)
        first = min(day, max(klass.first_day, day - timedelta(days=SINCE_AT_FIRST)))
        back = first if since is None else as_of_day(db, caller, since)
        found = Term.load(db, klass, day)
        days = found.days()
        return ClassOutcomes(
            *(klass, day, back, days),
            tuple(student_store.students(db, class_id, day)),
            tuple(strand_store.strands(db, caller.person_id)),
            tuple(
                found.outcome(db, outcome, days, back)
                for outcome in found.outcomes
                if is_taught(outcome, day)
            ),
        )


@dataclass(frozen=True, slots=True)
class Term:
    """What the walls of all days of a class are worked out from, loaded once."""

    klass: ClassRow
    day: date
    members: Sequence[Membership]
    outcomes: Sequence[OutcomeRow]
    scales: Mapping[int, StoredScale]
    courses: Courses
    kept: KeptEvidence
    lifted: Mapping[tuple[int, int], Sequence[Lifted]]
    limits: Mapping[int, str]
    _replays: dict[tuple[int, int], Replay]

    @classmethod
    def load(
        cls, db: sqlite3.Connection, klass: ClassRow, day: date, only: int | None = None
    ) -> Term:
        """Load it, of all outcomes or of one. Part of a reading."""
        members = student_store.memberships(db, klass.id)
        taught = outcome_store.class_outcomes(db, klass.id)
        outcomes = [one for one in taught if only in (None, one.id)]
        numbers = [one.id for one in outcomes]
        everybody = {one.student_id for one in members}
        scales = scale_store.scales(db)
        end = write_time(end_of(day, school_zone(db)))
        lifted: dict[tuple[int, int], list[Lifted]] = {}
        for one in ever_not_expected(db, numbers):
            lifted.setdefault((one.student_id, one.outcome_id), []).append(one)
        return cls(
            *(klass, day, members, outcomes, scales),
            Courses.load(db, klass, outcomes, everybody, scales, day, signs=False),
            KeptEvidence.load(db, dict.fromkeys(everybody, end), numbers),
            lifted,
            limits_of(db, student_store.students(db, klass.id, day), day),
            {},
        )

    def days(self) -> tuple[date, ...]:
        """Up to twelve days, evenly spread from the day of the first evidence to today."""
        zone = self.courses.history.zone
        first = min((self.kept.rows(*place)[0][2] for place in self.kept.places), default=None)
        if first is None:
            return (self.day,)
        begin = max(
            datetime.fromisoformat(first).astimezone(zone).date(),
            min((one.since for one in self.members), default=self.day),
        )
        apart = (self.day - begin).days
        count = min(MOST_DAYS, apart + 1)
        if count <= 1:
            return (self.day,)
        return tuple(begin + timedelta(days=apart * at // (count - 1)) for at in range(count))

    def outcome(
        self, db: sqlite3.Connection, outcome: OutcomeRow, days: Sequence[date], since: date
    ) -> OutcomeOverTerm:
        """Look at one outcome."""
        scale = self.scales[outcome.scale_id]
        now = self._standing(outcome, self.day)
        pictures = tuple(
            class_picture(scale.scale, self._standing(outcome, day).values())
            if is_taught(outcome, day)
            else None
            for day in days
        )
        picture = class_picture(scale.scale, now.values())
        swings = self._swings(outcome, scale.scale, now)
        return OutcomeOverTerm(
            *(outcome, scale, picture, pictures),
            _moved(self._standing(outcome, since), now),
            not_got(picture.mastered, picture.counted, len(now)),
            len(swings),
            tuple(_uneven(chosen_values(db, _attempts(swings)), outcome.id, swings))
            if swings
            else (),
        )

    def _standing(self, outcome: OutcomeRow, day: date) -> dict[int, Mastery]:
        """Give the mastery of those in the class of whom the outcome is expected on a day."""
        until = end_of(day, self.courses.history.zone)
        return {
            student: self._replay(student, outcome.id).until(until)
            for student in student_store.there_on(self.members, day)
            if not any(one.on(day) for one in self.lifted.get((student, outcome.id), ()))
        }

    def _replay(self, student_id: int, outcome_id: int) -> Replay:
        place = student_id, outcome_id
        if place not in self._replays:
            course = self.courses.course(*place)
            self._replays[place] = self.kept.replay(*place, course)
        return self._replays[place]

    def _swings(
        self, outcome: OutcomeRow, scale: Scale, students: Iterable[int]
    ) -> list[tuple[int | None, int | None]]:
        """Give the attempts at the low and the high end of each student's swing (None: a note)."""
        found = []
        for student_id in students:
            gathered = self.kept.gathered(student_id, outcome.id)
            limit = self.limits.get(student_id, "")
            pieces = [one for one in gathered.pieces() if write_time(one.done_at) < limit]
            ends = swing_ends([piece.value for piece in pieces], scale)
            if ends is not None:
                low, high = (pieces[at].key for at in ends)
                found.append(
                    (
                        low.source if low.kind is SourceKind.ATTEMPT else None,
                        high.source if high.kind is SourceKind.ATTEMPT else None,
                    )
                )
        return found


def _attempts(swings: Sequence[tuple[int | None, int | None]]) -> set[int]:
    return {attempt for ends in swings for attempt in ends if attempt is not None}


def _uneven(
    values: Sequence[ChosenValue],
    outcome_id: int,
    swings: Sequence[tuple[int | None, int | None]],
) -> Iterator[Uneven]:
    """Name the criteria that stand at the same end of the swings again and again."""
    by_attempt: dict[int, list[tuple[int, ChosenValue]]] = {}
    for one in values:
        if one.outcome_id == outcome_id:
            # In halves of a hundredth: half-way is exact.
            twice = one.value + (one.above if one.half_way and one.above is not None else one.value)
            by_attempt.setdefault(one.attempt_id, []).append((twice, one))
    times: Counter[tuple[str, bool]] = Counter()
    titles: dict[str, str] = {}
    for low, high in swings:
        for attempt, is_low in ((low, True), (high, False)):
            chosen = by_attempt.get(attempt or 0)
            if chosen:
                end = (min if is_low else max)(value for value, _ in chosen)
                named = next(one for value, one in chosen if value == end)
                times[named.key, is_low] += 1
                titles[named.key] = named.title
    for (key, is_low), count in times.most_common():
        if reads_unevenly(count, len(swings)):
            yield Uneven(key, titles[key], is_low, count)


def _moved(before: Mapping[int, Mastery], now: Mapping[int, Mastery]) -> Moved:
    moved: dict[str, list[int]] = {"reached": [], "slipped": [], "up": [], "down": []}
    for student, mastery in now.items():
        was = before.get(student)
        if was is None:
            continue
        mastered = mastery.state is State.MASTERED, was.state is State.MASTERED
        if mastered == (True, False):
            moved["reached"].append(student)
        elif mastered == (False, True):
            moved["slipped"].append(student)
        elif mastery.level is not None and was.level is not None and mastery.level != was.level:
            moved["up" if mastery.level > was.level else "down"].append(student)
    return Moved(**{what: tuple(students) for what, students in moved.items()})
