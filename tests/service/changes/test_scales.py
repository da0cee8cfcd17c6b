"""The library of scales, putting outcomes on them, and what is not expected of a student."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from jade_ladder.core.alignment import Cell
from jade_ladder.core.errors import NotFound, Refused, Stale
from jade_ladder.core.mastery import Mastery
from jade_ladder.core.rubric import Criterion, CriterionLevel
from jade_ladder.core.scale import Scale, ScaleLevel
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.service.changes import many_outcomes, revisions
from jade_ladder.service.changes import methods as method_changes
from jade_ladder.service.changes import scales as scale_changes
from jade_ladder.service.changes.many_outcomes import OutcomeChanges
from jade_ladder.service.changes.revision_effects import revision_effects
from jade_ladder.service.classes import classes
from jade_ladder.service.mastery import expectation, trail
from jade_ladder.service.mastery import wall as mastery
from jade_ladder.service.outcomes import methods, outcomes, scales
from jade_ladder.service.people import accounts, notices
from jade_ladder.service.people.accounts import NewTeacher
from jade_ladder.service.rubrics import rubrics
from jade_ladder.service.rubrics.drafts import AlignmentDraft, CriterionDraft
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import tasks
from jade_ladder.service.work.setting import TaskWords
from tests import strategies
from tests.builders import Small, at, draft, everything, final_rubric, small, undone
from tests.strategies import scale_of


def marked(caller: Teacher) -> Small:
    """A class of which two students have evidence on two outcomes."""
    made = small(caller)
    made.mark(made.students[0], 4, 4)
    made.mark(made.students[1], 2, 3)
    return made


def other_cut(scale: Scale, cut: int) -> Scale:
    levels = [
        replace(level, cut=cut) if n == scale.mastery_level else level
        for n, level in enumerate(scale.levels)
    ]
    return Scale(tuple(levels), scale.mastery_level)


@pytest.mark.parametrize("levels", [2, 3, 4, 5, 6])
def test_ready_scales_have_two_to_six_levels_and_mastery_at_the_same_word(levels: int) -> None:
    found = scales.preset_scales()[levels - 2]
    assert len(found.levels) == levels
    assert found.levels[found.mastery_level].name == "Arrived"
    assert not found.cuts_at_values


def test_a_change_of_a_scale_is_shown_before_and_is_what_then_happens(caller: Teacher) -> None:
    made = marked(caller)
    later = at(caller, 1)
    one, _ = scales.scales(later)
    stricter = other_cut(one.stored.scale, 300)
    levels = list(stricter.levels)
    levels[2] = replace(levels[2], value=350, cut=310)
    stricter = Scale(tuple(levels), 2)
    before = everything(caller.database)
    shown = scale_changes.preview_scale(later, one.stored.id, 1, "Stricter", stricter)
    assert everything(caller.database) == before
    was = mastery.wall(later, made.class_id)
    scale_changes.change_scale(later, one.stored.id, 1, "Stricter", stricter)
    now = mastery.wall(later, made.class_id)
    happened = {
        (student.id, outcome.id): (a.mastery, b.mastery)
        for student, old, new in zip(was.students, was.cells, now.cells, strict=True)
        for outcome, a, b in zip(was.outcomes, old, new, strict=True)
        if (a.mastery.level, a.mastery.state) != (b.mastery.level, b.mastery.state)
    }
    told = {(c.student.id, c.outcome.id): (c.before, c.after) for c in shown.effects.changes}
    assert told == happened
    assert shown.cells > 0
    assert shown.effects.elsewhere == 0


def test_a_scale_of_another_teachers_class_moves_levels_that_are_only_counted(
    caller: Teacher,
) -> None:
    colleague = Teacher(
        caller.database,
        accounts.add_teacher(
            caller.database, NewTeacher("Jun", "Okoro", "jun@tern.example", "another long one")
        ),
        caller.now,
    )
    marked(colleague)
    later = at(caller, 1)
    one = scales.scales(later)[0]
    stricter = replace(one.stored.scale.levels[3], cut=400)
    levels = (*one.stored.scale.levels[:3], stricter)
    shown = scale_changes.preview_scale(later, one.stored.id, 1, "S", Scale(levels, 3))
    assert shown.effects.classes == ()
    assert shown.effects.changes == ()
    assert shown.effects.elsewhere > 0


def test_an_outcome_put_on_another_scale_takes_its_evidence_along(caller: Teacher) -> None:
    made = marked(caller)
    later = at(caller, 1)
    per_cent = scale_of([0, 5000, 10000], preset=scales.CutPreset.AT_THE_VALUE, mastery=1)
    number = scales.add_scale(later, "Per cent", per_cent)
    outcome = made.outcomes[0]
    shown = method_changes.preview_outcome(later, made.class_id, outcome, None, 1, number)
    assert {change.after_scale.id for change in shown.changes} == {number}
    scale_changes.put_on_scale(later, made.class_id, outcome, number)
    cells = [
        [cell.value for cell in tie.map.cells]
        for stored in rubrics.get_rubric(later, made.rubric_id).criteria
        for tie in stored.alignments
        if tie.outcome_id == outcome
    ]
    # Four levels in proportion to their points, 1 to 4.
    assert cells == [[0, 3333, 6667, 10000]] * 2
    top = mastery.wall(later, made.class_id)
    place = [o.id for o in top.outcomes].index(outcome)
    row_of = [s.id for s in top.students].index(made.students[0])
    assert top.cells[row_of][place].mastery.value == 10000
    # And back: nothing was lost on the way.
    scale_changes.put_on_scale(later, made.class_id, outcome, 1)
    assert mastery.wall(later, made.class_id).cells[row_of][place].mastery.value == 400


REFUSED = {
    "the same name": (lambda s: ("school SCALE", s), "name"),
    "no name": (lambda s: (" ", s), "name"),
    "a long description": (
        lambda s: (
            "Other",
            Scale(tuple(replace(level, description="x" * 501) for level in s.levels), 0),
        ),
        "levels.0.description",
    ),
}


@pytest.mark.parametrize("case", REFUSED)
def test_what_the_library_does_not_take_is_told_at_its_field(caller: Teacher, case: str) -> None:
    small(caller)
    make, field = REFUSED[case]
    name, scale = make(scales.starting_scale())
    with pytest.raises(Refused) as refused:
        scales.add_scale(caller, name, scale)
    assert refused.value.field == field


def test_a_scale_in_use_is_not_removed_and_one_that_is_free_is(caller: Teacher) -> None:
    made = small(caller)
    with pytest.raises(Refused, match="used by 2 outcomes"):
        scales.remove_scale(caller, 1)
    scales.remove_scale(caller, made.scale_id)
    assert [one.stored.id for one in scales.scales(caller)] == [1]


def test_new_outcomes_take_the_scale_that_the_class_chose(caller: Teacher) -> None:
    made = small(caller)
    number = made.scale_id
    scales.choose_class_scale(caller, made.class_id, 1, number)
    with pytest.raises(Stale):
        scales.choose_class_scale(caller, made.class_id, 1, 1)
    new = outcomes.add_outcome(caller, made.class_id, outcomes.OutcomeWords("N9", "New", "", None))
    rows = outcomes.outcomes_of_class(caller, made.class_id).outcomes
    assert {row.id: row.scale_id for row in rows}[new] == number
    assert {row.scale_id for row in rows if row.id != new} == {1}


def test_an_outcome_that_is_not_expected_leaves_every_count_and_comes_back(
    caller: Teacher,
) -> None:
    made = marked(caller)
    student, outcome = made.students[0], made.outcomes[0]
    full = mastery.wall(caller, made.class_id)
    row = [s.id for s in full.students].index(student)
    column = [o.id for o in full.outcomes].index(outcome)
    expectation.lift_outcome(caller, made.class_id, student, outcome, " A modified programme ")
    lifted = mastery.wall(caller, made.class_id)
    assert not lifted.cells[row][column].expected
    assert lifted.roll_ups[row].of == full.roll_ups[row].of - 1
    assert lifted.roll_ups[row].mastered == full.roll_ups[row].mastered - 1
    assert lifted.pictures[column].counted == full.pictures[column].counted - 1
    assert lifted.pictures[1 - column] == full.pictures[1 - column]
    found = trail.trail(caller, made.class_id, student, outcome)
    assert found.not_expected
    assert found.not_expected.reason == "A modified programme"
    assert found.mastery == full.cells[row][column].mastery
    with pytest.raises(Refused, match="already"):
        expectation.lift_outcome(caller, made.class_id, student, outcome, "Again")
    # The day after it is expected again; the days between stay as they were.
    later = at(caller, 3)
    expectation.expect_again(later, made.class_id, student, outcome)
    now = mastery.wall(later, made.class_id)
    assert now.cells[row][column].expected
    between = mastery.wall(later, made.class_id, full.as_of)
    assert not between.cells[row][column].expected
    # Lifting what is expected again is possible, and lifting twice a day too.
    expectation.lift_outcome(later, made.class_id, student, outcome, "Once more")
    expectation.expect_again(later, made.class_id, student, outcome)
    expectation.lift_outcome(later, made.class_id, student, outcome, "After all")
    assert not mastery.wall(later, made.class_id).cells[row][column].expected


@given(cut=st.integers(201, 300), value=st.integers(300, 374))
@settings(max_examples=15, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_supposing_stores_nothing_whatever_is_supposed(
    caller: Teacher, cut: int, value: int
) -> None:
    if not classes.my_classes(caller):
        marked(caller)
    one, _ = scales.scales(at(caller, 1))
    levels = list(one.stored.scale.levels)
    levels[2] = ScaleLevel("Arrived", "A", value, cut)
    before = everything(caller.database)
    scale_changes.preview_scale(at(caller, 1), 1, 1, "School scale", Scale(tuple(levels), 2))
    assert everything(caller.database) == before


def by_hand(made: Small, caller: Teacher, value: int) -> int:
    """Give a new rubric of the caller's, in which the third level of a criterion is by hand."""
    hand = [None, None, Cell(value, by_hand=True), None]
    tie = AlignmentDraft(made.outcomes[0], 1, tuple(hand))
    return final_rubric(
        caller, [replace(draft("h", []), alignments=(tie,)), draft("p", [], levels=3)], "By hand"
    )


