"""The evidence trail of one student and outcome, and what is not expected of a student."""

from __future__ import annotations

from datetime import date, datetime

from pydantic import BaseModel

from jade_ladder.core.mastery import Direction, State
from jade_ladder.core.next_piece import NextPiece
from jade_ladder.service.mastery import expectation
from jade_ladder.service.mastery import trail as service
from jade_ladder.service.mastery.trail import EvidenceTrail
from jade_ladder.store.work.tasks import TaskKind
from jade_ladder.web.mastery.models import MasteryOut
from jade_ladder.web.notes.models import NoteOut
from jade_ladder.web.outcomes.methods import MethodOut
from jade_ladder.web.outcomes.scales import ScaleOut
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Day, Text
from jade_ladder.web.shared.numbers import ShortNumber, Value

router = router_of("mastery", "/classes/{class_id:int}/mastery/{student_id:int}/{outcome_id:int}")


class TrailPointOut(BaseModel):
    """Mastery as it stood when evidence was added."""

    at: datetime
    value: Value
    state: State


class AsideOut(BaseModel):
    """Why, when and by whom a piece of evidence was set aside."""

    reason: str
    at: datetime
    by: str


class TrailPieceOut(BaseModel):
    """A piece of evidence and where it came from: which attempt at which task, or a `note` (then
    the task is null); `class_id` only where one teaches that class. One that is set aside (`aside`)
    does not count. `own_time` is the time it had by itself, where that was corrected; `carried` are
    the attempts that something in it is carried over from.
    """

    at: datetime
    value: Value
    task_id: int | None
    task: str
    kind: TaskKind | None
    attempt: int
    note: NoteOut | None
    own_time: datetime | None
    carried: list[int]
    class_name: str
    class_id: int | None
    remarks: list[str]
    counted: bool
    aside: AsideOut | None


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
                    task_id=None if piece.note else piece.evidence.source[1],
                    task=piece.task_title,
                    kind=piece.task_kind,
                    attempt=piece.evidence.number,
                    class_name=piece.class_name,
                    class_id=piece.class_id,
                    remarks=list(piece.remarks),
                    counted=piece.counted,
                    aside=piece.aside
                    and AsideOut(reason=piece.aside.reason, at=piece.aside.at, by=piece.aside.by),
                    note=piece.note and NoteOut.of(piece.note.row, piece.note.files),
                    own_time=piece.own_time,
                    carried=list(piece.carried),
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
def read_trail(
    class_id: int, student_id: int, outcome_id: int, caller: AsTeacher, as_of: Day | None = None
) -> TrailOut:
    """Give the evidence trail of one student and outcome as of a day."""
    return TrailOut.of(service.trail(caller, class_id, student_id, outcome_id, as_of))


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
