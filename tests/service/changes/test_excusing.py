"""What excusing a student takes away is what was told before."""

from __future__ import annotations

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from jade_ladder.service.changes.excusing import excuse_effects
from jade_ladder.service.mastery.wall import wall
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import attempts
from tests.builders import Small, at, small, undone

PLACES = st.lists(st.integers(1, 4), min_size=2, max_size=2)


def standing(made: Small) -> dict[tuple[int, int], object]:
    """Level and state of everybody on everything, from the kept evidence."""
    seen = wall(made.caller, made.class_id)
    return {
        (student.id, outcome.id): (cell.mastery.level, cell.mastery.state)
        for student, cells in zip(seen.students, seen.cells, strict=True)
        for outcome, cell in zip(seen.outcomes, cells, strict=True)
    }


@given(st.lists(PLACES, min_size=2, max_size=2), st.booleans())
@settings(max_examples=30, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_what_is_told_of_excusing_is_what_happens(
    caller: Teacher, places: list[list[int]], practice: bool
) -> None:
    with undone(caller.database):
        made = small(at(caller, -10))
        another = made.new_task("Another", practice=practice)
        student, colleague = made.students
        made.mark(student, *places[0])
        made.mark(student, *places[1], task_id=another)
        made.mark(colleague, *places[0], task_id=another)
        before = standing(made)
        told = excuse_effects(made.caller, another, student)
        assert standing(made) == before
        attempts.excuse(made.caller, another, student, True)
        after = standing(made)
        changed = {place: after[place] for place in before if before[place] != after[place]}
        assert changed == {
            (one.student.id, one.outcome.id): (one.after.level, one.after.state)
            for one in told.changes
        }
        told = excuse_effects(made.caller, another, student, excused=False)
        assert {place: before[place] for place in changed} == {
            (one.student.id, one.outcome.id): (one.after.level, one.after.state)
            for one in told.changes
        }
        attempts.excuse(made.caller, another, student, False)
        assert standing(made) == before


def test_nothing_is_told_of_who_has_no_mark(caller: Teacher) -> None:
    made = small(at(caller, -10))
    assert excuse_effects(caller, made.task_id, made.students[0]).changes == ()
