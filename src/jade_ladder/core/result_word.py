"""A task's result in a word (“A task's result in a word”): all met, or what is not yet."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from fractions import Fraction

from jade_ladder.core.evidence import is_met
from jade_ladder.core.scale import Scale


@dataclass(frozen=True, slots=True)
class MarkedCriterion:
    """A criterion as it was marked: the level (None: not assessed, or not marked) of so many, and
    what it gives for each aligned outcome, with that outcome's scale.
    """

    title: str
    level: int | None
    levels: int
    half_way: bool = False
    bonus: bool = False
    yes_no: bool = False
    values: Sequence[tuple[Fraction | None, Scale]] = ()

    @property
    def takes_part(self) -> bool:
        """Whether the word is about it: bonus and not assessed criteria, and those without an
        alignment that are no yes/no, take no part.
        """
        return self.level is not None and not self.bonus and (bool(self.values) or self.yes_no)

    @property
    def met(self) -> bool:
        """Whether it was met; without an alignment, yes/no is met by yes."""
        return self.level is not None and is_met(
            self.values, self.level, self.levels, self.half_way
        )


@dataclass(frozen=True, slots=True)
class ResultWord:
    """A result in a word: the titles of what is not met yet, none where all that was assessed is,
    and how many criteria were not assessed.
    """

    not_yet: tuple[str, ...]
    unassessed: int = 0

    @property
    def text(self) -> str:
        """Say it: "all met", "not yet: Bearings"; what was not assessed is told beside it."""
        if self.not_yet:
            said = f"not yet: {', '.join(self.not_yet)}"
        else:
            said = "all assessed criteria met" if self.unassessed else "all met"
        return f"{said}; {self.unassessed} not assessed" if self.unassessed else said

    @property
    def short(self) -> str:
        """Say it without the titles, where there are several."""
        several = len(self.not_yet) > 1
        return f"{len(self.not_yet)} criteria not yet" if several else self.text


def result_word(criteria: Iterable[MarkedCriterion]) -> ResultWord | None:
    """Give a result in a word; None where nothing takes part."""
    marked = list(criteria)
    taking_part = [one for one in marked if one.takes_part]
    if not taking_part:
        return None
    return ResultWord(
        tuple(one.title for one in taking_part if not one.met),
        sum(one.level is None and not one.bonus for one in marked),
    )
