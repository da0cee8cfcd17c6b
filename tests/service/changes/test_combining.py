"""What another way to combine criteria would change is what then happens."""

from __future__ import annotations

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from jade_ladder.core.evidence import Combining
from jade_ladder.service.changes.combining import change_combining, combining_effects
from jade_ladder.service.classes.classes import get_class
from jade_ladder.service.marking import again, desk
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.store.evidence.evidence import evidence_faults
from tests.builders import at, second_class, small, undone
from tests.service.changes.test_excusing import standing

PLACES = st.lists(st.integers(1, 4), min_size=2, max_size=2)


@given(st.lists(PLACES, min_size=3, max_size=3), st.permutations(list(Combining)))
@settings(max_examples=25, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_what_is_told_of_combining_is_what_happens(
    caller: Teacher, places: list[list[int]], ways: list[Combining]
) -> None:
    with undone(caller.database):
        made = small(at(caller, -10))
        first, second = made.students
        # Evidence follows the student: their other class keeps its own way.
        second_class(made.caller, made)
        made.mark(first, *places[0])
        made.mark(second, *places[1])
        again.open_attempts(made.caller, made.task_id, [first], "Again")
        made.mark(first, *places[2], attempt=2, caller=at(caller, -5))
        carried = desk.work_at_desk(made.caller, made.task_id, first, 2).mark.choices
        for way in ways:
            before = standing(made)
            told = combining_effects(made.caller, made.class_id, way)
            assert standing(made) == before
            version = get_class(made.caller, made.class_id).version
            change_combining(made.caller, made.class_id, version, way)
            after = standing(made)
            assert {place: after[place] for place in before if before[place] != after[place]} == {
                (one.student.id, one.outcome.id): (one.after.level, one.after.state)
                for one in told.changes
                if one.klass.id == made.class_id
            }
            with made.caller.reading() as db:
                assert evidence_faults(db) == []
        assert desk.work_at_desk(made.caller, made.task_id, first, 2).mark.choices == carried