def cells_of(caller: Teacher, rubric_id: int) -> list[int | None]:
    view = rubrics.get_rubric(caller, rubric_id)
    return [cell.value for tie in view.criteria[0].alignments for cell in tie.map.cells]


def test_a_cell_by_hand_whose_level_would_change_is_asked_for(caller: Teacher) -> None:
    made = small(caller)
    rubric_id = by_hand(made, caller, 390)
    shorter = scale_of([100, 150, 200, 250], preset=scales.CutPreset.THREE_QUARTERS, mastery=2)
    shown = scale_changes.preview_scale(caller, 1, 1, "S", shorter)
    (asked,) = shown.asked
    assert (asked.rubric, asked.level, asked.key.value, asked.offered) == (
        "By hand",
        "Step 3",
        390,
        245,
    )
    before = everything(caller.database)
    with pytest.raises(Refused, match="Step 3 of “Criterion h”") as refused:
        scale_changes.change_scale(caller, 1, 1, "S", shorter)
    assert refused.value.field == "cells"
    with pytest.raises(Refused, match=r"between 1 and 2\.5") as refused:
        scale_changes.change_scale(caller, 1, 1, "S", shorter, {asked.key: 390})
    assert refused.value.field == "cells.0.value"
    assert everything(caller.database) == before
    scale_changes.change_scale(caller, 1, 1, "S", shorter, {asked.key: 230})
    assert cells_of(caller, rubric_id) == [100, 150, 230, 250]
    # Where its level stays, nobody is asked and it stays.
    wider = scale_of([100, 150, 200, 240], preset=scales.CutPreset.AT_THE_VALUE, mastery=2)
    assert scale_changes.preview_scale(caller, 1, 2, "S", wider).asked == ()
    scale_changes.change_scale(caller, 1, 2, "S", wider)
    assert cells_of(caller, rubric_id) == [100, 150, 230, 240]


