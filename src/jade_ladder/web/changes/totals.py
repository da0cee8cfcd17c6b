"""Totals that a change would move, as they are shown."""

from __future__ import annotations

from typing import Self

from pydantic import BaseModel

from jade_ladder.service.changes.totals import TotalMove
from jade_ladder.web.shared.numbers import ShortNumber, Value


class TotalMoveOut(BaseModel):
    """One student's total before and after, as the desk shows it, and out of what; null: nothing
    can be totalled.
    """

    student: str
    before: Value | None
    before_of: ShortNumber | None
    after: Value | None
    after_of: ShortNumber | None

    @classmethod
    def of(cls, move: TotalMove, **more: object) -> Self:
        """Show a total that moves."""
        before, after = move.before, move.after
        found = {
            "student": move.student,
            "before": None if before is None else before.value,
            "before_of": None if before is None else before.out_of,
            "after": None if after is None else after.value,
            "after_of": None if after is None else after.out_of,
        }
        return cls.model_validate({**found, **more})
