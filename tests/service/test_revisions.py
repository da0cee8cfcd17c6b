"""A final rubric that is used: its words change in place, and nothing that marks mean."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import pytest

from jade_ladder.core.alignment import Cell
from jade_ladder.core.errors import Refused, RefusedMany, Stale
from jade_ladder.service import marking, mastery, revisions, rubrics
from jade_ladder.service.caller import Caller
from jade_ladder.service.drafts import CriterionDraft
from tests.builders import Small, at, draft, everything, small


def as_drafts(made: Small) -> list[CriterionDraft]:
    return [draft("a", list(made.outcomes[:1]), half_way=True), draft("b", list(made.outcomes))]


def first(change: Callable[[CriterionDraft], CriterionDraft]) -> Callable[[Small], object]:
    return lambda made: [change(as_drafts(made)[0]), as_drafts(made)[1]]


def with_criterion(**changes: object) -> Callable[[Small], object]:
    return first(lambda one: replace(one, criterion=replace(one.criterion, **changes)))  # type: ignore[arg-type]


def test_words_change_and_marks_totals_and_mastery_do_not(caller: Caller) -> None:
    made = small(caller)
    before = made.mark(made.students[0], 3, 2)
    wall = mastery.wall(caller, made.class_id)
    drafts = as_drafts(made)[::-1]
    levels = [replace(level, name=f"New {level.name}") for level in drafts[1].criterion.levels]
    worded = replace(drafts[1].criterion, title="Plots it", levels=tuple(levels), remarks=False)
    drafts[1] = replace(drafts[1], criterion=worded)
    later = at(caller, 1)
    version = rubrics.get_rubric(caller, made.rubric_id).row.version
    view = revisions.reword(later, made.rubric_id, version, "Route card 2", drafts, False)
    assert [stored.criterion.title for stored in view.criteria] == ["Criterion b", "Plots it"]
    assert view.criteria[1].criterion.levels[0].name == "New Step 1"
    assert (view.row.title, view.row.points_shown, view.row.number) == ("Route card 2", False, 1)
    after = marking.student_mark(later, made.task_id, made.students[0])
    assert after.total == before.total
    assert after.choices == before.choices
    assert mastery.wall(later, made.class_id).cells == wall.cells
    assert '"New Step 1"' in everything(caller.database)
    with pytest.raises(Stale):
        revisions.reword(later, made.rubric_id, version, "Again", drafts)


STRUCTURE: dict[str, tuple[Callable[[Small], object], str]] = {
    "a criterion less": (lambda made: as_drafts(made)[:1], "“Criterion b” is gone"),
    "a criterion more": (
        lambda made: [*as_drafts(made), draft("c", [])],
        "“Criterion c” is new",
    ),
    "another weight": (with_criterion(weight=4000), "its weight is another"),
    "no half-way": (with_criterion(half_way=False), "its kind is another"),
    "a bonus": (with_criterion(bonus=True), "its kind is another"),
    "other points": (
        first(
            lambda one: replace(
                one,
                criterion=replace(
                    one.criterion,
                    levels=(
                        replace(one.criterion.levels[0], points=50),
                        *one.criterion.levels[1:],
                    ),
                ),
            )
        ),
        "its points are others",
    ),
    "a level less": (
        lambda made: [draft("a", list(made.outcomes[:1]), 3, half_way=True), as_drafts(made)[1]],
        "its levels are others",
    ),
    "another outcome": (
        lambda made: [draft("a", list(made.outcomes[1:]), half_way=True), as_drafts(made)[1]],
        "it is aligned to other outcomes",
    ),
    "another value": (
        lambda made: [
            draft("a", list(made.outcomes[:1]), half_way=True, hand=[100, 200, 300, 350]),
            as_drafts(made)[1],
        ],
        "its levels are evidence of other values",
    ),
}


@pytest.mark.parametrize("case", STRUCTURE)
def test_a_change_of_structure_is_refused_by_name(caller: Caller, case: str) -> None:
    made = small(caller)
    change, told = STRUCTURE[case]
    before = everything(caller.database)
    with pytest.raises(RefusedMany) as refused:
        revisions.reword(caller, made.rubric_id, 3, "Route card", change(made))  # type: ignore[arg-type]
    assert any(told in problem.message for problem in refused.value.problems)
    assert everything(caller.database) == before


def test_a_cell_written_by_hand_as_it_was_by_default_says_the_same(caller: Caller) -> None:
    made = small(caller)
    cells = tuple(Cell(value, by_hand=True) for value in (100, 200, 300, 400))
    drafts = as_drafts(made)
    drafts[0] = replace(drafts[0], alignments=(replace(drafts[0].alignments[0], by_hand=cells),))
    assert revisions.reword(caller, made.rubric_id, 3, "Route card", drafts).row.version == 4


def test_a_draft_is_not_reworded_and_a_title_is_needed(caller: Caller) -> None:
    made = small(caller)
    number = rubrics.make_rubric(caller, "Draft")
    with pytest.raises(Refused, match="is a draft"):
        revisions.reword(caller, number, 1, "Draft", [])
    with pytest.raises(RefusedMany, match="needs a title"):
        revisions.reword(caller, made.rubric_id, 3, "Route", with_criterion(title=" ")(made))  # type: ignore[arg-type]
