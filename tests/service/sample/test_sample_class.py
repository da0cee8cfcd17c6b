"""A sample class: there to be looked at, and deleted whole."""

from __future__ import annotations

from datetime import date

import pytest

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.core.mastery import State
from jade_ladder.core.methods import Method, MethodKind
from jade_ladder.formats.class_list import StudentLine
from jade_ladder.service.classes import classes, students
from jade_ladder.service.marking.pile import pile
from jade_ladder.service.mastery.wall import wall
from jade_ladder.service.outcomes import methods, outcomes
from jade_ladder.service.outcomes.scales import first_scale
from jade_ladder.service.rubrics import library, rubrics
from jade_ladder.service.sample.sample_class import (
    delete_sample_class,
    make_sample_class,
    sample_size,
)
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.store.evidence.evidence import evidence_faults
from tests.builders import everything, small


def _without_log(dump: str) -> list[str]:
    return [line for line in dump.splitlines() if 'INTO "log"' not in line]


def test_it_shows_what_a_class_in_use_looks_like_and_goes_without_a_trace(caller: Teacher) -> None:
    with caller.transaction() as db:
        first_scale(db)
    before = _without_log(everything(caller.database))
    number = make_sample_class(caller)
    seen = wall(caller, number)
    states = {cell.mastery.state for row in seen.cells for cell in row}
    assert {State.MASTERED, State.NOT_YET, State.NO_EVIDENCE} == states
    assert pile(caller, number), "some work waits to be marked"
    assert classes.get_class(caller, number).sample
    size = sample_size(caller, number)
    assert (size.students, size.tasks, size.marks) == (8, 3, 11)
    with caller.reading() as db:
        assert evidence_faults(db) == []
    methods.change_class_method(caller, number, 1, Method(MethodKind.LATEST))
    delete_sample_class(caller, number)
    assert _without_log(everything(caller.database)) == before
    make_sample_class(caller)


def test_there_is_one_at_a_time_and_nothing_else_is_deleted_so(caller: Teacher) -> None:
    made = small(caller)
    make_sample_class(caller)
    with pytest.raises(Refused, match="already"):
        make_sample_class(caller)
    with pytest.raises(NotFound):
        delete_sample_class(caller, made.class_id)
    with pytest.raises(NotFound):
        sample_size(caller, made.class_id)


def test_what_was_taken_over_elsewhere_is_kept(caller: Teacher) -> None:
    made = small(caller)
    number = make_sample_class(caller)
    sampled = outcomes.outcomes_of_class(caller, number).outcomes
    outcomes.teach_outcomes(caller, made.class_id, [sampled[0].id])
    (rubric,) = [one for one in library.library(caller).own if "sample" in one.title]
    copy = rubrics.copy_rubric(caller, rubric.id)
    both = students.students(caller, number)[0]
    mine = students.add_student(caller, number, StudentLine(1, "Kai", "Nord", "N7"))
    other = classes.make_class(caller, "Other", date(2026, 9, 1), date(2027, 6, 30))
    students.add_student(caller, other, StudentLine(1, "Kai", "Nord", "N7"))
    delete_sample_class(caller, number)
    kept = {one.id for one in outcomes.own_outcomes(caller)}
    assert {one.id for one in sampled} <= kept, "the copied rubric is aligned to all of them"
    assert rubrics.get_rubric(caller, copy).criteria
    assert [one.id for one in students.students(caller, other)] == [mine]
    with pytest.raises(NotFound):
        rubrics.get_rubric(caller, rubric.id)
    assert both.id not in {one.id for one in students.students(caller, made.class_id)}
    with caller.reading() as db:
        assert evidence_faults(db) == []
