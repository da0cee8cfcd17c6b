"""The mastery wall and the evidence trail."""

from __future__ import annotations

from datetime import date, datetime

from pydantic import BaseModel

from jade_ladder.core.mastery import Direction, State
from jade_ladder.core.next_piece import NextPiece
from jade_ladder.service.mastery import expectation, trail
from jade_ladder.service.mastery import wall as service
from jade_ladder.service.mastery.trail import EvidenceTrail
from jade_ladder.service.mastery.wall import Wall
from jade_ladder.web.mastery.models import MasteryOut
from jade_ladder.web.outcomes.methods import MethodOut
from jade_ladder.web.outcomes.scales import ScaleOut
from jade_ladder.web.outcomes.strands import StrandOut
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Day, Text
from jade_ladder.web.shared.heavy import heavy
from jade_ladder.web.shared.numbers import ShortNumber, Value

router = router_of("mastery", "/classes/{class_id:int}/mastery")


class WallStudentOut(BaseModel):
    """A student down the side: mastered `mastered` of `of`."""

    id: int
    name: str
    mastered: int
    of: int
    without: int
    needing: int


class WallOutcomeOut(BaseModel):
    """An outcome across the top, with its class ladder: students at each level, lowest first."""

    id: int
    code: str
    title: str
    strand_id: int | None
    scale_id: int
    method: MethodOut
    own_method: bool
    minimum: int
    at_level: list[int]
    mastered: int
    counted: int
    needing: int
    without: int
    median: Value | None
    mean: Value | None


class WallOut(BaseModel):
    """Students by outcomes; the cells stand in columns of their own, row by row. `slipped`: was
    mastered before, is not now; not `expected`: lifted for the student, who is not counted.
    """

    class_id: int
    as_of: date
    method: MethodOut
    students: list[WallStudentOut]
    strands: list[StrandOut]
    outcomes: list[WallOutcomeOut]
    scales: list[ScaleOut]
    state: list[State]
    value: list[Value | None]
    level: list[int | None]
    pieces: list[int]
    direction: list[Direction]
    slipped: list[bool]
    expected: list[bool]

    @classmethod
    def of(cls, wall: Wall) -> WallOut:
        """Show a wall."""
        cells = [cell for row in wall.cells for cell in row]
        used = {outcome.scale_id for outcome in wall.outcomes}
        return cls(
            class_id=wall.klass.id,
            as_of=wall.as_of,
            method=MethodOut.of(wall.class_method),
            students=[
                WallStudentOut(
                    id=student.id,
                    name=student.name,
                    mastered=roll_up.mastered,
                    of=roll_up.of,
                    without=roll_up.without,
                    needing=roll_up.needing,
                )
                for student, roll_up in zip(wall.students, wall.roll_ups, strict=True)
            ],
            strands=[StrandOut.of(strand) for strand in wall.strands],
            outcomes=_outcomes(wall),
            scales=[ScaleOut.of(scale) for scale in wall.scales.values() if scale.id in used],
            state=[cell.mastery.state for cell in cells],
            value=[cell.mastery.value for cell in cells],
            level=[cell.mastery.level for cell in cells],
            pieces=[cell.mastery.pieces for cell in cells],
            direction=[cell.direction for cell in cells],
            slipped=[cell.slipped for cell in cells],
            expected=[cell.expected for cell in cells],
        )


def _outcomes(wall: Wall) -> list[WallOutcomeOut]:
    columns = zip(wall.outcomes, wall.rules, wall.pictures, strict=True)
    return [
        WallOutcomeOut(
            id=outcome.id,
            code=outcome.code,
            title=outcome.title,
            strand_id=outcome.strand_id,
            scale_id=outcome.scale_id,
            method=MethodOut.of(rules.method),
            own_method=outcome.method is not None,
            minimum=outcome.minimum,
            at_level=list(picture.at_level),
            mastered=picture.mastered,
            counted=picture.counted,
            needing=picture.needing,
            without=picture.without,
            median=picture.median,
            mean=picture.mean,
        )
        for outcome, rules, picture in columns
    ]


class TrailPointOut(BaseModel):
    """Mastery as it stood when evidence was added."""

    at: datetime
    value: Value
    state: State


class TrailPieceOut(BaseModel):
    """A piece of evidence and where it came from."""

    at: datetime
    value: Value
    task_id: int
    task: str
    kind: str
    class_name: str
    remarks: list[str]
    counted: bool


