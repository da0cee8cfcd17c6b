"""Setting evidence aside: it is kept on record, with why, and does not count
(docs/calculations.md, “Marks, attempts, evidence”).
"""

from __future__ import annotations

from collections.abc import Sequence

from jade_ladder.core.errors import Refused
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.forms import needed
from jade_ladder.service.shared.guards import own_student, own_task
from jade_ladder.store.evidence import set_aside as store
from jade_ladder.store.evidence.set_aside import SetAsideRow, WhichEvidence
from jade_ladder.store.shared.log import LogSubject

LONGEST_REASON = 1_000


def set_evidence_aside(
    caller: Teacher,
    task_id: int,
    student_ids: Sequence[int],
    reason: str,
    number: int | None = None,
    outcome_ids: Sequence[int] | None = None,
) -> int:
    """Set aside what students' work on a task is evidence of: of one attempt or (None) all, on some
    outcomes or (None) all. Gives how many pieces; what is set aside already stays as it is.
    """
    needed(reason, "reason", "A reason", LONGEST_REASON)
    which = WhichEvidence(task_id, student_ids, number, outcome_ids)
    with caller.transaction() as db:
        row, _ = own_task(db, caller, task_id)
        _check(student_ids)
        for student_id in student_ids:
            own_student(db, row.class_id, student_id)
        attempts = store.set_aside(db, which, reason.strip(), caller.now, caller.person_id)
        if not attempts:
            raise Refused("There is no evidence of this that counts", "student_ids")
        caller.log(
            db, LogSubject.EVIDENCE_SET_ASIDE, task_id, None, {**which.values, "reason": reason}
        )
        return len(attempts)


def count_evidence_again(
    caller: Teacher,
    task_id: int,
    student_ids: Sequence[int],
    number: int | None = None,
    outcome_ids: Sequence[int] | None = None,
) -> int:
    """Let what was set aside count again; gives how many pieces. That it was stays on record."""
    which = WhichEvidence(task_id, student_ids, number, outcome_ids)
    with caller.transaction() as db:
        row, _ = own_task(db, caller, task_id)
        _check(student_ids)
        for student_id in student_ids:
            own_student(db, row.class_id, student_id)
        attempts = store.count_again(db, which, caller.now, caller.person_id)
        if not attempts:
            raise Refused("Nothing of this is set aside", "student_ids")
        caller.log(db, LogSubject.EVIDENCE_SET_ASIDE, task_id, which.values, None)
        return len(attempts)


def _check(student_ids: Sequence[int]) -> None:
    if not student_ids:
        raise Refused("Choose the students", "student_ids")


def set_aside_at_task(caller: Teacher, task_id: int) -> list[tuple[int, SetAsideRow]]:
    """List the pieces that are set aside at a task, each with its student."""
    with caller.reading() as db:
        own_task(db, caller, task_id)
        return store.set_aside_of_task(db, task_id)