def test_in_a_colleagues_rubric_it_takes_the_place_that_matches_and_they_are_told(
    caller: Teacher, other_teacher: Teacher
) -> None:
    made = small(caller)
    with caller.transaction() as db:
        db.execute("UPDATE outcome SET owner_id = NULL")
    rubric_id = by_hand(made, other_teacher, 250)
    hundred = scale_of([100, 3400, 6700, 10000], preset=scales.CutPreset.THREE_QUARTERS, mastery=2)
    shown = scale_changes.preview_scale(caller, 1, 1, "S", hundred)
    assert (shown.asked, shown.elsewhere) == ((), 1)
    scale_changes.change_scale(caller, 1, 1, "S", hundred)
    assert cells_of(other_teacher, rubric_id)[2] == 5050
    (told,) = notices.notices(other_teacher)
    assert (told.rubric_id, "By hand" in told.text, "Ilse Varga" in told.text) == (
        rubric_id,
        True,
        True,
    )
    assert notices.notices(caller) == []
    with pytest.raises(NotFound):
        notices.see_notice(caller, told.id)
    notices.see_notice(other_teacher, told.id)
    assert notices.notices(other_teacher) == []


def test_after_levels_are_renamed_a_title_is_only_words(caller: Teacher) -> None:
    """A map by names keeps to it: neither renaming levels nor a word in the rubric moves a cell."""
    made = small(caller)
    stored = scales.scales(caller)[0].stored
    names = [level.name for level in stored.scale.levels]
    levels = tuple(
        CriterionLevel(f"n{n}", name, n * 100, "") for n, name in enumerate(reversed(names))
    )
    tie = AlignmentDraft(made.outcomes[0], 1, (None,) * 4)
    rubric_id = final_rubric(caller, [CriterionDraft(Criterion("n", "Named", levels), (tie,))])
    assert cells_of(caller, rubric_id) == [400, 300, 200, 100]
    words = [replace(level, name=f"{level.name} anew") for level in stored.scale.levels]
    scale_changes.change_scale(caller, 1, 1, "S", Scale(tuple(words), stored.scale.mastery_level))
    tasks.make_task(
        caller,
        made.class_id,
        TaskWords("T", "", TaskKind.HANDED_IN, rubric_id, None, None, False),
    )
    view = rubrics.get_rubric(caller, rubric_id)
    view = revisions.revise(caller, rubric_id, view.row.version)
    drafts = [CriterionDraft(replace(view.criteria[0].criterion, title="Another word"), (tie,))]
    view = rubrics.save_draft(caller, rubric_id, view.row.version, "Route card", drafts)
    assert cells_of(caller, rubric_id) == [400, 300, 200, 100]
    assert revision_effects(caller, rubric_id, 2).only_words


