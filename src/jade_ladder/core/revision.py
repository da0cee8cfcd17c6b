"""What tells two revisions of a rubric apart: wording, or structure."""

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


def structural_changes(
    old: Sequence[RevisedCriterion], new: Sequence[RevisedCriterion]
) -> list[str]:
    """Say what of the structure differs: criteria, levels, points, weights, alignments, maps.

    Wording (titles, level names, descriptors), the order of criteria and what is only a help to
    whoever marks are not structure. Criteria and levels are the same by their keys. Empty when a
    mark given under one means the same under the other.
    """
    before = {one.criterion.key: one for one in old}
    after = {one.criterion.key: one for one in new}
    found = [f"“{_title(before[key])}” is gone" for key in before if key not in after]
    found += [f"“{_title(after[key])}” is new" for key in after if key not in before]
    for key, was in before.items():
        if key in after:
            found += [f"“{_title(was)}”: {what}" for what in _differences(was, after[key])]
    return found


def _differences(was: RevisedCriterion, now: RevisedCriterion) -> list[str]:
    old, new = was.criterion, now.criterion
    told = []
    if [level.key for level in old.levels] != [level.key for level in new.levels]:
        told.append("its levels are others")
    elif [level.points for level in old.levels] != [level.points for level in new.levels]:
        told.append("its points are others")
    if old.weight != new.weight:
        told.append("its weight is another")
    if (old.kind, old.bonus, old.half_way) != (new.kind, new.bonus, new.half_way):
        told.append("its kind is another")
    if was.alignments.keys() != now.alignments.keys():
        told.append("it is aligned to other outcomes")
    elif {n: (w, _values(c)) for n, (w, c) in was.alignments.items()} != {
        n: (w, _values(c)) for n, (w, c) in now.alignments.items()
    }:
        told.append("its levels are evidence of other values")
    return told


def _values(cells: tuple[Cell, ...]) -> list[int | None]:
    return [cell.value for cell in cells]


def _title(one: RevisedCriterion) -> str:
    return one.criterion.title.strip() or "a criterion without a title"
