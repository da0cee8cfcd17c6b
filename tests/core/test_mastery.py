"""States, trail, judgement, next piece and roll-ups."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime, timedelta
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jade_ladder.core.evidence import (
    AttemptEvidence,
    AttemptsRule,
    Combining,
    EvidenceKey,
    Gathered,
    Part,
    SourceKind,
    View,
    combine,
    gather,
)
from jade_ladder.core.mastery import (
    Judgement,
    Mastery,
    Rules,
    State,
    counted_evidence,
    judged,
    level_on,
    mastery_of,
)
from jade_ladder.core.methods import Method, MethodKind
from jade_ladder.core.next_piece import (
    Asked,
    Imagined,
    NextChoice,
    NextPiece,
    next_attempt,
    next_choice,
    next_new_piece,
    with_imagined,
)
from jade_ladder.core.rollup import (
    StrandRollup,
    class_picture,
    roll_up_student,
    strand_value,
)
from jade_ladder.core.scale import Scale
from jade_ladder.core.total import over_attempts
from jade_ladder.core.trail import Course, Direction, glance_at, glance_of, trail_of
from tests.strategies import START, four_at_values, four_levels, methods, piece, pieces

DECAYING = Rules(Method(MethodKind.DECAYING_AVERAGE), four_levels)
LATEST = Rules(Method(MethodKind.LATEST), four_levels)
FREQUENT = Rules(Method(MethodKind.MOST_FREQUENT), four_levels)
LATER = View(START + timedelta(days=1000))


def gathered(*values: int) -> Gathered:
    return gather([piece(value, day) for day, value in enumerate(values)], LATER, {})


def day(number: int) -> datetime:
    return START + timedelta(days=number)


@pytest.mark.parametrize(
    ("values", "minimum", "state", "value"),
    [
        ((), 1, State.NO_EVIDENCE, None),
        ((300,), 1, State.MASTERED, 300),
        ((300,), 2, State.NEEDS_EVIDENCE, 300),
        ((300, 200), 2, State.NOT_YET, 240),
        ((275,), 1, State.MASTERED, 275),
        ((274,), 1, State.NOT_YET, 274),
        ((100, 300, 200, 300, 300), 1, State.MASTERED, 285),
    ],
)
def test_states(values: tuple[int, ...], minimum: int, state: State, value: int | None) -> None:
    found = mastery_of(gathered(*values).pieces(), replace(DECAYING, minimum=minimum))
    assert (found.state, found.value) == (state, value)


def test_two_pieces_of_one_task_are_one_source() -> None:
    attempts = [piece(300, 1, source=7), piece(300, 2, source=7, number=2)]
    every = {attempts[0].origin: AttemptsRule.EVERY}
    found = mastery_of(gather(attempts, LATER, every).pieces(), replace(DECAYING, minimum=2))
    assert (found.pieces, found.state) == (2, State.NEEDS_EVIDENCE)


@pytest.mark.parametrize(
    ("values", "reached", "held", "back", "slipped", "direction"),
    [
        ((100, 300, 400), 1, 1, False, None, Direction.UP),
        ((300, 100), 0, None, False, 1, Direction.DOWN),
        ((300, 100, 400), 0, 2, True, None, Direction.UP),
        ((300, 100, 100), 0, None, False, 1, Direction.LEVEL),
        ((100,), None, None, False, None, Direction.LEVEL),
        ((), None, None, False, None, Direction.LEVEL),
    ],
)
def test_what_the_trail_tells(
    values: tuple[int, ...],
    reached: int | None,
    held: int | None,
    back: bool,
    slipped: int | None,
    direction: Direction,
) -> None:
    trail = trail_of(gathered(*values), Course(LATEST))
    at = [None if n is None else day(n) for n in (reached, held, slipped)]
    assert [trail.first_reached, trail.held_since, trail.slipped_at] == at
    assert (trail.back, trail.direction) == (back, direction)


def test_a_later_attempt_replaces_the_earlier_piece_in_the_replay() -> None:
    attempts = [piece(400, 1, source=7), piece(100, 2, source=7, number=2)]
    trail = trail_of(gather(attempts, LATER, {}), Course(DECAYING))
    assert [point.value for point in trail.points] == [400, 100]
    assert trail.slipped_at == day(2)


@given(pieces(), methods, st.sampled_from(list(AttemptsRule)), st.integers(1, 3))
def test_the_trails_last_point_is_the_value(
    attempts: list[AttemptEvidence], method: Method, rule: AttemptsRule, minimum: int
) -> None:
    rules = Rules(method, four_levels, minimum)
    found = gather(attempts, LATER, {attempt.origin: rule for attempt in attempts})
    trail = trail_of(found, Course(rules))
    now = mastery_of(found.pieces(), rules)
    if now.value is None:
        assert trail.points == ()
    else:
        assert (trail.points[-1].value, trail.points[-1].state) == (now.value, now.state)
        assert [point.at for point in trail.points] == sorted({a.done_at for a in attempts})
        assert (trail.held_since is not None) == (now.state is State.MASTERED)


@given(pieces(), methods)
def test_as_of_a_day_is_the_trail_cut_there(
    attempts: list[AttemptEvidence], method: Method
) -> None:
    rules = Rules(method, four_levels)
    whole = trail_of(gather(attempts, LATER, {}), Course(rules))
    for point in whole.points:
        until = View(point.at + timedelta(seconds=1))
        earlier = mastery_of(gather(attempts, until, {}).pieces(), rules)
        assert earlier.value == point.value


def test_a_judgement_counts_as_its_level_and_raises_a_sign_when_evidence_changes() -> None:
    one, more = gathered(100).pieces(), gathered(100, 200).pieces()
    judgement = Judgement(2, "Seen in the field", day(1), None, counted_evidence(one))
    course = Course(DECAYING, judgements=(judgement,))
    found = course.mastery_now(one)
    assert (found.state, found.value, found.calculated) == (State.MASTERED, 300, 100)
    assert not found.evidence_changed
    assert course.mastery_now(more).evidence_changed
    earlier = replace(judgement, seen=None)
    assert not judged(mastery_of(more, DECAYING), earlier, four_levels, ()).evidence_changed
    none = Course(DECAYING, judgements=(replace(judgement, seen=()),)).mastery_now([])
    assert (none.state, none.calculated, none.evidence_changed) == (State.MASTERED, None, False)


@pytest.mark.parametrize(
    ("level", "levels", "scale", "there"),
    [
        (2, 4, four_levels, 2),
        (0, 3, four_levels, 0),
        (1, 3, four_levels, 2),
        (2, 3, four_levels, 3),
        (4, 7, four_levels, 2),
    ],
)
def test_a_judgement_takes_the_same_place_on_another_scale(
    level: int, levels: int, scale: Scale, there: int
) -> None:
    assert level_on(level, levels, scale) == there


def test_the_documents_next_piece() -> None:
    """From 2.456 under 60% with the cut at 2.75: a new piece of 3, exactly 2.94."""
    now = gathered(260, 236)
    assert next_new_piece(now, DECAYING, half_steps=False) == NextPiece(2, False, 300, 294, True)


@pytest.mark.parametrize(
    ("values", "rules", "half", "expected"),
    [
        ((), DECAYING, False, NextPiece(2, False, 300, 275, True)),
        (
            (),
            Rules(Method(MethodKind.HIGHEST), four_at_values),
            True,
            NextPiece(2, False, 300, 300, True),
        ),
        ((240,), DECAYING, True, NextPiece(2, False, 300, 298, True)),
        ((210,), DECAYING, True, NextPiece(2, True, 350, 318, True)),
        ((100, 100, 100), Rules(Method(MethodKind.MEAN), four_levels), True, None),
        ((100,), replace(DECAYING, minimum=3), True, None),
        ((100,), FREQUENT, False, NextPiece(2, False, 300, 275, True)),
    ],
)
def test_next_pieces(
    values: tuple[int, ...], rules: Rules, half: bool, expected: NextPiece | None
) -> None:
    assert next_new_piece(gathered(*values), rules, half) == expected


def test_or_better_is_not_said_where_it_is_not_true() -> None:
    """Under most frequent a 3 makes 3 the level; a 4 leaves a tie of which 2 is not the last."""
    found = next_new_piece(gathered(200, 300, 200, 300, 200), FREQUENT, half_steps=False)
    assert found == NextPiece(2, False, 300, 275, or_better=False)


@given(pieces(), methods, st.booleans())
def test_the_next_piece_is_the_smallest_that_works(
    attempts: list[AttemptEvidence], method: Method, half: bool
) -> None:
    rules = Rules(method, four_levels)
    now = gather(attempts, LATER, {})
    found = next_new_piece(now, rules, half)

    def mastered_with(value: int) -> bool:
        extra = piece(value, 500, source=99, record=10_000)
        return mastery_of([*now.pieces(), extra], rules).state is State.MASTERED

    working = [value for value in range(100, 401) if mastered_with(value)]
    assert (found is None) == (not working)
    if found:
        assert found.smallest == working[0]
        assert found.value is None or found.value in working
        if found.or_better and found.value is not None:
            assert all(value in working for value in range(found.value, 401))


def a_note(value: int, day: int, record: int = 900) -> AttemptEvidence:
    """An observation note at the end of what else there is on a day."""
    made = piece(value, day, record=record)
    key = EvidenceKey(SourceKind.NOTE, record, 1)
    return made._replace(key=key, origin=(SourceKind.NOTE, record))


def test_what_is_imagined_comes_after_a_note_of_the_same_time() -> None:
    """An attempt at 1, then a note at 1: under latest another attempt at 3 decides."""
    now = gather([piece(100, 1, source=7), a_note(100, 1)], LATER, {})
    assert next_attempt(now, LATEST, 7, half_steps=False) == NextPiece(2, False, 300, 275, True)
    assert next_new_piece(now, LATEST, half_steps=False) == NextPiece(2, False, 300, 275, True)
    then = with_imagined(now, [Imagined(300, 7)])
    assert mastery_of(then.pieces(), LATEST).value == 300


@pytest.mark.parametrize(("first", "smallest"), [(150, 399), (200, 349)])
def test_the_smallest_under_most_frequent_where_attempts_have_a_mean(
    first: int, smallest: int
) -> None:
    """The document's examples: no cut score is the value that does."""
    now = gather([piece(first, 1, source=7)], LATER, {(SourceKind.ATTEMPT, 7): AttemptsRule.MEAN})
    found = next_attempt(now, FREQUENT, 7, half_steps=True)
    assert found is not None
    assert found.smallest == smallest


