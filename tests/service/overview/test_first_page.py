"""The first page: what waits, what moved, and that a line is gone once it is done."""

from __future__ import annotations

from datetime import timedelta

import pytest

from jade_ladder.core.methods import Method, MethodKind
from jade_ladder.core.signs import many_close, missing_again, thin_for_many
from jade_ladder.core.trail import PointBy
from jade_ladder.formats.class_list import StudentLine
from jade_ladder.service.classes import students
from jade_ladder.service.marking import handing_back, saving
from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.marking.desk import desk
from jade_ladder.service.mastery import judgements
from jade_ladder.service.mastery.expectation import lift_outcome
from jade_ladder.service.mastery.judgements import Judged
from jade_ladder.service.outcomes import methods
from jade_ladder.service.overview.first_page import FirstPage, first_page
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import attempts
from jade_ladder.service.work.next_class import set_class_aside
from tests.builders import Small, at, small
from tests.conftest import on_seven_days


@pytest.mark.parametrize(
    ("missing", "again"),
    [
        ([], False),
        ([True, True], False),
        ([True, True, True], True),
        ([True, True, False, True, False], True),
        ([True, True, True, False, False, True, False], False),
        ([False, True, True, False, False, True], True),
    ],
)
def test_missing_again_looks_at_the_last_five(missing: list[bool], again: bool) -> None:
    assert missing_again(missing) is again


@pytest.mark.parametrize(
    ("thin", "without", "expected", "many"),
    [(0, 0, 0, False), (0, 4, 4, False), (1, 1, 4, True), (1, 0, 3, False), (2, 1, 6, True)],
)
def test_an_outcome_is_thin_for_many(thin: int, without: int, expected: int, many: bool) -> None:
    assert thin_for_many(thin, without, expected) is many


def test_three_who_are_close_are_many() -> None:
    assert [many_close(count) for count in (0, 2, 3)] == [False, False, True]


def highest(made: Small, caller: Teacher) -> None:
    methods.change_class_method(caller, made.class_id, 1, Method(MethodKind.LATEST))


def names(page: FirstPage, what: str) -> list[tuple[str, str]]:
    return [(one.student.name, one.outcome.code) for one in getattr(page, what)]


@on_seven_days
def test_who_slipped_and_who_reached_something_lately(caller: Teacher) -> None:
    made = small(at(caller, -40))
    highest(made, at(caller, -40))
    first, second = made.students
    made.mark(first, 4, 4, caller=at(caller, -30))
    assert [one.outcome.code for one in first_page(at(caller, -24.5)).reached] == ["W1", "W2"]
    assert first_page(at(caller, -22)).reached == ()
    again = made.new_task("Second")
    made.mark(first, 1, 4, task_id=again, caller=at(caller, -20))
    page = first_page(at(caller, -8))
    (slip,) = page.slipped
    # W1 is the mean of both criteria: 1 and 4; W2 is the second alone.
    assert (slip.student.name, slip.outcome.code, slip.by, slip.level) == (
        "Aino Berg",
        "W1",
        PointBy.EVIDENCE,
        1,
    )
    assert first_page(at(caller, -5)).slipped == ()
    # Gone the moment that it is not so any more.
    third = made.new_task("Third")
    made.mark(first, 4, 4, task_id=third, caller=at(caller, -8))
    page = first_page(at(caller, -7.5))
    assert page.slipped == ()
    assert [(one.outcome.code, [s.name for s in one.students]) for one in page.reached] == [
        ("W1", ["Aino Berg"])
    ]
    made.mark(second, 4, 4, caller=at(caller, -7))
    (w1, w2) = sorted(first_page(at(caller, -6)).reached, key=lambda one: one.outcome.code)
    assert [one.name for one in w1.students] == ["Zoe Anders", "Aino Berg"]
    assert [one.name for one in w2.students] == ["Zoe Anders"]


@on_seven_days
def test_what_is_marked_late_is_told_when_it_becomes_known(caller: Teacher) -> None:
    """Work of six weeks ago that is marked today moves somebody today."""
    made = small(at(caller, -50), due=caller.now - timedelta(days=42))
    first = made.students[0]
    assert first_page(caller).reached == ()
    made.mark(first, 4, 4, caller=at(caller, -1))
    page = first_page(caller)
    assert [one.outcome.code for one in page.reached] == ["W1", "W2"]
    assert page.reached[0].at == at(caller, -1).now
    later = made.new_task("Later", due_at=caller.now - timedelta(days=41))
    made.mark(first, 1, 1, task_id=later, caller=caller)
    page = first_page(caller)
    assert page.reached == ()
    assert [(one.outcome.code, one.at) for one in page.slipped] == [
        ("W1", caller.now),
        ("W2", caller.now),
    ]
    assert first_page(at(caller, 15)).slipped == ()


