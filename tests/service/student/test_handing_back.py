"""Handing back: what a student sees is what was handed back to them, and nothing else anywhere."""

from __future__ import annotations

from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import asdict, replace
from datetime import timedelta
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.core.mastery import State
from jade_ladder.service.changes import revisions
from jade_ladder.service.marking import again, desk, handing_back, saving
from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.mastery.own_ladder import ladder_of_student, own_ladder
from jade_ladder.service.mastery.student_page import student_page
from jade_ladder.service.mastery.trail import trail
from jade_ladder.service.mastery.wall import wall
from jade_ladder.service.messages.messages import own_messages
from jade_ladder.service.rubrics import rubrics
from jade_ladder.service.shared.caller import Student, Teacher
from jade_ladder.service.student import results
from jade_ladder.service.student.task_page import task_page
from jade_ladder.service.work import attempts, handing_in
from tests.builders import Small, at, draft, school_day, small, undone


def student(made: Small, which: int = 0, days: float = 0) -> Student:
    caller = made.caller
    return Student(caller.database, made.students[which], caller.now + timedelta(days=days))


@pytest.fixture
def made(caller: Teacher) -> Small:
    found = small(at(caller, -10))
    return replace(found, caller=caller)


def values(made: Small, days: float = 0) -> list[int | None]:
    """The values on the first student's own ladder."""
    (ladder,) = own_ladder(student(made, days=days))
    return [rung.mastery.value for rung in ladder.rungs]


def test_what_a_hand_back_moved_is_kept_with_it(made: Small) -> None:
    """The page of attempt 1 tells of attempt 1, whatever came after it."""
    first = made.students[0]
    made.mark(first, 4, 2, caller=at(made.caller, -9))
    made.mark(first, 1, 3, task_id=(another := made.new_task("Another")))
    handing_back.hand_back(at(made.caller, -8), made.task_id, None, True)
    told = results.own_result(student(made), made.task_id).moved
    assert [(one.before.value, one.after.value) for one in told] == [(None, 300), (None, 200)]
    again.open_attempts(made.caller, made.task_id, [first], "Again", carries=False)
    made.mark(first, 1, 1, caller=at(made.caller, 1), attempt=2)
    handing_back.hand_back(at(made.caller, 2), another, None, True)
    handing_back.hand_back(at(made.caller, 3), made.task_id, None, True)
    assert results.own_result(student(made, days=4), made.task_id, 1).moved == told
    second = results.own_result(student(made, days=4), made.task_id, 2)
    # The other task's 2 and 3 were seen by then: without attempt 2, attempt 1 counts with them.
    assert [(one.before.value, one.after.value) for one in second.moved] == [
        (240, 140),
        (260, 180),
    ]
    assert second.seen.handed_in_at is None


def test_teachers_are_told_what_their_student_sees_otherwise(made: Small) -> None:
    """And the student is told nothing of what is not handed back."""
    first = made.students[0]
    made.mark(first, 4, 4, caller=at(made.caller, -9))
    handing_back.hand_back(at(made.caller, -8), made.task_id, None, True)
    page = student_page(made.caller, made.class_id, first)
    assert page.seen == {}
    another = made.new_task("Another")
    made.mark(first, 1, 1, task_id=another)
    (told, _) = student_page(made.caller, made.class_id, first).seen.values()
    assert (told.mastery.value, told.teachers.value, told.slipped) == (400, 220, False)
    there = trail(made.caller, made.class_id, first, made.outcomes[0])
    assert there.seen == told
    earlier = school_day(at(made.caller, -5))
    assert trail(made.caller, made.class_id, first, made.outcomes[0], earlier).seen is None
    assert len(ladder_of_student(made.caller, made.class_id, first).otherwise) == 2
    handing_back.hand_back(made.caller, another, None, True)
    assert student_page(made.caller, made.class_id, first).seen == {}


def test_handed_back_six_times_at_once_it_is_handed_back_once(made: Small) -> None:
    made.mark(made.students[0], 3, 1)
    chosen = [made.students[0]]

    def told() -> tuple[int, int]:
        with made.caller.reading() as db:
            rows = db.execute("SELECT count(*) FROM hand_back").fetchone()[0]
        return rows, len(own_messages(student(made)))

    with ThreadPoolExecutor(6) as at_once:
        counts = list(
            at_once.map(
                lambda _: handing_back.hand_back(made.caller, made.task_id, chosen, True), range(6)
            )
        )
    assert (counts, told()) == ([1] * 6, (1, 1))
    # With the levels alone, or for a later time, it is another handing back.
    handing_back.hand_back(made.caller, made.task_id, chosen, False)
    assert told()[0] == 2
    later = made.caller.now + timedelta(days=1)
    for _ in range(2):
        handing_back.hand_back(made.caller, made.task_id, chosen, False, later)
    assert told()[0] == 3