@given(
    pieces(), st.lists(st.integers(0, 12), max_size=2), methods, st.sampled_from(list(AttemptsRule))
)
def test_another_attempt_is_what_putting_it_in_shows(
    attempts: list[AttemptEvidence], notes: list[int], method: Method, rule: AttemptsRule
) -> None:
    """Of the level, the smallest hundredth and that nothing does, each apart; with notes beside."""
    rules = Rules(method, four_levels)
    made = [*attempts, *(a_note(100 + 40 * at, at, 900 + n) for n, at in enumerate(notes))]
    now = gather(made, LATER, {one.origin: rule for one in attempts})
    if mastery_of(now.pieces(), rules).state is State.MASTERED:
        return
    for task in {one.origin[1] for one in attempts}:
        found = next_attempt(now, rules, task, half_steps=True)

        def mastered_with(value: int, task: int = task) -> bool:
            number = 1 + sum(one.origin == (SourceKind.ATTEMPT, task) for one in made)
            extra = piece(value, 500, source=task, number=number, record=10_000)
            with_it = gather([*made, extra], LATER, now.rules)
            return mastery_of(with_it.pieces(), rules).state is State.MASTERED

        working = [value for value in range(100, 401) if mastered_with(value)]
        steps = [value for value in range(100, 401, 50) if value in working]
        assert (found is None) == (not working)
        if found:
            assert (found.value, found.smallest) == (steps[0] if steps else None, working[0])
        assert [
            mastery_of(with_imagined(now, [Imagined(value, task)]).pieces(), rules).state
            is State.MASTERED
            for value in range(100, 401, 50)
        ] == [value in working for value in range(100, 401, 50)]


