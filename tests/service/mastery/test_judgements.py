"""Judgements over the calculation, in every class, from a day until lifted."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import date, timedelta

import pytest

from jade_ladder.core.comparison import SETTINGS
from jade_ladder.core.errors import NotFound, Refused, Stale
from jade_ladder.core.mastery import Mastery, State
from jade_ladder.core.methods import Method, MethodKind
from jade_ladder.core.trail import PointBy
from jade_ladder.service.changes import scales as scale_changes
from jade_ladder.service.classes import students
from jade_ladder.service.mastery import (
    comparison,
    coverage,
    expectation,
    outcome_page,
)
from jade_ladder.service.mastery.judgements import (
    Judged,
    judge,
    keep_judgement,
    lift_judgement,
    undo_judging,
    undo_lifting,
)
from jade_ladder.service.mastery.own_ladder import ladder_of_student
from jade_ladder.service.mastery.trail import EvidenceTrail, trail
from jade_ladder.service.mastery.wall import wall
from jade_ladder.service.outcomes import methods, outcomes, scales
from jade_ladder.service.outcomes.outcomes import OutcomeWords
from jade_ladder.service.shared.caller import Teacher
from tests.builders import Small, at, everything, school_day, second_class, small, undone
from tests.conftest import on_seven_days


@pytest.fixture
def made(caller: Teacher) -> Small:
    return replace(small(at(caller, -40)), caller=caller)


def mastery(made: Small, class_id: int = 0, as_of: date | None = None, student: int = 0) -> Mastery:
    """A student's mastery of W2 as the wall has it."""
    seen = wall(made.caller, class_id or made.class_id, as_of)
    row = next(at for at, one in enumerate(seen.students) if one.id == made.students[student])
    column = next(at for at, one in enumerate(seen.outcomes) if one.id == made.outcomes[1])
    return seen.cells[row][column].mastery


def told(made: Small) -> EvidenceTrail:
    return trail(made.caller, made.class_id, made.students[0], made.outcomes[1])


def judged(made: Small, level: int = 2, since: date | None = None) -> int:
    levels = [Judged(made.students[0], made.outcomes[1], level)]
    return judge(made.caller, made.class_id, levels, " Seen at sea ", since)


def lift(made: Small, until: date | None = None) -> int:
    row = told(made).judgement
    assert row is not None
    return lift_judgement(made.caller, made.class_id, row.id, until)


def day(made: Small, days: float) -> date:
    return school_day(at(made.caller, days))


def test_it_counts_everywhere_with_the_calculated_value_beside_it(made: Small) -> None:
    made.mark(made.students[0], 1, 1, caller=at(made.caller, -20))
    other = second_class(made.caller, made)
    outcomes.teach_outcomes(made.caller, other, [made.outcomes[1]])
    judged(made, since=day(made, -10))
    for class_id in (made.class_id, other):
        found = mastery(made, class_id)
        assert (found.value, found.state, found.judged) == (300, State.MASTERED, True)
        assert (found.calculated, found.evidence_changed) == (100, False)
    found = told(made)
    assert [(point.value, point.by) for point in found.trail.points] == [
        (100, PointBy.EVIDENCE),
        (300, PointBy.JUDGED),
    ]
    assert (found.calculated.value, found.sum) == (100, "one piece of evidence: 1.00")
    assert found.next_piece is not None, "what is next reads the calculated value"
    assert found.judgement is not None
    assert (found.judgement.reason, found.judgement.made_by) == ("Seen at sea", "Ilse Varga")
    ladder = ladder_of_student(made.caller, made.class_id, made.students[0]).ladder
    rung = next(one for one in ladder.rungs if one.outcome.id == made.outcomes[1])
    assert (rung.mastery.value, rung.mastery.judged) == (300, True)
    assert rung.judgement is not None
    assert rung.judgement.reason == "Seen at sea"
    assert ladder.roll_up.mastered == 1
    thin = {one.outcome.id: one.thin for one in coverage.coverage(made.caller, other).outcomes}
    assert thin == {made.outcomes[1]: 0}, "what is judged is not thin"
    picture = outcome_page.outcome_page(made.caller, made.class_id, made.outcomes[1]).pictures
    assert [one.picture.mastered for one in picture] == [0], "it was made after the task's day"