def test_nothing_is_seen_until_it_is_handed_back_and_then_that_version(made: Small) -> None:
    made.mark(made.students[0], 3, 1)
    assert values(made) == [None, None]
    with pytest.raises(NotFound):
        results.own_result(student(made), made.task_id)
    assert handing_back.hand_back(made.caller, made.task_id, None, True) == 1
    assert values(made) == [200, 100]
    seen = results.own_result(student(made), made.task_id)
    assert seen.total is not None
    assert (seen.total.value, seen.total.out_of) == (400, 800)
    assert [one.after.value for one in seen.moved] == [200, 100]
    assert [one.before.value for one in seen.moved] == [None, None]

    # Changed and finished anew, it is not seen: the first is, until it is handed back, too.
    criteria = desk.desk(made.caller, made.task_id).criteria
    saving.remark(made.caller, made.task_id, made.students[0], criteria[0].id, "Now it holds", 99)
    made.mark(made.students[0], 4, 4)
    (row,) = handing_back.handing_back(made.caller, made.task_id)
    assert (row.ready, row.changed) == (True, True)
    again = results.own_result(student(made), made.task_id)
    assert (again.choices, again.remarks, again.total) == (seen.choices, {}, seen.total)
    assert values(made) == [200, 100]
    assert wall(made.caller, made.class_id).cells[1][0].mastery.value == 400
    preview = results.result_of_student(made.caller, made.task_id, made.students[0])
    assert preview.total is not None
    assert preview.total.value == 800
    handing_back.hand_back(made.caller, made.task_id, [made.students[0]], False)
    newest = results.own_result(student(made), made.task_id)
    assert newest.total is None, "only the levels are shown"
    assert [one.text for one in newest.remarks.values()] == ["Now it holds"]
    assert values(made) == [400, 400]
    (row,) = handing_back.handing_back(made.caller, made.task_id)
    assert (row.ready, row.changed) == (False, False)


def test_it_is_seen_from_a_time_on_and_taken_back_with_a_trace(made: Small) -> None:
    made.mark(made.students[0], 3, 3)
    noon = made.caller.now + timedelta(days=1)
    handing_back.hand_back(made.caller, made.task_id, None, True, noon)
    assert values(made) == [None, None]
    assert values(made, days=1) == [300, 300]
    made.mark(made.students[0], 4, 4)
    later = at(made.caller, 2)
    handing_back.hand_back(later, made.task_id, None, True, later.now + timedelta(days=1))
    assert values(made, days=2.5) == [300, 300], "the one before stays until then"
    assert values(made, days=3) == [400, 400]
    assert handing_back.take_back(at(made.caller, 2.5), made.task_id, [made.students[0]]) == 1
    for days in (1, 2.5, 4):
        assert values(made, days=days) == [None, None]
    (row,) = handing_back.handing_back(at(made.caller, 4), made.task_id)
    assert row.row.taken_back_at == at(made.caller, 2.5).now
    assert row.row.seen_at is None
    assert row.ready
    with pytest.raises(Refused, match="Nothing was handed back to Aino Berg"):
        handing_back.take_back(made.caller, made.task_id, [made.students[0]])


def test_what_cannot_be_handed_back_is_refused_and_nothing_of_it_is_done(made: Small) -> None:
    made.mark(made.students[0], 3, 3)
    criteria = desk.desk(made.caller, made.task_id).criteria
    choice = Choice(criteria[0].level_ids[0])
    saving.choose(made.caller, made.task_id, made.students[1], criteria[0].id, choice, 0)
    with pytest.raises(Refused, match="Zoe Anders is not finished"):
        handing_back.hand_back(made.caller, made.task_id, list(made.students), True)
    with pytest.raises(Refused, match="This time has passed"):
        handing_back.hand_back(made.caller, made.task_id, None, True, made.caller.now)
    assert values(made) == [None, None]
    assert handing_back.hand_back(made.caller, made.task_id, None, True) == 1
    with pytest.raises(Refused, match="nothing finished that was not handed back"):
        handing_back.hand_back(made.caller, made.task_id, None, True)


def test_it_is_read_with_a_word_and_the_teacher_sees_it(made: Small) -> None:
    made.mark(made.students[0], 3, 3)
    handing_back.hand_back(made.caller, made.task_id, None, True)
    results.read_result(student(made, days=1), made.task_id, 1, " Look at leg two ")
    results.read_result(student(made, days=2), made.task_id, 1, "Look at leg three")
    (row,) = handing_back.handing_back(made.caller, made.task_id)
    assert row.row.next_word == "Look at leg three"
    assert row.row.read_at == student(made, days=1).now
    with pytest.raises(NotFound):
        results.read_result(student(made, 1), made.task_id, 1, "Not mine")


