"""What a teacher says of a total: further lines, a late deduction that is waived, the total by hand
(docs/calculations.md, “A task's total”). Evidence is never touched by it.
"""

from __future__ import annotations

from jade_ladder.core.errors import Refused, Stale
from jade_ladder.core.numbers import LARGEST, Hundredths
from jade_ladder.core.total import Adjustments
from jade_ladder.service.marking.saving import begin
from jade_ladder.service.marking.state import Marking, MarkState
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.forms import collect_errors
from jade_ladder.store.marking import adjustments as store
from jade_ladder.store.marking.adjustments import AdjustmentKind, AdjustmentRow, adjustments_of

LONGEST_REASON = 200
MOST_LINES = 20


def adjust_total(
    caller: Teacher,
    task_id: int,
    student_id: int,
    wanted: Adjustments,
    based_on: int,
    attempt: int = 1,
) -> MarkState:
    """Save what is said of a total, all of it at once, as a new version of the mark; gives the mark
    as it then stands. The same sent twice is one.

    Raises Stale when it was said differently after version `based_on`.
    """
    _check(wanted)
    with caller.transaction() as db:
        marking = Marking.load(db, caller, task_id, student_id, attempt)
        mark_id = begin(marking, choosing=False)
        if adjustments_of(marking.standing.adjustments) != wanted:
            if store.last_adjusted(db, mark_id) > based_on:
                raise Stale(
                    "The total was adjusted in another tab", marking.place.mark.version or 0
                )
            rows = _rows(wanted)
            version = store.append_adjustments(db, mark_id, rows, caller.now, caller.person_id)
            marking.standing.adjustments[:] = [AdjustmentRow(*row, version) for row in rows]
            marking.saved("mark", version=version, changed_at=caller.now)
        return marking.state()


def _rows(wanted: Adjustments) -> list[tuple[AdjustmentKind, Hundredths, str]]:
    rows = [(AdjustmentKind.LINE, line.amount, line.reason) for line in wanted.lines]
    if wanted.waived is not None:
        rows.append((AdjustmentKind.WAIVED, 0, wanted.waived))
    if wanted.by_hand is not None:
        rows.append((AdjustmentKind.BY_HAND, wanted.by_hand.amount, wanted.by_hand.reason))
    return rows


def _check(wanted: Adjustments) -> None:
    if len(wanted.lines) > MOST_LINES:
        raise Refused(f"A total has at most {MOST_LINES} further lines", "lines")
    collect_errors(
        *(
            check
            for place, line in enumerate(wanted.lines)
            for check in (
                lambda at=place, one=line: _check_amount(one.amount, f"lines.{at}.amount"),
                lambda at=place, one=line: _check_reason(one.reason, f"lines.{at}.reason"),
            )
        ),
        lambda: _check_length(wanted.waived or "", "waived"),
        lambda: _check_by_hand(wanted),
    )


def _check_amount(amount: Hundredths, field: str) -> None:
    if amount == 0 or abs(amount) > LARGEST:
        raise Refused("Points other than 0", field)


def _check_by_hand(wanted: Adjustments) -> None:
    if wanted.by_hand is None:
        return
    if not 0 <= wanted.by_hand.amount <= LARGEST:
        raise Refused("A total from 0 to 10,000", "by_hand.amount")
    _check_reason(wanted.by_hand.reason, "by_hand.reason")


def _check_reason(reason: str, field: str) -> None:
    if not reason:
        raise Refused("Say why: the student reads it", field)
    _check_length(reason, field)


def _check_length(text: str, field: str) -> None:
    if len(text) > LONGEST_REASON:
        raise Refused(f"At most {LONGEST_REASON} characters", field)