def test_without_evidence_it_counts_as_well(made: Small) -> None:
    judged(made, 3)
    found = mastery(made)
    assert (found.value, found.state, found.pieces) == (400, State.MASTERED, 0)
    assert (found.calculated, found.evidence_changed) == (None, False)


@on_seven_days
def test_it_holds_from_the_start_of_its_day_to_the_start_of_the_one_it_is_lifted(
    made: Small,
) -> None:
    made.mark(made.students[0], 1, 1, caller=at(made.caller, -20))
    judged(made, since=day(made, -10))
    entry = lift(made, day(made, -5))
    values = {days: mastery(made, as_of=day(made, days)).value for days in (-11, -10, -6, -5, 0)}
    assert values == {-11: 100, -10: 300, -6: 300, -5: 100, 0: 100}
    assert [point.by for point in told(made).trail.points][1:] == [PointBy.JUDGED, PointBy.LIFTED]
    undo_lifting(made.caller, made.class_id, entry)
    assert mastery(made).value == 300
    with pytest.raises(Stale):
        undo_lifting(made.caller, made.class_id, entry)


@on_seven_days
def test_the_sign_is_raised_by_a_change_of_evidence_and_cleared_by_keeping(made: Small) -> None:
    made.mark(made.students[0], 1, 1, caller=at(made.caller, -20))
    judged(made, since=day(made, -10))
    again = made.new_task("Second", due_at=made.caller.now - timedelta(days=3))
    made.mark(made.students[0], 2, 2, task_id=again)
    assert mastery(made).evidence_changed
    assert not mastery(made, as_of=day(made, -1)).evidence_changed, "an earlier day has no sign"
    row = told(made).judgement
    assert row is not None
    keep_judgement(made.caller, made.class_id, row.id)
    assert not mastery(made).evidence_changed
    made.mark(made.students[0], 2, 3, task_id=again, caller=at(made.caller, 0.01))
    later = replace(made, caller=at(made.caller, 0.02))
    assert mastery(later).evidence_changed


@on_seven_days
def test_a_new_one_ends_the_one_before_or_takes_its_place(made: Small) -> None:
    judged(made, 0, day(made, -20))
    judged(made, 1, day(made, -10))
    entry = judged(made, 3, day(made, -15))
    values = [mastery(made, as_of=day(made, days)).value for days in (-21, -20, -16, -15, -10, 0)]
    assert values == [None, 100, 100, 400, 400, 400]
    assert len(told(made).judged) == 3, "on record, though one of them held on no day"
    undo_judging(made.caller, made.class_id, entry)
    values = [mastery(made, as_of=day(made, days)).value for days in (-16, -15, -10, 0)]
    assert values == [100, 100, 200, 200]
    with pytest.raises(NotFound):
        undo_judging(made.caller, made.class_id, entry + 1)


def test_several_at_once_are_undone_at_once_unless_one_was_changed_since(made: Small) -> None:
    levels = [Judged(student, made.outcomes[1], 2) for student in made.students]
    before = wall(made.caller, made.class_id)
    entry = judge(made.caller, made.class_id, levels, "A long talk")
    assert [mastery(made, student=one).value for one in (0, 1)] == [300, 300]
    undo_judging(made.caller, made.class_id, entry)
    assert wall(made.caller, made.class_id) == before
    entry = judge(made.caller, made.class_id, levels, "A long talk")
    lift(made)
    rows = everything(made.caller.database)
    with pytest.raises(Stale, match="changed again since"):
        undo_judging(made.caller, made.class_id, entry)
    assert everything(made.caller.database) == rows


Operation = Callable[[Small], object]


