"""Finishing what was observed, all at once."""

from __future__ import annotations

from jade_ladder.core.errors import Refused
from jade_ladder.service.marking.choices import Choice, unmarked_criteria
from jade_ladder.service.marking.saving import begin, put_choice
from jade_ladder.service.marking.state import Marking
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.guards import own_task
from jade_ladder.store.marking import marks as mark_store
from jade_ladder.store.observing import observing as store

NOT_ASSESSED = Choice(None, not_assessed=True)


def finish_observed(caller: Teacher, task_id: int) -> int:
    """Finish every mark of an observed task on which anything was chosen, what it lacks being “not
    assessed” (docs/calculations.md, “Observed in the room”); gives how many.
    """
    with caller.transaction() as db:
        task, _ = own_task(db, caller, task_id)
        if not task.kind.watched:
            raise Refused("This task is not observed: its marks are finished at the desk")
        marks = store.marks_to_finish(db, task_id)
        for one in marks:
            marking = Marking.load(db, caller, task_id, one.student_id, one.number)
            mark_id = begin(marking)
            lacking = {
                criterion.key for criterion in unmarked_criteria(marking.criteria, marking.choices)
            }
            for stored in marking.criteria:
                if stored.criterion.key in lacking:
                    put_choice(marking, mark_id, stored, NOT_ASSESSED)
            mark_store.finish(db, mark_id, caller.now)
        return len(marks)
