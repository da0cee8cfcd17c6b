"""The evidence trail as the API shows it."""

from __future__ import annotations

from datetime import date, datetime

from pydantic import BaseModel

from jade_ladder.core.evidence import SourceKind
from jade_ladder.core.mastery import State, level_on
from jade_ladder.core.next_piece import NextPiece
from jade_ladder.core.scale import Scale
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.core.trail import Direction, PointBy, Trail
from jade_ladder.service.mastery.trail import EvidenceTrail, TrailPiece
from jade_ladder.store.mastery.judgements import JudgementRow
from jade_ladder.web.mastery.models import MasteryOut, SeenOtherwiseOut
from jade_ladder.web.notes.models import NoteOut
from jade_ladder.web.outcomes.methods import MethodOut
from jade_ladder.web.outcomes.scales import ScaleOut
from jade_ladder.web.shared.numbers import ShortNumber, Value


class TrailPointOut(BaseModel):
    """Mastery as it stood when evidence was added, a judgement began or was lifted, or another
    method began to hold; `calculated` is the value without a judgement.
    """

    at: datetime
    value: Value | None
    state: State
    by: PointBy
    calculated: Value | None

    @classmethod
    def several(cls, trail: Trail[datetime]) -> list[TrailPointOut]:
        """Show the points of a trail."""
        return [
            cls(
                at=point.at,
                value=point.value,
                state=point.state,
                by=point.by,
                calculated=point.calculated,
            )
            for point in trail.points
        ]


class JudgementOut(BaseModel):
    """A level that a teacher set, with why, from a day until (not included) another; `lifted_by` is
    who lifted it, where it does not hold now.
    """

    id: int
    level: int
    name: str
    reason: str
    since: date
    until: date | None
    made_at: datetime
    made_by: str
    lifted_at: datetime | None
    lifted_by: str | None

    @classmethod
    def of(cls, row: JudgementRow, scale: Scale) -> JudgementOut:
        """Show a judgement on the scale that the outcome has now."""
        level = level_on(row.level, row.levels, scale)
        return cls(
            id=row.id,
            level=level,
            name=scale.levels[level].name,
            reason=row.reason,
            since=row.since,
            until=row.until,
            made_at=row.made_at,
            made_by=row.made_by,
            lifted_at=row.lifted_at,
            lifted_by=row.lifted_by,
        )


class MethodSpanOut(BaseModel):
    """A method that held until a time."""

    until: datetime
    method: MethodOut


class AsideOut(BaseModel):
    """Why, when and by whom a piece of evidence was set aside."""

    reason: str
    at: datetime
    by: str


class TrailPieceOut(BaseModel):
    """A piece of evidence and where it came from: its source by kind and number, which attempt at
    which task it is, or which `note` (then the task is null); `class_id` only where one teaches
    that class. One that is set aside (`aside`) does not count. `own_time` is the time it had by
    itself, where that was corrected; `carried` are the attempts that something in it is carried
    over from.
    """

    source_kind: SourceKind
    source_id: int
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

    @classmethod
    def of(cls, piece: TrailPiece) -> TrailPieceOut:
        """Show a piece of a trail."""
        key, aside = piece.evidence.key, piece.aside
        return cls(
            source_kind=key.kind,
            source_id=key.source,
            at=piece.evidence.done_at,
            value=piece.evidence.value,
            task_id=None if piece.note else piece.evidence.origin[1],
            task=piece.task_title,
            kind=piece.task_kind,
            attempt=piece.evidence.number,
            class_name=piece.class_name,
            class_id=piece.class_id,
            remarks=list(piece.remarks),
            counted=piece.counted,
            aside=aside and AsideOut(reason=aside.reason, at=aside.at, by=aside.by),
            note=piece.note and NoteOut.of(piece.note.row, piece.note.files),
            own_time=piece.own_time,
            carried=list(piece.carried),
        )


class MethodValueOut(BaseModel):
    """What a method would give."""

    method: MethodOut
    value: Value
    level: int
    chosen: bool


class NextPieceOut(BaseModel):
    """What a piece that is done now would have to be to reach mastery: the lowest level or half-way
    up from it (null: no level does), and the smallest value in hundredths that does (null: none).
    """

    level: str | None
    half_way: bool
    value: ShortNumber | None
    smallest: Value | None
    or_better: bool

    @classmethod
    def of(cls, piece: NextPiece | None, scale: Scale) -> NextPieceOut | None:
        """Show it by the names of a scale's levels; None where nothing does it."""
        if piece is None:
            return None
        return cls(
            level=None if piece.level is None else scale.levels[piece.level].name,
            half_way=piece.half_way,
            value=piece.value,
            smallest=piece.smallest,
            or_better=piece.or_better,
        )


class NextAttemptOut(BaseModel):
    """What another attempt at a task would have to be to reach mastery; null: none does alone."""

    task_id: int
    task: str
    piece: NextPieceOut | None


class NotExpectedOut(BaseModel):
    """Why an outcome is lifted for a student, and from which day."""

    reason: str
    since: date


class TrailOut(BaseModel):
    """One student and outcome over time. `mastery` is what counts, `calculated` is without the
    `judgement` that holds; `judged` are all there were, `methods_before` the methods that held
    earlier. `asked` are the tasks of the pieces that ask about the outcome still, at which another
    attempt could be made.
    """

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
    calculated: MasteryOut
    judgement: JudgementOut | None
    judged: list[JudgementOut]
    methods_before: list[MethodSpanOut]
    first_reached: datetime | None
    held_since: datetime | None
    back: bool
    slipped_at: datetime | None
    slipped_by: PointBy | None
    direction: Direction
    points: list[TrailPointOut]
    pieces: list[TrailPieceOut]
    methods: list[MethodValueOut]
    sum: str
    steps: list[str]
    next_piece: NextPieceOut | None
    next_attempts: list[NextAttemptOut]
    asked: list[int]
    not_expected: NotExpectedOut | None
    seen: SeenOtherwiseOut | None

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
            calculated=MasteryOut.of(found.calculated),
            judgement=found.judgement and JudgementOut.of(found.judgement, scale),
            judged=[JudgementOut.of(row, scale) for row in found.judged],
            methods_before=[
                MethodSpanOut(until=until, method=MethodOut.of(rules.method))
                for until, rules in found.course.before
            ],
            first_reached=found.trail.first_reached,
            held_since=found.trail.held_since,
            back=found.trail.back,
            slipped_at=found.trail.slipped_at,
            slipped_by=found.trail.slipped_by,
            direction=found.trail.direction,
            points=TrailPointOut.several(found.trail),
            pieces=[TrailPieceOut.of(piece) for piece in reversed(found.pieces)],
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
            next_piece=NextPieceOut.of(found.next_piece, found.rules.scale),
            next_attempts=[
                NextAttemptOut(
                    task_id=one.task_id,
                    task=one.title,
                    piece=NextPieceOut.of(one.piece, found.rules.scale),
                )
                for one in found.next_attempts
            ],
            asked=sorted(found.asked),
            not_expected=found.not_expected
            and NotExpectedOut(reason=found.not_expected.reason, since=found.not_expected.since),
            seen=SeenOtherwiseOut.of(found.seen),
        )
