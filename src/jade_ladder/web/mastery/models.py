"""Mastery as it is shown."""

from __future__ import annotations

from pydantic import BaseModel

from jade_ladder.core.mastery import Mastery, State
from jade_ladder.web.shared.numbers import Value


class MasteryOut(BaseModel):
    """Value, level (0 is the lowest) and state of one student and outcome. Where it is judged these
    are the judgement's, and `calculated` is the value beside it; `evidence_changed`: since then.
    """

    state: State
    value: Value | None
    level: int | None
    pieces: int
    judged: bool
    calculated: Value | None
    evidence_changed: bool

    @classmethod
    def of(cls, mastery: Mastery) -> MasteryOut:
        """Show a mastery."""
        return cls(
            state=mastery.state,
            value=mastery.value,
            level=mastery.level,
            pieces=mastery.pieces,
            judged=mastery.judged,
            calculated=mastery.calculated,
            evidence_changed=mastery.evidence_changed,
        )
