"""By what mastery is read over time: methods, and judgements over them."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from zoneinfo import ZoneInfo

from jade_ladder.core.mastery import Judgement, level_on
from jade_ladder.core.scale import Scale
from jade_ladder.core.trail import Course
from jade_ladder.service.evidence.rules import HasMethod, MethodHistory
from jade_ladder.service.shared.days import start_of
from jade_ladder.store.mastery.judgements import JudgementRow, judgements
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.outcomes.scales import StoredScale


@dataclass(frozen=True, slots=True)
class Courses:
    """By what mastery of students on outcomes of a class is read, up to a day; `judged` are all
    judgements there were, by student and outcome.
    """

    history: MethodHistory
    judged: Mapping[tuple[int, int], Sequence[JudgementRow]]
    _day: date
    _signs: bool
    _of_outcomes: Mapping[int, Course]

    @classmethod
    def load(
        cls,
        db: sqlite3.Connection,
        klass: HasMethod,
        outcomes: Iterable[OutcomeRow],
        student_ids: Iterable[int],
        scales: Mapping[int, StoredScale],
        day: date,
        signs: bool = True,
    ) -> Courses:
        """Load it; `signs`: whether judgements tell of evidence that changed since, as they do on
        the day it is now. Part of a transaction or a reading.
        """
        history = MethodHistory.load(db, klass)
        of_outcomes = {one.id: history.course(one, scales, day) for one in outcomes}
        found: dict[tuple[int, int], list[JudgementRow]] = {}
        for row in judgements(db, student_ids, of_outcomes):
            found.setdefault((row.student_id, row.outcome_id), []).append(row)
        return cls(history, found, day, signs, of_outcomes)

    def of_outcome(self, outcome_id: int) -> Course:
        """Give by what an outcome is worked out, whoever it is of."""
        return self._of_outcomes[outcome_id]

    def course(self, student_id: int, outcome_id: int) -> Course:
        """Give by what one student's mastery of an outcome is read."""
        course = self._of_outcomes[outcome_id]
        rows = self.judged.get((student_id, outcome_id))
        if rows is None:
            return course
        zone = self.history.zone
        return replace(
            course,
            judgements=tuple(
                as_judgement(row, course.rules.scale, zone, self._day, self._signs)
                for row in rows
                if row.since <= self._day and row.since != row.until
            ),
        )

    def row_that_holds(self, student_id: int, outcome_id: int) -> JudgementRow | None:
        """Give the judgement that holds on the day."""
        for row in self.judged.get((student_id, outcome_id), ()):
            if row.since <= self._day and (row.until is None or self._day < row.until):
                return row
        return None


def as_judgement(
    row: JudgementRow, scale: Scale, zone: ZoneInfo, day: date, signs: bool
) -> Judgement:
    """Give a judgement as the core takes it, as it stood at the end of a day."""
    lifted = row.until is not None and row.until <= day
    return Judgement(
        level_on(row.level, row.levels, scale),
        row.reason,
        start_of(row.since, zone),
        start_of(row.until, zone) if lifted and row.until else None,
        row.seen if signs else None,
    )
