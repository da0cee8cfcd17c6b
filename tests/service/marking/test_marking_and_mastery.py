"""From a choice at the desk to the wall and the trail."""

from __future__ import annotations

from datetime import datetime, timedelta

import pytest

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.core.evidence import AttemptsRule
from jade_ladder.core.mastery import State
from jade_ladder.core.methods import Method, MethodKind
from jade_ladder.core.trail import Direction
from jade_ladder.service.marking import desk, saving
from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.mastery import trail
from jade_ladder.service.mastery import wall as mastery
from jade_ladder.service.mastery.wall import WallCell
from jade_ladder.service.outcomes import methods
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import attempts, tasks
from jade_ladder.store.work import tasks as task_store
from tests.builders import Small, at, draft, final_rubric, small


def cell(made: Small, student: int, outcome: int, caller: Teacher | None = None) -> WallCell:
    wall = mastery.wall(caller or made.caller, made.class_id)
    row = [one.id for one in wall.students].index(student)
    column = [one.id for one in wall.outcomes].index(outcome)
    return wall.cells[row][column]


def test_a_finished_mark_is_evidence_and_an_unfinished_one_is_not(caller: Teacher) -> None:
    made = small(caller)
    student = made.students[0]
    a, b = desk.desk(caller, made.task_id).criteria
    saving.choose(caller, made.task_id, student, a.id, Choice(a.level_ids[1]), 0)
    assert cell(made, student, made.outcomes[0]).mastery.state is State.NO_EVIDENCE
    with pytest.raises(Refused, match="Still to mark: Criterion b"):
        saving.finish(caller, made.task_id, student)
    saving.choose(caller, made.task_id, student, b.id, Choice(b.level_ids[2]), 0)
    mark = saving.finish(caller, made.task_id, student)
    assert mark.finished
    assert cell(made, student, made.outcomes[0]).mastery.value == 250
    assert cell(made, student, made.outcomes[1]).mastery.value == 300


def test_reopening_changes_nothing_until_it_is_finished_again(caller: Teacher) -> None:
    made = small(caller)
    student = made.students[0]
    made.mark(student, 1, 1)
    a, _ = desk.desk(caller, made.task_id).criteria
    changed = saving.choose(caller, made.task_id, student, a.id, Choice(a.level_ids[3]), 9)
    assert not changed.finished
    assert cell(made, student, made.outcomes[0]).mastery.value == 100
    saving.finish(caller, made.task_id, student)
    assert cell(made, student, made.outcomes[0]).mastery.value == 250


def test_every_version_of_a_mark_can_be_read_again(caller: Teacher) -> None:
    made = small(caller)
    student = made.students[0]
    a, _ = desk.desk(caller, made.task_id).criteria
    for place in (0, 1, 2):
        choice = Choice(a.level_ids[place])
        saving.choose(caller, made.task_id, student, a.id, choice, place)
    saving.choose(caller, made.task_id, student, a.id, Choice(None), 3)
    with caller.reading() as db:
        levels = db.execute(
            """SELECT level_id FROM mark_choice JOIN (VALUES (1), (2), (3), (4)) AS version
               WHERE since_version <= version.column1
                 AND (until_version IS NULL OR until_version > version.column1)
               ORDER BY version.column1"""
        ).fetchall()
    assert [level for (level,) in levels] == [*a.level_ids[:3], None]


def test_not_assessed_finishes_but_says_nothing(caller: Teacher) -> None:
    made = small(caller)
    student = made.students[0]
    a, b = desk.desk(caller, made.task_id).criteria
    saving.choose(caller, made.task_id, student, a.id, Choice(a.level_ids[3]), 0)
    saving.choose(caller, made.task_id, student, b.id, Choice(None, not_assessed=True), 0)
    mark = saving.finish(caller, made.task_id, student)
    assert mark.total is not None
    assert (mark.total.value, mark.total.out_of) == (800, 800)
    assert cell(made, student, made.outcomes[0]).mastery.value == 400
    assert cell(made, student, made.outcomes[1]).mastery.state is State.NO_EVIDENCE


def test_half_way_where_it_is_allowed(caller: Teacher) -> None:
    made = small(caller)
    student = made.students[0]
    a, b = desk.desk(caller, made.task_id).criteria
    half = saving.choose(caller, made.task_id, student, a.id, Choice(a.level_ids[1], True), 0)
    assert half.total is not None
    assert (half.total.value, half.total.out_of) == (250, 400)
    for stored, choice in [
        (b, Choice(b.level_ids[1], half_way=True)),
        (a, Choice(a.level_ids[3], half_way=True)),
        (a, Choice(None, half_way=True)),
        (a, Choice(b.level_ids[0])),
        (a, Choice(a.level_ids[0], not_assessed=True)),
    ]:
        with pytest.raises(Refused):
            saving.choose(caller, made.task_id, student, stored.id, choice, 9)


