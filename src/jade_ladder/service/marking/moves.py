"""How a mark in the making moves a student's mastery."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from functools import lru_cache
from typing import NamedTuple
from zoneinfo import ZoneInfo

from jade_ladder.core.evidence import (
    AttemptEvidence,
    EvidenceKey,
    Part,
    SourceKind,
    combine_by_outcome,
    counts,
    part_of,
)
from jade_ladder.core.mastery import Mastery, Rules, State, mastery_of
from jade_ladder.core.methods import Method
from jade_ladder.core.next_piece import Asked, NextChoice, next_choice
from jade_ladder.core.numbers import Hundredths
from jade_ladder.core.scale import Scale, ScaleLevel
from jade_ladder.service.evidence.kept_evidence import KeptEvidence
from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.shared.days import end_of
from jade_ladder.service.work.attempts import first_time
from jade_ladder.store.evidence.pieces import EvidenceRow, order_of
from jade_ladder.store.marking.desk import DeskPlace, OutcomeAtDesk, outcomes_at_desk
from jade_ladder.store.rubrics.criteria import StoredCriterion
from jade_ladder.store.shared.connection import write_time
from jade_ladder.store.work.attempts import Dating

NOT_THERE_YET = 2**62
"""The record's number of an attempt that is not there yet: after all that are."""


@dataclass(frozen=True, slots=True)
class Move:
    """How a mark moves one outcome: mastery without it, and with it."""

    outcome: OutcomeAtDesk
    rules: Rules
    before: Mastery
    after: Mastery


@dataclass(frozen=True, slots=True)
class AttemptMark:
    """A mark in the making, as evidence knows it."""

    attempt_id: int
    task_id: int
    number: int
    done_at: datetime
    finished_at: datetime
    practice: bool
    excused: bool

    def evidence(self, outcome_id: int, value: Hundredths) -> AttemptEvidence:
        """Make the piece of evidence this mark would be."""
        return AttemptEvidence(
            EvidenceKey(SourceKind.ATTEMPT, self.attempt_id, outcome_id),
            (SourceKind.ATTEMPT, self.task_id),
            self.number,
            value,
            self.done_at,
            self.finished_at,
            excused=self.excused,
            practice=self.practice,
        )


def moves(
    db: sqlite3.Connection,
    now: datetime,
    place: DeskPlace,
    criteria: Sequence[StoredCriterion],
    choices: Mapping[int, Choice],
) -> list[Move]:
    """Say how the choices of a mark move the student's outcomes, finished or not. Part of a
    transaction.

    Outcomes that the choices say nothing about are left out, and so are those of which the evidence
    is set aside, that the class does not teach now or that are not expected of the student.
    """
    if place.attempt.id is None or place.attempt.done_at is None or not _counts(place):
        return []
    said = _said(place, criteria, choices)
    if not said:
        return []
    zone = ZoneInfo(place.klass.time_zone)
    day = now.astimezone(zone).date()
    until = write_time(end_of(day, zone))
    outcomes = outcomes_at_desk(db, place.task.class_id, place.student.id, said, day)
    kept = KeptEvidence.load(db, {place.student.id: until}, said).without(place.attempt.id)
    done_at = write_time(place.attempt.done_at)
    finished_at = write_time(place.mark.first_finished_at or now)
    result = []
    for outcome in outcomes:
        others = kept.rows(place.student.id, outcome.id)
        own = EvidenceRow(
            place.student.id,
            outcome.id,
            done_at,
            finished_at,
            SourceKind.ATTEMPT,
            place.attempt.id,
            place.task.id,
            place.attempt.number,
            said[outcome.id],
        )
        by_now = done_at < until
        with_own = sorted([*others, own], key=order_of) if by_now else others
        rules = _rules(place, outcome)
        before, after = kept.mastery(others, rules), kept.mastery(with_own, rules)
        result.append(Move(outcome, rules, before, after))
    return result


class CriterionNeeds(NamedTuple):
    """What a criterion that is asked has to give so that an outcome is mastered (None: nothing that
    it can give does it alone); `followed` where there is evidence after the attempt, which may
    decide.
    """

    criterion_id: int
    outcome: OutcomeAtDesk
    choice: NextChoice | None
    followed: bool


