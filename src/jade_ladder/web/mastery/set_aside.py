"""Setting evidence aside, and letting it count again."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel

from jade_ladder.service.mastery import setting_aside as service
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Text, Whole
from jade_ladder.web.shared.models import Added

router = router_of("mastery", "/tasks/{task_id:int}")


class EvidenceIn(BaseModel):
    """The evidence of students at a task: of one attempt or (null) all, on some outcomes or (null)
    all.
    """

    student_ids: list[Whole]
    attempt: Whole | None = None
    outcome_ids: list[Whole] | None = None


class SetAsideIn(EvidenceIn):
    """Evidence that is to be set aside, and why."""

    reason: Text


class SetAsideOut(BaseModel):
    """A piece that is set aside: whose, on which outcome, why, when and by whom."""

    student_id: int
    outcome_id: int
    reason: str
    at: datetime
    by: str


@router.get("/set-aside")
def read_set_aside(task_id: int, caller: AsTeacher) -> list[SetAsideOut]:
    """List the pieces of evidence that are set aside at a task."""
    return [
        SetAsideOut(
            student_id=student_id,
            outcome_id=one.outcome_id,
            reason=one.reason,
            at=one.set_aside_at,
            by=f"{one.given_name} {one.family_name}".strip(),
        )
        for student_id, one in service.set_aside_at_task(caller, task_id)
    ]


@router.post("/set-aside", status_code=201)
def set_evidence_aside(task_id: int, body: SetAsideIn, caller: AsTeacher) -> Added:
    """Set evidence aside: it stays on record and does not count."""
    added = service.set_evidence_aside(
        caller, task_id, body.student_ids, body.reason, body.attempt, body.outcome_ids
    )
    return Added(added=added)


@router.post("/counted-again", status_code=201)
def count_evidence_again(task_id: int, body: EvidenceIn, caller: AsTeacher) -> Added:
    """Let evidence that was set aside count again."""
    added = service.count_evidence_again(
        caller, task_id, body.student_ids, body.attempt, body.outcome_ids
    )
    return Added(added=added)
