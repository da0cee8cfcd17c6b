"""Strands that nest, moving, many at once, several classes, and what is assessed where."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.core.mastery import State
from jade_ladder.core.methods import Method, MethodKind
from jade_ladder.service.changes import many_outcomes
from jade_ladder.service.changes.many_outcomes import OutcomeChanges
from jade_ladder.service.classes import classes
from jade_ladder.service.mastery import coverage, outcome_page
from jade_ladder.service.mastery import wall as mastery
from jade_ladder.service.outcomes import methods, outcomes, strands
from jade_ladder.service.outcomes.outcomes import OutcomeWords
from jade_ladder.service.people import school
from jade_ladder.service.shared.caller import Administrator, Teacher
from tests.builders import Small, at, draft, everything, final_rubric, second_class, small


def codes(caller: Teacher, made: Small) -> list[str]:
    return [row.code for row in outcomes.outcomes_of_class(caller, made.class_id).outcomes]


def tree(caller: Teacher) -> list[tuple[str, int | None]]:
    return [(row.title, row.parent_id) for row in strands.strands(caller)]


def test_a_strand_stands_right_before_those_within_it(caller: Teacher) -> None:
    first, second = strands.add_strand(caller, "Reading"), strands.add_strand(caller, "Making")
    within = strands.add_strand(caller, "Contours", first)
    assert tree(caller) == [("Reading", None), ("Contours", first), ("Making", None)]
    strands.order_strands(caller, [within, second, first])
    assert tree(caller) == [("Making", None), ("Reading", None), ("Contours", first)]
    strands.change_strand(caller, within, "Contours", second)
    assert tree(caller) == [("Making", None), ("Contours", second), ("Reading", None)]


def test_outcomes_follow_their_strands_at_any_depth(caller: Teacher) -> None:
    made = small(caller)
    top = strands.add_strand(caller, "Reading")
    other = strands.add_strand(caller, "Making")
    within = strands.add_strand(caller, "Contours", top)
    for code, strand_id in (("M1", other), ("C1", within), ("R1", top)):
        outcomes.add_outcome(caller, made.class_id, OutcomeWords(code, code, "", strand_id))
    assert codes(caller, made) == ["R1", "C1", "M1", "W1", "W2"]


@pytest.mark.parametrize("case", ["in a nested one", "in itself", "holding others", "in none"])
def test_strands_nest_one_deep(caller: Teacher, case: str) -> None:
    top = strands.add_strand(caller, "Reading")
    within = strands.add_strand(caller, "Contours", top)
    other = strands.add_strand(caller, "Making")
    tries = {
        "in a nested one": (other, within),
        "in itself": (other, other),
        "holding others": (top, other),
        "in none": (other, 999),
    }
    before = everything(caller.database)
    with pytest.raises(Refused) as refused:
        strands.change_strand(caller, tries[case][0], "Title", tries[case][1])
    assert refused.value.field == "parent_id"
    assert everything(caller.database) == before
    with pytest.raises(Refused, match="move them first"):
        strands.delete_strand(caller, top)


@given(st.data())
@settings(max_examples=20, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_moving_an_outcome_keeps_the_order_of_all_others(
    caller: Teacher, data: st.DataObject
) -> None:
    if not classes.my_classes(caller):
        made = small(caller)
        strand_id = strands.add_strand(caller, "Reading")
        for n in range(4):
            words = OutcomeWords(f"R{n}", "R", "", strand_id if n % 2 else None)
            outcomes.add_outcome(caller, made.class_id, words)
    class_id = classes.my_classes(caller)[0].id
    strand_id = strands.strands(caller)[0].id
    rows = outcomes.outcomes_of_class(caller, class_id).outcomes
    moved = data.draw(st.sampled_from([row.id for row in rows]))
    before_id = data.draw(st.sampled_from([None, *(r.id for r in rows if r.id != moved)]))
    into = data.draw(st.sampled_from([None, strand_id]))
    others = [row.id for row in rows if row.id != moved]
    outcomes.place_outcome(caller, class_id, moved, into, before_id)
    after = outcomes.outcomes_of_class(caller, class_id).outcomes
    assert [row.id for row in after if row.id != moved] == others
    assert {row.id: row.strand_id for row in after}[moved] == into
    order = [row.id for row in after]
    beside = before_id is not None and next(r for r in rows if r.id == before_id)
    if beside and beside.strand_id == into:
        assert order.index(moved) == order.index(beside.id) - 1


def test_many_outcomes_change_at_once_and_it_is_shown_before_whose_level_moves(
    caller: Teacher,
) -> None:
    made = small(caller)
    made.mark(made.students[0], 4, 4)
    made.mark(made.students[0], 1, 1, task_id=made.new_task(), caller=at(caller, 1))
    later = at(caller, 2)
    changes = OutcomeChanges(method=Method(MethodKind.HIGHEST), minimum=2)
    before = everything(caller.database)
    told = many_outcomes.preview_changes(later, made.class_id, list(made.outcomes), changes)
    assert [(c.outcome.code, c.after.value) for c in told] == [("W1", 400), ("W2", 400)]
    assert everything(caller.database) == before
    many_outcomes.change_outcomes(later, made.class_id, list(made.outcomes), changes)
    found = outcomes.outcomes_of_class(later, made.class_id).outcomes
    assert {(row.method, row.minimum) for row in found} == {(MethodKind.HIGHEST, 2)}
    strand_id = strands.add_strand(later, "Reading")
    many_outcomes.change_outcomes(
        later, made.class_id, list(made.outcomes), OutcomeChanges(strand_id=strand_id, retired=True)
    )
    found = outcomes.outcomes_of_class(later, made.class_id).outcomes
    assert {(row.strand_id, row.method, row.active_until is None) for row in found} == {
        (strand_id, MethodKind.HIGHEST, False)
    }
    many_outcomes.change_outcomes(
        later,
        made.class_id,
        list(made.outcomes),
        OutcomeChanges(class_method=True, no_strand=True, retired=False),
    )
    found = outcomes.outcomes_of_class(later, made.class_id).outcomes
    assert {(row.strand_id, row.method, row.active_until) for row in found} == {(None, None, None)}


def test_of_many_outcomes_all_change_or_none(caller: Teacher) -> None:
    made = small(caller)
    before = everything(caller.database)
    with pytest.raises(NotFound):
        many_outcomes.change_outcomes(
            caller, made.class_id, [made.outcomes[0], 999], OutcomeChanges(minimum=2)
        )
    with pytest.raises(Refused, match="Choose the outcomes"):
        many_outcomes.change_outcomes(caller, made.class_id, [], OutcomeChanges(minimum=2))
    assert everything(caller.database) == before


def test_evidence_counts_in_every_class_that_teaches_the_same_outcome(caller: Teacher) -> None:
    made = small(caller)
    other = second_class(caller, made)
    offered = outcomes.outcomes_elsewhere(caller, other)
    assert [(one.code, one.classes) for one in offered] == [
        ("W1", "Chart Room"),
        ("W2", "Chart Room"),
    ]
    outcomes.teach_outcomes(caller, other, [made.outcomes[0]])
    made.mark(made.students[0], 3, 3)
    (row,) = mastery.wall(at(caller, 1), other).cells
    assert [cell.mastery.value for cell in row] == [300]
    both = outcomes.outcomes_of_class(caller, other)
    assert both.also_taught == {made.outcomes[0]: ["Chart Room"]}
    assert [one.code for one in outcomes.outcomes_elsewhere(caller, other)] == ["W2"]


def test_a_copied_outcome_has_a_life_of_its_own(caller: Teacher) -> None:
    made = small(caller)
    other = second_class(caller, made)
    (number,) = outcomes.copy_outcomes(caller, other, [made.outcomes[0]])
    made.mark(made.students[0], 3, 3)
    (row,) = mastery.wall(at(caller, 1), other).cells
    assert row[0].mastery.state is State.NO_EVIDENCE
    outcomes.change_outcome(caller, other, number, OutcomeWords("W1", "Changed", "", None))
    titles = [row.title for row in outcomes.outcomes_of_class(caller, made.class_id).outcomes]
    assert titles == ["I can W1", "I can W2"]


@pytest.mark.parametrize("operation", [outcomes.teach_outcomes, outcomes.copy_outcomes])
def test_a_class_has_a_code_once(caller: Teacher, operation: object) -> None:
    made = small(caller)
    other = second_class(caller, made)
    outcomes.add_outcome(caller, other, OutcomeWords("w1", "Own", "", None))
    before = everything(caller.database)
    with pytest.raises(Refused, match="has an outcome W1 already"):
        operation(caller, other, list(made.outcomes[::-1]))  # type: ignore[operator]
    assert everything(caller.database) == before
    with pytest.raises(NotFound):
        operation(caller, other, [999])  # type: ignore[operator]


def test_coverage_says_what_is_assessed_how_often_and_when_next(caller: Teacher) -> None:
    made = small(caller)
    never = outcomes.add_outcome(caller, made.class_id, OutcomeWords("W3", "Never", "", None))
    due = caller.now + timedelta(days=9)
    coming = made.new_task("Coming", due_at=due)
    practice = made.new_task("Practice", practice=True)
    made.mark(made.students[0], 3, 3)
    made.mark(made.students[0], 3, 3, task_id=practice)
    found = coverage.coverage(at(caller, 1), made.class_id)
    by_code = {one.outcome.code: one for one in found.outcomes}
    # Thin is some evidence, from one task; none is counted apart.
    counted = [
        (code, one.tasks, one.thin, one.without, one.students) for code, one in by_code.items()
    ]
    assert counted == [("W1", 2, 1, 1, 2), ("W2", 2, 1, 1, 2), ("W3", 0, 0, 2, 2)]
    assert found.thin_below == 2
    assert by_code["W1"].next_task
    assert by_code["W1"].next_task.id == coming
    assert by_code["W3"].next_task is None
    cells = {(cell.outcome_id, cell.task_id): cell for cell in found.cells}
    assert never not in {outcome for outcome, _ in cells}
    assert cells[made.outcomes[0], made.task_id].criteria == 2
    assert cells[made.outcomes[1], made.task_id].criteria == 1
    assert cells[made.outcomes[0], made.task_id].students == 1
    assert cells[made.outcomes[0], coming].students == 0
    # Practice says something, and counts nowhere.
    assert cells[made.outcomes[0], practice].students == 0
    made.mark(made.students[0], 3, 3, task_id=coming, caller=at(caller, 2))
    found = coverage.coverage(at(caller, 3), made.class_id)
    assert [(one.thin, one.without) for one in found.outcomes] == [(0, 1), (0, 1), (0, 2)]


def test_the_page_of_an_outcome_shows_where_it_is_assessed_and_the_class_over_time(
    caller: Teacher,
) -> None:
    made = small(caller)
    final_rubric(caller, [draft("z", [made.outcomes[0]])], "Never used")
    made.mark(made.students[0], 3, 3)
    second = made.new_task("Second")
    made.mark(made.students[1], 2, 2, task_id=second, caller=at(caller, 2))
    page = outcome_page.outcome_page(at(caller, 3), made.class_id, made.outcomes[0])
    assert [(one.rubric_title, one.criterion, one.tasks) for one in page.criteria] == [
        ("Never used", "Criterion z", 0),
        ("Route card", "Criterion a", 2),
        ("Route card", "Criterion b", 2),
    ]
    assert [(task.title, cell.students) for task, cell in page.tasks] == [
        ("Route", 1),
        ("Second", 1),
    ]
    assert [(one.task, one.picture.mastered, one.picture.counted) for one in page.pictures] == [
        ("Route", 1, 1),
        ("Second", 1, 2),
    ]
    wall = mastery.wall(at(caller, 3), made.class_id)
    assert page.pictures[-1].picture == replace(wall.pictures[0])


def test_what_is_thin_is_one_setting_of_the_school(caller: Administrator) -> None:
    made = small(caller)
    for number in range(3):
        task_id = made.new_task(f"T{number}")
        made.mark(made.students[0], 3, 3, task_id=task_id)
    # An outcome's own minimum is another thing: it says what is counted, not what is thin.
    methods.change_outcome_method(caller, made.class_id, made.outcomes[0], None, 5)
    for thin, students in ((2, 0), (3, 0), (4, 1), (20, 1)):
        school.change_school(caller, thin)
        found = coverage.coverage(at(caller, 1), made.class_id)
        assert found.thin_below == thin
        assert [one.thin for one in found.outcomes] == [students] * 2
    for thin in (1, 21):
        with pytest.raises(Refused, match="from 2 to 20") as refused:
            school.change_school(caller, thin)
        assert refused.value.field == "thin"