def test_a_mark_says_how_it_moves_each_outcome_before_it_is_finished(caller: Teacher) -> None:
    made = small(caller)
    student = made.students[0]
    made.mark(student, 2, 2)
    second = made.new_task()
    later = at(caller, 1)
    a, b = desk.desk(later, second).criteria
    saving.choose(later, second, student, a.id, Choice(a.level_ids[3]), 0)
    mark = saving.choose(later, second, student, b.id, Choice(b.level_ids[3]), 0)
    assert [(m.outcome.code, m.before.value, m.after.value) for m in mark.moves] == [
        ("W1", 200, 320),
        ("W2", 200, 320),
    ]
    finished = saving.finish(later, second, student)
    assert finished.moves == mark.moves


def test_evidence_is_in_the_order_of_when_it_was_done(caller: Teacher) -> None:
    """The second task is marked first; the first was handed in later."""
    made = small(caller)
    student = made.students[0]
    second = made.new_task()
    attempts.enter_work(caller, second, student, "Early", done_at=caller.now - timedelta(days=9))
    made.mark(student, 1, 1, task_id=second)
    attempts.enter_work(
        caller, made.task_id, student, "Late", done_at=caller.now - timedelta(days=1)
    )
    made.mark(student, 4, 4, caller=at(caller, 0.1))
    found = trail.trail(at(caller, 1), made.class_id, student, made.outcomes[1])
    assert [piece.evidence.value for piece in found.pieces] == [100, 400]
    assert found.mastery.value == 280
    assert found.sum == "0.6 × 4 + 0.4 × 1 = 2.8, so 2.80"


def test_practice_and_excused_work_is_no_evidence(caller: Teacher) -> None:
    made = small(caller)
    student = made.students[0]
    practice = made.new_task("Practice", practice=True)
    mark = made.mark(student, 4, 4, task_id=practice)
    assert mark.moves == ()
    made.mark(student, 2, 2)
    attempts.excuse(caller, made.task_id, student, True)
    assert cell(made, student, made.outcomes[0]).mastery.state is State.NO_EVIDENCE


def test_an_outcomes_own_method_and_minimum(caller: Teacher) -> None:
    made = small(caller)
    student = made.students[0]
    first, second = made.outcomes
    methods.change_outcome_method(caller, made.class_id, first, Method(MethodKind.HIGHEST), 1)
    methods.change_outcome_method(caller, made.class_id, second, None, 2)
    made.mark(student, 4, 4)
    assert cell(made, student, second).mastery.state is State.NEEDS_EVIDENCE
    made.mark(student, 1, 1, task_id=made.new_task(), caller=at(caller, 1))
    later = at(caller, 2)
    assert cell(made, student, first, later).mastery.value == 400
    low = cell(made, student, second, later)
    assert (low.mastery.value, low.mastery.state) == (220, State.NOT_YET)
    assert low.direction is Direction.DOWN
    assert not low.slipped, "one piece was too few to have mastered it"
    for minimum in (0, 21):
        with pytest.raises(Refused) as refused:
            methods.change_outcome_method(caller, made.class_id, first, None, minimum)
        assert refused.value.field == "minimum"


def test_as_of_a_day_ends_with_the_day_at_the_school(caller: Teacher) -> None:
    """12:00 UTC on 25 November is already the 26th in Auckland."""
    made = small(at(caller, -30))
    student = made.students[0]
    made.mark(student, 3, 3, caller=caller)
    today = datetime(2026, 11, 26).date()
    now = mastery.wall(caller, made.class_id, today)
    before = mastery.wall(caller, made.class_id, today - timedelta(days=1))
    assert [one.students[1].name for one in (now, before)] == ["Aino Berg"] * 2
    assert now.cells[1][0].mastery.value == 300
    assert before.cells[1][0].mastery.value is None
    with pytest.raises(Refused, match="has not come yet"):
        mastery.wall(caller, made.class_id, today + timedelta(days=1))


