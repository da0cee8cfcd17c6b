"""A task that asks some criteria of its rubric: only those are marked, totalled and shown."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta
from typing import Any

import pytest

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.service.changes import revision_effects, revisions
from jade_ladder.service.marking import desk, saving
from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.mastery import coverage
from jade_ladder.service.rubrics import rubrics
from jade_ladder.service.shared.caller import Student, Teacher
from jade_ladder.service.student.task_page import task_page
from jade_ladder.service.work import copying, handing_in, tasks
from jade_ladder.service.work.setting import TaskWords
from tests.builders import Small, draft, final_rubric, small


@pytest.fixture
def made(caller: Teacher) -> Small:
    """A rubric of weights 50, 30 and 20, criterion b of 2 levels, and a bonus."""
    made = small(caller)
    first, second = made.outcomes
    rubric = final_rubric(
        caller,
        [
            draft("a", [first], weight=5000),
            draft("b", [second], levels=2, weight=3000),
            draft("c", [first], weight=2000),
            draft("d", [], bonus=True),
        ],
    )
    return replace(made, rubric_id=rubric)


def set_task(made: Small, *keys: str, **changes: Any) -> int:
    return made.new_task("Part of it", criteria=keys, **changes)


def test_only_what_is_asked_is_marked_and_weights_are_scaled_to_it(made: Small) -> None:
    """b and c: 30 and 20 of 50; highest points 2 and 4, so 6; 1 of 2 and 3 of 4 are
    6 × (0.6 × 0.5 + 0.4 × 0.75) = 3.60.
    """
    task = set_task(made, "c", "b")
    first = made.students[0]
    there = desk.desk(made.caller, task)
    assert [one.criterion.key for one in there.criteria] == ["b", "c"]
    assert (there.task.points, there.task.asked) == (600, {"b", "c"})
    assert len(there.task.criteria) == 4
    assert [one.criterion.weight for one in there.criteria] == [6000, 4000], "as it is shown"
    marked = made.mark(first, 1, 3, task_id=task)
    assert marked.finished
    assert marked.total is not None
    assert (marked.total.value, marked.total.out_of) == (360, 600)
    assert tasks.get_task(made.caller, task).students[-1].left == 0
    (foreign,) = (
        one
        for one in rubrics.get_rubric(made.caller, made.rubric_id).criteria
        if one.criterion.key == "a"
    )
    with pytest.raises((NotFound, Refused)):
        saving.choose(made.caller, task, first, foreign.id, Choice(foreign.level_ids[0]), 9)


def test_students_and_coverage_see_what_is_asked(made: Small) -> None:
    task = set_task(made, "b")
    student = Student(made.caller.database, made.students[0], made.caller.now)
    page = task_page(student, task)
    assert [one.stored.criterion.key for one in page.criteria] == ["b"]
    (own,) = (one for one in handing_in.own_tasks(student) if one.row.id == task)
    assert list(own.about) == [made.outcomes[1]]
    seen = coverage.coverage(made.caller, made.class_id)
    assert {cell.outcome_id for cell in seen.cells if cell.task_id == task} == {made.outcomes[1]}


@pytest.mark.parametrize("keys", [("z",), ("d",), ()])
def test_what_cannot_be_asked_is_refused_at_the_criteria(
    made: Small, keys: tuple[str, ...]
) -> None:
    with pytest.raises(Refused) as refused:
        set_task(made, *keys)
    assert refused.value.field == "criteria"


def test_what_is_asked_stays_once_something_is_marked(made: Small) -> None:
    task = set_task(made, "a", "d")
    words = TaskWords(
        "Part of it", "", TaskKind.HANDED_IN, made.rubric_id, None, None, False, criteria=("b",)
    )
    tasks.change_task(made.caller, task, 1, words)
    made.mark(made.students[0], 2, task_id=task)
    with pytest.raises(Refused) as refused:
        tasks.change_task(made.caller, task, 2, replace(words, criteria=None))
    assert refused.value.field == "criteria"
    tasks.change_task(made.caller, task, 2, replace(words, title="Still b"))


def test_a_revision_carries_over_what_is_asked(made: Small) -> None:
    """The revision has neither a nor the bonus, and a new criterion, which nobody is asked."""
    asked = {key: set_task(made, key, due_at=made.caller.now + timedelta(days=1)) for key in "ab"}
    first = made.students[0]
    made.mark(first, 3, task_id=asked["a"])
    made.mark(first, 2, task_id=asked["b"])
    view = rubrics.get_rubric(made.caller, made.rubric_id)
    revised = revisions.revise(made.caller, made.rubric_id, view.row.version)
    kept = [
        draft("b", [made.outcomes[1]], levels=3),
        draft("c", [made.outcomes[0]]),
        draft("e", [made.outcomes[0]]),
    ]
    saved = rubrics.save_draft(made.caller, made.rubric_id, revised.row.version, "R", kept)
    effects = revision_effects.revision_effects(made.caller, made.rubric_id, 2)
    points = {one.task.id: one.points for one in effects.tasks}
    assert points[asked["b"]] == (200, 300)
    with pytest.raises(Refused, match="asks only criteria"):
        revisions.apply_revision(
            made.caller, made.rubric_id, 2, saved.row.version, [asked["a"], asked["b"]]
        )
    revisions.apply_revision(made.caller, made.rubric_id, 2, saved.row.version, [asked["b"]])
    there = desk.work_at_desk(made.caller, asked["b"], first).mark
    assert [one.criterion.key for one in desk.desk(made.caller, asked["b"]).criteria] == ["b"]
    assert there.unmarked == ()
    assert there.total is not None
    assert (there.total.value, there.total.out_of) == (200, 300)
    # A copy is of the newest revision: what is not there any more is asked as a whole.
    copies = {key: copying.copy_task(made.caller, asked[key], made.class_id) for key in "ab"}
    keys = {
        key: [one.criterion.key for one in desk.desk(made.caller, copy.task_id).criteria]
        for key, copy in copies.items()
    }
    assert keys == {"a": ["b", "c", "e"], "b": ["b"]}
