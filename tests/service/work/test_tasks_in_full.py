"""Tasks as teachers set them: drafts, from a time on, for some, with times of their own."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime, timedelta
from typing import Any

import pytest

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.core.evidence import AttemptsRule
from jade_ladder.core.marking import DeskState
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.core.total import Adjustments
from jade_ladder.formats.class_list import StudentLine
from jade_ladder.service.classes import students
from jade_ladder.service.marking import desk, handing_back
from jade_ladder.service.marking.adjusting import adjust_total
from jade_ladder.service.marking.pile import pile
from jade_ladder.service.mastery import wall
from jade_ladder.service.mastery.student_page import student_page
from jade_ladder.service.outcomes import outcomes
from jade_ladder.service.outcomes.outcomes import OutcomeWords
from jade_ladder.service.shared.caller import Student, Teacher
from jade_ladder.service.student.task_page import task_page
from jade_ladder.service.work import attempts, copying, handing_in, setting, tasks
from jade_ladder.service.work.setting import TaskWords
from tests.builders import Small, at, school_day, second_class, small


@pytest.fixture
def due(caller: Teacher) -> datetime:
    return caller.now + timedelta(days=3)


@pytest.fixture
def made(caller: Teacher, due: datetime) -> Small:
    return small(caller, due)


def own(made: Small, which: int = 0, days: float = 0) -> Student:
    caller = made.caller
    return Student(caller.database, made.students[which], caller.now + timedelta(days=days))


def change(made: Small, due: datetime, **changes: Any) -> None:
    words = TaskWords("Route", "", TaskKind.HANDED_IN, made.rubric_id, due, None, False)
    version = tasks.get_task(made.caller, made.task_id).row.version
    tasks.change_task(made.caller, made.task_id, version, replace(words, **changes))


def states(made: Small, days: float = 0) -> dict[int, str]:
    view = tasks.get_task(at(made.caller, days), made.task_id)
    return {made.students.index(one.row.student_id): str(one.state) for one in view.students}


def sees(made: Small, which: int = 0, days: float = 0) -> bool:
    listed = made.task_id in [one.row.id for one in handing_in.own_tasks(own(made, which, days))]
    try:
        task_page(own(made, which, days), made.task_id)
    except NotFound:
        assert not listed
        return False
    assert listed
    return True


def test_a_draft_is_the_teachers_alone_and_nobody_is_missing(made: Small, due: datetime) -> None:
    change(made, due, draft=True)
    assert not sees(made)
    with pytest.raises(NotFound):
        handing_in.hand_in(own(made), made.task_id, "Leg one", 0)
    assert states(made, 10) == {0: "not-yet", 1: "not-yet"}
    assert tasks.class_tasks(at(made.caller, 10), made.class_id)[0].counts[DeskState.MISSING] == 0
    change(made, due)
    assert sees(made)
    assert states(made, 10) == {0: "missing", 1: "missing"}
    set_at = tasks.get_task(made.caller, made.task_id).row.set_at
    change(replace(made, caller=at(made.caller, 1)), due)
    assert tasks.get_task(made.caller, made.task_id).row.set_at == set_at, "it was set already"


def test_nobody_owes_what_was_due_before_they_came(made: Small) -> None:
    """On the task's page, in the list, at the desk and on their own page; unless they come back."""
    late = at(made.caller, 5)
    kai = students.add_student(late, made.class_id, StudentLine(1, "Kai", "Nord", "K"))

    def said(number: int, days: float) -> list[str]:
        teacher = at(made.caller, days)
        view = tasks.get_task(teacher, made.task_id)
        (line,) = tasks.class_tasks(teacher, made.class_id)
        assert line.counts == view.counts
        (task,) = student_page(teacher, made.class_id, number).tasks
        mark = desk.work_at_desk(teacher, made.task_id, number).mark
        there = next(one for one in view.students if one.row.student_id == number)
        return [str(one) for one in (there.state, task.standing.state, mark.student.state)]

    assert said(kai, 6) == ["not-yet"] * 3
    assert said(made.students[0], 6) == ["missing"] * 3
    # With a due time of their own they owe it.
    own_due = at(made.caller, 7).now
    setting.set_own_times(at(made.caller, 6), made.task_id, [kai], own_due, None)
    assert said(kai, 8) == ["missing"] * 3
    # Who was there when it was due owes it, also after being away.
    first = made.students[0]
    students.set_left(at(made.caller, 8), made.class_id, first, school_day(at(made.caller, 8)))
    students.add_student(
        at(made.caller, 10), made.class_id, StudentLine(1, "Aino", "Berg", "S1", "", "")
    )
    assert said(first, 11) == ["missing"] * 3


