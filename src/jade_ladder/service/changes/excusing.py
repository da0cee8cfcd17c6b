"""Excusing a student, or not any more: whose mastery it would move."""

from __future__ import annotations

from jade_ladder.service.changes.what_if import Effects, what_if_changes
from jade_ladder.service.evidence.class_evidence import WhatIf
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.guards import own_student, own_task
from jade_ladder.store.evidence.choices import outcomes_of_task
from jade_ladder.store.evidence.evidence import evidence_of_task
from jade_ladder.store.work import attempts as attempt_store
from jade_ladder.store.work import tasks as task_store


def excuse_effects(caller: Teacher, task_id: int, student_id: int, excused: bool = True) -> Effects:
    """Say which of a student's levels would change if they were excused from the task, since its
    marks no longer counted, or (not `excused`) if they were not any more, since they counted again
    (docs/calculations.md, "Marks, attempts, evidence"). Nothing is changed.
    """
    with caller.reading() as db:
        row, _ = own_task(db, caller, task_id)
        own_student(db, row.class_id, student_id)
        if not excused:
            record = task_store.record_of(db, task_id, student_id)
            there = [] if record is None else attempt_store.attempt_ids(db, record)
            what = WhatIf(expected=frozenset(there))
            return what_if_changes(db, caller, outcomes_of_task(db, task_id), what)
        found = evidence_of_task(db, task_id, student_id)
        without = frozenset(attempt_id for attempt_id, _ in found)
        outcomes = {outcome_id for _, outcome_id in found}
        return what_if_changes(db, caller, outcomes, WhatIf(without=without))
