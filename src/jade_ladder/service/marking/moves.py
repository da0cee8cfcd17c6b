"""How a mark in the making moves a student's mastery."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from functools import lru_cache
from typing import NamedTuple
from zoneinfo import ZoneInfo

from jade_ladder.core.alignment import chosen_value
from jade_ladder.core.evidence import (
    AttemptEvidence,
    EvidenceKey,
    Part,
    SourceKind,
    combine,
)
from jade_ladder.core.mastery import Mastery, Rules, State, mastery_of
from jade_ladder.core.methods import Method
from jade_ladder.core.next_piece import Asked, NextChoice, next_choice
from jade_ladder.core.numbers import Hundredths
from jade_ladder.core.scale import Scale, ScaleLevel
from jade_ladder.service.evidence.kept_evidence import KeptEvidence, order_of
from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import end_of
from jade_ladder.service.work.attempts import first_time
from jade_ladder.store.evidence.evidence import EvidenceRow
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
    caller: Teacher,
    place: DeskPlace,
    criteria: Sequence[StoredCriterion],
    choices: Mapping[int, Choice],
) -> list[Move]:
    """Say how the choices of a mark move the student's outcomes, finished or not. Part of a
    transaction.

    Outcomes that the choices say nothing about are left out, and so are those of which the evidence
    is set aside, that the class does not teach now or that are not expected of the student.
    """
    if place.attempt_id is None or place.done_at is None or place.practice or place.excused:
        return []
    said = _said(place, criteria, choices)
    if not said:
        return []
    zone = ZoneInfo(place.time_zone)
    day = caller.now.astimezone(zone).date()
    until = write_time(end_of(day, zone))
    outcomes = outcomes_at_desk(db, place.class_id, place.student_id, said, day)
    kept = KeptEvidence.load(db, {place.student_id: until}, said)
    done_at = write_time(place.done_at)
    finished_at = write_time(place.first_finished_at or caller.now)
    result = []
    for outcome in outcomes:
        others = [
            row for row in kept.rows(place.student_id, outcome.id) if row[4] != place.attempt_id
        ]
        own = EvidenceRow(
            place.student_id,
            outcome.id,
            done_at,
            finished_at,
            place.attempt_id,
            place.task_id,
            place.number,
            said[outcome.id],
        )
        counts = done_at < until
        with_own = sorted([*others, own], key=order_of) if counts else others
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
    caller: Teacher,
    place: DeskPlace,
    criteria: Sequence[StoredCriterion],
    choices: Mapping[int, Choice],
) -> list[CriterionNeeds]:
    """Say per criterion that a further attempt asks what reaches mastery, with what is carried over
    (docs/calculations.md, “Next piece”); nothing of an outcome that is mastered without it. Part of
    a reading.
    """
    if place.number < 2 or place.practice or place.excused:
        return []
    carried = {number for number, one in choices.items() if one.carried_from is not None}
    asked = [one for one in criteria if one.id not in carried and not one.criterion.bonus]
    about = {tie.outcome_id for stored in asked for tie in stored.alignments}
    if not about:
        return []
    zone = ZoneInfo(place.time_zone)
    day = caller.now.astimezone(zone).date()
    until = write_time(end_of(day, zone))
    outcomes = {
        one.id: one for one in outcomes_at_desk(db, place.class_id, place.student_id, about, day)
    }
    kept = KeptEvidence.load(db, {place.student_id: until}, outcomes)
    if place.attempt_id is not None:
        kept = kept.without(place.attempt_id)
    over = {number: one for number, one in choices.items() if number in carried}
    parts = _parts(criteria, over)
    mark = _as_it_is_dated(caller, place)
    found = []
    for stored in asked:
        for tie in stored.alignments:
            outcome = outcomes.get(tie.outcome_id)
            if outcome is None:
                continue
            gathered = kept.gathered(place.student_id, outcome.id)
            rules = _rules(place, outcome)
            if mastery_of(gathered.pieces(), rules).state is State.MASTERED:
                continue
            cells = [cell.value for cell in tie.map.cells]
            one = Asked(
                cells,
                tie.weight,
                stored.criterion.half_way,
                parts.get(outcome.id, ()),
                place.combining,
            )
            own = mark.evidence(outcome.id, 0)
            choice = next_choice(gathered, rules, own, one)
            followed = any(other.order > own.order for other in gathered.attempts)
            found.append(CriterionNeeds(stored.id, outcome, choice, followed))
    return found


def _as_it_is_dated(caller: Teacher, place: DeskPlace) -> AttemptMark:
    """Give an attempt at the time that it has or, before the first choice on it, would get now."""
    done_at = place.done_at
    if done_at is None or (place.dating is Dating.UNDECIDED and place.corrected_at is None):
        due_at = place.due_at if place.number == 1 else place.again_due_at
        done_at, _ = first_time(caller, place.kind, due_at, place.before)
    return AttemptMark(
        # One that is not there yet will be numbered after all others.
        place.attempt_id or NOT_THERE_YET,
        place.task_id,
        place.number,
        done_at,
        place.first_finished_at or caller.now,
        place.practice,
        place.excused,
    )


def _said(
    place: DeskPlace, criteria: Sequence[StoredCriterion], choices: Mapping[int, Choice]
) -> dict[int, Hundredths]:
    """Give the evidence that choices are, by outcome."""
    parts = _parts(criteria, choices)
    aside = set(json.loads(place.outcomes_aside or "[]"))
    evidence = {
        number: combine(found, place.combining)
        for number, found in parts.items()
        if number not in aside
    }
    return {number: value for number, value in evidence.items() if value is not None}


def _parts(
    criteria: Sequence[StoredCriterion], choices: Mapping[int, Choice]
) -> dict[int, list[Part]]:
    """Give what each choice says, by outcome."""
    parts: dict[int, list[Part]] = {}
    for stored in criteria:
        choice = choices.get(stored.id)
        if choice is None or choice.level_id is None:
            continue
        level = stored.level_ids.index(choice.level_id)
        for tie in stored.alignments:
            cells = [cell.value for cell in tie.map.cells]
            value = chosen_value(cells, level, choice.half_way)
            if value is not None:
                part = Part(value, tie.weight, choice.carried_from is not None)
                parts.setdefault(tie.outcome_id, []).append(part)
    return parts


def _rules(place: DeskPlace, outcome: OutcomeAtDesk) -> Rules:
    source = place if outcome.method is None else outcome
    method = Method(outcome.method or place.method, source.newest, source.last)
    return Rules(method, _scale(outcome.levels, outcome.mastery), outcome.minimum)


@lru_cache(maxsize=256)
def _scale(levels: str, mastery: int) -> Scale:
    return Scale(tuple(ScaleLevel(*level) for _, *level in sorted(json.loads(levels))), mastery)