@pytest.mark.parametrize(
    ("operation", "field"),
    [
        (lambda m: judge(m.caller, m.class_id, [], "Why"), "levels"),
        (lambda m: judge(m.caller, m.class_id, [Judged(m.students[0], 2, 2)] * 2, "Why"), "levels"),
        (lambda m: judge(m.caller, m.class_id, [Judged(m.students[0], 2, 2)], "  "), "reason"),
        (
            lambda m: judge(m.caller, m.class_id, [Judged(m.students[0], 2, 2)], "x" * 1001),
            "reason",
        ),
        (
            lambda m: judge(m.caller, m.class_id, [Judged(m.students[0], 2, 4)], "Why"),
            "levels.0.level",
        ),
        (
            lambda m: judge(m.caller, m.class_id, [Judged(m.students[0], 2, -1)], "Why"),
            "levels.0.level",
        ),
        (lambda m: judged(m, since=day(m, 1)), "since"),
        (lambda m: judged(m, since=date(2026, 8, 1)), "since"),
        (lambda m: judged(m, since=date(1026, 8, 1)), "since"),
        # Refused whole: the second one is not expected.
        (
            lambda m: (
                expectation.lift_outcome(m.caller, m.class_id, m.students[1], 2, "Modified"),
                judge(m.caller, m.class_id, [Judged(one, 2, 2) for one in m.students], "Why"),
            ),
            "levels.1.student_id",
        ),
        (
            lambda m: (
                students.set_left(m.caller, m.class_id, m.students[0], day(m, 0)),
                judged(m),
            ),
            "levels.0.student_id",
        ),
        (
            lambda m: (outcomes.retire_outcome(m.caller, m.class_id, 2, True), judged(m)),
            "levels",
        ),
        (lambda m: (judged(m, since=day(m, -3)), lift(m, day(m, -4))), "until"),
    ],
)
def test_what_cannot_be_is_refused_at_its_field(
    made: Small, operation: Operation, field: str
) -> None:
    with pytest.raises(Refused) as refused:
        operation(made)
    assert refused.value.field == field
    assert len(told(made).judged) <= 1 if field != "levels.0.student_id" else True


def test_it_keeps_its_place_on_a_scale_with_another_number_of_levels(made: Small) -> None:
    judged(made, 3)
    three = replace(scales.starting_scale(), levels=scales.starting_scale().levels[:3])
    three = replace(three, mastery_level=1)
    number = scales.add_scale(made.caller, "Three", three)
    scale_changes.put_on_scale(made.caller, made.class_id, made.outcomes[1], number)
    found = mastery(made)
    assert (found.value, found.level) == (300, 2)


def test_a_comparison_reads_what_is_calculated_and_says_what_agrees_with_judgements(
    made: Small,
) -> None:
    for number, level in enumerate((4, 1)):
        task = made.new_task(f"T{number}", due_at=made.caller.now - timedelta(days=9 - number))
        for student in made.students:
            made.mark(student, level, level, task_id=task)
    judged(made, 3)
    found = comparison.comparison(made.caller, made.class_id, made.outcomes[1])
    assert (found.judgements, found.agrees) == (1, None), "from eight judgements on"
    assert {cell.student_id: cell.judged for cell in found.cells} == dict(
        zip(made.students, (3, None), strict=True)
    )
    present = found.present[0]
    assert {cell.under[present].value for cell in found.cells} == {220}


def test_a_comparison_is_what_applying_each_setting_then_shows(made: Small) -> None:
    marks = [
        ((4, 1), (4, 1)),
        ((3, 3), (4, 3)),
        ((2, 2), (4, 4)),
        ((1, 3), (1, 4)),
        ((1, 3), (2, 4)),
    ]
    for number, places in enumerate(marks):
        task = made.new_task(f"T{number}", due_at=made.caller.now - timedelta(days=9 - number))
        for student, levels in zip(made.students, places, strict=True):
            made.mark(student, *levels, task_id=task)
    found = comparison.comparison(made.caller, made.class_id)
    moved = set()
    for setting, method in enumerate(SETTINGS):
        with undone(made.caller.database):
            version = found.klass.version
            methods.change_class_method(made.caller, made.class_id, version, method)
            then = comparison.comparison(made.caller, made.class_id)
            seen = wall(made.caller, made.class_id)
        assert then.present == (setting,) * 2
        shown = {
            (student.id, outcome.id): cell.mastery
            for student, row in zip(seen.students, seen.cells, strict=True)
            for outcome, cell in zip(seen.outcomes, row, strict=True)
        }
        for before, after in zip(found.cells, then.cells, strict=True):
            place = before.student_id, before.outcome_id
            assert before.under[setting] == after.under[setting] == shown[place]
            was = before.under[found.present[0]]
            changed = (was.level, was.state) != (shown[place].level, shown[place].state)
            assert changed == (before.changes[setting] is not comparison.Change.NONE)
            assert after.changes[setting] is comparison.Change.NONE
            moved.add(before.changes[setting])
    assert moved == set(comparison.Change), "the class shows every kind of change"