def test_the_wall_counts_students_and_outcomes(caller: Teacher) -> None:
    made = small(caller)
    made.mark(made.students[0], 4, 3)
    made.mark(made.students[1], 1, 2)
    wall = mastery.wall(caller, made.class_id)
    assert [student.name for student in wall.students] == ["Zoe Anders", "Aino Berg"]
    assert [(one.mastered, one.of) for one in wall.roll_ups] == [(0, 2), (2, 2)]
    assert [picture.at_level for picture in wall.pictures] == [(1, 0, 1, 0), (0, 1, 1, 0)]
    assert [(p.mastered, p.counted) for p in wall.pictures] == [(1, 2), (1, 2)]


def test_attempts_rules_reach_the_wall(caller: Teacher) -> None:
    """Further attempts come later; what is stored for them already counts by the task's rule."""
    made = small(caller)
    student = made.students[0]
    made.mark(student, 4, 4)
    with caller.transaction() as db:
        record = task_store.task_student(db, made.task_id, student)
        attempts.store.add_attempt(
            db, record, caller.now + timedelta(hours=1), attempts.Dating.HANDED_IN
        )
    made.mark(student, 2, 2, caller=at(caller, 0.2), attempt=2)
    later = at(caller, 1)
    for rule, value in [
        (AttemptsRule.LATEST, 200),
        (AttemptsRule.HIGHEST, 400),
        (AttemptsRule.MEAN, 300),
        (AttemptsRule.EVERY, 280),
    ]:
        with caller.transaction() as db:
            db.execute("UPDATE task SET attempts_rule = ?", (rule,))
        assert cell(made, student, made.outcomes[0], later).mastery.value == value


def test_the_trail_shows_remarks_that_speak_of_the_outcome(caller: Teacher) -> None:
    made = small(caller)
    student = made.students[0]
    a, b = desk.desk(caller, made.task_id).criteria
    saving.remark(caller, made.task_id, student, a.id, "Only of W1", 0)
    saving.remark(caller, made.task_id, student, b.id, "Of both", 0)
    saving.remark(caller, made.task_id, student, None, " On the whole ", 0)
    made.mark(student, 3, 3)
    saving.remark(caller, made.task_id, student, b.id, "Not finished yet", 99)
    found = trail.trail(caller, made.class_id, student, made.outcomes[1])
    assert found.pieces[0].remarks == ("Of both", "On the whole")


def test_under_each_method_and_next_piece(caller: Teacher) -> None:
    made = small(caller)
    student = made.students[0]
    made.mark(student, 2, 2)
    found = trail.trail(caller, made.class_id, student, made.outcomes[0])
    assert len(found.methods) == len(MethodKind)
    assert found.next_piece is not None
    assert (found.next_piece.value, found.next_piece.smallest) == (350, 325)
    nothing = trail.trail(caller, made.class_id, made.students[1], made.outcomes[0])
    assert (nothing.methods, nothing.sum) == ((), "")
    with pytest.raises(NotFound):
        trail.trail(caller, made.class_id, 999, made.outcomes[0])


def test_a_bonus_adds_to_the_total_and_needs_no_choice(caller: Teacher) -> None:
    made = small(caller)
    number = final_rubric(
        caller, [draft("a", [made.outcomes[0]]), draft("x", [], bonus=True)], "With bonus"
    )
    task_id = made.new_task("Bonus", rubric_id=number, points=1000)
    a, bonus = desk.desk(caller, task_id).criteria
    student = made.students[0]
    saving.choose(caller, task_id, student, a.id, Choice(a.level_ids[2]), 0)
    assert saving.finish(caller, task_id, student).total.value == 750  # type: ignore[union-attr]
    more = saving.choose(caller, task_id, student, bonus.id, Choice(bonus.level_ids[1]), 0)
    assert more.total is not None
    assert (more.total.value, more.total.out_of) == (950, 1000)


def test_a_late_hand_in_is_told(caller: Teacher) -> None:
    made = small(caller, due=datetime(2026, 11, 20, 16, 0))
    due = tasks.get_task(caller, made.task_id).row.due_at
    assert due is not None
    attempts.enter_work(
        caller, made.task_id, made.students[0], "Late", done_at=due + timedelta(hours=3)
    )
    assert desk.work_at_desk(caller, made.task_id, made.students[0]).late_minutes == 180


def test_a_remark_too_long_is_refused_and_an_empty_one_takes_it_back(caller: Teacher) -> None:
    made = small(caller)
    student = made.students[0]
    with pytest.raises(Refused):
        saving.remark(caller, made.task_id, student, None, "x" * 5001, 0)
    saving.remark(caller, made.task_id, student, None, "Well seen", 0)
    mark = saving.remark(caller, made.task_id, student, None, "", 1)
    assert mark.remarks[None].text == ""
