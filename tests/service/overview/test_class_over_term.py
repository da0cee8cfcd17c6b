"""A class over the term: each day is that day's wall, and what is said of outcomes and tasks."""

from __future__ import annotations

from datetime import date, timedelta

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from jade_ladder.core.evidence import AttemptsRule
from jade_ladder.core.mastery import State
from jade_ladder.core.methods import Method, MethodKind
from jade_ladder.core.signs import not_got, reads_unevenly, swing_ends
from jade_ladder.formats.class_list import StudentLine
from jade_ladder.service.classes import classes, students
from jade_ladder.service.marking import again
from jade_ladder.service.mastery import judgements
from jade_ladder.service.mastery.expectation import expect_again, lift_outcome
from jade_ladder.service.mastery.judgements import Judged
from jade_ladder.service.mastery.trail import trail
from jade_ladder.service.mastery.wall import Wall, wall
from jade_ladder.service.outcomes import methods, outcomes
from jade_ladder.service.overview.all_classes import outcome_in_all_classes
from jade_ladder.service.overview.class_outcomes import class_outcomes
from jade_ladder.service.overview.class_tasks import class_tasks_over_term
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import attempts
from jade_ladder.service.work.next_class import set_class_aside
from tests.builders import Small, at, school_day, second_class, small, undone
from tests.strategies import four_levels
from tests.strategies import methods as any_method


@pytest.mark.parametrize(
    ("mastered", "counted", "expected", "lacking"),
    [(0, 0, 5, False), (0, 2, 5, False), (1, 3, 5, True), (2, 4, 4, False), (1, 4, 4, True)],
)
def test_what_the_class_has_not_got(
    mastered: int, counted: int, expected: int, lacking: bool
) -> None:
    assert not_got(mastered, counted, expected) is lacking


@pytest.mark.parametrize(
    ("values", "ends"),
    [
        ([], None),
        ([200, 300], None),
        ([100, 300], (0, 1)),
        ([400, 100, 400, 100, 300], (3, 2)),
        ([100, 400, 300, 300, 300, 200], None),
        ([400, 100, 400], (1, 2)),
    ],
)
def test_a_swing_has_a_low_and_a_high_end(values: list[int], ends: tuple[int, int] | None) -> None:
    assert swing_ends(values, four_levels) == ends


def test_how_often_is_again_and_again() -> None:
    said = [reads_unevenly(times, swings) for times, swings in ((2, 2), (3, 3), (3, 6), (3, 7))]
    assert said == [False, True, True, False]


def lively(caller: Teacher, levels: tuple[int, ...], method: Method) -> Small:
    """A term in which students come and go, outcomes are lifted, and the method changes."""
    made = small(at(caller, -60))
    first, second = made.students
    made.mark(first, levels[0], levels[1], caller=at(caller, -50))
    made.mark(second, levels[2], levels[3], caller=at(caller, -45))
    late = students.add_student(at(caller, -40), made.class_id, StudentLine(1, "Kai", "Nord", "K"))
    other = made.new_task("Second")
    for student, at_level in ((first, 4), (second, 5), (late, 6)):
        made.mark(student, levels[at_level], levels[7], task_id=other, caller=at(caller, -30))
    students.set_left(at(caller, -25), made.class_id, second, school_day(at(caller, -25)))
    lift_outcome(at(caller, -22), made.class_id, late, made.outcomes[0], "Another programme")
    since = school_day(at(caller, -20))
    methods.change_class_method(at(caller, -20), made.class_id, 1, method, since)
    expect_again(at(caller, -10), made.class_id, late, made.outcomes[0])
    judged = [Judged(first, made.outcomes[1], levels[6] - 1)]
    judgements.judge(at(caller, -8), made.class_id, judged, "Seen at sea")
    again.open_attempts(at(caller, -6), other, [first], "Again", carries=False)
    made.mark(first, levels[3], levels[2], task_id=other, caller=at(caller, -5), attempt=2)
    return made


