"""Evidence set aside: on record with why, and out of everything that is worked out."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from jade_ladder.core.errors import Refused
from jade_ladder.core.evidence import View, gather
from jade_ladder.core.mastery import mastery_of
from jade_ladder.service.evidence.evidence import Alignments, evidence_of
from jade_ladder.service.marking import again, desk, handing_back
from jade_ladder.service.mastery.own_ladder import own_ladder
from jade_ladder.service.mastery.setting_aside import (
    count_evidence_again,
    set_aside_at_task,
    set_evidence_aside,
)
from jade_ladder.service.mastery.trail import trail
from jade_ladder.service.mastery.wall import wall
from jade_ladder.service.shared.caller import Student, Teacher
from jade_ladder.store.evidence.choices import finished_choices
from jade_ladder.store.evidence.evidence import evidence_faults
from jade_ladder.store.evidence.set_aside import set_aside_of_students
from tests.builders import Small, at, small, undone


@pytest.fixture
def made(caller: Teacher) -> Small:
    return replace(small(at(caller, -20)), caller=caller)


def value(made: Small, column: int = 1) -> int | None:
    """The first student's mastery of W1 or W2."""
    seen = wall(made.caller, made.class_id)
    row = next(at for at, one in enumerate(seen.students) if one.id == made.students[0])
    return seen.cells[row][column].mastery.value


def mark(made: Small, days: float, a: int, b: int, task: int | None = None) -> None:
    made.mark(made.students[0], a, b, task_id=task, caller=at(made.caller, days))


def test_it_is_out_of_everything_until_it_counts_again(made: Small) -> None:
    student, outcome = made.students[0], made.outcomes[1]
    others = [made.new_task(f"Task {number}") for number in (2, 3)]
    for days, (task, level) in enumerate(zip((made.task_id, *others), (4, 4, 1), strict=True)):
        mark(made, days - 9, 4, level, task)
    handing_back.hand_back(made.caller, others[1], None, True)
    before = value(made)
    assert before == 220, "4, 4, 1 under the decaying average at 60%"
    assert set_evidence_aside(made.caller, others[1], [student], " The room was noisy ") == 2
    assert value(made) == 400
    told = trail(made.caller, made.class_id, student, outcome)
    assert [piece.counted for piece in told.pieces] == [True, True, False]
    aside = told.pieces[-1].aside
    assert aside is not None
    assert (aside.reason, aside.by.split()[0]) == ("The room was noisy", "Ilse")
    assert told.pieces[-1].evidence.value == 100
    assert told.trail.points[-1].value == 400
    # Neither the desk nor the student's own ladder takes it.
    assert desk.work_at_desk(made.caller, others[1], student).mark.moves == ()
    (ladder,) = own_ladder(Student(made.caller.database, student, made.caller.now))
    assert [rung.mastery.value for rung in ladder.rungs] == [None, None]
    assert [rung.aside for rung in ladder.rungs] == [1, 1], "but they are told of it"
    # As of an earlier day it is as it is recorded today, too.
    assert [one.outcome_id for _, one in set_aside_at_task(made.caller, others[1])] == list(
        made.outcomes
    )
    assert count_evidence_again(made.caller, others[1], [student], None, [outcome]) == 1
    assert value(made) == before
    assert [one.outcome_id for _, one in set_aside_at_task(made.caller, others[1])] == [
        made.outcomes[0]
    ]


def test_a_latest_attempt_that_is_set_aside_lets_the_one_before_count(made: Small) -> None:
    student = made.students[0]
    mark(made, -9, 3, 2)
    again.open_attempts(at(made.caller, -8), made.task_id, [student], "", None, False)
    made.mark(student, 4, 4, caller=at(made.caller, -7), attempt=2)
    assert value(made) == 400
    assert set_evidence_aside(made.caller, made.task_id, [student], "Copied", 2) == 2
    assert value(made) == 200
    # What is set aside carries nothing into the next.
    again.open_attempts(made.caller, made.task_id, [student], "")
    choices = desk.work_at_desk(made.caller, made.task_id, student, 3).mark.choices
    assert choices == {}


def test_what_cannot_be_set_aside_is_said(made: Small) -> None:
    student, other = made.students
    mark(made, -9, 3, 2)
    task = made.task_id
    with pytest.raises(Refused, match="reason"):
        set_evidence_aside(made.caller, task, [student], "  ")
    with pytest.raises(Refused, match="Choose the students"):
        set_evidence_aside(made.caller, task, [], "Noisy")
    with pytest.raises(Refused, match="no evidence of this"):
        set_evidence_aside(made.caller, task, [other], "Noisy")
    with pytest.raises(Refused, match="Nothing of this"):
        count_evidence_again(made.caller, task, [student])
    set_evidence_aside(made.caller, task, [student], "Noisy")
    with pytest.raises(Refused, match="no evidence of this"):
        set_evidence_aside(made.caller, task, [student], "Noisy")


LEVEL = st.integers(1, 4)


@settings(max_examples=20, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(
    st.lists(st.tuples(LEVEL, LEVEL), min_size=1, max_size=4),
    st.lists(
        st.tuples(st.integers(0, 3), st.sampled_from([0, 1, None]), st.booleans()), max_size=8
    ),
)
def test_any_pieces_set_aside_in_any_order_leave_what_the_core_gives(
    made: Small, marks: list[tuple[int, int]], deeds: list[tuple[int, int | None, bool]]
) -> None:
    """What is kept is right, and the wall is what the core makes of the rest."""
    student = made.students[0]
    with undone(made.caller.database) as db:
        tasks = [made.task_id] + [made.new_task(f"Task {one}") for one in range(1, len(marks))]
        for days, (task, (a, b)) in enumerate(zip(tasks, marks, strict=True)):
            mark(made, days - 9, a, b, task)
        for which, column, off in deeds:
            if which >= len(tasks):
                continue
            outcomes = None if column is None else [made.outcomes[column]]
            doing = (made.caller, tasks[which], [student])
            try:
                if off:
                    set_evidence_aside(*doing, "Noisy", None, outcomes)
                else:
                    count_evidence_again(*doing, None, outcomes)
            except Refused:
                continue
            assert evidence_faults(db) == []
        aside = {(one.attempt_id, one.outcome_id) for one in set_aside_of_students(db, [student])}
        said = evidence_of(
            finished_choices(db, [student]), Alignments.load(db, made.outcomes), aside
        )
        rules = wall(made.caller, made.class_id).rules
        for column, outcome in enumerate(made.outcomes):
            attempts = said.attempts.get((student, outcome), [])
            counted = gather(attempts, View(datetime(2100, 1, 1, tzinfo=UTC)), {})
            mastery = mastery_of(counted.pieces(), rules[column])
            assert value(made, column) == mastery.value
            told = trail(made.caller, made.class_id, student, outcome)
            points = told.trail.points
            assert (points[-1].value if points else None) == mastery.value
            assert sum(piece.aside is not None for piece in told.pieces) == sum(
                one.set_aside for one in attempts
            )
