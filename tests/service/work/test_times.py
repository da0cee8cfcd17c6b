"""When work was done: handed in, on paper, observed, corrected; and as of an earlier day."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime, timedelta

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from jade_ladder.core.errors import Refused
from jade_ladder.core.marking import time_on_paper
from jade_ladder.core.methods import Method, MethodKind
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.service.classes import students
from jade_ladder.service.marking import desk, saving
from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.mastery import trail
from jade_ladder.service.mastery import wall as mastery
from jade_ladder.service.outcomes import methods
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import attempts, setting, tasks
from jade_ladder.store.evidence.evidence import renew_all_evidence
from jade_ladder.store.work.attempts import Dating
from jade_ladder.store.work.standing import TaskStudentRow
from tests.builders import Small, at, school_day, small, undone
from tests.conftest import on_seven_days


def row(made: Small, student: int, task_id: int | None = None) -> TaskStudentRow:
    view = tasks.get_task(made.caller, task_id or made.task_id)
    return next(one.row for one in view.students if one.row.student_id == student)


def value(made: Small, student: int, caller: Teacher) -> int | None:
    found = trail.trail(caller, made.class_id, student, made.outcomes[0])
    return found.mastery.value


@pytest.fixture
def made(caller: Teacher) -> Small:
    return small(at(caller, -60))


def late_minutes(made: Small, task_id: int, student: int) -> int:
    return desk.work_at_desk(made.caller, task_id, student).late_minutes


@on_seven_days
def test_marking_november_before_september_does_not_turn_the_order_round(
    caller: Teacher, made: Small
) -> None:
    """Work on paper counts from when it was due, whenever it is marked, and is never late."""
    student = made.students[0]
    september = made.new_task("September", due_at=caller.now - timedelta(days=50))
    november = made.new_task("November", due_at=caller.now - timedelta(days=5))
    made.mark(student, 4, 4, task_id=november, caller=at(caller, -1))
    late = made.mark(student, 1, 1, task_id=september, caller=caller)
    assert value(made, student, caller) == 280
    assert late_minutes(made, september, student) == 0
    assert late.student.row.dating is Dating.ON_PAPER
    assert late.student.row.handed_in_at is None
    assert late.student.row.done_at == caller.now - timedelta(days=50)


@on_seven_days
def test_the_time_is_decided_once_at_the_first_choice(caller: Teacher, made: Small) -> None:
    student, due = made.students[0], caller.now + timedelta(days=2)
    task_id = made.new_task("Soon", due_at=due)
    criterion = desk.desk(caller, task_id).criteria[0]
    saving.remark(caller, task_id, student, None, "On paper", 0)
    assert row(made, student, task_id).dating is Dating.UNDECIDED
    choice = Choice(criterion.level_ids[2])
    saving.choose(caller, task_id, student, criterion.id, choice, 10)
    assert row(made, student, task_id).done_at == caller.now
    # Neither a later choice nor another due time moves it.
    later = at(caller, 5)
    saving.choose(later, task_id, student, criterion.id, Choice(criterion.level_ids[0]), 10)
    view = tasks.get_task(later, task_id).row
    words = setting.TaskWords(
        view.title, "", view.kind, view.rubric_id, caller.now - timedelta(days=9), None, False
    )
    tasks.change_task(later, task_id, view.version, words)
    assert row(made, student, task_id).done_at == caller.now


@on_seven_days
def test_work_without_a_time_is_dated_as_paper_and_with_one_as_handed_in(
    caller: Teacher, made: Small
) -> None:
    one, other = made.students
    due = caller.now - timedelta(days=3)
    task_id = made.new_task("Route", due_at=due)
    attempts.enter_work(caller, task_id, one, "My route")
    assert row(made, one, task_id).dating is Dating.UNDECIDED
    mark = made.mark(one, 3, 3, task_id=task_id, caller=caller)
    assert (mark.student.row.done_at, late_minutes(made, task_id, one)) == (due, 0)
    attempts.enter_work(caller, task_id, other, "Mine", done_at=due + timedelta(hours=2))
    mark = made.mark(other, 3, 3, task_id=task_id, caller=caller)
    assert mark.student.row.dating is Dating.HANDED_IN
    assert late_minutes(made, task_id, other) == 120
    # A corrected time is what evidence goes by; late is still by when it was handed in.
    attempts.correct_times(caller, task_id, [other], due - timedelta(days=1))
    assert row(made, other, task_id).done_at == due - timedelta(days=1)
    assert late_minutes(made, task_id, other) == 120


@on_seven_days
def test_observed_is_the_time_of_the_tap(caller: Teacher, made: Small) -> None:
    student = made.students[0]
    due = caller.now - timedelta(days=3)
    task_id = made.new_task("Watch", kind=TaskKind.OBSERVED, due_at=due)
    mark = made.mark(student, 3, 3, task_id=task_id, caller=caller)
    assert (mark.student.row.dating, mark.student.row.done_at) == (Dating.OBSERVED, caller.now)


@on_seven_days
def test_a_time_is_corrected_for_several_and_taken_back(caller: Teacher, made: Small) -> None:
    for student in made.students:
        made.mark(student, 3, 3, caller=caller)
    before = [row(made, student).done_at for student in made.students]
    moved = caller.now - timedelta(days=20)
    attempts.correct_times(caller, made.task_id, list(made.students), moved)
    for student in made.students:
        found = row(made, student)
        assert (found.done_at, found.corrected_at) == (moved, caller.now)
        assert (found.dated_at, found.dating) == (caller.now, Dating.ON_PAPER)
    pieces = trail.trail(caller, made.class_id, made.students[0], made.outcomes[0]).pieces
    assert [piece.evidence.done_at for piece in pieces] == [moved]
    attempts.correct_times(caller, made.task_id, list(made.students), None)
    assert [row(made, student).done_at for student in made.students] == before
    assert row(made, made.students[0]).corrected_at is None


@pytest.mark.parametrize(
    ("when", "whom", "field"),
    [
        (timedelta(days=1), "both", "done_at"),
        (timedelta(days=-4000), "both", "done_at"),
        (timedelta(days=-1), "nobody", "student_ids"),
        (timedelta(days=-1), "second", "student_ids"),
    ],
)
def test_a_correction_that_cannot_be_is_refused_at_its_field(
    caller: Teacher, made: Small, when: timedelta, whom: str, field: str
) -> None:
    made.mark(made.students[0], 3, 3, caller=caller)
    students = {"both": made.students, "nobody": (), "second": made.students[1:]}[whom]
    with pytest.raises(Refused) as refused:
        attempts.correct_times(caller, made.task_id, list(students), caller.now + when)
    assert refused.value.field == field


moments = st.datetimes(datetime(2026, 1, 1), datetime(2027, 1, 1))


@given(moments, st.none() | moments, st.none() | moments)
def test_paper_is_dated_by_its_due_time_if_that_is_past(
    now: datetime, due: datetime | None, before: datetime | None
) -> None:
    found = time_on_paper(now, due, before)
    assert before is None or found >= before
    assert found <= max(now, before or now)
    wanted = due if due is not None and due < now else now
    assert found == (wanted if before is None else max(wanted, before))


@given(
    st.lists(st.tuples(st.integers(1, 4), st.integers(-50, -1)), min_size=1, max_size=5),
    st.randoms(),
)
@settings(max_examples=25, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_in_whatever_order_paper_is_marked_the_order_of_evidence_is_that_of_due_times(
    caller: Teacher, made: Small, pieces: list[tuple[int, int]], luck: object
) -> None:
    student = made.students[0]
    with undone(caller.database):
        marked = [
            (made.new_task(f"T{n}", due_at=caller.now + timedelta(days=days, minutes=n)), level)
            for n, (level, days) in enumerate(pieces)
        ]
        luck.shuffle(marked)  # type: ignore[attr-defined]
        for n, (task_id, level) in enumerate(marked):
            made.mark(student, level, level, task_id=task_id, caller=at(caller, n / 100))
        found = trail.trail(at(caller, 1), made.class_id, student, made.outcomes[0])
        order = sorted(range(len(pieces)), key=lambda n: (pieces[n][1], n))
        assert [piece.evidence.value for piece in found.pieces] == [
            pieces[n][0] * 100 for n in order
        ]


@on_seven_days
def test_as_of_a_day_goes_by_the_methods_of_that_day(caller: Teacher, made: Small) -> None:
    student, (one, two) = made.students[0], made.outcomes
    for days, level in ((-40, 1), (-35, 4)):
        task_id = made.new_task("T", due_at=caller.now + timedelta(days=days))
        made.mark(student, level, level, task_id=task_id, caller=at(caller, days + 1))

    def values(days: float) -> list[int | None]:
        day = at(caller, days).now.date()
        wall = mastery.wall(caller, made.class_id, day)
        place = [found.id for found in wall.students].index(student)
        return [cell.mastery.value for cell in wall.cells[place]]

    def changed(days: float, outcome_id: int, method: Method | None) -> None:
        """An outcome's own method, from that day on."""
        then = at(caller, days)
        methods.change_outcome_method(then, made.class_id, outcome_id, method, 1, school_day(then))

    before = values(-25)
    latest, highest = Method(MethodKind.LATEST), Method(MethodKind.HIGHEST)
    mean, then = Method(MethodKind.MEAN), at(caller, -20)
    methods.change_class_method(then, made.class_id, 1, mean, school_day(then))
    changed(-10, one, highest)
    changed(-5, one, latest)
    changed(-3, two, latest)
    changed(-2, two, None)
    assert values(-25) == before == [280, 280]
    assert values(-15) == [250, 250]
    assert values(-7) == [400, 250]
    assert values(-2.5) == [400, 400]
    assert values(0) == [400, 250]
    day = at(caller, -15).now.date()
    found = trail.trail(caller, made.class_id, student, one, day)
    assert (found.mastery.value, found.rules.method.kind) == (250, MethodKind.MEAN)


def test_several_criteria_are_combined_as_the_class_of_the_task_does(
    caller: Teacher, made: Small
) -> None:
    """Whichever class looks: another class that teaches the outcome sees the same evidence."""
    from jade_ladder.formats.class_list import StudentLine
    from jade_ladder.service.classes import classes
    from jade_ladder.service.outcomes import outcomes

    student = made.students[0]
    made.mark(student, 1, 4)
    other = classes.make_class(made.caller, "Second", made.caller.now.date(), caller.now.date())
    outcomes.teach_outcomes(made.caller, other, [made.outcomes[0]])
    joining = StudentLine(1, "Aino", "Berg", "S1")
    assert students.add_student(made.caller, other, joining) == student
    later = replace(caller, now=made.caller.now + timedelta(days=1))
    with caller.transaction() as db:
        db.execute("UPDATE school_class SET combining = 'highest' WHERE id = ?", (made.class_id,))
        db.execute("UPDATE school_class SET combining = 'lowest' WHERE id = ?", (other,))
        renew_all_evidence(db)
    for class_id in (made.class_id, other):
        found = trail.trail(later, class_id, student, made.outcomes[0])
        assert found.mastery.value == 400