@given(levels=st.tuples(*[st.integers(1, 4)] * 8), method=any_method, back=st.integers(0, 58))
@settings(max_examples=10, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_each_day_is_that_days_wall_and_who_moved_is_between_two(
    caller: Teacher, levels: tuple[int, ...], method: Method, back: int
) -> None:
    with undone(caller.database):
        made = lively(caller, levels, method)
        since = school_day(caller) - timedelta(days=back)
        found = class_outcomes(caller, made.class_id, since)
        assert len(found.days) == 12
        walls = {day: wall(caller, made.class_id, day) for day in {*found.days, since}}
        now = walls[found.day]
        for column, one in enumerate(found.outcomes):
            assert one.now == now.pictures[column]
            told = dict(zip(found.days, one.over_term, strict=True))
            assert told == {day: walls[day].pictures[column] for day in found.days}
            before, after = (standing(each, column) for each in (walls[since], now))
            assert set(one.moved.reached) == {
                student
                for student, (mastered, _) in after.items()
                if mastered and student in before and not before[student][0]
            }
            assert set(one.moved.slipped) == {
                student
                for student, (mastered, _) in after.items()
                if not mastered and student in before and before[student][0]
            }
            changed = {
                student
                for student, (mastered, level) in after.items()
                if student in before
                and before[student][0] == mastered
                and None not in (level, before[student][1])
                and level != before[student][1]
            }
            assert {*one.moved.up, *one.moved.down} == changed


def standing(seen: Wall, column: int) -> dict[int, tuple[bool, int | None]]:
    """Whether mastered, and the level, of those of whom there is enough evidence."""
    return {
        student.id: (row[column].mastery.state is State.MASTERED, row[column].mastery.level)
        for student, row in zip(seen.students, seen.cells, strict=True)
        if row[column].expected and row[column].mastery.counts
    }


def test_a_setting_that_is_not_used_is_no_other_method(caller: Teacher) -> None:
    """There is a point of another method only where it, or the setting it uses, is another."""
    made = small(at(caller, -40))
    made.mark(made.students[0], 2, 2, caller=at(caller, -30))

    def change(days: int, version: int, method: Method) -> list[str]:
        since = school_day(at(caller, days))
        methods.change_class_method(at(caller, days), made.class_id, version, method, since)
        found = trail(caller, made.class_id, made.students[0], made.outcomes[0])
        return [point.by.value for point in found.trail.points]

    assert change(-20, 1, Method(MethodKind.LATEST)) == ["evidence", "method"]
    assert change(-15, 2, Method(MethodKind.LATEST, 80, 7)) == ["evidence", "method"]
    decaying = Method(MethodKind.DECAYING_AVERAGE, 80, 5)
    assert change(-10, 3, decaying) == ["evidence", "method", "method"]
    other = Method(MethodKind.DECAYING_AVERAGE, 80, 9)
    assert change(-5, 4, other) == ["evidence", "method", "method"]


def test_a_criterion_that_is_read_unevenly_is_named(caller: Teacher) -> None:
    """Criterion a is low whenever W1 swings, b is what it is; W2 rests on b alone."""
    made = small(at(caller, -40))
    more = [
        students.add_student(caller, made.class_id, StudentLine(1, name, "Cole", name))
        for name in ("A", "B")
    ]
    there = [*made.students, *more]
    other = made.new_task("Second", attempts_rule=AttemptsRule.EVERY)
    for student in there[:3]:
        made.mark(student, 4, 4, caller=at(caller, -30))
        made.mark(student, 1, 2, task_id=other, caller=at(caller, -20))
    made.mark(there[3], 4, 4, caller=at(caller, -30))
    w1, w2 = class_outcomes(caller, made.class_id).outcomes
    # 4 and 1.5: level 4 and level 1; of W2 4 and 2.
    assert (w1.swings, w2.swings) == (3, 3)
    assert [(one.title, one.low, one.swings) for one in w1.uneven] == [
        ("Criterion a", True, 3),
        ("Criterion a", False, 3),
    ]
    assert {(one.title, one.low) for one in w2.uneven} == {
        ("Criterion b", True),
        ("Criterion b", False),
    }
    # One student less swings: nothing is named.
    students.set_left(caller, made.class_id, there[0], school_day(caller))
    assert class_outcomes(caller, made.class_id).outcomes[0].uneven == ()


def test_tasks_over_the_term(caller: Teacher) -> None:
    made = small(at(caller, -40), due=caller.now - timedelta(days=30))
    first, second = made.students
    assert class_tasks_over_term(caller, made.class_id) == []
    made.mark(first, 4, 3, caller=at(caller, -29))
    made.mark(second, 2, 1, caller=at(caller, -29))
    made.new_task("Nobody yet")
    (found,) = class_tasks_over_term(caller, made.class_id)
    # 7 and 3 of 8 points: 87.5% and 37.5%, together 62.5%.
    assert (found.row.title, found.students, found.points) == ("Route", 2, 800)
    assert (found.mean, found.top, found.lowest) == (6250, 8750, 3750)
    assert [(one.spread.all.counts, one.mean) for one in found.criteria] == [
        ((0, 1, 0, 1), 300),
        ((1, 0, 1, 0), 200),
    ]
    # Who is excused is in no figure, nor who is not in the class any more.
    attempts.excuse(caller, made.task_id, first, True)
    (found,) = class_tasks_over_term(caller, made.class_id)
    assert (found.students, found.mean, found.criteria[0].mean) == (1, 3750, 200)
    students.set_left(caller, made.class_id, second, school_day(caller))
    (found,) = class_tasks_over_term(caller, made.class_id)
    assert (found.students, found.mean, found.criteria[0].mean) == (0, None, None)


def test_a_class_without_anything_has_one_day(caller: Teacher) -> None:
    made = small(caller)
    found = class_outcomes(caller, made.class_id)
    assert found.days == (school_day(caller),)
    assert all(one.now.without == 2 and not one.not_got for one in found.outcomes)


def test_one_outcome_over_all_of_ones_classes(caller: Teacher) -> None:
    """Evidence follows the student; each class reads it by its own method and members."""
    made = small(at(caller, -40))
    first = made.students[0]
    made.mark(first, 4, 4, caller=at(caller, -30))
    made.mark(first, 1, 1, task_id=made.new_task("Second"), caller=at(caller, -20))
    other = second_class(caller, made)
    outcomes.teach_outcomes(caller, other, [made.outcomes[1]])
    latest = Method(MethodKind.LATEST)
    methods.change_class_method(caller, other, 1, latest)
    third = classes.make_class(caller, "Neither", date(2026, 9, 1), date(2027, 6, 30))
    found = outcome_in_all_classes(caller, made.class_id, made.outcomes[1])
    assert [one.klass.name for one in found.classes] == ["Chart Room", "Tide Room"]
    assert third not in [one.klass.id for one in found.classes]
    for one in found.classes:
        seen = wall(caller, one.klass.id)
        column = [outcome.id for outcome in seen.outcomes].index(made.outcomes[1])
        assert [cell for _, cell in one.students] == [row[column] for row in seen.cells]
        assert one.over_term.now == seen.pictures[column]
    assert [one.students[-1][1].mastery.value for one in found.classes] == [220, 100]
    set_class_aside(caller, other, True)
    found = outcome_in_all_classes(caller, made.class_id, made.outcomes[1])
    assert [one.klass.name for one in found.classes] == ["Chart Room"]
