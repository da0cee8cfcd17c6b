"""From marks to evidence: combining, carried over, attempts rules, filters, order."""

from __future__ import annotations

from datetime import timedelta
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jade_ladder.core.evidence import (
    AttemptEvidence,
    AttemptsRule,
    Combining,
    Part,
    SourceKind,
    View,
    apply_attempts_rule,
    combine,
    gather,
    is_met,
)
from jade_ladder.core.scale import CutPreset
from tests.strategies import START, four_levels, piece, pieces, scale_of

LATER = View(START + timedelta(days=1000))
parts = st.lists(
    st.builds(Part, st.fractions(1, 4, max_denominator=200), st.integers(1, 9), st.booleans()),
    max_size=6,
)


@pytest.mark.parametrize(
    ("combining", "value"),
    [(Combining.MEAN, 267), (Combining.HIGHEST, 400), (Combining.LOWEST, 200)],
)
def test_one_attempt_makes_one_piece(combining: Combining, value: int) -> None:
    said = [Part(Fraction(2), 2), Part(Fraction(4), 1)]
    assert combine(said, combining) == value


def test_the_mean_of_an_attempt_is_rounded_once() -> None:
    """Half-way between 1.43 and 2.20 is 1.815; with 2 it makes 1.9075, so 1.91."""
    assert combine([Part(Fraction("1.815")), Part(Fraction(2))]) == 191


@given(parts)
def test_a_carried_over_criterion_never_makes_a_new_piece(said: list[Part]) -> None:
    carried = [part._replace(carried=True) for part in said]
    assert combine(carried) is None
    assert (combine([*carried, Part(Fraction(3))])) is not None


@given(parts)
def test_a_piece_lies_between_what_was_said(said: list[Part]) -> None:
    found = combine(said)
    if found is not None:
        exact = [part.value * 100 for part in said]
        assert min(exact) - 1 < found < max(exact) + 1


HARD = scale_of([100, 200, 300, 400], CutPreset.AT_THE_VALUE, 3)


@pytest.mark.parametrize(
    ("values", "level", "half", "met"),
    [
        ([(Fraction(3), four_levels)], 1, False, True),
        ([(Fraction("2.745"), four_levels)], 1, True, True),
        ([(Fraction("2.744"), four_levels)], 1, True, False),
        ([(Fraction(3), four_levels), (Fraction(3), HARD)], 2, False, False),
        ([(Fraction(3), four_levels), (None, HARD)], 2, False, True),
        ([(None, four_levels)], 3, False, False),
        ([], 3, False, True),
        ([], 2, False, False),
        ([], 2, True, False),
    ],
)
def test_what_is_met(values: list, level: int, half: bool, met: bool) -> None:
    assert is_met(values, level, 4, half) is met


@pytest.mark.parametrize(
    ("rule", "expected"),
    [
        (AttemptsRule.LATEST, [(150, 3)]),
        (AttemptsRule.HIGHEST, [(300, 2)]),
        (AttemptsRule.MEAN, [(217, 3)]),
        (AttemptsRule.EVERY, [(200, 1), (300, 2), (150, 3)]),
    ],
)
def test_attempts_rules(rule: AttemptsRule, expected: list[tuple[int, int]]) -> None:
    attempts = [piece(v, n, source=7, number=n) for n, v in enumerate([200, 300, 150], start=1)]
    found = apply_attempts_rule(attempts, rule)
    assert [(one.value, one.number) for one in found] == expected


def test_of_equal_attempts_the_first_is_the_highest() -> None:
    attempts = [piece(300, 1, source=7, number=1), piece(300, 2, source=7, number=2)]
    assert apply_attempts_rule(attempts, AttemptsRule.HIGHEST) == attempts[:1]


def test_a_latest_attempt_that_is_set_aside_lets_the_one_before_it_count() -> None:
    attempts = [piece(300, 1, source=7), piece(100, 2, source=7, number=2, set_aside=True)]
    assert [one.value for one in gather(attempts, LATER, {}).pieces()] == [300]


@pytest.mark.parametrize(
    ("flags", "view", "counted"),
    [
        ({}, LATER, True),
        ({"excused": True}, LATER, False),
        ({"practice": True}, LATER, False),
        ({"set_aside": True}, LATER, False),
        ({}, View(START), False),
        ({}, View(START + timedelta(seconds=1)), True),
        ({}, View(LATER.until, shown_until=START), False),
    ],
)
def test_filters(flags: dict[str, bool], view: View, counted: bool) -> None:
    assert bool(gather([piece(300, 0, **flags)], view, {}).attempts) is counted


def test_order_is_by_when_it_was_done_then_finished_then_record() -> None:
    first = piece(100, 1, record=9)
    later_finished = AttemptEvidence(
        first.key._replace(source=2),
        (SourceKind.ATTEMPT, 2),
        1,
        200,
        first.done_at,
        first.finished_at + timedelta(hours=1),
    )
    same_time = piece(300, 1, source=3, record=10)
    day_before = piece(400, 0, record=99)
    found = gather([later_finished, same_time, first, day_before], LATER, {}).pieces()
    assert [one.value for one in found] == [400, 100, 300, 200]


@given(pieces(), st.sampled_from(list(AttemptsRule)))
def test_pieces_never_outnumber_attempts_and_stay_in_order(
    attempts: list[AttemptEvidence], rule: AttemptsRule
) -> None:
    rules = {attempt.origin: rule for attempt in attempts}
    found = gather(attempts, LATER, rules).pieces()
    assert len(found) <= len(attempts)
    assert {one.origin for one in found} == {one.origin for one in attempts}
    assert [one.order for one in found] == sorted(one.order for one in found)
