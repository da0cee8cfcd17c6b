"""What handing back moves, worked out for the student's eyes at that time and kept
(docs/calculations.md, “What a student sees”).
"""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from datetime import datetime

from jade_ladder.core.mastery import mastery_of
from jade_ladder.service.evidence.kept_evidence import KeptEvidence, limits_of
from jade_ladder.service.evidence.rules import MethodHistory, is_taught
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import today
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.marking.hand_back_moves import KeptMove, keep_moves
from jade_ladder.store.marking.hand_backs import HandedBackRow
from jade_ladder.store.mastery.expectation import not_expected
from jade_ladder.store.outcomes import outcomes as outcome_store
from jade_ladder.store.outcomes import scales as scale_store


def keep_what_moved(
    db: sqlite3.Connection,
    caller: Teacher,
    klass: ClassRow,
    rows: Sequence[HandedBackRow],
    visible_at: datetime,
) -> None:
    """Keep what attempts that were just handed back move: for each outcome that one is evidence
    for, its student's mastery without it and with it, of what they see from `visible_at` on. Part
    of a transaction.
    """
    day = today(db, caller)
    ids = {row.student_id for row in rows}
    students = [one for one in student_store.students(db, klass.id) if one.id in ids]
    outcomes = {
        one.id: one for one in outcome_store.class_outcomes(db, klass.id) if is_taught(one, day)
    }
    lifted = not_expected(db, ids, day)
    scales = scale_store.scales(db)
    history = MethodHistory.load(db, klass)
    shown = KeptEvidence.load_shown(db, limits_of(db, students, day), outcomes, visible_at)
    for row in rows:
        without = shown.without(row.attempt_id)
        moves = []
        for outcome in outcomes.values():
            place = row.student_id, outcome.id
            there = shown.rows(*place)
            if place in lifted or without.rows(*place) == there:
                continue
            rules = history.rules(outcome, scales, day)
            before, after = (
                mastery_of(kept.gathered(*place).pieces(), rules) for kept in (without, shown)
            )
            moves.append(KeptMove(outcome.id, outcome.title, rules.scale, before, after))
        keep_moves(db, row.mark_id, moves)
