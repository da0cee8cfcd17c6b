"""A class goes on into the next year, and the one that is over is set aside."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, date, datetime

import pytest

from jade_ladder.core.errors import Refused
from jade_ladder.core.methods import Method, MethodKind
from jade_ladder.service.classes import classes, students
from jade_ladder.service.mastery.wall import wall
from jade_ladder.service.outcomes import methods, outcomes
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import next_class, tasks
from jade_ladder.service.work.next_class import NextClass
from tests.builders import at, school_day, small

NEXT = NextClass("Chart Room 10", date(2027, 9, 1), date(2028, 6, 30), True, True)


def test_it_takes_outcomes_methods_students_and_tasks_and_evidence_follows(
    caller: Teacher,
) -> None:
    # Noon in Auckland, in the summer there and in the winter there.
    made = small(at(caller, -10), due=datetime(2026, 11, 20, 23, 0, tzinfo=UTC))
    methods.change_outcome_method(
        caller, made.class_id, made.outcomes[1], Method(MethodKind.HIGHEST), 1
    )
    outcomes.retire_outcome(caller, made.class_id, made.outcomes[0], True)
    made.mark(made.students[0], 4, 4)
    students.set_left(caller, made.class_id, made.students[1], school_day(caller))
    number = next_class.copy_class(caller, made.class_id, NEXT)
    later = at(caller, 320)
    assert [one.id for one in students.students(later, number)] == [made.students[0]]
    copied = outcomes.outcomes_of_class(later, number).outcomes
    assert [(one.id, one.method) for one in copied] == [(made.outcomes[1], MethodKind.HIGHEST)]
    assert wall(later, number).cells[0][0].mastery.value == 400
    (task,) = tasks.class_tasks(later, number)
    assert task.row.title == "Route"
    assert task.row.due_at == datetime(2027, 11, 20, 23, 0, tzinfo=UTC)
    bare = replace(NEXT, name="Bare", students=False, tasks=False)
    bare_number = next_class.copy_class(caller, made.class_id, bare)
    assert students.students(later, bare_number) == []
    assert tasks.class_tasks(later, bare_number) == []


def test_due_times_keep_the_clock_of_the_school(caller: Teacher) -> None:
    """Summer time there is on 20 November and not on 20 May."""
    made = small(at(caller, -10), due=datetime(2026, 11, 20, 23, 0, tzinfo=UTC))
    first = date(2027, 3, 1)
    number = next_class.copy_class(
        caller, made.class_id, replace(NEXT, first_day=first, last_day=date(2027, 12, 1))
    )
    (task,) = tasks.class_tasks(at(caller, 200), number)
    assert task.row.due_at == datetime(2027, 5, 21, 0, 0, tzinfo=UTC)


def test_a_class_that_is_set_aside_still_counts_and_can_go_on(caller: Teacher) -> None:
    made = small(at(caller, -10))
    made.mark(made.students[0], 4, 4)
    next_class.set_class_aside(caller, made.class_id, True)
    with pytest.raises(Refused, match="is set aside"):
        made.mark(made.students[1], 4, 4)
    number = next_class.copy_class(caller, made.class_id, NEXT)
    assert wall(at(caller, 320), number).cells[1][0].mastery.value == 400
    next_class.set_class_aside(caller, made.class_id, False)
    made.mark(made.students[1], 4, 4)
    assert classes.get_class(caller, made.class_id).set_aside_at is None
