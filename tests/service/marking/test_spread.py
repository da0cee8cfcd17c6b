"""How the levels of a set have fallen, and the sign of drift."""

from __future__ import annotations

from dataclasses import replace

import pytest

from jade_ladder.formats.class_list import StudentLine
from jade_ladder.service.classes import students
from jade_ladder.service.marking import desk, saving
from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.marking.spread import CriterionSpread, spread
from jade_ladder.service.shared.caller import Teacher
from tests.builders import Small, at, small


@pytest.fixture
def made(caller: Teacher) -> Small:
    """A class of 21."""
    early = at(caller, -10)
    found = small(early)
    for number in range(19):
        students.add_student(early, found.class_id, StudentLine(1, f"Kai {number}", "Nord"))
    everybody = tuple(one.id for one in students.students(caller, found.class_id))
    return replace(found, caller=caller, students=everybody)


def choose(made: Small, student: int, place: int | None, half_way: bool = False) -> None:
    """Choose a level of the first criterion, or (None) not assessed."""
    stored = desk.desk(made.caller, made.task_id).criteria[0]
    choice = (
        Choice(None, not_assessed=True)
        if place is None
        else Choice(stored.level_ids[place], half_way)
    )
    saving.choose(made.caller, made.task_id, made.students[student], stored.id, choice, 1000)


def first(made: Small) -> CriterionSpread:
    return spread(made.caller, made.task_id)[0]


def test_levels_are_counted_as_they_stand(made: Small) -> None:
    assert first(made).all.counts == (0, 0, 0, 0)
    choose(made, 0, 1)
    choose(made, 1, 1, half_way=True)
    choose(made, 2, 3)
    choose(made, 2, 0)
    choose(made, 3, None)
    found = first(made)
    assert (found.all.counts, found.all.half) == ((1, 2, 0, 0), (0, 1, 0, 0))
    assert found.not_assessed == 1
    assert set(found.students) == set(made.students[:4])
    assert found.drift is None
    assert spread(made.caller, made.task_id)[1].all.counts == (0, 0, 0, 0)


def test_drift_goes_by_the_order_of_the_last_choice(made: Small) -> None:
    """Ten high ones, then ten low ones; the middle one of 21 takes no part."""
    for student in range(10):
        choose(made, student, 3)
    choose(made, 20, 0)
    for student in range(10, 20):
        choose(made, student, 1, half_way=student % 2 == 0)
    found = first(made)
    assert found.drift is not None
    assert found.drift.drifted
    assert (found.drift.earlier.mean, found.drift.earlier.deviation) == (3, 0)
    assert (found.drift.later.mean, found.drift.later.deviation) == (1.25, 26)
    assert found.earlier is not None
    assert found.later is not None
    assert (found.earlier.counts, found.later.counts) == ((0, 0, 0, 10), (0, 10, 0, 0))
    assert found.later.half == (0, 5, 0, 0)
    # Who is marked anew is the last.
    for student in range(5):
        choose(made, student, 1)
    again = first(made)
    assert again.earlier is not None
    assert again.earlier.counts == (1, 4, 0, 5)
