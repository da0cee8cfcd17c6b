"""Methods compared, and agreement with judgements."""

from __future__ import annotations

import pytest
from hypothesis import given

from jade_ladder.core.comparison import (
    SETTINGS,
    Agreement,
    JudgedEvidence,
    agreement,
    setting_of,
    under_settings,
    written_range,
)
from jade_ladder.core.mastery import Rules, mastery_of_values
from jade_ladder.core.methods import Method, MethodKind
from tests.strategies import four_levels, many_values, methods

LATEST, HIGHEST, MEAN = (
    Method(kind) for kind in (MethodKind.LATEST, MethodKind.HIGHEST, MethodKind.MEAN)
)


def decaying(newest: int) -> Method:
    return Method(MethodKind.DECAYING_AVERAGE, newest=newest)


def judged(*values: int, level: int) -> JudgedEvidence:
    return JudgedEvidence(values, level, four_levels)


@given(many_values, methods)
def test_what_is_compared_is_what_the_method_gives(values: list[int], method: Method) -> None:
    found = under_settings(values, len(values), four_levels, 2)
    assert len(found) == len(SETTINGS) == 69
    rules = Rules(method, four_levels, 2)
    assert found[setting_of(method)] == mastery_of_values(values, len(values), rules)


@pytest.mark.parametrize(
    ("judgements", "present", "expected"),
    [
        # Of seven nothing is said.
        ([judged(100, 300, level=2)] * 7, LATEST, None),
        # The newest counts, whatever was before; 95% gives the levels, too, and is further away.
        (
            [judged(400, 100, level=0)] * 4 + [judged(100, 400, level=3)] * 4,
            MEAN,
            Agreement(8, (LATEST, Method(MethodKind.MOST_FREQUENT)), (), 8, 0),
        ),
        # The present one is as good as others: it is said first, and they beside it.
        (
            [judged(300, level=2)] * 8,
            HIGHEST,
            Agreement(8, (HIGHEST,), tuple(one for one in SETTINGS if one != HIGHEST), 8, 8),
        ),
        # Of those with as many equal levels the nearest: 1, 1, 4 is 2.80 at 60%, 3.01 at 67%.
        (
            [judged(100, 100, 400, level=2)] * 8,
            decaying(60),
            Agreement(8, (decaying(67),), (), 8, 8),
        ),
    ],
)
def test_which_setting_agrees_best(
    judgements: list[JudgedEvidence], present: Method, expected: Agreement | None
) -> None:
    assert agreement(judgements, present) == expected


@pytest.mark.parametrize(
    ("settings", "words"),
    [
        ([LATEST, HIGHEST], ["Latest", "Highest"]),
        (
            [LATEST, *(decaying(newest) for newest in (60, 61, 62, 70))],
            ["Latest", "Decaying average 60% to 62%", "Decaying average 70%"],
        ),
        (
            [decaying(95), *(Method(MethodKind.RECENT_MEAN, last=last) for last in (2, 3))],
            ["Decaying average 95%", "Mean of the last 2 to 3"],
        ),
        ([], []),
    ],
)
def test_settings_in_a_row_are_a_range(settings: list[Method], words: list[str]) -> None:
    assert written_range(settings) == words
