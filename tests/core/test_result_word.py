"""A task's result in a word, in a table by hand."""

from __future__ import annotations

from fractions import Fraction

import pytest

from jade_ladder.core.result_word import MarkedCriterion, ResultWord, result_word
from jade_ladder.core.scale import Scale, ScaleLevel

# 1, 2, 3, 4 with cuts 1, 1.75, 2.75, 3.75; mastery is the third level.
SCALE = Scale(
    tuple(
        ScaleLevel(name, name, value, cut)
        for name, value, cut in (("a", 100, 100), ("b", 200, 175), ("c", 300, 275), ("d", 400, 375))
    ),
    2,
)


def criterion(title: str, *values: float | None, level: int | None = 1) -> MarkedCriterion:
    given = [(None if one is None else Fraction(str(one)), SCALE) for one in values]
    return MarkedCriterion(title, level, 4, values=given)


YES = MarkedCriterion("yes", 1, 2, yes_no=True)
NO = MarkedCriterion("no", 0, 2, yes_no=True)


@pytest.mark.parametrize(
    ("criteria", "said"),
    [
        ([], None),
        ([criterion("met", 3)], []),
        ([criterion("cut", 2.75), criterion("below", 2.74)], ["below"]),
        # Every value it gives, and one at least.
        ([criterion("one of two", 3, 2)], ["one of two"]),
        ([criterion("says nothing", None)], ["says nothing"]),
        ([criterion("beside nothing", 3, None)], []),
        # Not assessed and bonus criteria take no part, nor do others without an alignment.
        ([criterion("not assessed", 1, level=None)], None),
        ([MarkedCriterion("bonus", 0, 4, bonus=True, values=[(Fraction(1), SCALE)])], None),
        ([MarkedCriterion("unaligned", 0, 4)], None),
        ([MarkedCriterion("unaligned", 0, 4), criterion("met", 4)], []),
        # A yes/no criterion without an alignment is met by yes.
        ([YES], []),
        ([YES, NO], ["no"]),
        ([criterion("first", 1), YES, criterion("last", 2)], ["first", "last"]),
    ],
)
def test_all_met_or_which_are_not_yet(
    criteria: list[MarkedCriterion], said: list[str] | None
) -> None:
    found = result_word(criteria)
    assert (found and list(found.not_yet)) == said


@pytest.mark.parametrize(
    ("word", "text", "short"),
    [
        (ResultWord(()), "all met", "all met"),
        (ResultWord((), 1), *["all assessed criteria met; 1 not assessed"] * 2),
        (ResultWord(("Key",)), *["not yet: Key"] * 2),
        (
            ResultWord(("Key", "Scale"), 2),
            "not yet: Key, Scale; 2 not assessed",
            "2 criteria not yet",
        ),
    ],
)
def test_it_tells_what_was_not_assessed(word: ResultWord, text: str, short: str) -> None:
    assert (word.text, word.short) == (text, short)


def test_a_bonus_that_was_not_assessed_is_not_told() -> None:
    bonus = MarkedCriterion("bonus", None, 4, bonus=True)
    found = result_word([criterion("met", 3), criterion("gap", level=None), bonus])
    assert found == ResultWord((), 1)