@st.composite
def bulk_changes(draw: st.DrawFn) -> OutcomeChanges:
    return OutcomeChanges(
        method=draw(st.none() | strategies.methods),
        class_method=draw(st.booleans()),
        minimum=draw(st.none() | st.integers(1, 3)),
        scale_id=draw(st.sampled_from([None, 1, 2])),
        retired=draw(st.sampled_from([None, False, True])),
    )


def standings(caller: Teacher, class_id: int) -> dict[tuple[int, int], Mastery]:
    wall = mastery.wall(caller, class_id)
    return {
        (student.id, outcome.id): cell.mastery
        for student, row in zip(wall.students, wall.cells, strict=True)
        for outcome, cell in zip(wall.outcomes, row, strict=True)
    }


@given(st.data())
@settings(max_examples=60, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_what_a_preview_tells_is_what_then_happens(caller: Teacher, data: st.DataObject) -> None:
    """Any change of a scale, of many outcomes or of one, worked out in memory from a snapshot and
    then done: each level that moves was told, and nothing else.
    """
    with undone(caller.database):
        made = marked(caller)
        later = at(caller, 1)
        by_hand(made, caller, data.draw(st.integers(100, 400)))
        kind = data.draw(st.sampled_from(["scale", "bulk", "outcome"]))
        before = standings(later, made.class_id)
        same_levels = True
        if kind == "scale":
            new = data.draw(strategies.scales(4))
            shown = scale_changes.preview_scale(later, 1, 1, "S", new)
            decided = {one.key: one.offered for one in shown.asked}
            told = list(shown.effects.changes)
            assert scale_changes.change_scale(later, 1, 1, "S", new, decided) == shown.cells
        elif kind == "bulk":
            changes = data.draw(bulk_changes())
            told = list(
                many_outcomes.preview_changes(later, made.class_id, list(made.outcomes), changes)
            )
            many_outcomes.change_outcomes(later, made.class_id, list(made.outcomes), changes)
            same_levels = changes.scale_id in (None, 1)
        else:
            method = data.draw(st.none() | strategies.methods)
            minimum = data.draw(st.integers(1, 3))
            rest = (made.class_id, made.outcomes[0], method, minimum)
            told = list(method_changes.preview_outcome(later, *rest, 1).changes)
            methods.change_outcome_method(later, *rest)
        after = standings(later, made.class_id)
        moved = {
            place
            for place, was in before.items()
            if place in after
            and (
                was.state is not after[place].state
                or (same_levels and was.level != after[place].level)
            )
        }
        places = {(one.student.id, one.outcome.id): one for one in told}
        assert moved <= places.keys()
        for place, one in places.items():
            assert (one.before, one.after) == (before[place], after[place])
        if same_levels:
            assert places.keys() == moved