@on_seven_days
def test_a_change_of_method_is_said_to_be_what_slipped(caller: Teacher) -> None:
    made = small(at(caller, -40))
    first = made.students[0]
    methods.change_class_method(at(caller, -40), made.class_id, 1, Method(MethodKind.HIGHEST))
    made.mark(first, 4, 4, caller=at(caller, -30))
    made.mark(first, 1, 1, task_id=made.new_task("Second"), caller=at(caller, -25))
    latest = Method(MethodKind.LATEST)
    day = at(caller, -3).now.date()
    methods.change_class_method(at(caller, -3), made.class_id, 2, latest, since=day)
    slipped = first_page(caller).slipped
    assert {(one.outcome.code, one.by) for one in slipped} == {
        ("W1", PointBy.METHOD),
        ("W2", PointBy.METHOD),
    }
    for outcome in made.outcomes:
        lift_outcome(caller, made.class_id, first, outcome, "Another programme")
    assert first_page(caller).slipped == ()


@on_seven_days
def test_a_judgement_whose_evidence_changed_waits_until_it_is_kept(caller: Teacher) -> None:
    made = small(at(caller, -20))
    first = made.students[0]
    made.mark(first, 2, 2, caller=at(caller, -15))
    judged = [Judged(first, made.outcomes[1], 3)]
    judgements.judge(at(caller, -10), made.class_id, judged, "Seen at sea")
    assert first_page(caller).judged == ()
    made.mark(first, 1, 1, task_id=made.new_task("Second"), caller=at(caller, -5))
    assert names(first_page(caller), "judged") == [("Aino Berg", "W2")]
    judgements.keep_judgement(caller, made.class_id, 1)
    assert first_page(caller).judged == ()


@on_seven_days
def test_many_who_are_close_and_what_is_thin(caller: Teacher) -> None:
    made = small(at(caller, -20))
    more = [
        students.add_student(caller, made.class_id, StudentLine(1, name, "Cole", name))
        for name in ("A", "B", "C")
    ]
    assert first_page(caller).thin == ()
    for student in [*made.students, *more][:3]:
        criteria = desk(caller, made.task_id).criteria
        half = Choice(criteria[0].level_ids[1], half_way=True)
        saving.choose(caller, made.task_id, student, criteria[0].id, half, 0)
        low = Choice(criteria[1].level_ids[1])
        saving.choose(caller, made.task_id, student, criteria[1].id, low, 0)
        saving.finish(caller, made.task_id, student)
    page = first_page(caller)
    # 2.5 and 2 are 2.25, where close begins; 2 is not.
    assert [(one.outcome.code, one.students, one.of) for one in page.close] == [("W1", 3, 5)]
    assert [(one.outcome.code, one.students, one.without) for one in page.thin] == [
        ("W1", 3, 2),
        ("W2", 3, 2),
    ]


@on_seven_days
def test_who_is_missing_again_is_gone_once_work_is_there(caller: Teacher) -> None:
    made = small(at(caller, -40), due=caller.now - timedelta(days=30))
    first, second = made.students
    later = [made.new_task(f"T{n}", due_at=caller.now - timedelta(days=20 - n)) for n in range(3)]
    # Not due yet, and a draft: neither is missing.
    made.new_task("Soon", due_at=caller.now + timedelta(days=3))
    page = first_page(caller)
    assert [(one.name, one.missing, one.of, one.task.title) for one in page.missing] == [
        ("Zoe Anders", 4, 4, "T2"),
        ("Aino Berg", 4, 4, "T2"),
    ]
    assert [line.row.title for line in page.coming] == ["Soon"]
    # Who has joined since then owed none of them.
    students.add_student(caller, made.class_id, StudentLine(1, "Kai", "Nord", "K"))
    assert {one.name for one in first_page(caller).missing} == {"Zoe Anders", "Aino Berg"}
    attempts.enter_work(caller, later[2], first, "Here it is")
    assert [one.missing for one in first_page(caller).missing if one.name == "Aino Berg"] == [3]
    attempts.excuse(caller, later[1], first, True)
    attempts.excuse(caller, later[0], second, True)
    left = first_page(caller).missing
    assert [(one.name, one.missing, one.of) for one in left] == [("Zoe Anders", 3, 3)]


@on_seven_days
def test_where_one_stopped_and_what_is_not_handed_back(
    caller: Teacher, other_teacher: Teacher
) -> None:
    made = small(at(caller, -20))
    first, second = made.students
    assert first_page(caller).stopped is None
    criterion = desk(caller, made.task_id).criteria[0]
    choice = Choice(criterion.level_ids[2])
    for student, days in ((first, -5), (second, -4)):
        saving.choose(at(caller, days), made.task_id, student, criterion.id, choice, 0)
    stopped = first_page(caller).stopped
    assert stopped is not None
    assert (stopped.name, stopped.title, stopped.number) == ("Zoe Anders", "Route", 1)
    made.mark(second, 3, 3, caller=at(caller, -3))
    page = first_page(caller)
    assert page.stopped is not None
    assert page.stopped.name == "Aino Berg"
    assert [(one.title, one.students) for one in page.to_hand_back] == [("Route", 1)]
    handing_back.hand_back(caller, made.task_id, [second], True)
    assert first_page(caller).to_hand_back == ()
    # Nobody else sees any of it, and a class that is over says nothing.
    assert first_page(other_teacher).names == {}
    set_class_aside(caller, made.class_id, True)
    page = first_page(caller)
    assert (page.names, page.stopped, page.waiting) == ({}, None, ())
