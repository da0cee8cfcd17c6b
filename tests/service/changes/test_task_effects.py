"""What is told of a change to a task is what happens."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime, timedelta
from fractions import Fraction
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from jade_ladder.core.errors import Refused
from jade_ladder.core.evidence import AttemptsRule
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.core.total import Adjustments, ByHand, Total
from jade_ladder.service.changes.task_effects import (
    TaskChangeEffects,
    own_times_effects,
    task_effects,
)
from jade_ladder.service.marking import handing_back
from jade_ladder.service.marking.adjusting import adjust_total
from jade_ladder.service.marking.task_marks import totals_of_task
from jade_ladder.service.mastery import wall
from jade_ladder.service.shared.caller import Student, Teacher
from jade_ladder.service.work import handing_in, setting, tasks
from jade_ladder.service.work.setting import TaskWords
from tests.builders import Small, at, everything, small, undone


@pytest.fixture
def made(caller: Teacher) -> Small:
    """Due on day 3 at 10% a day. The first hands in on day 4 (2 of 4), gets it back, and again on
    day 6 (4 of 4); the second hands in on day 2, and their total is set by hand.
    """
    made = small(caller, caller.now + timedelta(days=3))
    tasks.change_task(made.caller, made.task_id, 1, words(made))
    for day, which in ((2, 1), (4, 0)):
        hand_in(made, which, day)
    marker = at(made.caller, 5)
    made.mark(made.students[0], 2, 2, caller=marker)
    made.mark(made.students[1], 3, 3, caller=marker)
    adjust_total(
        marker, made.task_id, made.students[1], Adjustments(by_hand=ByHand(500, "Spoken")), 10_000
    )
    handing_back.hand_back(marker, made.task_id, [made.students[0]], True)
    handing_back.answer_wish(marker, made.task_id, made.students[0], True, "")
    hand_in(made, 0, 6)
    later = at(made.caller, 7)
    made.mark(made.students[0], 4, 4, caller=later, attempt=2)
    return replace(made, caller=later)


def hand_in(made: Small, which: int, day: float) -> None:
    caller = made.caller
    student = Student(caller.database, made.students[which], caller.now + timedelta(days=day))
    handing_in.hand_in(student, made.task_id, "Leg one", 0)


def start(made: Small) -> datetime:
    return tasks.get_task(made.caller, made.task_id).row.made_at


def words(made: Small, **changes: Any) -> TaskWords:
    due = start(made) + timedelta(days=3)
    plain = TaskWords(
        "Route", "", TaskKind.HANDED_IN, made.rubric_id, due, None, False, late_per_day=10
    )
    return replace(plain, **changes)


def told(effects: TaskChangeEffects) -> tuple[list[object], ...]:
    """What is told, as it can be looked up afterwards."""
    changes = effects.levels.changes
    return (
        [(one.student, one.before, one.after) for one in effects.totals],
        [
            (one.student.id, one.outcome.id, one.before.level, one.after.level, one.after.state)
            for one in changes
        ],
        [*effects.late],
        [*effects.not_late],
    )


TOGETHER = {AttemptsRule.HIGHEST, AttemptsRule.MEAN}


def seen(made: Small) -> tuple[dict[object, Any], dict[object, Any], set[str], AttemptsRule]:
    """All totals, over attempts too, all masteries, who is late, and which attempts count."""
    marks = totals_of_task(made.caller, made.task_id).marks
    totals: dict[object, Any] = {(one.mark.name, one.mark.number): one.total for one in marks}
    rule = tasks.get_task(made.caller, made.task_id).row.attempts_rule
    finals: dict[str, list[int]] = {}
    for one in marks:
        finals.setdefault(one.mark.name, []).append(one.final or 0)
    for name, several in finals.items():
        if len(several) > 1:
            mean = int(Fraction(sum(several), len(several)) + Fraction(1, 2))
            by = {AttemptsRule.HIGHEST: max(several), AttemptsRule.MEAN: mean}
            whole = totals[name, 1].out_of
            over = Total((), by.get(rule, several[-1]), whole, True)
            totals[f"{name}, over attempts", 0] = over
    page = wall.wall(made.caller, made.class_id)
    levels = {
        (student.id, outcome.id): cell.mastery
        for student, row in zip(page.students, page.cells, strict=True)
        for outcome, cell in zip(page.outcomes, row, strict=True)
    }
    view = tasks.get_task(made.caller, made.task_id)
    late = {one.row.name for one in view.students if one.late_minutes}
    return totals, levels, late, rule


def happened(before: Any, after: Any) -> tuple[list[object], ...]:
    totals = [
        (place[0], was, after[0][place])
        for place, was in before[0].items()
        if (was.value, was.out_of) != (after[0][place].value, after[0][place].out_of)
        and (place[1] or {before[3], after[3]} & TOGETHER)
    ]
    levels = [
        (*place, was.level, after[1][place].level, after[1][place].state)
        for place, was in before[1].items()
        if (was.level, was.state) != (after[1][place].level, after[1][place].state)
    ]
    return totals, levels, sorted(after[2] - before[2]), sorted(before[2] - after[2])


def by_order(found: tuple[list[Any], ...]) -> list[list[Any]]:
    return [sorted(one, key=repr) for one in found]


@settings(max_examples=40, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(
    st.fixed_dictionaries(
        {
            "points": st.sampled_from([None, 800, 1000, 2500]),
            "late_per_day": st.sampled_from([0, 5, 10, 60]),
            "late_most": st.sampled_from([5, 100]),
            "practice": st.booleans(),
            "attempts_rule": st.sampled_from(list(AttemptsRule)),
        }
    ),
    st.sampled_from([None, 1, 1.5, 3, 3.5, 5]),
    st.sampled_from([None, 1, 3.5, 8]),
)
def test_what_is_told_of_a_change_is_what_happens(
    made: Small, changes: dict[str, Any], due: float | None, own: float | None
) -> None:
    first = made.students[0]
    due_at = None if due is None else start(made) + timedelta(days=due)
    changed = words(made, due_at=due_at, **changes)
    own_due = None if own is None else start(made) + timedelta(days=own)
    with undone(made.caller.database):
        before = seen(made)
        first_told = own_times_effects(made.caller, made.task_id, [first], own_due, None)
        setting.set_own_times(made.caller, made.task_id, [first], own_due, None)
        between = seen(made)
        assert by_order(told(first_told)) == by_order(happened(before, between))
        then_told = task_effects(made.caller, made.task_id, changed)
        tasks.change_task(made.caller, made.task_id, 2, changed)
        assert by_order(told(then_told)) == by_order(happened(between, seen(made)))


def test_a_change_is_told_with_its_sums_and_changes_nothing(made: Small) -> None:
    """2 of 4 twice is half: 4.00 of 8 less one day at 10% of 8 (0.80) is 3.20; of 20 points it is
    10.00 less 2.00. The one by hand stays, out of more; the second attempt has no due time.
    """
    was = everything(made.caller.database)
    effects = task_effects(made.caller, made.task_id, words(made, points=2000))
    assert [
        (one.student, one.before.value, one.after.value, one.after.out_of)
        for one in effects.totals
        if one.before and one.after
    ] == [
        ("Zoe Anders", 500, 500, 2000),
        ("Aino Berg", 320, 800, 2000),
        ("Aino Berg", 800, 2000, 2000),
    ]
    assert effects.seen == 1, "the first attempt is handed back with its total"
    assert everything(made.caller.database) == was
    practice = task_effects(made.caller, made.task_id, words(made, practice=True))
    assert {one.after.level for one in practice.levels.changes} == {None}
    assert len(practice.levels.changes) == 4
    assert task_effects(made.caller, made.task_id, words(made, title="Another")).totals == ()


def test_what_the_change_would_be_refused_for_is_refused_before(made: Small) -> None:
    closes = start(made)
    for wrong, field in (
        ({"points": 0}, "points"),
        ({"closes_at": closes}, "closes_at"),
        ({"kind": TaskKind.OBSERVED}, "kind"),
        ({"draft": True}, "draft"),
    ):
        with pytest.raises(Refused) as refused:
            task_effects(made.caller, made.task_id, words(made, **wrong))
        assert refused.value.field == field
    with pytest.raises(Refused):
        own_times_effects(made.caller, made.task_id, [], None, None)
