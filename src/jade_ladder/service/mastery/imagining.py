"""What would be otherwise on a trail: another method, or pieces that are imagined."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, datetime
from typing import NamedTuple

from jade_ladder.core.errors import Refused
from jade_ladder.core.evidence import note_value
from jade_ladder.core.mastery import Mastery, Rules, mastery_of
from jade_ladder.core.methods import Method
from jade_ladder.core.next_piece import Imagined, with_imagined
from jade_ladder.core.trail import Course, Trail, trail_of
from jade_ladder.service.evidence.kept_evidence import KeptEvidence, limits_of
from jade_ladder.service.evidence.rules import MethodHistory
from jade_ladder.service.mastery.trail import one_of, tasks_of
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import as_of_day
from jade_ladder.service.shared.guards import own_class
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.evidence.sources import asking
from jade_ladder.store.outcomes import outcomes as outcome_store
from jade_ladder.store.outcomes import scales as scale_store

MOST_IMAGINED = 20


class ImaginedPiece(NamedTuple):
    """A piece that is imagined: a level (0 the lowest) of the outcome's scale or half-way above it,
    of a new task or of another attempt at one.
    """

    level: int
    half_way: bool = False
    task_id: int | None = None


def trail_under(
    caller: Teacher,
    class_id: int,
    student_id: int,
    outcome_id: int,
    method: Method,
    as_of: date | None = None,
) -> Trail[datetime]:
    """Replay the evidence of one student on one outcome as if a method had always held, without
    judgements; nothing is changed.
    """
    with caller.reading() as db:
        own_class(db, caller, class_id)
        day = as_of_day(db, caller, as_of)
        student = one_of(student_store.students(db, class_id, day), student_id, "student")
        outcome = one_of(outcome_store.class_outcomes(db, class_id), outcome_id, "outcome")
        scale = scale_store.scales(db)[outcome.scale_id].scale
        kept = KeptEvidence.load(db, limits_of(db, [student], day), [outcome_id])
        rules = Rules(method, scale, outcome.minimum)
        return trail_of(kept.gathered(student_id, outcome_id), Course(rules))


def imagine(
    caller: Teacher,
    class_id: int,
    student_id: int,
    outcome_id: int,
    pieces: Sequence[ImaginedPiece],
) -> list[Mastery]:
    """Say where imagined pieces would lead, after each of them, by what is calculated; nothing is
    kept.
    """
    if not 1 <= len(pieces) <= MOST_IMAGINED:
        raise Refused(f"Imagine 1 to {MOST_IMAGINED} pieces", "pieces")
    with caller.reading() as db:
        klass = own_class(db, caller, class_id)
        day = as_of_day(db, caller, None)
        student = one_of(student_store.students(db, class_id, day), student_id, "student")
        outcome = one_of(outcome_store.class_outcomes(db, class_id), outcome_id, "outcome")
        scales = scale_store.scales(db)
        rules = MethodHistory.load(db, klass).rules(outcome, scales, day)
        kept = KeptEvidence.load(db, limits_of(db, [student], day), [outcome_id])
        gathered = kept.gathered(student_id, outcome_id)
        tasks = tasks_of(gathered)
        asked = asking(db, tasks, outcome_id)
    values = [level.value for level in rules.scale.levels]
    imagined = []
    for at, one in enumerate(pieces):
        if not 0 <= one.level < len(values) - one.half_way:
            raise Refused(f"The scale has {len(values)} levels", f"pieces.{at}.level")
        if one.task_id is not None and one.task_id not in tasks:
            raise Refused("There is no evidence from this task", f"pieces.{at}.task_id")
        if one.task_id is not None and one.task_id not in asked:
            raise Refused(
                f"This task asks nothing about {outcome.code} any more", f"pieces.{at}.task_id"
            )
        value = note_value(one.level, len(values), one.half_way, values)
        imagined.append(Imagined(value, one.task_id))
    return [
        mastery_of(with_imagined(gathered, imagined[:count]).pieces(), rules)
        for count in range(1, len(imagined) + 1)
    ]
