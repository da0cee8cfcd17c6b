"""The methods: the document's table, and properties against exact fractions."""

from __future__ import annotations

from fractions import Fraction
from itertools import pairwise
from random import Random

import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from jade_ladder.core.errors import Refused
from jade_ladder.core.methods import (
    Method,
    MethodKind,
    mastery_value,
    pieces_to_mastery,
    running_values,
    written_steps,
    written_sum,
)
from jade_ladder.core.numbers import parse_hundredths, round_half_up, write_hundredths
from jade_ladder.core.scale import Scale
from tests.strategies import (
    four_at_values,
    four_levels,
    many_values,
    methods,
    newest,
    scales,
    values,
)

COLUMNS = [
    Method(MethodKind.LATEST),
    Method(MethodKind.HIGHEST),
    Method(MethodKind.DECAYING_AVERAGE, newest=60),
    Method(MethodKind.DECAYING_AVERAGE, newest=75),
    Method(MethodKind.MEAN),
    Method(MethodKind.RECENT_MEAN, last=3),
    Method(MethodKind.MOST_FREQUENT),
]
TABLE = [
    ("1 3 2 3 3.5", "3.50 3.50 3.15 3.32 2.50 2.83 3.00"),
    ("4 4 1", "1.00 4.00 2.20 1.75 3.00 3.00 4.00"),
    ("1 2 3 4", "4.00 4.00 3.38 3.67 2.50 3.00 4.00"),
    ("4 3 2 1", "1.00 4.00 1.62 1.33 2.50 2.00 1.00"),
    ("3 2.99 3", "3.00 3.00 3.00 3.00 3.00 3.00 3.00"),
    ("3 3 2.67 2.33 2.5", "2.50 3.00 2.51 2.48 2.70 2.50 2.00"),
    ("1 2 2 2.5 3.5", "3.50 3.50 2.99 3.21 2.20 2.67 2.00"),
]


@pytest.mark.parametrize(("evidence", "expected"), TABLE)
def test_the_documents_table(evidence: str, expected: str) -> None:
    pieces = [parse_hundredths(text) for text in evidence.split()]
    found = [write_hundredths(mastery_value(m, four_at_values, pieces)) for m in COLUMNS]
    assert found == expected.split()


def exact_decaying(pieces: list[int], percent: int) -> Fraction:
    """The recurrence as the document writes it, in fractions."""
    weight = Fraction(percent, 100)
    value = Fraction(pieces[0], 100)
    for one in pieces[1:]:
        value = weight * Fraction(one, 100) + (1 - weight) * value
    return value


@given(st.lists(values, min_size=200, max_size=200), newest)
def test_two_hundred_pieces_are_exact_to_the_last_digit(pieces: list[int], percent: int) -> None:
    method = Method(MethodKind.DECAYING_AVERAGE, newest=percent)
    found = mastery_value(method, four_levels, pieces)
    assert found == round_half_up(exact_decaying(pieces, percent))


@given(many_values, newest)
def test_a_decaying_average_lies_between_the_ends(pieces: list[int], percent: int) -> None:
    method = Method(MethodKind.DECAYING_AVERAGE, newest=percent)
    assert min(pieces) <= mastery_value(method, four_levels, pieces) <= max(pieces)


@given(values, methods)
def test_one_piece_gives_itself(value: int, method: Method) -> None:
    if method.kind is MethodKind.MOST_FREQUENT:
        level = four_levels.level_of(value)
        assert mastery_value(method, four_levels, [value]) == four_levels.levels[level].value
    else:
        assert mastery_value(method, four_levels, [value]) == value


@given(many_values, st.randoms())
def test_order_does_not_matter_to_mean_and_highest(pieces: list[int], luck: Random) -> None:
    shuffled = list(pieces)
    luck.shuffle(shuffled)
    for kind in (MethodKind.MEAN, MethodKind.HIGHEST):
        method = Method(kind)
        assert mastery_value(method, four_levels, pieces) == mastery_value(
            method, four_levels, shuffled
        )


@given(many_values, methods)
def test_only_the_last_pieces_matter_to_latest_and_recent_mean(
    pieces: list[int], method: Method
) -> None:
    kept = {MethodKind.LATEST: 1, MethodKind.RECENT_MEAN: method.last}.get(method.kind)
    if kept:
        tail = pieces[-kept:]
        assert mastery_value(method, four_levels, pieces) == mastery_value(
            method, four_levels, tail
        )


@given(many_values, methods, scales())
def test_running_values_are_the_value_after_each_piece(
    pieces: list[int], method: Method, scale: Scale
) -> None:
    expected = [mastery_value(method, scale, pieces[: k + 1]) for k in range(len(pieces))]
    assert list(running_values(method, scale, pieces)) == expected


