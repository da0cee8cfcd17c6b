"""The state of a mark, as the desk is told it."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime

from pydantic import BaseModel

from jade_ladder.core.total import Adjustments, Line, LineKind, Total
from jade_ladder.service.marking.carried_marks import CountingUnder
from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.marking.moves import Move
from jade_ladder.service.marking.state import MarkState
from jade_ladder.web.mastery.models import MasteryOut
from jade_ladder.web.shared.numbers import ShortNumber, Value
from jade_ladder.web.work.tasks import StudentAtTaskOut

ATTEMPT = "/tasks/{task_id:int}/students/{student_id:int}/attempts/{attempt:int}"


class ChoiceOut(BaseModel):
    """What stands on a criterion; `carried_from` is the number of the attempt that it was carried
    over from (null: it was chosen in this one).
    """

    criterion_id: int
    level_id: int | None
    half_way: bool
    not_assessed: bool
    carried_from: int | None

    @classmethod
    def several(cls, choices: Mapping[int, Choice]) -> list[ChoiceOut]:
        """Show choices, which are by the criterion's record."""
        return [
            cls(
                criterion_id=number,
                level_id=choice.level_id,
                half_way=choice.half_way,
                not_assessed=choice.not_assessed,
                carried_from=choice.carried_from,
            )
            for number, choice in choices.items()
        ]


class RemarkOut(BaseModel):
    """A remark on a criterion, or (null) on the whole."""

    criterion_id: int | None
    text: str


class LineOut(BaseModel):
    """A line of a total."""

    kind: LineKind
    reason: str
    amount: Value

    @classmethod
    def of(cls, line: Line) -> LineOut:
        """Show a line."""
        return cls(kind=line.kind, reason=line.reason, amount=line.amount)


class TotalOut(BaseModel):
    """A total, or a total so far; `out_of` is then less than the task's points. `calculated` is
    what it comes to without one set by hand, for the reason `by_hand`; `waived` is the late
    deduction that is not made.
    """

    value: Value
    out_of: ShortNumber
    finished: bool
    lines: list[LineOut]
    calculated: Value | None
    by_hand: str | None
    waived: LineOut | None

    @classmethod
    def of(cls, total: Total) -> TotalOut:
        """Show a total."""
        return cls(
            value=total.value,
            out_of=total.out_of,
            finished=total.finished,
            lines=[LineOut.of(line) for line in total.lines],
            calculated=total.calculated,
            by_hand=None if total.by_hand is None else total.by_hand.reason,
            waived=None if total.waived is None else LineOut.of(total.waived),
        )


class AdjustmentLineOut(BaseModel):
    """A line that the teacher adds to a total: so many points more, or fewer."""

    amount: Value
    reason: str


class AdjustmentsOut(BaseModel):
    """What the teacher says of a total: lines, why the late deduction is waived (null: it is not),
    and the total by hand.
    """

    lines: list[AdjustmentLineOut]
    waived: str | None
    by_hand: AdjustmentLineOut | None

    @classmethod
    def of(cls, said: Adjustments) -> AdjustmentsOut:
        """Show what is said of a total."""
        by_hand = said.by_hand
        return cls(
            lines=[AdjustmentLineOut(amount=one.amount, reason=one.reason) for one in said.lines],
            waived=said.waived,
            by_hand=by_hand and AdjustmentLineOut(amount=by_hand.amount, reason=by_hand.reason),
        )


class MoveOut(BaseModel):
    """How the mark moves an outcome: without it, and with it."""

    outcome_id: int
    code: str
    scale_id: int
    before: MasteryOut
    after: MasteryOut

    @classmethod
    def of(cls, move: Move) -> MoveOut:
        """Show a move."""
        return cls(
            outcome_id=move.outcome.id,
            code=move.outcome.code,
            scale_id=move.outcome.scale_id,
            before=MasteryOut.of(move.before),
            after=MasteryOut.of(move.after),
        )


class CountedChoiceOut(BaseModel):
    """What was chosen on a criterion of an earlier revision; level null: not assessed."""

    criterion: str
    level: str | None
    half_way: bool


class CountingOut(BaseModel):
    """What counts of a mark for now: it was given under an earlier revision of the rubric."""

    revision: int
    choices: list[CountedChoiceOut]

    @classmethod
    def of(cls, counting: CountingUnder) -> CountingOut:
        """Show what counts."""
        return cls(
            revision=counting.revision,
            choices=[
                CountedChoiceOut(
                    criterion=stored.criterion.title,
                    level=None
                    if choice.level_id is None
                    else stored.criterion.levels[stored.level_ids.index(choice.level_id)].name,
                    half_way=choice.half_way,
                )
                for stored, choice in counting.choices
            ],
        )


class MarkOut(BaseModel):
    """The state of one student's mark: `attempt` is its number, `unmarked` are keys of criteria,
    `saved_at` is when the newest version was saved, `counting` is what counts meanwhile under an
    earlier revision; `to_mark_change` is by how much what was done just now changes how many wait
    for the teacher; `attempts` is how many attempts there are, one that was opened included.
    """

    student: StudentAtTaskOut
    attempt: int
    attempts: int
    version: int
    saved_at: datetime | None
    finished: bool
    choices: list[ChoiceOut]
    remarks: list[RemarkOut]
    unmarked: list[str]
    total: TotalOut | None
    adjustments: AdjustmentsOut
    moves: list[MoveOut]
    counting: CountingOut | None
    to_mark_change: int

    @classmethod
    def of(cls, mark: MarkState) -> MarkOut:
        """Show a mark."""
        return cls(
            student=StudentAtTaskOut.of(mark.student),
            attempt=mark.attempt,
            attempts=mark.attempts,
            version=mark.version,
            saved_at=mark.changed_at,
            finished=mark.finished,
            choices=ChoiceOut.several(mark.choices),
            remarks=[
                RemarkOut(criterion_id=remark.criterion_id, text=remark.text)
                for remark in mark.remarks.values()
            ],
            unmarked=list(mark.unmarked),
            total=TotalOut.of(mark.total) if mark.total else None,
            adjustments=AdjustmentsOut.of(mark.adjustments),
            moves=[MoveOut.of(move) for move in mark.moves],
            counting=CountingOut.of(mark.counting) if mark.counting else None,
            to_mark_change=mark.waits - mark.waited,
        )
