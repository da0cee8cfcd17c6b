"""The time of evidence, and notes: seeing first what they do to mastery."""

from __future__ import annotations

from jade_ladder.service.changes.times import note_effects, time_effects
from jade_ladder.web.changes.level_changes import MovesOut
from jade_ladder.web.notes.notes import NoteWordsIn
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Whole
from jade_ladder.web.shared.heavy import heavy
from jade_ladder.web.work.attempts import TimesIn

router = router_of("changes")


class NoteEffectsIn(NoteWordsIn):
    """A note of some students on an outcome as it would be, or the note that it `changes`."""

    student_ids: list[Whole]
    outcome_id: Whole = 0
    changes: Whole | None = None


@router.post("/tasks/{task_id:int}/times/effects")
@heavy
def read_time_effects(task_id: int, body: TimesIn, caller: AsTeacher) -> MovesOut:
    """Say whose mastery would move if times were corrected so; nothing is changed."""
    return MovesOut.of(time_effects(caller, task_id, body.student_ids, body.done_at))


@router.post("/classes/{class_id:int}/notes/effects")
@heavy
def read_note_effects(class_id: int, body: NoteEffectsIn, caller: AsTeacher) -> MovesOut:
    """Say whose mastery such a note would move; nothing is changed."""
    return MovesOut.of(
        note_effects(caller, class_id, body.student_ids, body.outcome_id, body.said(), body.changes)
    )
