"""What is not expected of a student: an outcome lifted for one, with a reason."""

from __future__ import annotations

from jade_ladder.core.errors import Refused
from jade_ladder.service.outcomes.outcomes import own_outcome
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import today
from jade_ladder.service.shared.forms import needed
from jade_ladder.service.shared.guards import own_student
from jade_ladder.store.mastery import expectation as store
from jade_ladder.store.shared.log import LogSubject


def lift_outcome(
    caller: Teacher, class_id: int, student_id: int, outcome_id: int, reason: str
) -> None:
    """Expect an outcome no longer of a student, from today, with a reason.

    Its evidence is kept; it leaves the student's n and the counts of every class that teaches it
    (docs/calculations.md, “Mastery”).
    """
    reason = needed(reason, "reason", "A reason", longest=500)
    with caller.transaction() as db:
        outcome = own_outcome(db, caller, class_id, outcome_id)
        own_student(db, class_id, student_id)
        day = today(db, caller)
        if (student_id, outcome_id) in store.not_expected(db, [student_id], day):
            raise Refused(f"{outcome.code} is not expected of this student already", "reason")
        store.lift_outcome(db, student_id, outcome_id, reason, day, caller.person_id)
        caller.log(
            db,
            LogSubject.NOT_EXPECTED,
            outcome_id,
            None,
            {"student": student_id, "reason": reason},
        )


def expect_again(caller: Teacher, class_id: int, student_id: int, outcome_id: int) -> None:
    """Expect a lifted outcome of a student again, from today."""
    with caller.transaction() as db:
        own_outcome(db, caller, class_id, outcome_id)
        own_student(db, class_id, student_id)
        day = today(db, caller)
        lifted = store.not_expected(db, [student_id], day).get((student_id, outcome_id))
        if lifted is None:
            return
        store.expect_again(db, student_id, outcome_id, day)
        caller.log(
            db,
            LogSubject.NOT_EXPECTED,
            outcome_id,
            {"student": student_id, "reason": lifted.reason},
            None,
        )
