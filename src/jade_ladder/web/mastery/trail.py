"""The evidence trail of one student and outcome, and what is not expected of a student."""

from __future__ import annotations

from pydantic import BaseModel

from jade_ladder.core.methods import LAST_AT_FIRST, NEWEST_AT_FIRST, Method, MethodKind
from jade_ladder.service.mastery import expectation, imagining
from jade_ladder.service.mastery import trail as service
from jade_ladder.web.mastery.models import MasteryOut
from jade_ladder.web.mastery.trail_models import TrailOut, TrailPointOut
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Day, Text, Whole, YesNo

router = router_of("mastery", "/classes/{class_id:int}/mastery/{student_id:int}/{outcome_id:int}")


class ImaginedIn(BaseModel):
    """A piece that is imagined: a level (0 the lowest) or half-way above it, of a new task (null)
    or another attempt at one.
    """

    level: Whole
    half_way: YesNo = False
    task_id: Whole | None = None


class ImagineIn(BaseModel):
    """Pieces that are imagined, in order."""

    pieces: list[ImaginedIn]


class LiftIn(BaseModel):
    """Why an outcome is to be lifted for a student."""

    reason: Text


@router.get("")
def read_trail(
    class_id: int, student_id: int, outcome_id: int, caller: AsTeacher, as_of: Day | None = None
) -> TrailOut:
    """Give the evidence trail of one student and outcome as of a day."""
    return TrailOut.of(service.trail(caller, class_id, student_id, outcome_id, as_of))


@router.get("/under")
def read_trail_under(
    class_id: int,
    student_id: int,
    outcome_id: int,
    kind: MethodKind,
    caller: AsTeacher,
    newest: int = NEWEST_AT_FIRST,
    last: int = LAST_AT_FIRST,
) -> list[TrailPointOut]:
    """Give the points of the trail of today as if a method had always held, without judgements."""
    method = Method(kind, newest, last)
    return TrailPointOut.several(
        imagining.trail_under(caller, class_id, student_id, outcome_id, method)
    )


@router.post("/imagine")
def imagine(
    class_id: int, student_id: int, outcome_id: int, body: ImagineIn, caller: AsTeacher
) -> list[MasteryOut]:
    """Say where imagined pieces would lead, after each of them; nothing is kept."""
    pieces = [imagining.ImaginedPiece(one.level, one.half_way, one.task_id) for one in body.pieces]
    found = imagining.imagine(caller, class_id, student_id, outcome_id, pieces)
    return [MasteryOut.of(mastery) for mastery in found]


@router.put("/not-expected", status_code=204)
def lift_outcome(
    class_id: int, student_id: int, outcome_id: int, body: LiftIn, caller: AsTeacher
) -> None:
    """Expect an outcome no longer of a student, with a reason."""
    expectation.lift_outcome(caller, class_id, student_id, outcome_id, body.reason)


@router.delete("/not-expected", status_code=204)
def expect_again(class_id: int, student_id: int, outcome_id: int, caller: AsTeacher) -> None:
    """Expect an outcome of a student again."""
    expectation.expect_again(caller, class_id, student_id, outcome_id)