@on_seven_days
def test_methods_from_a_day_on_and_altogether_are_undone(made: Small) -> None:
    def held() -> list[str]:
        found = wall(made.caller, made.class_id)
        earlier = wall(made.caller, made.class_id, day(made, -8))
        return [earlier.class_method.name, found.class_method.name]

    latest, highest = Method(MethodKind.LATEST), Method(MethodKind.HIGHEST)

    def change(caller: Teacher, class_id: int, version: int, *how: Method | date) -> int:
        return methods.change_class_method(caller, class_id, version, *how) or 0  # type: ignore[arg-type]

    one = change(made.caller, made.class_id, 1, latest, day(made, -10))
    assert held() == ["Latest", "Latest"]
    two = change(made.caller, made.class_id, 2, highest, day(made, -5))
    assert held() == ["Latest", "Highest"]
    with pytest.raises(Stale, match="changed again since"):
        methods.undo_method_changes(made.caller, made.class_id, [one])
    methods.undo_method_changes(made.caller, made.class_id, [two])
    assert held() == ["Latest", "Latest"]
    three = change(made.caller, made.class_id, 4, highest)
    assert held() == ["Highest", "Highest"], "altogether"
    methods.undo_method_changes(made.caller, made.class_id, [three, one])
    assert held() == ["Decaying average 60%", "Decaying average 60%"]
    # An earlier day takes the place of what was chosen for a later one.
    change(made.caller, made.class_id, 7, latest, day(made, -5))
    change(made.caller, made.class_id, 8, highest, day(made, -9))
    assert held() == ["Highest", "Highest"]
    earliest = wall(made.caller, made.class_id, day(made, -10))
    assert earliest.class_method.name == "Decaying average 60%"
    with pytest.raises(Refused, match="has not come yet"):
        change(made.caller, made.class_id, 9, latest, day(made, 1))


def test_two_tabs_never_change_a_method_over_each_other(made: Small) -> None:
    latest = Method(MethodKind.LATEST)
    both = dict.fromkeys(made.outcomes, 1)
    entries = methods.change_outcome_methods(made.caller, made.class_id, both, latest)
    assert len(entries) == 2
    rows = everything(made.caller.database)
    with pytest.raises(Stale):
        methods.change_outcome_methods(made.caller, made.class_id, both, None)
    assert everything(made.caller.database) == rows
    methods.undo_method_changes(made.caller, made.class_id, entries)
    assert wall(made.caller, made.class_id).own_methods == frozenset()


@pytest.mark.parametrize("change", [keep_judgement, lift_judgement])
def test_a_judgement_of_another_class_is_told_as_nobodys(
    made: Small, change: Callable[[Teacher, int, int], object]
) -> None:
    caller, number = made.caller, second_class(made.caller, made)
    outcome = outcomes.add_outcome(caller, number, OutcomeWords("T1", "I can row", "", None))
    judge(caller, number, [Judged(made.students[0], outcome, 2)], "Seen at sea")
    row = trail(caller, number, made.students[0], outcome).judgement
    assert row is not None
    answers = []
    for judgement_id in (row.id, 9999):
        with pytest.raises(NotFound) as error:
            change(caller, made.class_id, judgement_id)
        answers.append(str(error.value))
    assert answers[0] == answers[1]