def test_another_attempt_replaces_where_a_new_piece_adds() -> None:
    """After 4 and 1 under a mean a new piece has to be a 4; a second attempt only half-way to 2."""
    rules = Rules(Method(MethodKind.MEAN), four_levels)
    attempts = [piece(400, 1, source=1), piece(100, 2, source=2)]
    now = gather(attempts, LATER, {})
    assert next_new_piece(now, rules, half_steps=False) == NextPiece(
        3, False, 400, 324, or_better=False
    )
    assert next_attempt(now, rules, 2, half_steps=True) == NextPiece(0, True, 150, 149, True)


@pytest.mark.parametrize(
    ("carried", "cells", "half_way", "found"),
    [
        # The document's example: with 4 carried, half-way up from 1.
        ([400], (100, 200, 300, 400), True, NextChoice(0, True, 149)),
        ([400], (100, 200, 300, 400), False, NextChoice(1, False, 149)),
        ([], (100, 200, 300, 400), True, NextChoice(2, False, 275)),
        ([300, 300], (None, 200, 300, 400), True, NextChoice(1, True, 224)),
        # No level of it gives that much: then the value alone is said.
        ([300], (None, 200), False, NextChoice(None, False, 249)),
        ([], (100, 200), True, NextChoice(None, False, 275)),
    ],
)
def test_what_a_criterion_that_is_asked_has_to_give(
    carried: list[int], cells: tuple[int | None, ...], half_way: bool, found: NextChoice
) -> None:
    rules = Rules(Method(MethodKind.LATEST), four_levels)
    now = gather([piece(200, 1, source=1)], LATER, {})
    parts = [Part(Fraction(value, 100), carried=True) for value in carried]
    asked = Asked(cells, 1, half_way, parts, Combining.MEAN)
    own = piece(0, 2, source=1, number=2)
    assert next_choice(now, rules, own, asked) == found


