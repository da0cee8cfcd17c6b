"""How the levels of a set have fallen."""

from __future__ import annotations

from pydantic import BaseModel

from jade_ladder.core.numbers import round_half_up
from jade_ladder.core.signs import Half
from jade_ladder.service.marking import spread as service
from jade_ladder.service.marking.spread import CriterionSpread, Fallen
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.numbers import Value

router = router_of("marking")


class FallenOut(BaseModel):
    """How often each level was chosen, the lowest first, and how many of those are half-way up."""

    counts: list[int]
    half: list[int]

    @classmethod
    def of(cls, found: Fallen) -> FallenOut:
        """Show how levels have fallen."""
        return cls(counts=list(found.counts), half=list(found.half))


class HalfOut(FallenOut):
    """One half of a set in the order of marking: its mean level, the lowest being 1, and how far
    levels lie from it (the standard deviation).
    """

    count: int
    mean: Value
    deviation: Value

    @classmethod
    def of_half(cls, half: Half, found: Fallen) -> HalfOut:
        """Show a half."""
        return cls(
            counts=list(found.counts),
            half=list(found.half),
            count=half.count,
            mean=round_half_up(half.mean + 1),
            deviation=half.deviation,
        )


class DriftOut(BaseModel):
    """The earlier and the later half of a set; `drifted` where they differ by more than chance."""

    earlier: HalfOut
    later: HalfOut
    drifted: bool


class SpreadOut(BaseModel):
    """How the levels of a criterion have fallen, the students on whom something is chosen, and the
    halves of the set where there are enough.
    """

    criterion_id: int
    all: FallenOut
    not_assessed: int
    students: list[int]
    drift: DriftOut | None

    @classmethod
    def of(cls, found: CriterionSpread) -> SpreadOut:
        """Show a spread."""
        told, earlier, later = found.drift, found.earlier, found.later
        drift = None
        if told is not None and earlier is not None and later is not None:
            drift = DriftOut(
                earlier=HalfOut.of_half(told.earlier, earlier),
                later=HalfOut.of_half(told.later, later),
                drifted=told.drifted,
            )
        return cls(
            criterion_id=found.criterion_id,
            all=FallenOut.of(found.all),
            not_assessed=found.not_assessed,
            students=list(found.students),
            drift=drift,
        )


@router.get("/tasks/{task_id:int}/spread")
def read_spread(task_id: int, caller: AsTeacher) -> list[SpreadOut]:
    """Give how the levels of a task have fallen so far."""
    return [SpreadOut.of(one) for one in service.spread(caller, task_id)]
