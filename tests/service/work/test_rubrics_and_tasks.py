"""Rubrics and tasks: drafts kept as they are, finals complete, marks never broken."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime, timedelta
from typing import Any

import pytest

from jade_ladder.core.alignment import Cell
from jade_ladder.core.errors import Refused, RefusedMany, Stale
from jade_ladder.core.marking import DeskState
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.service.changes import revisions
from jade_ladder.service.rubrics import rubrics
from jade_ladder.service.rubrics.drafts import CriterionDraft
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import attempts, tasks
from jade_ladder.service.work.setting import TaskWords
from tests.builders import YES_NO, Small, at, draft, final_rubric, small


def test_a_draft_is_kept_however_unfinished(caller: Teacher) -> None:
    number = rubrics.make_rubric(caller, "Rough")
    empty = draft("a", [], levels=2)
    rough = replace(empty, criterion=replace(empty.criterion, title=""))
    view = rubrics.save_draft(caller, number, 1, "Rough", [rough])
    assert [problem.field for problem in view.missing] == ["criteria.0.title"]
    with pytest.raises(RefusedMany) as refused:
        rubrics.make_final(caller, number, view.row.version)
    assert refused.value.field == "criteria.0.title"
    assert rubrics.get_rubric(caller, number).row.final_at is None


@pytest.mark.parametrize(
    ("make", "field"),
    [
        (lambda s: draft("a", [99_999]), "criteria.0.alignments.0.outcome_id"),
        (lambda s: draft("a", [s.outcomes[0]] * 2), "criteria.0.alignments"),
        (
            lambda s: draft("a", [s.outcomes[0]], hand=[1, 2, 3, 401]),
            "criteria.0.alignments.0.cells.0",
        ),
        (lambda s: draft("a", [], levels=11), "criteria.0.levels"),
        (lambda s: draft("a", [], weight=10_001), "criteria.0.weight"),
        (lambda s: draft("a", [], weight=-1), "criteria.0.weight"),
        (lambda s: with_points(draft("a", []), -100), "criteria.0.levels.0.points"),
        (lambda s: with_points(draft("a", []), 1_000_001), "criteria.0.levels.0.points"),
    ],
)
def test_what_cannot_be_stored_is_refused_at_its_field(
    caller: Teacher, make: object, field: str
) -> None:
    made = small(caller)
    number = rubrics.make_rubric(caller, "New")
    with pytest.raises(Refused) as refused:
        rubrics.save_draft(caller, number, 1, "New", [make(made)])  # type: ignore[operator]
    assert refused.value.field == field


def with_points(one: CriterionDraft, points: int) -> CriterionDraft:
    levels = (replace(one.criterion.levels[0], points=points), *one.criterion.levels[1:])
    return replace(one, criterion=replace(one.criterion, levels=levels))


def test_an_outcome_of_another_teacher_cannot_be_aligned(
    caller: Teacher, other_teacher: Teacher
) -> None:
    made = small(caller)
    number = rubrics.make_rubric(other_teacher, "Theirs")
    with pytest.raises(Refused, match="neither yours nor the school's"):
        rubrics.save_draft(other_teacher, number, 1, "Theirs", [draft("a", [made.outcomes[0]])])


def test_the_same_draft_sent_twice_is_one(caller: Teacher) -> None:
    made = small(caller)
    number = rubrics.make_rubric(caller, "New")
    one = [draft("a", [made.outcomes[0]], hand=[None, 150, 150, 150])]
    view = rubrics.save_draft(caller, number, 1, "Mine", one)
    again = rubrics.save_draft(caller, number, 1, "Mine", one)
    assert again == view
    for other in ("Mine too", "New"):
        with pytest.raises(Stale):
            rubrics.save_draft(caller, number, 1, other, one)
    with pytest.raises(Stale):
        rubrics.save_draft(caller, number, 1, "Mine", [draft("a", [made.outcomes[0]])])
    with pytest.raises(Stale):
        rubrics.save_draft(caller, number, 1, "Mine", one, points_shown=False)


def test_a_cell_goes_back_to_the_default(caller: Teacher) -> None:
    made = small(caller)
    number = rubrics.make_rubric(caller, "New")
    hand = draft("a", [made.outcomes[0]], hand=[None, 150, 150, 150])
    view = rubrics.save_draft(caller, number, 1, "New", [hand])
    cells = view.criteria[0].alignments[0].map.cells
    assert [(cell.value, cell.by_hand) for cell in cells[:2]] == [(None, True), (150, True)]
    view = rubrics.save_draft(caller, number, 2, "New", [draft("a", [made.outcomes[0]])])
    assert view.criteria[0].alignments[0].map.cells[1] == Cell(200, follows=1)


def test_reach_says_what_a_yes_cannot_lift_to(caller: Teacher) -> None:
    made = small(caller)
    number = rubrics.make_rubric(caller, "New")
    low = draft("a", [made.outcomes[0]], hand=[100, 150, 200, 250])
    yes = draft("b", [made.outcomes[1]], levels=2, kind=YES_NO)
    view = rubrics.save_draft(caller, number, 1, "New", [low, yes])
    assert [(reach.outcome.code, reach.lifts_to) for reach in view.reaches] == [
        ("W1", 250),
        ("W2", 300),
    ]


@pytest.mark.parametrize(
    ("change", "notes"),
    [
        ({}, []),
        ({"aligned": False}, [("criteria.1", "1 criterion without an outcome")]),
        ({"aligned": False, "bonus": True}, []),
        ({"points": 200}, [("criteria.1", "1 criterion has two levels with the same points")]),
        ({"descriptor": " "}, [("criteria.1", "1 descriptor left blank")]),
    ],
)
def test_notes_tell_and_keep_nothing_from_being_final(
    caller: Teacher, change: dict[str, Any], notes: list[tuple[str, str]]
) -> None:
    made = small(caller)
    number = rubrics.make_rubric(caller, "New")
    aligned = [made.outcomes[0]] if change.get("aligned", True) else []
    one = draft("b", aligned, bonus=change.get("bonus", False))
    low, *rest = one.criterion.levels
    low = replace(
        low,
        points=change.get("points", low.points),
        descriptor=change.get("descriptor", low.descriptor),
    )
    one = replace(one, criterion=replace(one.criterion, levels=(low, *rest)))
    view = rubrics.save_draft(caller, number, 1, "New", [draft("a", [made.outcomes[0]]), one])
    assert [(note.field, note.message) for note in view.notes] == notes
    assert not view.missing
    rubrics.make_final(caller, number, view.row.version)


def test_weights_are_shared_and_a_bonus_has_none(caller: Teacher) -> None:
    number = rubrics.make_rubric(caller, "New")
    drafts = [draft("a", [], weight=6000), draft("b", []), draft("c", [], bonus=True, weight=100)]
    view = rubrics.save_draft(caller, number, 1, "New", drafts)
    assert [problem.field for problem in view.missing] == ["weights", "weights"]
    view = rubrics.share_weights(caller, number, view.row.version, equally=False)
    assert [stored.criterion.weight for stored in view.criteria] == [6000, 4000, None]
    assert view.missing == ()
    view = rubrics.share_weights(caller, number, view.row.version, equally=True)
    assert [stored.criterion.weight for stored in view.criteria] == [5000, 5000, None]


def test_a_final_rubric_in_use_stays_as_it_is_and_its_copy_is_free(caller: Teacher) -> None:
    made = small(caller)
    row = rubrics.get_rubric(caller, made.rubric_id).row
    for operation in (
        lambda: rubrics.save_draft(caller, made.rubric_id, row.version, "X", []),
        lambda: rubrics.delete_rubric(caller, made.rubric_id),
        lambda: rubrics.share_weights(caller, made.rubric_id, row.version, equally=True),
    ):
        with pytest.raises(Refused):
            operation()
    copy = rubrics.get_rubric(caller, rubrics.copy_rubric(caller, made.rubric_id))
    original = rubrics.get_rubric(caller, made.rubric_id)
    assert copy.row.final_at is None
    assert [c.criterion for c in copy.criteria] == [c.criterion for c in original.criteria]
    assert [c.alignments for c in copy.criteria] == [c.alignments for c in original.criteria]


def test_an_unused_final_rubric_can_be_a_draft_again_and_be_deleted(caller: Teacher) -> None:
    number = final_rubric(caller, [draft("a", [])])
    version = rubrics.get_rubric(caller, number).row.version
    view = revisions.revise(caller, number, version)
    assert view.row.final_at is None
    rubrics.delete_rubric(caller, number)
    assert rubrics.rubrics(caller) == []


def words(made: Small, **changes: object) -> TaskWords:
    plain = TaskWords("T", "", TaskKind.HANDED_IN, made.rubric_id, None, None, False)
    return replace(plain, **changes)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"title": "  "}, "title"),
        ({"points": 0}, "points"),
        ({"points": -100}, "points"),
        ({"points": 1_000_001}, "points"),
        ({"instructions": "x" * 20_001}, "instructions"),
    ],
)
def test_a_task_is_refused_at_its_field(
    caller: Teacher, changes: dict[str, object], field: str
) -> None:
    made = small(caller)
    with pytest.raises(Refused) as refused:
        tasks.make_task(caller, made.class_id, words(made, **changes))
    assert refused.value.field == field


def test_a_task_needs_a_final_rubric(caller: Teacher) -> None:
    made = small(caller)
    number = rubrics.make_rubric(caller, "Draft")
    with pytest.raises(Refused, match="still a draft"):
        tasks.make_task(caller, made.class_id, words(made, rubric_id=number))


def test_once_marked_a_task_keeps_its_rubric_and_kind(caller: Teacher) -> None:
    made = small(caller)
    other = final_rubric(caller, [draft("z", [])], "Other")
    tasks.change_task(caller, made.task_id, 1, words(made, rubric_id=other))
    tasks.change_task(caller, made.task_id, 2, words(made))
    made.mark(made.students[0], 3, 3)
    for changes, field in [
        ({"rubric_id": other}, "rubric_id"),
        ({"kind": TaskKind.OBSERVED}, "kind"),
    ]:
        with pytest.raises(Refused) as refused:
            tasks.change_task(caller, made.task_id, 3, words(made, **changes))
        assert refused.value.field == field
    tasks.change_task(caller, made.task_id, 3, words(made, title="Renamed"))
    with pytest.raises(Refused, match="cannot be deleted"):
        tasks.delete_task(caller, made.task_id)


def test_due_times_are_by_the_schools_clock(caller: Teacher) -> None:
    """16:00 on 20 November in Auckland is 03:00 that day in UTC."""
    made = small(caller)
    number = tasks.make_task(
        caller, made.class_id, words(made, due_at=datetime(2026, 11, 20, 16, 0))
    )
    due = tasks.get_task(caller, number).row.due_at
    assert due is not None
    assert due.isoformat() == "2026-11-20T03:00:00+00:00"


def test_where_everybody_stands(caller: Teacher) -> None:
    made = small(caller, due=datetime(2026, 11, 30, 16, 0))
    first, second = made.students

    def states(who: Teacher) -> dict[int, DeskState]:
        return {s.row.student_id: s.state for s in tasks.get_task(who, made.task_id).students}

    assert set(states(caller).values()) == {DeskState.NOT_YET}
    attempts.enter_work(caller, made.task_id, first, "From the slipway")
    assert states(caller)[first] is DeskState.WAITING
    late = at(caller, 10)
    assert states(late)[second] is DeskState.MISSING
    attempts.excuse(late, made.task_id, second, True)
    assert states(late)[second] is DeskState.EXCUSED
    assert tasks.get_task(late, made.task_id).to_mark == 1
    made.mark(first, 3, 3, caller=late)
    assert tasks.get_task(late, made.task_id).to_mark == 0


@pytest.mark.parametrize(
    ("text", "days", "field"),
    [(" \n", 0, "text"), ("x" * 200_001, 0, "text"), ("Fine", 1, "done_at")],
)
def test_work_is_refused_at_its_field(caller: Teacher, text: str, days: int, field: str) -> None:
    made = small(caller)
    when = caller.now + timedelta(days=days)
    with pytest.raises(Refused) as refused:
        attempts.enter_work(caller, made.task_id, made.students[0], text, done_at=when)
    assert refused.value.field == field


def test_work_can_be_replaced_and_its_time_corrected(caller: Teacher) -> None:
    made = small(caller)
    student = made.students[0]
    attempts.enter_work(caller, made.task_id, student, "First")
    earlier = caller.now - timedelta(days=3)
    attempts.enter_work(caller, made.task_id, student, "Second", "plan.txt", earlier)
    (where,) = (
        s.row for s in tasks.get_task(caller, made.task_id).students if s.row.student_id == student
    )
    assert (where.number, where.done_at) == (1, earlier)