def test_under_a_later_revision_the_student_sees_the_rubric_they_were_marked_by(
    made: Small,
) -> None:
    made.mark(made.students[0], 3, 2)
    handing_back.hand_back(made.caller, made.task_id, None, True)
    before = results.own_result(student(made), made.task_id)
    view = revisions.revise(made.caller, made.rubric_id, rubrics.get_rubric(
        made.caller, made.rubric_id).row.version)  # fmt: skip
    drafts = [draft("a", [made.outcomes[0]], levels=3), draft("b", list(made.outcomes))]
    view = rubrics.save_draft(made.caller, made.rubric_id, view.row.version, "Route card", drafts)
    revisions.apply_revision(made.caller, made.rubric_id, 2, view.row.version, [made.task_id])
    after = results.own_result(student(made), made.task_id)
    assert [one.stored for one in after.criteria] == [one.stored for one in before.criteria]
    assert (after.choices, after.total) == (before.choices, before.total)


def test_where_one_stood_on_an_earlier_day(made: Small) -> None:
    made.mark(made.students[0], 2, 2, caller=at(made.caller, -8))
    second = made.new_task("Second")
    made.mark(made.students[0], 4, 4, task_id=second, caller=at(made.caller, -1))
    for task in (made.task_id, second):
        handing_back.hand_back(made.caller, task, None, True)
    (ladder,) = own_ladder(student(made), (made.caller.now - timedelta(days=4)).date())
    assert [rung.before and rung.before.value for rung in ladder.rungs] == [200, 200]
    assert ladder.roll_up_before is not None
    assert (ladder.roll_up_before.mastered, ladder.roll_up.mastered) == (0, 2)


LEVELS = st.integers(1, 4)
TWO_STUDENTS = st.tuples(LEVELS, LEVELS, LEVELS, LEVELS)
THREE_TASKS = st.tuples(TWO_STUDENTS, TWO_STUDENTS, TWO_STUDENTS)
any_marks = settings(max_examples=15, suppress_health_check=[HealthCheck.function_scoped_fixture])


def everything_seen(made: Small, tasks: list[int]) -> Iterator[Any]:
    """Every answer that a student can get of their work, but whether it is being marked."""
    for which in (0, 1):
        who = student(made, which)
        for ladder in own_ladder(who):
            yield asdict(ladder)
        for task in handing_in.own_tasks(who):
            yield replace(task.row, marked=False)
        for task_id in tasks:
            page = task_page(who, task_id)
            yield page.outcomes, page.criteria, page.handed_in
            try:
                yield asdict(results.own_result(who, task_id))
            except NotFound as error:
                yield str(error)


@any_marks
@given(marked=st.tuples(THREE_TASKS, THREE_TASKS))
def test_marks_that_were_not_handed_back_are_nowhere(
    caller: Teacher, marked: tuple[tuple[tuple[int, int, int, int], ...], ...]
) -> None:
    """Two schools that differ only in marks that were not handed back are the same to a student:
    marked for the first time, anew after they were handed back, at a second attempt, and of others.
    """
    with undone(caller.database):
        made = replace(small(at(caller, -10)), caller=caller)
        tasks = [made.task_id, made.new_task("B"), made.new_task("C")]
        for task in tasks[:2]:
            made.mark(made.students[0], 2, 3, task_id=task)
            handing_back.hand_back(caller, task, None, True)
        handing_back.answer_wish(caller, tasks[1], made.students[0], True, "")
        handing_in.hand_in(student(made), tasks[1], "Again", 0)
        seen = []
        for choices in marked:
            with undone(caller.database):
                for task, (a, b, c, d) in zip(tasks, choices, strict=True):
                    attempt = 2 if task == tasks[1] else 1
                    made.mark(made.students[0], a, b, task_id=task, attempt=attempt)
                    made.mark(made.students[1], c, d, task_id=task)
                seen.append(list(everything_seen(made, tasks)))
        assert len(seen[0]) == 2 + 2 * 3 + 2 * 3 * 2
        assert seen[0] == seen[1]


@any_marks
@given(marked=THREE_TASKS, excused=st.booleans())
def test_when_all_is_handed_back_the_own_ladder_is_the_wall(
    caller: Teacher, marked: tuple[tuple[int, int, int, int], ...], excused: bool
) -> None:
    with undone(caller.database):
        made = replace(small(at(caller, -10)), caller=caller)
        tasks = [made.task_id, made.new_task("B"), made.new_task("C")]
        for task, (a, b, c, d) in zip(tasks, marked, strict=True):
            made.mark(made.students[0], a, b, task_id=task)
            made.mark(made.students[1], c, d, task_id=task)
            handing_back.hand_back(caller, task, None, True)
        attempts.excuse(caller, tasks[0], made.students[0], excused)
        seen = wall(caller, made.class_id)
        for row, cells in zip(seen.students, seen.cells, strict=True):
            ladder = ladder_of_student(caller, made.class_id, row.id).ladder
            assert [rung.mastery for rung in ladder.rungs] == [cell.mastery for cell in cells]
            mastered = [rung.mastery.state is State.MASTERED for rung in ladder.rungs]
            assert ladder.roll_up.mastered == sum(mastered)