def test_what_it_has_to_give_is_read_at_the_attempts_own_time() -> None:
    """Handed in before a piece of 1, nothing of it decides under latest."""
    now = gather([piece(100, 3, source=2)], LATER, {})
    asked = Asked((100, 200, 300, 400), 1, True, (), Combining.MEAN)
    assert next_choice(now, LATEST, piece(0, 2, source=1, number=2), asked) is None
    assert next_choice(now, LATEST, piece(0, 4, source=1, number=2), asked) == (2, False, 275)


@given(
    st.lists(st.integers(100, 400), max_size=3),
    st.lists(st.integers(100, 400), max_size=4),
    methods,
    st.sampled_from(Combining),
    st.integers(1, 4),
    st.lists(st.integers(100, 400), max_size=2),
    st.sampled_from(list(AttemptsRule)),
)
def test_what_it_has_to_give_does_and_nothing_lower_of_it_does(
    earlier: list[int],
    carried: list[int],
    method: Method,
    combining: Combining,
    day: int,
    before: list[int],
    rule: AttemptsRule,
) -> None:
    """At whatever place of the evidence the attempt stands, and whichever of its task counts."""
    rules = Rules(method, four_levels)
    tries = [piece(one, 0, source=50, number=at) for at, one in enumerate(before, 1)]
    others = [piece(one, at, source=at) for at, one in enumerate(earlier, 1)]
    now = gather([*tries, *others], LATER, {(SourceKind.ATTEMPT, 50): rule})
    if mastery_of(now.pieces(), rules).state is State.MASTERED:
        return
    parts = [Part(Fraction(value, 100), carried=True) for value in carried]
    own = piece(0, day, source=50, number=len(before) + 1, record=10_000)
    found = next_choice(now, rules, own, Asked((100, 200, 300, 400), 1, True, parts, combining))

    def mastered_with(value: Fraction) -> bool:
        whole = combine([*parts, Part(value)], combining) or 0
        made = gather([*now.attempts, own._replace(value=whole)], LATER, now.rules)
        return mastery_of(made.pieces(), rules).state is State.MASTERED

    steps = [Fraction(100 + 50 * step, 100) for step in range(7)]
    working = [step for step in steps if mastered_with(step)]
    hundredths = [value for value in range(100, 401) if mastered_with(Fraction(value, 100))]
    assert (found is None) == (not working and not hundredths)
    if found:
        level = None if found.level is None else 1 + found.level + Fraction(found.half_way, 2)
        assert level == (working[0] if working else None)
        assert found.smallest == (hundredths[0] if hundredths else None)