class MethodValueOut(BaseModel):
    """What a method would give."""

    method: MethodOut
    value: Value
    level: int
    chosen: bool


class NextPieceOut(BaseModel):
    """What a new piece would have to be to reach mastery."""

    level: str
    half_way: bool
    value: ShortNumber
    smallest: Value
    or_better: bool


class NotExpectedOut(BaseModel):
    """Why an outcome is lifted for a student, and from which day."""

    reason: str
    since: date


class LiftIn(BaseModel):
    """Why an outcome is to be lifted for a student."""

    reason: Text


class TrailOut(BaseModel):
    """One student and outcome over time."""

    student_id: int
    student: str
    outcome_id: int
    code: str
    title: str
    as_of: date
    minimum: int
    method: MethodOut
    scale: ScaleOut
    mastery: MasteryOut
    first_reached: datetime | None
    held_since: datetime | None
    back: bool
    slipped_at: datetime | None
    direction: Direction
    points: list[TrailPointOut]
    pieces: list[TrailPieceOut]
    methods: list[MethodValueOut]
    sum: str
    steps: list[str]
    next_piece: NextPieceOut | None
    not_expected: NotExpectedOut | None

    @classmethod
    def of(cls, found: EvidenceTrail) -> TrailOut:
        """Show a trail, the newest piece first."""
        scale = found.rules.scale
        return cls(
            student_id=found.student.id,
            student=found.student.name,
            outcome_id=found.outcome.id,
            code=found.outcome.code,
            title=found.outcome.title,
            as_of=found.as_of,
            minimum=found.rules.minimum,
            method=MethodOut.of(found.rules.method),
            scale=ScaleOut.of(found.scale),
            mastery=MasteryOut.of(found.mastery),
            first_reached=found.trail.first_reached,
            held_since=found.trail.held_since,
            back=found.trail.back,
            slipped_at=found.trail.slipped_at,
            direction=found.trail.direction,
            points=[
                TrailPointOut(at=point.at, value=point.value, state=point.state)
                for point in found.trail.points
            ],
            pieces=[
                TrailPieceOut(
                    at=piece.evidence.done_at,
                    value=piece.evidence.value,
                    task_id=piece.evidence.source[1],
                    task=piece.task_title,
                    kind=piece.task_kind,
                    class_name=piece.class_name,
                    remarks=list(piece.remarks),
                    counted=piece.counted,
                )
                for piece in reversed(found.pieces)
            ],
            methods=[
                MethodValueOut(
                    method=MethodOut.of(method),
                    value=value,
                    level=scale.level_of(value),
                    chosen=method == found.rules.method,
                )
                for method, value in found.methods
            ],
            sum=found.sum,
            steps=list(found.steps),
            next_piece=_next(found.next_piece, found),
            not_expected=found.not_expected
            and NotExpectedOut(reason=found.not_expected.reason, since=found.not_expected.since),
        )


def _next(piece: NextPiece | None, found: EvidenceTrail) -> NextPieceOut | None:
    if piece is None:
        return None
    return NextPieceOut(
        level=found.rules.scale.levels[piece.level].name,
        half_way=piece.half_way,
        value=piece.value,
        smallest=piece.smallest,
        or_better=piece.or_better,
    )


@router.get("")
@heavy
def read_wall(class_id: int, caller: AsTeacher, as_of: Day | None = None) -> WallOut:
    """Give the mastery wall as of a day."""
    return WallOut.of(service.wall(caller, class_id, as_of))


@router.get("/{student_id:int}/{outcome_id:int}")
def read_trail(
    class_id: int, student_id: int, outcome_id: int, caller: AsTeacher, as_of: Day | None = None
) -> TrailOut:
    """Give the evidence trail of one student and outcome as of a day."""
    return TrailOut.of(trail.trail(caller, class_id, student_id, outcome_id, as_of))


@router.put("/{student_id:int}/{outcome_id:int}/not-expected", status_code=204)
def lift_outcome(
    class_id: int, student_id: int, outcome_id: int, body: LiftIn, caller: AsTeacher
) -> None:
    """Expect an outcome no longer of a student, with a reason."""
    expectation.lift_outcome(caller, class_id, student_id, outcome_id, body.reason)


@router.delete("/{student_id:int}/{outcome_id:int}/not-expected", status_code=204)
def expect_again(class_id: int, student_id: int, outcome_id: int, caller: AsTeacher) -> None:
    """Expect an outcome of a student again."""
    expectation.expect_again(caller, class_id, student_id, outcome_id)
