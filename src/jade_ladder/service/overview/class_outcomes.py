"""A class on its outcomes, now and over the term (docs/calculations.md, “Roll-ups”)."""

from __future__ import annotations

import sqlite3
from collections import Counter
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from jade_ladder.core.evidence import SourceKind
from jade_ladder.core.mastery import Mastery, State
from jade_ladder.core.rollup import ClassPicture, class_picture
from jade_ladder.core.scale import Scale
from jade_ladder.core.signs import not_got, reads_unevenly, swing_ends
from jade_ladder.service.evidence.class_term import Term
from jade_ladder.service.evidence.rules import is_taught
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import as_of_day, today
from jade_ladder.service.shared.guards import own_class
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.classes.students import StudentRow
from jade_ladder.store.outcomes import strands as strand_store
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.outcomes.scales import StoredScale
from jade_ladder.store.outcomes.strands import StrandRow
from jade_ladder.store.overview.chosen_values import ChosenValue, chosen_values

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
        term = Term.load(db, klass, day)
        days = term.days()
        return ClassOutcomes(
            *(klass, day, back, days),
            tuple(student_store.students(db, class_id, day)),
            tuple(strand_store.strands(db, caller.person_id)),
            tuple(
                outcome_over_term(db, term, outcome, days, back)
                for outcome in term.outcomes
                if is_taught(outcome, day)
            ),
        )


def outcome_over_term(
    db: sqlite3.Connection, term: Term, outcome: OutcomeRow, days: Sequence[date], since: date
) -> OutcomeOverTerm:
    """Look at one outcome of a term. Part of a reading."""
    scale = term.scales[outcome.scale_id]
    now = term.standing(outcome, term.day)
    pictures = tuple(
        class_picture(scale.scale, term.standing(outcome, day).values())
        if is_taught(outcome, day)
        else None
        for day in days
    )
    picture = class_picture(scale.scale, now.values())
    swings = _swings(term, outcome, scale.scale, now)
    return OutcomeOverTerm(
        *(outcome, scale, picture, pictures),
        _moved(term.standing(outcome, since), now),
        not_got(picture.mastered, picture.counted, len(now)),
        len(swings),
        tuple(_uneven(chosen_values(db, _attempts(swings)), outcome.id, swings)) if swings else (),
    )


def _swings(
    term: Term, outcome: OutcomeRow, scale: Scale, students: Iterable[int]
) -> list[tuple[int | None, int | None]]:
    """Give the attempts at the low and the high end of each student's swing (None: a note)."""
    found = []
    for student_id in students:
        pieces = term.kept.gathered(student_id, outcome.id).pieces()
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
        if was is None or not (was.counts and mastery.counts):
            continue
        mastered = mastery.state is State.MASTERED, was.state is State.MASTERED
        if mastered == (True, False):
            moved["reached"].append(student)
        elif mastered == (False, True):
            moved["slipped"].append(student)
        elif mastery.level is not None and was.level is not None and mastery.level != was.level:
            moved["up" if mastery.level > was.level else "down"].append(student)
    return Moved(**{what: tuple(students) for what, students in moved.items()})