@given(many_values, values, values, methods)
def test_a_better_piece_never_does_worse_but_for_most_frequent(
    pieces: list[int], one: int, other: int, method: Method
) -> None:
    if method.kind is not MethodKind.MOST_FREQUENT:
        low, high = sorted((one, other))
        assert mastery_value(method, four_levels, [*pieces, low]) <= mastery_value(
            method, four_levels, [*pieces, high]
        )


def test_no_evidence_has_no_value() -> None:
    with pytest.raises(ValueError, match="no evidence"):
        mastery_value(Method(MethodKind.MEAN), four_levels, [])


@pytest.mark.parametrize(
    ("settings", "field"),
    [({"newest": 49}, "newest"), ({"newest": 96}, "newest"), ({"last": 1}, "last")],
)
def test_settings_out_of_range_are_refused_at_their_field(
    settings: dict[str, int], field: str
) -> None:
    with pytest.raises(Refused) as refused:
        Method(MethodKind.DECAYING_AVERAGE, **settings)
    assert refused.value.field == field


def test_the_line_about_cuts_at_the_values() -> None:
    """After one 2, five pieces of 3 give 2.99, and only the sixth gives 3.00."""
    method = Method(MethodKind.DECAYING_AVERAGE)
    assert mastery_value(method, four_at_values, [200, *[300] * 5]) == 299
    assert pieces_to_mastery(method, four_at_values) == 6
    assert pieces_to_mastery(method, four_levels) == 2


@pytest.mark.parametrize(
    ("method", "evidence", "written"),
    [
        (
            Method(MethodKind.DECAYING_AVERAGE),
            "1 3 2 3 3",
            "0.6 × 3 + 0.4 × 2.632 = 2.8528, so 2.85",
        ),
        (Method(MethodKind.MEAN), "1 3 2", "(1 + 3 + 2) ÷ 3 = 2, so 2.00"),
        (Method(MethodKind.MEAN), "1 1 2", "(1 + 1 + 2) ÷ 3 = 1.333333…, so 1.33"),
        (Method(MethodKind.RECENT_MEAN, last=2), "1 3 2", "(3 + 2) ÷ 2 = 2.5, so 2.50"),
        (Method(MethodKind.LATEST), "1 3 2", "the newest of 3 pieces: 2.00"),
        (Method(MethodKind.HIGHEST), "2.5", "one piece of evidence: 2.50"),
        (
            Method(MethodKind.MOST_FREQUENT),
            "1 3 1 3",
            "Level 2, 2 of 4 pieces, the latest of those tied: 3.00",
        ),
    ],
)
def test_the_sum_is_written_with_unrounded_steps(
    method: Method, evidence: str, written: str
) -> None:
    pieces = [parse_hundredths(text) for text in evidence.split()]
    assert written_sum(method, four_levels, pieces) == written


def worked_out(written: str) -> Fraction:
    """Work out a sum as it stands there, with pencil and paper: + × ÷, brackets, decimals."""
    if "÷" in written:
        terms, divisor = written.split(" ÷ ")
        return sum(map(Fraction, terms.strip("()").split(" + "))) / Fraction(divisor)
    products = [product.split(" × ") for product in written.split(" + ")]
    return sum(Fraction(a) * Fraction(b) for a, b in products)


@given(
    st.lists(st.integers(0, 100).map(lambda n: n * 5) | values, min_size=2, max_size=40),
    st.integers(50, 95).map(lambda n: Method(MethodKind.DECAYING_AVERAGE, n))
    | st.sampled_from([Method(MethodKind.MEAN), Method(MethodKind.RECENT_MEAN)]),
)
@example([100, 250, 350, 150, 200, 100], Method(MethodKind.DECAYING_AVERAGE, 74))
@settings(max_examples=400)
def test_the_sum_is_true_as_it_is_written(pieces: list[int], method: Method) -> None:
    """Whoever works out what stands there comes to what stands after it, and to the value."""
    value = mastery_value(method, four_levels, pieces)
    left, rest = written_sum(method, four_levels, pieces).split(" = ")
    right, result = rest.split(", so ")
    assert parse_hundredths(result) == value
    by_hand = worked_out(left.replace("…", ""))
    assert round_half_up(by_hand) == value
    assert round_half_up(Fraction(right.replace("…", ""))) == value
    assert abs(by_hand - Fraction(right.replace("…", ""))) < Fraction(1, 10**6)
    chain = written_steps(method, pieces)
    if chain:
        assert len(chain) == len(pieces) - 1
        ends = [line.split(" = ") for line in chain]
        assert all(worked_out(step) == Fraction(end) for step, end in ends)
        # Each line goes on from the one before it, and the last is the value.
        for (_, before), (step, _) in pairwise(ends):
            assert step.endswith(f" × {before}")
        assert round_half_up(Fraction(ends[-1][1])) == value
