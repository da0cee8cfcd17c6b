"""What a teacher may want to know of a rubric; unlike what is missing, it keeps nothing from being
done.
"""

from __future__ import annotations

from collections.abc import Sequence

from jade_ladder.core.errors import Problem
from jade_ladder.core.rubric import Criterion
from jade_ladder.store.rubrics.criteria import StoredCriterion


def notes_on(criteria: Sequence[StoredCriterion]) -> list[Problem]:
    """List what may want a look, each with the place of the first criterion it is about: criteria
    that are evidence of nothing, levels with the same points, descriptors left blank.
    """
    loose: list[int] = []
    level: list[int] = []
    blank: list[int] = []
    for index, stored in enumerate(criteria):
        criterion = stored.criterion
        if not stored.alignments and not criterion.bonus:
            loose.append(index)
        if _has_equal_points(criterion):
            level.append(index)
        blank += [index for one in criterion.levels if not one.descriptor.strip()]
    found = []
    if loose:
        found.append(Problem(_place(loose), f"{_criteria(loose)} without an outcome"))
    if level:
        have = "has" if len(level) == 1 else "have"
        message = f"{_criteria(level)} {have} two levels with the same points"
        found.append(Problem(_place(level), message))
    if blank:
        descriptors = "descriptor" if len(blank) == 1 else "descriptors"
        found.append(Problem(_place(blank), f"{len(blank)} {descriptors} left blank"))
    return found


def _has_equal_points(criterion: Criterion) -> bool:
    return len({level.points for level in criterion.levels}) < len(criterion.levels)


def _place(indexes: Sequence[int]) -> str:
    return f"criteria.{indexes[0]}"


def _criteria(indexes: Sequence[int]) -> str:
    return f"{len(indexes)} {'criterion' if len(indexes) == 1 else 'criteria'}"
