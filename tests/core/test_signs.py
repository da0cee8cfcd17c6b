"""Words with a number behind them: thin, close, wide swings, drift."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from fractions import Fraction
from statistics import mean, variance

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jade_ladder.core.evidence import AttemptEvidence, EvidenceKey, SourceKind
from jade_ladder.core.mastery import Rules, mastery_of
from jade_ladder.core.methods import Method, MethodKind
from jade_ladder.core.scale import CutPreset, Scale
from jade_ladder.core.signs import drift, is_close, is_thin, swings_widely
from tests.strategies import four_levels, scale_of, scales

NOON = datetime(2026, 11, 25, 12, tzinfo=UTC)


def pieces(*values: int, tasks: tuple[int, ...] | None = None) -> list[AttemptEvidence]:
    """Pieces of evidence an hour apart, each from a task of its own unless said."""
    sources = tasks or tuple(range(len(values)))
    return [
        AttemptEvidence(
            EvidenceKey(SourceKind.ATTEMPT, n, 1),
            (SourceKind.ATTEMPT, task),
            1,
            value,
            NOON + timedelta(hours=n),
            NOON + timedelta(hours=n),
        )
        for n, (value, task) in enumerate(zip(values, sources, strict=True))
    ]


@pytest.mark.parametrize(
    ("evidence", "judged", "thin"),
    [
        (pieces(), False, False),
        (pieces(300), False, True),
        (pieces(300), True, False),
        (pieces(300, 200), False, False),
        (pieces(300, 200, tasks=(7, 7)), False, True),
    ],
)
def test_thin_is_some_evidence_from_few_sources(
    evidence: list[AttemptEvidence], judged: bool, thin: bool
) -> None:
    sources = len({piece.origin for piece in evidence})
    assert is_thin(sources, judged, 2) is thin
    assert is_thin(sources, judged, 20) is (bool(evidence) and not judged)


@pytest.mark.parametrize(
    ("value", "close"), [(100, False), (224, False), (225, True), (274, True), (275, False)]
)
def test_close_is_half_a_step_below_the_cut(value: int, close: bool) -> None:
    mastery = mastery_of(pieces(value), Rules(Method(MethodKind.LATEST), four_levels))
    assert is_close(four_levels, mastery) is close


def test_close_asks_for_enough_evidence_and_a_level_below() -> None:
    latest = Method(MethodKind.LATEST)
    few = mastery_of(pieces(250), Rules(latest, four_levels, minimum=2))
    assert not is_close(four_levels, few)
    lowest = scale_of([100, 200], CutPreset.AT_THE_VALUE, 0)
    assert not is_close(lowest, mastery_of(pieces(50), Rules(latest, lowest)))
    # A step that is odd in hundredths: 1 to 1.01, cut at 1.01; close from 1.005, so from 1.01.
    odd = scale_of([100, 101], CutPreset.AT_THE_VALUE, 1)
    assert not is_close(odd, mastery_of(pieces(100), Rules(latest, odd)))


@given(scales(), st.integers(0, 4000))
def test_what_is_close_is_not_there_yet(scale: Scale, value: int) -> None:
    mastery = mastery_of(pieces(value), Rules(Method(MethodKind.LATEST), scale))
    if is_close(scale, mastery):
        assert not scale.is_mastery(value)
        assert value >= scale.levels[scale.mastery_level - 1].value // 2


@pytest.mark.parametrize(
    ("values", "wide"),
    [
        ((), False),
        ((100,), False),
        ((200, 300, 200, 300), False),
        ((100, 300), True),
        ((400, 200, 200, 300, 300), False),
        ((400, 300, 300, 200), True),
        ((100, 400, 400, 400, 400), False),
    ],
)
def test_wide_swings_look_at_the_last_four(values: tuple[int, ...], wide: bool) -> None:
    assert swings_widely(values, four_levels) is wide


def levels(*places: float) -> list[Fraction]:
    return [Fraction(place) for place in places]


def test_drift_needs_ten_in_each_half_and_leaves_the_middle_out() -> None:
    assert drift(levels(*[1] * 19)) is None
    found = drift(levels(*[1] * 10, 3, *[2] * 10))
    assert found is not None
    assert (found.earlier.count, found.later.count) == (10, 10)
    assert (found.earlier.mean, found.later.mean) == (1, 2)
    assert found.drifted
    same = drift(levels(*[2] * 20))
    assert same is not None
    assert not same.drifted


@given(st.lists(st.integers(0, 6).map(lambda n: Fraction(n, 2)), min_size=20, max_size=60))
def test_drift_is_two_standard_errors(places: list[Fraction]) -> None:
    found = drift(places)
    assert found is not None
    half = len(places) // 2
    parts = places[:half], places[-half:]
    assert (found.earlier.mean, found.later.mean) == tuple(mean(part) for part in parts)
    spreads = [variance(part) for part in parts]
    assert [found.earlier.variance, found.later.variance] == spreads
    apart = abs(found.earlier.mean - found.later.mean)
    assert found.drifted is (apart > 0 and apart**2 >= 4 * sum(spreads) / half)
    turned = drift(places[::-1])
    assert turned is not None
    assert turned.drifted is found.drifted
