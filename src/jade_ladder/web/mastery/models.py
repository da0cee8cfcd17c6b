"""Mastery as it is shown."""

from __future__ import annotations

from pydantic import BaseModel

from jade_ladder.core.mastery import Mastery, State
from jade_ladder.service.mastery.own_ladder import SeenOtherwise
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


class SeenOtherwiseOut(BaseModel):
    """What a student sees of an outcome where it is not what their teachers see, since something is
    not handed back to them; `slipped` as they see it.
    """

    mastery: MasteryOut
    slipped: bool
    teachers: MasteryOut

    @classmethod
    def of(cls, seen: SeenOtherwise | None) -> SeenOtherwiseOut | None:
        """Show it; None where both see the same."""
        if seen is None:
            return None
        return cls(
            mastery=MasteryOut.of(seen.mastery),
            slipped=seen.slipped,
            teachers=MasteryOut.of(seen.teachers),
        )