def needs(
    db: sqlite3.Connection,
    now: datetime,
    place: DeskPlace,
    criteria: Sequence[StoredCriterion],
    choices: Mapping[int, Choice],
) -> list[CriterionNeeds]:
    """Say per criterion that a further attempt asks what reaches mastery, with what is carried over
    (docs/calculations.md, “Next piece”); nothing of an outcome that is mastered without it. Part of
    a reading.
    """
    if place.attempt.number < 2 or not _counts(place):
        return []
    carried = {number for number, one in choices.items() if one.carried_from is not None}
    asked = [one for one in criteria if one.id not in carried and not one.criterion.bonus]
    about = {tie.outcome_id for stored in asked for tie in stored.alignments}
    if not about:
        return []
    zone = ZoneInfo(place.klass.time_zone)
    day = now.astimezone(zone).date()
    until = write_time(end_of(day, zone))
    outcomes = {
        one.id: one
        for one in outcomes_at_desk(db, place.task.class_id, place.student.id, about, day)
    }
    kept = KeptEvidence.load(db, {place.student.id: until}, outcomes)
    if place.attempt.id is not None:
        kept = kept.without(place.attempt.id)
    over = {number: one for number, one in choices.items() if number in carried}
    carried_over = list(_parts(criteria, over))
    mark = _as_it_is_dated(now, place)
    found = []
    for stored in asked:
        for tie in stored.alignments:
            outcome = outcomes.get(tie.outcome_id)
            if outcome is None:
                continue
            gathered = kept.gathered(place.student.id, outcome.id)
            rules = _rules(place, outcome)
            if mastery_of(gathered.pieces(), rules).state is State.MASTERED:
                continue
            cells = [cell.value for cell in tie.map.cells]
            one = Asked(
                cells,
                tie.weight,
                stored.criterion.half_way,
                [part for number, part in carried_over if number == outcome.id],
                place.klass.combining,
            )
            own = mark.evidence(outcome.id, 0)
            choice = next_choice(gathered, rules, own, one)
            followed = any(other.order > own.order for other in gathered.attempts)
            found.append(CriterionNeeds(stored.id, outcome, choice, followed))
    return found


def _as_it_is_dated(now: datetime, place: DeskPlace) -> AttemptMark:
    """Give an attempt at the time that it has or, before the first choice on it, would get now."""
    done_at = place.attempt.done_at
    if done_at is None or (
        place.attempt.dating is Dating.UNDECIDED and place.attempt.corrected_at is None
    ):
        due_at = place.task.due_at if place.attempt.number == 1 else place.attempt.again_due_at
        done_at, _ = first_time(now, place.task.kind, due_at, place.attempt.before)
    return AttemptMark(
        # One that is not there yet will be numbered after all others.
        place.attempt.id or NOT_THERE_YET,
        place.task.id,
        place.attempt.number,
        done_at,
        place.mark.first_finished_at or now,
        place.task.practice,
        place.student.excused,
    )


def _counts(place: DeskPlace) -> bool:
    """Whether a mark there counts at all, but for what of it is set aside."""
    return counts(place.student.excused, place.task.practice, set_aside=False)


def _said(
    place: DeskPlace, criteria: Sequence[StoredCriterion], choices: Mapping[int, Choice]
) -> dict[int, Hundredths]:
    """Give the evidence that choices are, by outcome."""
    aside = set(json.loads(place.attempt.outcomes_aside or "[]"))
    found = combine_by_outcome(_parts(criteria, choices), place.klass.combining)
    return {number: value for number, value in found.items() if number not in aside}


def _parts(
    criteria: Sequence[StoredCriterion], choices: Mapping[int, Choice]
) -> Iterator[tuple[int, Part]]:
    """Give what each choice says, each with its outcome."""
    for stored in criteria:
        choice = choices.get(stored.id)
        if choice is None or choice.level_id is None:
            continue
        level = stored.level_ids.index(choice.level_id)
        for tie in stored.alignments:
            cells = [cell.value for cell in tie.map.cells]
            carried = choice.carried_from is not None
            part = part_of(cells, level, choice.half_way, tie.weight, carried)
            if part is not None:
                yield tie.outcome_id, part


def _rules(place: DeskPlace, outcome: OutcomeAtDesk) -> Rules:
    source = place.klass if outcome.method is None else outcome
    method = Method(outcome.method or place.klass.method, source.newest, source.last)
    return Rules(method, _scale(outcome.levels, outcome.mastery), outcome.minimum)


@lru_cache(maxsize=256)
def _scale(levels: str, mastery: int) -> Scale:
    return Scale(tuple(ScaleLevel(*level) for _, *level in sorted(json.loads(levels))), mastery)
