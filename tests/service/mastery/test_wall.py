"""What the wall says of each cell beside its value, and of strands."""

from __future__ import annotations

from datetime import timedelta

import pytest

from jade_ladder.core.errors import Stale
from jade_ladder.core.mastery import State
from jade_ladder.core.rollup import StrandRollup
from jade_ladder.core.signs import is_close, is_thin, swings_widely
from jade_ladder.service.classes.classes import change_strand_roll_up
from jade_ladder.service.mastery.judgements import Judged, judge
from jade_ladder.service.mastery.trail import trail
from jade_ladder.service.mastery.wall import wall
from jade_ladder.service.outcomes import outcomes, strands
from jade_ladder.service.outcomes.outcomes import OutcomeWords
from jade_ladder.service.shared.caller import Teacher
from tests.builders import Small, at, small

# Levels of criteria a and b of each task, for each of the two students; None: not marked.
MARKS = (
    ((1, 4), (3, 3)),
    ((3, 2), None),
    ((2, 3), None),
    ((3, 1), None),
    ((2, 3), None),
)


def filled(caller: Teacher) -> Small:
    made = small(at(caller, -40))
    for number, of_students in enumerate(MARKS):
        task = made.new_task(f"T{number}", due_at=caller.now - timedelta(days=20 - number))
        for student, levels in zip(made.students, of_students, strict=True):
            if levels is not None:
                made.mark(student, *levels, task_id=task, caller=caller)
    return made


def test_each_word_is_what_its_rule_says_of_the_evidence_of_the_trail(caller: Teacher) -> None:
    made = filled(caller)
    judge(caller, made.class_id, [Judged(made.students[1], made.outcomes[0], 1)], "Spoken")
    seen = wall(caller, made.class_id)
    said = set()
    for student, row in zip(seen.students, seen.cells, strict=True):
        for outcome, cell in zip(seen.outcomes, row, strict=True):
            told = trail(caller, made.class_id, student.id, outcome.id)
            scale = told.rules.scale
            values = [piece.evidence.value for piece in told.pieces if piece.counted]
            sources = len({piece.evidence.origin for piece in told.pieces if piece.counted})
            assert cell.mastery == told.mastery
            assert cell.close == is_close(scale, told.mastery)
            assert cell.thin == is_thin(sources, told.mastery.judged, seen.thin_below)
            assert cell.swings == swings_widely(values, scale)
            said |= {("close", cell.close), ("thin", cell.thin), ("swings", cell.swings)}
    assert len(said) == 6, "each word is said of some, and not of others"


def test_a_strand_is_counted_at_any_depth_and_its_mean_earns_no_mastery(caller: Teacher) -> None:
    made = filled(caller)
    top = strands.add_strand(caller, "Finding the way")
    below = strands.add_strand(caller, "By compass", top)
    words = OutcomeWords("W1", "Bearings", "", below)
    outcomes.change_outcome(caller, made.class_id, made.outcomes[0], words)
    words = OutcomeWords("W2", "Routes", "", top)
    outcomes.change_outcome(caller, made.class_id, made.outcomes[1], words)
    seen = wall(caller, made.class_id)
    found = {one.strand.title: one for one in seen.strand_roll_ups}
    assert set(found) == {"Finding the way", "By compass"}
    for at_row, row in enumerate(seen.cells):
        masteries = [cell.mastery for cell in row]
        count = found["Finding the way"].roll_ups[at_row]
        mastered = sum(one.state is State.MASTERED for one in masteries)
        assert (count.mastered, count.of) == (mastered, 2)
        values = [one.value for one in masteries if one.value is not None]
        assert found["Finding the way"].values[at_row] == (sum(values) * 2 // len(values) + 1) // 2
        assert found["By compass"].roll_ups[at_row].of == 1
    assert seen.klass.strand_roll_up is StrandRollup.MEAN
    change_strand_roll_up(caller, made.class_id, seen.klass.version, StrandRollup.LOWEST)
    with pytest.raises(Stale):
        change_strand_roll_up(caller, made.class_id, seen.klass.version, StrandRollup.MEAN)
    lowest = {one.strand.title: one for one in wall(caller, made.class_id).strand_roll_ups}
    for at_row, row in enumerate(seen.cells):
        values = [cell.mastery.value for cell in row if cell.mastery.value is not None]
        assert lowest["Finding the way"].values[at_row] == min(values)
