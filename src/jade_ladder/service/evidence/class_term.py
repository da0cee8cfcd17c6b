"""Where a class stood on its outcomes on any day of the term."""

from __future__ import annotations

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from jade_ladder.core.mastery import Mastery
from jade_ladder.service.evidence.courses import Courses
from jade_ladder.service.evidence.kept_evidence import KeptEvidence, Replay
from jade_ladder.service.shared.days import end_of, school_zone
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.classes.students import Membership
from jade_ladder.store.mastery.expectation import Lifted, ever_not_expected
from jade_ladder.store.outcomes import outcomes as outcome_store
from jade_ladder.store.outcomes import scales as scale_store
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.outcomes.scales import StoredScale
from jade_ladder.store.shared.connection import write_time

MOST_DAYS = 12


@dataclass(frozen=True, slots=True)
class Term:
    """What the walls of all days of a class up to one are worked out from, loaded once."""

    klass: ClassRow
    day: date
    members: Sequence[Membership]
    outcomes: Sequence[OutcomeRow]
    scales: Mapping[int, StoredScale]
    courses: Courses
    kept: KeptEvidence
    lifted: Mapping[tuple[int, int], Sequence[Lifted]]
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
            {},
        )

    def days(self) -> tuple[date, ...]:
        """Up to twelve days, evenly spread from the day of the first evidence to today."""
        zone = self.courses.history.zone
        first = min((self.kept.rows(*place)[0].done_at for place in self.kept.places), default=None)
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

    def standing(self, outcome: OutcomeRow, day: date) -> dict[int, Mastery]:
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
