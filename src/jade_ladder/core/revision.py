"""What tells two revisions apart, and what of a mark is carried over (“Revisions of a rubric”)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from jade_ladder.core.alignment import Cell
from jade_ladder.core.rubric import Criterion


@dataclass(frozen=True, slots=True)
class RevisedCriterion:
    """A criterion of a revision with its alignments: outcome to weight and cells."""

    criterion: Criterion
    alignments: Mapping[int, tuple[int, tuple[Cell, ...]]]


@dataclass(frozen=True, slots=True)
class CriterionComparison:
    """A criterion in two revisions, None where one has it not; `structure` says what of it differs
    besides its words.
    """

    old: RevisedCriterion | None
    new: RevisedCriterion | None
    structure: tuple[str, ...]

    @property
    def title(self) -> str:
        """What the criterion is called, in the newer revision where it is there."""
        one = self.new or self.old
        title = one.criterion.title.strip() if one else ""
        return title or "a criterion without a title"


def compare(
    old: Sequence[RevisedCriterion], new: Sequence[RevisedCriterion]
) -> list[CriterionComparison]:
    """Lay two revisions side by side, in the order of the newer; a criterion that is gone stands
    after the one it stood after. Criteria and levels are the same by their keys.

    Structure is: criteria, levels, points, weights, kinds, alignments and maps. Titles, level
    names, descriptors, the order of criteria and what is only a help to whoever marks are wording.
    """
    before = {one.criterion.key: one for one in old}
    found = [_compared(before.get(one.criterion.key), one) for one in new]
    keys = [one.criterion.key for one in new]
    last = None
    for one in old:
        key = one.criterion.key
        if key not in keys:
            place = 0 if last is None else keys.index(last) + 1
            keys.insert(place, key)
            found.insert(place, _compared(one, None))
        last = key
    return found


def structural_changes(
    old: Sequence[RevisedCriterion], new: Sequence[RevisedCriterion]
) -> list[str]:
    """Say what of the structure differs, criterion by criterion. Empty when a mark given under one
    revision means the same under the other.
    """
    return [f"“{one.title}” {what}" for one in compare(old, new) for what in one.structure]


def _compared(old: RevisedCriterion | None, new: RevisedCriterion | None) -> CriterionComparison:
    if new is None:
        return CriterionComparison(old, None, ("is gone",))
    if old is None:
        return CriterionComparison(None, new, ("is new",))
    return CriterionComparison(old, new, tuple(_differences(old, new)))


def _differences(was: RevisedCriterion, now: RevisedCriterion) -> list[str]:
    old, new = was.criterion, now.criterion
    told = []
    if [level.key for level in old.levels] != [level.key for level in new.levels]:
        told.append("has different levels")
    elif [level.points for level in old.levels] != [level.points for level in new.levels]:
        told.append("has different points")
    if old.weight != new.weight:
        told.append("has a different weight")
    if (old.kind, old.bonus, old.half_way) != (new.kind, new.bonus, new.half_way):
        told.append("is of a different kind")
    if was.alignments.keys() != now.alignments.keys():
        told.append("is aligned to different outcomes")
    elif {n: (w, _values(c)) for n, (w, c) in was.alignments.items()} != {
        n: (w, _values(c)) for n, (w, c) in now.alignments.items()
    }:
        told.append("has levels that are evidence of different values")
    return told


def _values(cells: tuple[Cell, ...]) -> list[int | None]:
    return [cell.value for cell in cells]


def carried_level(old: Criterion, new: Criterion, level: int, half_way: bool) -> int | None:
    """Give the place in `new` of what was chosen at place `level` in `old`, level by level: the
    level with the same key.

    None where it cannot be carried over: the level is gone, or it is half-way and the two levels
    are no longer neighbours, or half-way is no longer allowed.
    """
    places = {one.key: place for place, one in enumerate(new.levels)}
    place = places.get(old.levels[level].key)
    if old.kind is not new.kind or place is None or not half_way:
        return place if old.kind is new.kind else None
    above = places.get(old.levels[level + 1].key)
    return place if new.allows_half_way and above == place + 1 else None
