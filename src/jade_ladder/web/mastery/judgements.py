"""Judgements: levels that the teacher sets over the calculation."""

from __future__ import annotations

from pydantic import BaseModel

from jade_ladder.service.mastery import judgements as service
from jade_ladder.service.mastery.judgements import Judged
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Day, Text, Whole

router = router_of("mastery", "/classes/{class_id:int}/judgements")


class JudgedIn(BaseModel):
    """The level (0 the lowest) that a student is judged to be at on an outcome."""

    student_id: Whole
    outcome_id: Whole
    level: Whole


class JudgementsIn(BaseModel):
    """Levels for students on outcomes with one reason, from a day on (null: today)."""

    levels: list[JudgedIn]
    reason: Text
    since: Day | None = None


class LiftJudgementIn(BaseModel):
    """From which day on a judgement holds no longer (null: today)."""

    until: Day | None = None


class JudgementEntry(BaseModel):
    """The number in the log by which it is undone."""

    entry: Whole


@router.post("", status_code=201)
def judge(class_id: int, body: JudgementsIn, caller: AsTeacher) -> JudgementEntry:
    """Set levels for students on outcomes; they count until they are lifted."""
    levels = [Judged(one.student_id, one.outcome_id, one.level) for one in body.levels]
    return JudgementEntry(entry=service.judge(caller, class_id, levels, body.reason, body.since))


@router.post("/undo", status_code=204)
def undo_judging(class_id: int, body: JudgementEntry, caller: AsTeacher) -> None:
    """Undo judgements that one made, unless they were changed since."""
    service.undo_judging(caller, class_id, body.entry)


@router.post("/undo-lifting", status_code=204)
def undo_lifting(class_id: int, body: JudgementEntry, caller: AsTeacher) -> None:
    """Let a judgement that one lifted hold again, unless another was made since."""
    service.undo_lifting(caller, class_id, body.entry)


@router.post("/{judgement_id:int}/lift")
def lift_judgement(
    class_id: int, judgement_id: int, body: LiftJudgementIn, caller: AsTeacher
) -> JudgementEntry:
    """Let a judgement hold no longer, from a day on: the calculation counts again."""
    return JudgementEntry(entry=service.lift_judgement(caller, class_id, judgement_id, body.until))


@router.post("/{judgement_id:int}/keep", status_code=204)
def keep_judgement(class_id: int, judgement_id: int, caller: AsTeacher) -> None:
    """Keep a judgement although the evidence changed since."""
    service.keep_judgement(caller, class_id, judgement_id)