def test_an_observed_draft_waits_for_nobody(made: Small) -> None:
    number = made.new_task(kind=TaskKind.OBSERVED, draft=True)
    assert number not in [line.row.id for line in pile(made.caller, made.class_id)]
    other = made.new_task(kind=TaskKind.OBSERVED)
    assert other in [line.row.id for line in pile(made.caller, made.class_id)]


def test_a_task_is_set_from_a_time_on(made: Small, due: datetime) -> None:
    change(made, due, set_at=made.caller.now + timedelta(days=1))
    assert not sees(made, days=0.99)
    assert sees(made, days=1)
    with pytest.raises(Refused) as refused:
        change(made, due, set_at=due + timedelta(hours=1))
    assert refused.value.field == "set_at"


def test_what_has_work_is_no_draft_any_more(made: Small, due: datetime) -> None:
    handing_in.hand_in(own(made), made.task_id, "Leg one", 0)
    with pytest.raises(Refused) as refused:
        change(made, due, draft=True)
    assert refused.value.field == "draft"
    # Set later after all: who has handed in still sees it.
    change(made, due, set_at=made.caller.now + timedelta(days=2))
    assert (sees(made, 0), sees(made, 1)) == (True, False)


def test_a_task_is_for_some_and_nothing_of_others(made: Small, due: datetime) -> None:
    first, second = made.students
    change(made, due, student_ids=(second,))
    assert (sees(made, 0), sees(made, 1)) == (False, True)
    assert states(made, 10) == {1: "missing"}
    (line,) = tasks.class_tasks(made.caller, made.class_id)
    assert line.counts.total() == 1
    page = student_page(made.caller, made.class_id, first)
    assert page.tasks == ()
    handing_in.hand_in(own(made, 1), made.task_id, "Leg one", 0)
    change(made, due, student_ids=(first,))
    assert states(made, 10) == {0: "missing", 1: "waiting"}, "who has handed in stays with it"
    assert tasks.get_task(made.caller, made.task_id).chosen == (first,)
    change(made, due)
    assert tasks.get_task(made.caller, made.task_id).chosen == ()
    for wrong, field in (((), "student_ids"),):
        with pytest.raises(Refused) as refused:
            change(made, due, student_ids=wrong)
        assert refused.value.field == field
    with pytest.raises(NotFound):
        change(made, due, student_ids=(made.caller.person_id,))


def test_a_due_time_of_ones_own_holds_for_missing_late_and_closing(
    made: Small, due: datetime
) -> None:
    """Due after 3 days, closed after 4, at 5% a day; the first has until the 6th day."""
    first = made.students[0]
    closes = due + timedelta(days=1)
    change(made, due, closes_at=closes, late_per_day=5)
    setting.set_own_times(made.caller, made.task_id, [first], due + timedelta(days=3), None)
    assert states(made, 5) == {0: "not-yet", 1: "missing"}
    (line,) = tasks.class_tasks(at(made.caller, 5), made.class_id)
    assert (line.counts[DeskState.NOT_YET], line.counts[DeskState.MISSING]) == (1, 1)
    with pytest.raises(Refused, match="closed"):
        handing_in.hand_in(own(made, 1, 5), made.task_id, "Leg one", 0)
    assert task_page(own(made, 0, 5), made.task_id).task.late_percent == 0
    handing_in.hand_in(own(made, 0, 5), made.task_id, "Leg one", 0)
    teacher = at(made.caller, 7)
    mark = made.mark(first, 4, 4, caller=teacher)
    assert mark.student.late_minutes == 0
    assert mark.total is not None
    assert mark.total.value == 800
    # Taken back, it was late after all: two days at 5% of 8.
    setting.set_own_times(teacher, made.task_id, [first], None, None)
    late = desk.work_at_desk(teacher, made.task_id, first).mark
    assert late.total is not None
    assert late.total.value == 720
    assert late.student.late_minutes == 2 * 24 * 60


