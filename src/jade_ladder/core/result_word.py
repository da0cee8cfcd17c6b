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


def not_yet(criteria: Iterable[MarkedCriterion]) -> list[str] | None:
    """Give the titles of what is not met yet, none where all is; None where nothing takes part."""
    taking_part = [one for one in criteria if one.takes_part]
    if not taking_part:
        return None
    return [one.title for one in taking_part if not one.met]
