"""Imagined pieces give what really adding them gives, another attempt is the smallest that does."""

from __future__ import annotations

from datetime import timedelta

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from jade_ladder.core.errors import Refused
from jade_ladder.core.mastery import State
from jade_ladder.service.marking import again
from jade_ladder.service.mastery.imagining import ImaginedPiece, imagine
from jade_ladder.service.mastery.trail import trail
from jade_ladder.service.outcomes import methods
from jade_ladder.service.shared.caller import Teacher
from tests.builders import Small, at, small, undone
from tests.strategies import methods as any_method


def filled(caller: Teacher) -> Small:
    made = small(at(caller, -40), due=caller.now - timedelta(days=30))
    made.mark(made.students[0], 2, 2, caller=at(caller, -29))
    other = made.new_task("Second", due_at=caller.now - timedelta(days=20))
    made.mark(made.students[0], 3, 1, task_id=other, caller=at(caller, -19))
    return made


@given(
    method=any_method,
    added=st.lists(st.tuples(st.integers(0, 3), st.booleans()), min_size=1, max_size=3),
)
@settings(max_examples=12, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_imagined_is_what_adding_gives(
    caller: Teacher, method: object, added: list[tuple[int, bool]]
) -> None:
    """Of new tasks and of another attempt at the first, under any method."""
    with undone(caller.database):
        made = filled(caller)
        student, outcome = made.students[0], made.outcomes[1]
        methods.change_class_method(caller, made.class_id, 1, method)  # type: ignore[arg-type]
        pieces = [
            ImaginedPiece(level, False, made.task_id if more else None) for level, more in added
        ]
        told = imagine(caller, made.class_id, student, outcome, pieces)
        number = 1
        for at_piece, (level, more) in enumerate(added):
            then = at(caller, 0.1 * (at_piece + 1))
            if more:
                number += 1
                again.open_attempts(then, made.task_id, [student], "Again", carries=False)
                made.mark(student, level + 1, level + 1, caller=then, attempt=number)
            else:
                task = made.new_task(f"T{at_piece}")
                made.mark(student, level + 1, level + 1, task_id=task, caller=then)
            found = trail(at(caller, 1), made.class_id, student, outcome)
            assert found.mastery == told[at_piece]


def test_another_attempt_at_each_task_is_told_and_reaches(caller: Teacher) -> None:
    made = filled(caller)
    student, outcome = made.students[0], made.outcomes[1]
    found = trail(caller, made.class_id, student, outcome)
    assert [one.title for one in found.next_attempts] == ["Route", "Second"]
    for one in found.next_attempts:
        if one.piece is None:
            continue
        piece = ImaginedPiece(one.piece.level, one.piece.half_way, one.task_id)
        (then,) = imagine(caller, made.class_id, student, outcome, [piece])
        assert then.state is State.MASTERED
        lower = ImaginedPiece(max(0, one.piece.level - 1), one.piece.half_way, one.task_id)
        if lower != piece:
            (then,) = imagine(caller, made.class_id, student, outcome, [lower])
            assert then.state is not State.MASTERED


@pytest.mark.parametrize(
    ("pieces", "field"),
    [
        ([], "pieces"),
        ([ImaginedPiece(2)] * 21, "pieces"),
        ([ImaginedPiece(4)], "pieces.0.level"),
        ([ImaginedPiece(3, half_way=True)], "pieces.0.level"),
        ([ImaginedPiece(-1)], "pieces.0.level"),
        ([ImaginedPiece(2), ImaginedPiece(2, task_id=99)], "pieces.1.task_id"),
    ],
)
def test_what_cannot_be_imagined_is_refused(
    caller: Teacher, pieces: list[ImaginedPiece], field: str
) -> None:
    made = filled(caller)
    with pytest.raises(Refused) as refused:
        imagine(caller, made.class_id, made.students[0], made.outcomes[1], pieces)
    assert refused.value.field == field