@pytest.mark.parametrize(
    ("rule", "total"),
    [
        (AttemptsRule.LATEST, 1200),
        (AttemptsRule.HIGHEST, 1500),
        (AttemptsRule.MEAN, 1317),
        (AttemptsRule.EVERY, 1200),
    ],
)
def test_totals_over_attempts(rule: AttemptsRule, total: int) -> None:
    assert over_attempts([1250, 1500, 1200], rule) == total
    assert over_attempts([], rule) is None
    assert over_attempts([1200, 1500], AttemptsRule.MEAN) == 1350, "the document's example"


def mastery(state: State, value: int | None = None) -> Mastery:
    level = None if value is None else four_levels.level_of(value)
    return Mastery(state, value, level, 0 if value is None else 1)


MIXED = [
    mastery(State.MASTERED, 300),
    mastery(State.NOT_YET, 274),
    mastery(State.NEEDS_EVIDENCE, 400),
    mastery(State.NO_EVIDENCE),
    mastery(State.MASTERED, 401),
]


def test_roll_ups_leave_out_what_needs_evidence_and_count_it_apart() -> None:
    assert vars_of(roll_up_student(MIXED)) == (2, 5, 1, 1)
    picture = class_picture(four_levels, MIXED)
    assert picture.at_level == (0, 1, 1, 1)
    assert (picture.mastered, picture.counted, picture.needing, picture.without) == (2, 3, 1, 1)
    assert (picture.median, picture.mean) == (300, 325)


def vars_of(found: object) -> tuple[int, ...]:
    return tuple(getattr(found, name) for name in ("mastered", "of", "without", "needing"))


def test_the_median_of_an_even_number_is_the_lower_middle() -> None:
    four = [mastery(State.NOT_YET, value) for value in (100, 200, 250, 400)]
    assert class_picture(four_levels, four).median == 200
    nobody = class_picture(four_levels, [])
    assert (nobody.median, nobody.mean, nobody.counted) == (None, None, 0)


def test_a_strand_has_a_value_only_on_one_scale() -> None:
    same = [four_levels] * 5
    assert strand_value(MIXED, same, StrandRollup.MEAN) == 325
    assert strand_value(MIXED, same, StrandRollup.LOWEST) == 274
    assert strand_value(MIXED, [*same[:4], four_at_values], StrandRollup.MEAN) is None
    assert strand_value(MIXED[2:4], same[:2], StrandRollup.MEAN) is None


@given(
    method=methods,
    minimum=st.integers(1, 4),
    days=st.lists(st.integers(0, 3), max_size=9).map(sorted),
    data=st.data(),
)
def test_a_glance_is_what_mastery_and_trail_say(
    method: Method, minimum: int, days: list[int], data: st.DataObject
) -> None:
    """In one pass over values and times, also where some are of the same time."""
    values = data.draw(st.lists(st.integers(100, 400), min_size=len(days), max_size=len(days)))
    rules = Rules(method, four_levels, minimum)
    attempts = [
        piece(value, when, source=number)
        for number, (value, when) in enumerate(zip(values, days, strict=True))
    ]
    found = gather(attempts, LATER, {})
    moments = [one.done_at.isoformat() for one in found.attempts]
    at_once = glance_at(moments, [one.value for one in found.attempts], rules)
    assert at_once == glance_of(found, Course(rules))
