"""What a teacher says of a total: kept by version, seen as it was handed back, never evidence."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

import pytest

from jade_ladder.core.errors import Refused, RefusedMany, Stale
from jade_ladder.core.numbers import LARGEST
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.core.total import Adjustments, ByHand, Line, LineKind
from jade_ladder.service.marking import desk, handing_back, saving
from jade_ladder.service.marking.adjusting import adjust_total
from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.marking.state import MarkState
from jade_ladder.service.mastery import wall
from jade_ladder.service.shared.caller import Student, Teacher
from jade_ladder.service.student import results
from jade_ladder.service.work import handing_in, tasks
from jade_ladder.service.work.setting import TaskWords
from jade_ladder.store.shared.verify import faults
from tests.builders import Small, at, small

GIFT = Line(LineKind.ADJUSTMENT, "Led the group", 50)
TAKEN = Line(LineKind.ADJUSTMENT, "No sources", -100)


@pytest.fixture
def made(caller: Teacher) -> Small:
    """A task at which the first student is two started days late, at 5% a day, and marked."""
    due = caller.now + timedelta(days=3)
    made = small(caller, due)
    words = TaskWords("Route", "", TaskKind.HANDED_IN, made.rubric_id, due, None, False)
    tasks.change_task(caller, made.task_id, 1, replace(words, late_per_day=5, late_most=20))
    late = Student(caller.database, made.students[0], due + timedelta(hours=25))
    handing_in.hand_in(late, made.task_id, "Leg one", 0)
    later = replace(made, caller=at(caller, 5))
    later.mark(made.students[0], 4, 3)
    return later


def adjust(made: Small, wanted: Adjustments, based_on: int = 100) -> MarkState:
    return adjust_total(made.caller, made.task_id, made.students[0], wanted, based_on)


def value(mark: MarkState) -> int | None:
    return None if mark.total is None else mark.total.value


def test_lines_and_a_waive_and_a_total_by_hand_stand_beside_the_calculated_one(
    made: Small,
) -> None:
    """7 of 8 points; late 10% of 8 is 0.80."""
    first = desk.work_at_desk(made.caller, made.task_id, made.students[0]).mark
    assert value(first) == 620
    assert value(adjust(made, Adjustments((GIFT, TAKEN)))) == 570
    waived = adjust(made, Adjustments((GIFT, TAKEN), "Ill"))
    assert value(waived) == 650
    assert waived.total is not None
    assert waived.total.waived is not None
    assert waived.total.waived.reason == "2 started days late at 5%: 10% of 8"
    by_hand = adjust(made, Adjustments((GIFT,), "Ill", ByHand(800, "Spoken")))
    assert by_hand.total is not None
    assert (by_hand.total.value, by_hand.total.calculated) == (800, 750)
    assert desk.work_at_desk(made.caller, made.task_id, made.students[0]).mark == replace(
        by_hand, waited=by_hand.waits
    )
    assert faults(made.caller.database.path) == []


def test_it_counts_once_it_is_finished_and_never_as_evidence(made: Small) -> None:
    before = wall.wall(made.caller, made.class_id)
    mark = adjust(made, Adjustments(by_hand=ByHand(0, "Copied")))
    assert not mark.finished
    saving.finish(made.caller, made.task_id, made.students[0])
    assert wall.wall(made.caller, made.class_id).cells == before.cells


def test_a_student_sees_it_as_it_was_handed_back(made: Small) -> None:
    own = Student(made.caller.database, made.students[0], made.caller.now)

    def seen() -> int | None:
        total = results.own_result(own, made.task_id).total
        return None if total is None else total.value

    handing_back.hand_back(made.caller, made.task_id, None, True)
    assert seen() == 620
    adjust(made, Adjustments((GIFT,), ""))
    assert seen() == 620
    saving.finish(made.caller, made.task_id, made.students[0])
    assert seen() == 620
    handing_back.hand_back(made.caller, made.task_id, None, True)
    assert seen() == 750
    adjust(made, Adjustments())
    assert seen() == 750


def test_the_same_sent_twice_is_one_and_another_tab_is_told(made: Small) -> None:
    first = adjust(made, Adjustments((GIFT,)), 0)
    assert adjust(made, Adjustments((GIFT,)), 0).version == first.version
    with pytest.raises(Stale):
        adjust(made, Adjustments((TAKEN,)), first.version - 1)
    # A choice made meanwhile does not stand in its way.
    criterion = desk.desk(made.caller, made.task_id).criteria[0]
    chosen = Choice(criterion.level_ids[0])
    saving.choose(made.caller, made.task_id, made.students[0], criterion.id, chosen, 100)
    assert adjust(made, Adjustments((TAKEN,)), first.version).adjustments.lines == (TAKEN,)


@pytest.mark.parametrize(
    ("wanted", "fields"),
    [
        (Adjustments((replace(GIFT, amount=0),)), ["lines.0.amount"]),
        (Adjustments((GIFT, replace(GIFT, reason=""))), ["lines.1.reason"]),
        (
            Adjustments((replace(GIFT, amount=LARGEST + 1, reason="x" * 201),)),
            ["lines.0.amount", "lines.0.reason"],
        ),
        (Adjustments((GIFT,) * 21), ["lines"]),
        (Adjustments(waived="x" * 201), ["waived"]),
        (Adjustments(by_hand=ByHand(-1, "Why")), ["by_hand.amount"]),
        (Adjustments(by_hand=ByHand(1, "")), ["by_hand.reason"]),
    ],
)
def test_what_cannot_be_said_is_refused_at_its_field(
    made: Small, wanted: Adjustments, fields: list[str]
) -> None:
    with pytest.raises(Refused) as refused:
        adjust(made, wanted)
    error = refused.value
    told = (
        [one.field for one in error.problems] if isinstance(error, RefusedMany) else [error.field]
    )
    assert told == fields
