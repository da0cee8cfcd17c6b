"""What correcting the time of evidence, or writing a note, would do to mastery, said first."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Sequence
from datetime import datetime

from jade_ladder.core.errors import Refused
from jade_ladder.service.changes.what_if import Effects, what_if_changes
from jade_ladder.service.evidence.class_evidence import WhatIf
from jade_ladder.service.notes.notes import NoteWords, checked_note, own_note
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.guards import own_class, own_student
from jade_ladder.service.work.attempts import attempts_to_correct
from jade_ladder.store.evidence import sources
from jade_ladder.store.evidence.evidence import evidence_of_task
from jade_ladder.store.notes.notes import NoteEvidence, NoteVersion
from jade_ladder.store.outcomes import outcomes as outcome_store
from jade_ladder.store.outcomes import scales as scale_store
from jade_ladder.store.shared.connection import write_time


def time_effects(
    caller: Teacher, task_id: int, student_ids: Sequence[int], done_at: datetime | None
) -> Effects:
    """Say whose mastery would be another if the time of their newest attempt were corrected to
    this, or (None) were again what it was by itself. Nothing is changed; what the correction would
    be refused for is refused here, too.
    """
    with caller.reading() as db:
        found = attempts_to_correct(db, caller, task_id, student_ids, done_at)
        own = sources.times_by_themselves(db, (one.attempt.id for one in found))
        times = {
            one.attempt.id: one.when or own.get(one.attempt.id, one.attempt.done_at)
            for one in found
        }
        outcomes = {
            outcome_id
            for one in found
            for attempt_id, outcome_id in evidence_of_task(db, task_id, one.student_id)
            if attempt_id == one.attempt.id
        }
        return what_if_changes(db, caller, outcomes, WhatIf(times=times), values=True)


def note_effects(
    caller: Teacher,
    class_id: int,
    student_ids: Sequence[int],
    outcome_id: int,
    said: NoteWords,
    changes: int | None = None,
) -> Effects:
    """Say whose mastery would be another with such a note of these students, or with this one
    (`changes`) saying so instead. Nothing is changed.
    """
    with caller.reading() as db:
        klass = own_class(db, caller, class_id)
        taught = {one.id: one for one in outcome_store.class_outcomes(db, class_id)}
        if changes is not None:
            row = own_note(db, caller, changes)
            outcome_id, scale_id = row.outcome_id, row.scale_id
            said_now = checked_note(db, caller, klass, scale_id, said, row.seen_at)
            if row.aside is not None:
                return Effects((), 0)
            written_at = row.written_at or caller.now
            notes = [
                _evidence(db, row.student_id, outcome_id, scale_id, said_now, changes, written_at)
            ]
        else:
            if outcome_id not in taught:
                raise Refused("This class does not teach this outcome", "outcome_id")
            scale_id = taught[outcome_id].scale_id
            said_now = checked_note(db, caller, klass, scale_id, said, caller.now)
            for student_id in student_ids:
                own_student(db, class_id, student_id)
            notes = [
                _evidence(db, student_id, outcome_id, scale_id, said_now, _NEW + at, caller.now)
                for at, student_id in enumerate(dict.fromkeys(student_ids))
            ]
        what = WhatIf(notes={one.id: one for one in notes})
        return what_if_changes(db, caller, [outcome_id], what, values=True)


_NEW = 2**52
"""From here on notes are numbered that are not written yet."""


def _evidence(
    db: sqlite3.Connection,
    student_id: int,
    outcome_id: int,
    scale_id: int,
    said: NoteVersion,
    number: int,
    written_at: datetime,
) -> NoteEvidence:
    levels = scale_store.scales(db)[scale_id].scale.levels
    return NoteEvidence(
        student_id,
        outcome_id,
        write_time(said.seen_at),
        write_time(written_at),
        number,
        said.level,
        said.levels,
        int(said.half_way),
        scale_id,
        json.dumps([level.value for level in levels]),
    )