@pytest.mark.parametrize(
    ("days", "closes", "field"),
    [(2000, None, "due_at"), (1, 0.5, "closes_at"), (None, 1, "closes_at"), (1, 2000, "closes_at")],
)
def test_times_of_ones_own_are_refused_at_their_field(
    made: Small, days: float | None, closes: float | None, field: str
) -> None:
    def when(offset: float | None) -> datetime | None:
        return None if offset is None else made.caller.now + timedelta(days=offset)

    with pytest.raises(Refused) as refused:
        setting.set_own_times(
            made.caller, made.task_id, [made.students[0]], when(days), when(closes)
        )
    assert refused.value.field == field
    with pytest.raises(Refused) as refused:
        setting.set_own_times(made.caller, made.task_id, [], when(1), None)
    assert refused.value.field == "student_ids"


def test_which_attempt_counts_is_the_tasks_to_say(made: Small, due: datetime) -> None:
    first = made.students[0]
    made.mark(first, 4, 4)
    handing_back.hand_back(made.caller, made.task_id, None, True)
    handing_back.answer_wish(made.caller, made.task_id, first, True, "")
    handing_in.hand_in(own(made, 0, 1), made.task_id, "Again", 0)
    teacher = at(made.caller, 2)
    made.mark(first, 2, 2, caller=teacher, attempt=2)

    def value() -> int | None:
        seen = wall.wall(teacher, made.class_id)
        row = [one.id for one in seen.students].index(first)
        return seen.cells[row][1].mastery.value

    assert value() == 200
    later = replace(made, caller=teacher)
    change(later, due, attempts_rule=AttemptsRule.HIGHEST)
    assert value() == 400
    change(later, due, attempts_rule=AttemptsRule.MEAN)
    assert value() == 300


def test_a_task_is_copied_as_a_draft_into_its_class_and_another(made: Small, due: datetime) -> None:
    """The other class teaches one of the two outcomes, and another one by the second's code."""
    change(made, due, late_per_day=5, category="Homework")
    again = copying.copy_task(made.caller, made.task_id, made.class_id)
    row = tasks.get_task(made.caller, again.task_id).row
    assert (row.title, row.due_at, row.set_at) == ("Route (copy)", None, None)
    assert (row.rubric_id, row.late_per_day, row.category) == (made.rubric_id, 5, "Homework")
    assert again.unmatched == ()
    other = second_class(made.caller, made)
    outcomes.teach_outcomes(made.caller, other, [made.outcomes[0]])
    outcomes.add_outcome(made.caller, other, OutcomeWords("w2", "Of its own", "", None))
    there = copying.copy_task(made.caller, made.task_id, other)
    assert there.unmatched == ()
    row = tasks.get_task(made.caller, there.task_id).row
    assert (row.class_id, row.title) == (other, "Route")
    assert row.rubric_id != made.rubric_id, "the rubric is copied, aligned to what is taught there"
    third = second_class(made.caller, made)
    bare = copying.copy_task(made.caller, made.task_id, third)
    assert bare.unmatched == ("W1", "W2")


def test_a_category_is_kept_short(made: Small, due: datetime) -> None:
    change(made, due, category=" Homework ")
    assert tasks.get_task(made.caller, made.task_id).row.category == "Homework"
    with pytest.raises(Refused) as refused:
        change(made, due, category="x" * 61)
    assert refused.value.field == "category"


def test_a_draft_takes_no_work_and_no_marks(made: Small, due: datetime) -> None:
    change(made, due, draft=True)
    first = made.students[0]
    for put in (
        lambda: made.mark(first, 3, 3),
        lambda: attempts.enter_work(made.caller, made.task_id, first, "On paper"),
        lambda: adjust_total(made.caller, made.task_id, first, Adjustments(), 0),
    ):
        with pytest.raises(Refused, match="draft"):
            put()
    # Set for later, it can be marked already.
    change(made, due, set_at=made.caller.now + timedelta(days=1))
    assert made.mark(first, 3, 3).finished
