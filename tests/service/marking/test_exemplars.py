"""Exemplars: agreed levels beside other work by the same rubric."""

from __future__ import annotations

from dataclasses import replace

import pytest

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.service.marking.exemplars import exemplars, pin_exemplar, unpin_exemplar
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import attempts
from tests.builders import Small, at, small


@pytest.fixture
def made(caller: Teacher) -> Small:
    found = small(at(caller, -10))
    attempts.enter_work(caller, found.task_id, found.students[0], "By the wall to the stile")
    return replace(found, caller=caller)


def told(made: Small, task_id: int | None = None) -> list[tuple[str, list[str]]]:
    found = exemplars(made.caller, task_id or made.task_id)
    return [(one.row.title, [level.level_key for level in one.levels]) for one in found]


def test_it_keeps_the_levels_that_were_agreed_and_stands_by_any_task_of_the_rubric(
    made: Small, other_teacher: Teacher
) -> None:
    args = (made.caller, made.task_id, made.students[0])
    with pytest.raises(Refused, match="Finish the mark first"):
        pin_exemplar(*args, "Clear")
    made.mark(made.students[0], 3, 2)
    pin_exemplar(*args, " Clear ")
    assert told(made) == [("Clear", ["a3", "b2"])]
    assert [part.text for part in exemplars(*args[:2])[0].parts] == ["By the wall to the stile"]
    other = made.new_task("Another")
    assert told(made, other) == [("Clear", ["a3", "b2"])]
    # Marked anew, what was agreed stands until it is pinned again.
    made.mark(made.students[0], 1, 1)
    assert told(made) == [("Clear", ["a3", "b2"])]
    pin_exemplar(*args, "A start")
    assert told(made) == [("A start", ["a1", "b1"])]
    number = exemplars(*args[:2])[0].row.id
    with pytest.raises(NotFound):
        unpin_exemplar(other_teacher, number)
    unpin_exemplar(made.caller, number)
    assert told(made) == []


@pytest.mark.parametrize("title", ["", "  ", "x" * 121])
def test_its_title_says_something_and_is_short(made: Small, title: str) -> None:
    made.mark(made.students[0], 3, 2)
    with pytest.raises(Refused):
        pin_exemplar(made.caller, made.task_id, made.students[0], title)
