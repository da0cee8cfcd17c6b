"""Excusing a student: what of mastery it would take away."""

from __future__ import annotations

from jade_ladder.service.changes.what_if import Effects, what_if_changes
from jade_ladder.service.evidence.class_evidence import WhatIf
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.guards import own_student, own_task
from jade_ladder.store.evidence.evidence import evidence_of_task


def excuse_effects(caller: Teacher, task_id: int, student_id: int) -> Effects:
    """Say which of a student's levels would change if they were excused from the task, since its
    marks no longer counted (docs/calculations.md, "Marks, attempts, evidence"). Nothing is changed.
    """
    with caller.reading() as db:
        row, _ = own_task(db, caller, task_id)
        own_student(db, row.class_id, student_id)
        found = evidence_of_task(db, task_id, student_id)
        without = frozenset(attempt_id for attempt_id, _ in found)
        outcomes = {outcome_id for _, outcome_id in found}
        return what_if_changes(db, caller, outcomes, WhatIf(without=without))
