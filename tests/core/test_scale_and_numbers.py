"""Numbers in and out, and what is a scale."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jade_ladder.core.errors import Refused
from jade_ladder.core.numbers import (
    parse_hundredths,
    round_half_up,
    write_exact,
    write_hundredths,
    write_short,
)
from jade_ladder.core.scale import CutPreset, Scale, preset_cuts
from tests.strategies import four_at_values, four_levels, scales


@pytest.mark.parametrize(
    ("text", "hundredths"),
    [("3", 300), ("2.5", 250), ("2,75", 275), (" 0.05 ", 5), (".5", 50), ("-1", -100), ("3.", 300)],
)
def test_numbers_are_read(text: str, hundredths: int) -> None:
    assert parse_hundredths(text) == hundredths


@pytest.mark.parametrize(
    "text",
    [
        "",
        "three",
        "1.234",
        "1,000",
        "1e3",
        "NaN",
        "inf",
        "10000.01",
        "99999999999999999999",
        "1.2.3",
        "٣",
        "--1",
    ],
)
def test_what_is_no_number_is_refused(text: str) -> None:
    with pytest.raises(Refused) as refused:
        parse_hundredths(text, "points")
    assert refused.value.field == "points"


@given(st.integers(-1_000_000, 1_000_000))
def test_writing_and_reading_are_inverse(hundredths: int) -> None:
    assert parse_hundredths(write_hundredths(hundredths)) == hundredths
    assert parse_hundredths(write_short(hundredths)) == hundredths


@given(st.fractions(-100, 100))
def test_rounding_is_half_up_and_nearest(value: Fraction) -> None:
    rounded = Fraction(round_half_up(value), 100)
    assert -Fraction(1, 200) < rounded - value <= Fraction(1, 200)


@pytest.mark.parametrize(
    ("value", "text"),
    [
        (Fraction(28528, 10000), "2.8528"),
        (Fraction(1, 3), "0.333333…"),
        (Fraction(-1, 3), "-0.333333…"),
        (Fraction(3), "3"),
    ],
)
def test_exact_values_are_written_whole_or_cut_with_a_sign(value: Fraction, text: str) -> None:
    assert write_exact(value) == text


def test_the_two_presets() -> None:
    assert preset_cuts([100, 200, 300, 400], CutPreset.AT_THE_VALUE) == (100, 200, 300, 400)
    assert preset_cuts([100, 200, 300, 400], CutPreset.THREE_QUARTERS) == (100, 175, 275, 375)
    assert preset_cuts([100, 101], CutPreset.THREE_QUARTERS) == (100, 101)


@pytest.mark.parametrize(
    ("scale", "value", "level"),
    [
        (four_levels, 274, 1),
        (four_levels, 275, 2),
        (four_levels, 0, 0),
        (four_levels, 999, 3),
        (four_at_values, 299, 1),
        (four_at_values, 300, 2),
    ],
)
def test_the_level_of_a_value(scale: Scale, value: int, level: int) -> None:
    assert scale.level_of(value) == level


@given(scales())
def test_presets_always_make_a_scale_and_each_value_is_on_its_level(scale: Scale) -> None:
    for index, level in enumerate(scale.levels):
        assert scale.level_of(level.value) == index
    mastery_level = scale.levels[scale.mastery_level]
    assert scale.is_mastery(mastery_level.value)


def changed(index: int, **changes: object) -> Scale:
    levels = list(four_levels.levels)
    levels[index] = replace(levels[index], **changes)  # type: ignore[arg-type]
    return Scale(tuple(levels), 2)


@pytest.mark.parametrize(
    ("index", "changes", "field"),
    [
        (2, {"value": 200, "cut": 200}, "levels.2.value"),
        (2, {"cut": 200}, "levels.2.cut"),
        (2, {"cut": 301}, "levels.2.cut"),
        (0, {"value": -1, "cut": -1}, "levels.0.value"),
        (0, {"cut": -1}, "levels.0.cut"),
        (3, {"value": 1_000_001}, "levels.3.value"),
        (1, {"name": " "}, "levels.1.name"),
        (1, {"code": ""}, "levels.1.code"),
        (1, {"name": "level 0"}, "levels.1.name"),
        (3, {"code": "L1"}, "levels.3.code"),
    ],
)
def test_what_is_no_scale_is_refused_at_its_field(
    index: int, changes: dict[str, object], field: str
) -> None:
    with pytest.raises(Refused) as refused:
        changed(index, **changes)
    assert refused.value.field == field


@pytest.mark.parametrize(
    ("count", "mastery", "field"),
    [(1, 0, "levels"), (4, 4, "mastery_level"), (4, -1, "mastery_level")],
)
def test_too_few_levels_or_no_mastery_level(count: int, mastery: int, field: str) -> None:
    with pytest.raises(Refused) as refused:
        Scale(four_levels.levels[:count], mastery)
    assert refused.value.field == field
