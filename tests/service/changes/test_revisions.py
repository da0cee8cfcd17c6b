"""Revisions: words change in place; structure makes a new revision, and marks mean what they meant
wherever the teacher leaves them.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import date

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from jade_ladder.core.alignment import Cell
from jade_ladder.core.errors import NotFound, Refused, RefusedMany, Stale
from jade_ladder.core.scale import Scale
from jade_ladder.core.total import Total
from jade_ladder.formats.class_list import StudentLine
from jade_ladder.service.changes import revisions
from jade_ladder.service.changes import scales as scale_changes
from jade_ladder.service.changes.revision_effects import revision_effects
from jade_ladder.service.changes.what_if import Effects
from jade_ladder.service.classes import classes, students
from jade_ladder.service.exchange import frameworks
from jade_ladder.service.marking import desk, saving
from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.mastery import outcome_page
from jade_ladder.service.mastery import wall as mastery
from jade_ladder.service.mastery.wall import WallCell
from jade_ladder.service.outcomes import outcomes
from jade_ladder.service.rubrics import library, rubrics
from jade_ladder.service.rubrics.drafts import CriterionDraft
from jade_ladder.service.rubrics.rubrics import RubricView
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import tasks
from jade_ladder.store.shared.verify import faults
from tests.builders import Small, at, draft, everything, small, undone
from tests.strategies import MarkPlan, four_levels, mark_plans, revised_drafts


def as_drafts(made: Small) -> list[CriterionDraft]:
    return [draft("a", list(made.outcomes[:1]), half_way=True), draft("b", list(made.outcomes))]


def revise(
    made: Small, drafts: list[CriterionDraft], title: str = "Route card", shown: bool = True
) -> RubricView:
    """Open the rubric for changes and write these."""
    version = rubrics.get_rubric(made.caller, made.rubric_id).row.version
    view = revisions.revise(made.caller, made.rubric_id, version)
    return rubrics.save_draft(made.caller, made.rubric_id, view.row.version, title, drafts, shown)


def put_on(made: Small, number: int, *task_ids: int, caller: Teacher | None = None) -> RubricView:
    caller = caller or made.caller
    version = rubrics.get_rubric(caller, made.rubric_id).row.version
    return revisions.apply_revision(caller, made.rubric_id, number, version, task_ids)


def seen(made: Small, *task_ids: int) -> list[object]:
    """All that a teacher reads off marks: what is chosen and said, totals, mastery and trails."""
    marks = [
        desk.work_at_desk(made.caller, task_id, student).mark
        for task_id in task_ids or (made.task_id,)
        for student in made.students
    ]
    return [
        mastery.wall(made.caller, made.class_id).cells,
        [
            (
                mark.student.state,
                mark.total,
                {n: (c.level_id, c.half_way, c.not_assessed) for n, c in mark.choices.items()},
                {n: r.text for n, r in mark.remarks.items()},
                mark.moves,
            )
            for mark in marks
        ],
    ]


def first(change: Callable[[CriterionDraft], CriterionDraft]) -> Callable[[Small], object]:
    return lambda made: [change(as_drafts(made)[0]), as_drafts(made)[1]]


def with_criterion(**changes: object) -> Callable[[Small], object]:
    return first(lambda one: replace(one, criterion=replace(one.criterion, **changes)))  # type: ignore[arg-type]


def test_words_change_in_place_and_marks_totals_and_mastery_do_not(caller: Teacher) -> None:
    made = small(caller)
    before = made.mark(made.students[0], 3, 2)
    wall = mastery.wall(caller, made.class_id)
    drafts = as_drafts(made)[::-1]
    levels = [replace(level, name=f"New {level.name}") for level in drafts[1].criterion.levels]
    worded = replace(drafts[1].criterion, title="Plots it", levels=tuple(levels), remarks=False)
    drafts[1] = replace(drafts[1], criterion=worded)
    revise(made, drafts, "Route card 2", shown=False)
    assert tasks.get_task(caller, made.task_id).row.rubric_title == "Route card"
    effects = revision_effects(caller, made.rubric_id, 2)
    assert (effects.only_words, effects.tasks) == (True, ())
    later = at(caller, 1)
    view = put_on(made, 2, caller=later)
    assert [stored.criterion.title for stored in view.criteria] == ["Criterion b", "Plots it"]
    assert view.criteria[1].criterion.levels[0].name == "New Step 1"
    assert (view.row.title, view.row.points_shown, view.row.number) == ("Route card 2", False, 1)
    after = desk.work_at_desk(later, made.task_id, made.students[0]).mark
    assert (after.total, after.choices) == (before.total, before.choices)
    assert mastery.wall(later, made.class_id).cells == wall.cells
    assert '"New Step 1"' in everything(caller.database)
    assert tasks.get_task(caller, made.task_id).row.rubric_title == "Route card 2"


STRUCTURE: dict[str, tuple[Callable[[Small], object], str]] = {
    "a criterion less": (lambda made: as_drafts(made)[:1], "is gone"),
    "a criterion more": (lambda made: [*as_drafts(made), draft("c", [])], "is new"),
    "weights": (
        lambda made: [
            replace(one, criterion=replace(one.criterion, weight=weight))
            for one, weight in zip(as_drafts(made), (4000, 6000), strict=True)
        ],
        "has a different weight",
    ),
    "no half-way": (with_criterion(half_way=False), "is of a different kind"),
    "a bonus": (with_criterion(bonus=True), "is of a different kind"),
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
        "has different points",
    ),
    "a level less": (
        lambda made: [draft("a", list(made.outcomes[:1]), 3, half_way=True), as_drafts(made)[1]],
        "has different levels",
    ),
    "another outcome": (
        lambda made: [draft("a", list(made.outcomes[1:]), half_way=True), as_drafts(made)[1]],
        "is aligned to different outcomes",
    ),
    "another value": (
        lambda made: [
            draft("a", list(made.outcomes[:1]), half_way=True, hand=[100, 200, 300, 350]),
            as_drafts(made)[1],
        ],
        "has levels that are evidence of different values",
    ),
}


@pytest.mark.parametrize("case", STRUCTURE)
def test_a_change_of_structure_leaves_a_task_as_it_was_to_the_last_digit(
    caller: Teacher, case: str
) -> None:
    """The teacher chose so; and a task that is set afterwards has the new revision."""
    made = small(caller)
    change, told = STRUCTURE[case]
    made.mark(made.students[0], 3, 2)
    made.mark(made.students[1], 4, 1)
    before = seen(made)
    revise(made, change(made))  # type: ignore[arg-type]
    assert seen(made) == before
    sides = revisions.side_by_side(caller, made.rubric_id)
    assert (sides.old.number, sides.new.number) == (1, 2)
    assert told in [what for one in sides.comparisons for what in one.structure]
    view = put_on(made, 2)
    assert (view.row.number, view.row.final_number) == (2, 2)
    assert seen(made) == before
    assert [use.revision for use in view.tasks] == [1]
    assert tasks.get_task(caller, made.new_task()).row.revision == 2


@given(st.data())
@settings(max_examples=30, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_what_is_told_is_what_happens_and_it_can_be_put_back(
    revised_class: Small, data: st.DataObject
) -> None:
    """Any marks, any revision, any of three tasks: mastery and totals move exactly as was told,
    tasks left alone show nothing else, and moving back gives back every mark, total and value.
    """
    made = revised_class
    all_tasks = [made.task_id, *made_tasks(made)]
    with undone(made.caller.database):
        for task_id in all_tasks:
            for student in made.students:
                give_mark(made, task_id, student, data.draw(mark_plans()))
        before = seen(made, *all_tasks)
        revise(made, data.draw(revised_drafts(as_drafts(made), made.outcomes)))
        chosen = data.draw(st.lists(st.sampled_from(all_tasks), unique=True))
        assert seen(made, *all_tasks) == before
        if revision_effects(made.caller, made.rubric_id, 2).only_words:
            put_on(made, 2)
            assert seen(made, *all_tasks) == before
            return
        effects = revision_effects(made.caller, made.rubric_id, 2, chosen)
        walls = [mastery.wall(made.caller, made.class_id)]
        totals = [totals_of(made, all_tasks)]
        put_on(made, 2, *chosen)
        walls.append(mastery.wall(made.caller, made.class_id))
        totals.append(totals_of(made, all_tasks))
        assert told(effects.together) == {
            (student.id, outcome.id): (was.mastery.value, now.mastery.value)
            for student, *rows in zip(walls[0].students, *(w.cells for w in walls), strict=True)
            for outcome, was, now in zip(walls[0].outcomes, *rows, strict=True)
            if standing(was) != standing(now)
        }
        for effect in effects.tasks:
            names = {move.student: move.after for move in effect.totals}
            for student in made.students:
                place = (effect.task.id, student)
                (was, name), (now, _) = totals[0][place], totals[1][place]
                if effect.task.id not in chosen:
                    assert now == was
                elif shown(was) == shown(now):
                    # A line from a number to the same number is none.
                    assert name not in names
                else:
                    # Told of every mark: carried over whole, staying, or not finished yet.
                    assert now == names[name]
        put_on(made, 1, *chosen)
        assert seen(made, *all_tasks) == before


def shown(total: Total | None) -> tuple[int, int] | None:
    return None if total is None else (total.value, total.out_of)


def standing(cell: WallCell) -> tuple[object, ...]:
    return cell.mastery.value, cell.mastery.state, cell.mastery.level


def told(effects: Effects) -> dict[tuple[int, int], tuple[int | None, int | None]]:
    return {
        (change.student.id, change.outcome.id): (change.before.value, change.after.value)
        for _, changes in effects.classes
        for change in changes
    }


def made_tasks(made: Small) -> list[int]:
    return [
        view.row.id
        for view in tasks.class_tasks(made.caller, made.class_id)
        if view.row.id != made.task_id
    ]


def totals_of(made: Small, task_ids: list[int]) -> dict[tuple[int, int], tuple[Total | None, str]]:
    found = {}
    for task_id in task_ids:
        for student in made.students:
            mark = desk.work_at_desk(made.caller, task_id, student).mark
            found[task_id, student] = (mark.total, mark.student.row.name)
    return found


def give_mark(made: Small, task_id: int, student: int, plan: MarkPlan) -> None:
    """Mark as planned: per criterion a choice or none; a remark; finished where it can be."""
    criteria = desk.desk(made.caller, task_id).criteria
    for stored, choice in zip(criteria, plan.choices, strict=True):
        if choice is not None:
            level, half_way = choice
            half_way = half_way and stored.criterion.allows_half_way and 0 <= level < 3
            wanted = Choice(None if level < 0 else stored.level_ids[level], half_way, level < 0)
            saving.choose(made.caller, task_id, student, stored.id, wanted, 10_000)
            if plan.remark:
                saving.remark(made.caller, task_id, student, stored.id, plan.remark, 10_000)
    if plan.finish and None not in plan.choices:
        saving.finish(made.caller, task_id, student)


@pytest.fixture
def revised_class(caller: Teacher) -> Small:
    """A class with three tasks by one rubric."""
    made = small(at(caller, -5))
    made.new_task("Second")
    made.new_task("Third")
    return replace(made, caller=caller)


def test_what_cannot_be_carried_goes_on_counting_until_it_is_finished_anew(
    caller: Teacher,
) -> None:
    made = small(caller)
    student = made.students[0]
    made.mark(student, 3, 2)
    old = desk.desk(caller, made.task_id).criteria
    saving.remark(caller, made.task_id, student, old[1].id, "Near the cliff", 10_000)
    saving.finish(caller, made.task_id, student)
    wall = mastery.wall(caller, made.class_id)
    revise(made, [*as_drafts(made)[:1], draft("c", list(made.outcomes))])
    (effect,) = revision_effects(caller, made.rubric_id, 2).tasks
    assert [mark.unmarked for mark in effect.marks] == [("Criterion c",)]
    assert [mark.stays for mark in effect.marks] == [True]
    put_on(made, 2, made.task_id)
    mark = desk.work_at_desk(caller, made.task_id, student).mark
    assert (mark.student.state, mark.unmarked) == ("changed", ("c",))
    assert mark.counting is not None
    assert mark.counting.revision == 1
    assert [(one.criterion.key, choice.level_id) for one, choice in mark.counting.choices] == [
        ("a", old[0].level_ids[2]),
        ("b", old[1].level_ids[1]),
    ]
    assert mastery.wall(caller, made.class_id).cells == wall.cells
    with pytest.raises(Refused, match="on revision 2 of its rubric in the meantime"):
        saving.choose(caller, made.task_id, student, old[0].id, Choice(old[0].level_ids[0]), 9)
    done = made.mark(student, 1, 1)
    assert done.counting is None
    assert mastery.wall(caller, made.class_id).cells[1][0].mastery.value == 100
    put_on(made, 1, made.task_id)
    back = desk.work_at_desk(caller, made.task_id, student).mark
    assert {n: choice.level_id for n, choice in back.choices.items()} == {
        old[0].id: old[0].level_ids[0],
        old[1].id: old[1].level_ids[1],
    }
    assert [remark.text for remark in back.remarks.values()] == ["Near the cliff"]


def test_what_was_taken_back_is_not_among_what_counts(caller: Teacher) -> None:
    """A bonus was chosen, and taken back before the mark was finished."""
    made = small(caller)
    bonus = draft("x", [], levels=2, bonus=True)
    revise(made, [*as_drafts(made), bonus])
    put_on(made, 2, made.task_id)
    student = made.students[0]
    *_, last = desk.desk(caller, made.task_id).criteria
    saving.choose(caller, made.task_id, student, last.id, Choice(last.level_ids[1]), 9)
    saving.choose(caller, made.task_id, student, last.id, Choice(None), 9)
    for stored in desk.desk(caller, made.task_id).criteria[:2]:
        saving.choose(caller, made.task_id, student, stored.id, Choice(stored.level_ids[0]), 9)
    saving.finish(caller, made.task_id, student)
    revise(made, [draft("n", [])])
    put_on(made, 3, made.task_id)
    counting = desk.work_at_desk(caller, made.task_id, student).mark.counting
    assert counting is not None
    assert [one.criterion.key for one, _ in counting.choices] == ["a", "b"]


def test_a_mark_with_nothing_on_criteria_has_no_new_version(caller: Teacher) -> None:
    made = small(caller)
    saving.remark(caller, made.task_id, made.students[0], None, "Well begun", 0)
    revise(made, [*as_drafts(made), draft("n", [])])
    put_on(made, 2, made.task_id)
    assert desk.work_at_desk(caller, made.task_id, made.students[0]).mark.version == 1
    assert faults(caller.database.path) == []


def test_a_draft_of_a_revision_changes_nothing_for_others(
    caller: Teacher, other_teacher: Teacher
) -> None:
    """Tasks are set, copies made and outcomes covered by the revision in force."""
    made = small(caller)
    library.share_rubric(caller, made.rubric_id, True)
    before = [
        library.library(other_teacher).shared[0].criteria,
        frameworks.class_framework(caller, made.class_id).rubrics,
        outcome_page.outcome_page(caller, made.class_id, made.outcomes[1]).criteria,
    ]
    revise(made, as_drafts(made)[:1], "Another title")
    assert [
        library.library(other_teacher).shared[0].criteria,
        frameworks.class_framework(caller, made.class_id).rubrics,
        outcome_page.outcome_page(caller, made.class_id, made.outcomes[1]).criteria,
    ] == before
    assert library.library(other_teacher).shared[0].title == "Route card"
    assert tasks.get_task(caller, made.new_task()).row.revision == 1
    view = rubrics.get_rubric(caller, made.rubric_id)
    thrown = revisions.discard_revision(caller, made.rubric_id, view.row.version)
    assert (thrown.row.number, thrown.row.title, len(thrown.criteria)) == (1, "Route card", 2)
    with pytest.raises(Refused, match="no revision being written"):
        revisions.discard_revision(caller, made.rubric_id, thrown.row.version)


def test_mastery_moves_in_every_class_that_teaches_the_outcome(
    caller: Teacher, other_teacher: Teacher
) -> None:
    """In classes of colleagues it is counted, and their tasks stay."""
    made = small(caller)
    made.mark(made.students[0], 4, 4)
    with caller.transaction() as db:
        db.execute(
            """INSERT INTO membership (class_id, person_id, role, since)
               VALUES (?, ?, 'teacher', '2026-09-01')""",
            (made.class_id, other_teacher.person_id),
        )
    theirs = replace(made, caller=other_teacher).caller
    with caller.transaction() as db:
        db.execute("DELETE FROM membership WHERE person_id = ? AND role = 'teacher'", (1,))
    effects = revision_effects(caller, made.rubric_id, 1)
    assert effects.tasks == ()
    revise(made, STRUCTURE["another value"][0](made))  # type: ignore[arg-type]
    effects = revision_effects(caller, made.rubric_id, 2)
    assert (effects.only_words, effects.tasks, effects.elsewhere) == (False, (), 1)
    with pytest.raises(Refused, match="not yours"):
        put_on(made, 2, made.task_id)
    put_on(made, 2)
    assert tasks.get_task(theirs, made.task_id).row.revision == 1


def test_an_incomplete_or_unknown_revision_is_refused_and_nothing_changes(
    caller: Teacher,
) -> None:
    made = small(caller)
    view = revise(made, with_criterion(title=" ", weight=5000)(made))  # type: ignore[arg-type]
    before = everything(caller.database)
    with pytest.raises(RefusedMany, match="needs a title") as refused:
        put_on(made, 2, made.task_id)
    assert {problem.field for problem in refused.value.problems} == {
        "criteria.0.title",
        "weights",
    }
    with pytest.raises(Refused, match="apply it"):
        rubrics.make_final(caller, made.rubric_id, view.row.version)
    with pytest.raises(Refused, match="a draft already"):
        revisions.revise(caller, made.rubric_id, view.row.version)
    for number in (0, 3):
        with pytest.raises(NotFound):
            put_on(made, number)
        with pytest.raises(NotFound):
            revisions.side_by_side(caller, made.rubric_id, 1, number or 99)
    with pytest.raises(Stale):
        revisions.apply_revision(caller, made.rubric_id, 2, view.row.version - 1, [])
    first_draft = rubrics.make_rubric(caller, "First")
    with pytest.raises(Refused, match="made final, not applied"):
        revisions.apply_revision(caller, first_draft, 1, 1, [])
    rubrics.delete_rubric(caller, first_draft)
    assert everything(caller.database) == before


def test_a_cell_written_by_hand_as_it_was_by_default_says_the_same(caller: Teacher) -> None:
    made = small(caller)
    cells = tuple(Cell(value, by_hand=True) for value in (100, 200, 300, 400))
    drafts = as_drafts(made)
    drafts[0] = replace(drafts[0], alignments=(replace(drafts[0].alignments[0], by_hand=cells),))
    revise(made, drafts)
    assert revision_effects(caller, made.rubric_id, 2).only_words


def test_totals_are_told_of_marks_that_stay_and_of_unfinished_ones_too(caller: Teacher) -> None:
    made = small(caller)
    whole, other = made.students
    made.mark(whole, 3, 2)
    first_criterion = desk.desk(caller, made.task_id).criteria[0]
    choice = Choice(first_criterion.level_ids[0])
    saving.choose(caller, made.task_id, other, first_criterion.id, choice, 10)
    second = made.new_task("Second")
    made.mark(whole, 1, 1, task_id=second)
    # The third level of criterion a is gone, and its lowest gives half a point.
    levels = as_drafts(made)[0].criterion.levels
    fewer = (replace(levels[0], points=50), levels[1], levels[3])
    one = as_drafts(made)[0]
    tie = replace(one.alignments[0], by_hand=(None,) * 3)
    changed = replace(one, criterion=replace(one.criterion, levels=fewer), alignments=(tie,))
    revise(made, [changed, as_drafts(made)[1]])
    effects = revision_effects(caller, made.rubric_id, 2)
    by_task = {effect.task.id: effect for effect in effects.tasks}
    told_of = {move.student: move for move in by_task[made.task_id].totals}
    stays, begun = told_of["Aino Berg"], told_of["Zoe Anders"]
    assert (stays.mark.stays, stays.mark.counts) == (True, False)
    assert (shown(stays.before), shown(stays.after)) == ((500, 800), (200, 400))
    assert (begun.mark.stays, begun.mark.counts) == (False, False)
    assert (shown(begun.before), shown(begun.after)) == ((100, 400), (50, 400))
    (carried,) = by_task[second].totals
    assert (carried.mark.counts, shown(carried.after)) == (True, (150, 800))


def test_a_value_that_moves_in_another_class_names_that_class(caller: Teacher) -> None:
    made = small(at(caller, -9))
    made.mark(made.students[0], 1, 1)
    second = classes.make_class(made.caller, "Tide Room", date(2026, 9, 1), date(2027, 6, 30))
    outcomes.teach_outcomes(made.caller, second, [made.outcomes[0]])
    students.add_student(made.caller, second, StudentLine(1, "Aino", "Berg", "S1"))
    latest = Scale(
        tuple(replace(one, cut=one.value) for one in four_levels.levels), mastery_level=0
    )
    shown_effects = scale_changes.preview_scale(caller, 1, 1, "S", latest)
    names = {(change.klass.name, change.outcome.code) for change in shown_effects.effects.changes}
    assert names == {("Chart Room", "W1"), ("Chart Room", "W2"), ("Tide Room", "W1")}
