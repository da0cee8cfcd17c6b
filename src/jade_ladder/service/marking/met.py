"""What was met on the criteria of a rubric, by what they are aligned to."""

from __future__ import annotations

import sqlite3
from collections.abc import Mapping, Sequence
from fractions import Fraction

from jade_ladder.core.alignment import chosen_value
from jade_ladder.core.evidence import is_met
from jade_ladder.core.result_word import MarkedCriterion, ResultWord, result_word
from jade_ladder.core.rubric import CriterionKind
from jade_ladder.core.scale import Scale
from jade_ladder.service.marking.choices import NOTHING, Choice, ChosenRow
from jade_ladder.store.outcomes import outcomes as outcome_store
from jade_ladder.store.outcomes import scales as scale_store
from jade_ladder.store.rubrics.criteria import StoredCriterion


class MetCriteria:
    """Says of choices on some criteria what was met; the scales are read once."""

    def __init__(self, db: sqlite3.Connection, criteria: Sequence[StoredCriterion]) -> None:
        """Read what the criteria are aligned to. Part of a reading."""
        self.criteria = criteria
        about = {tie.outcome_id for stored in criteria for tie in stored.alignments}
        heads = outcome_store.outcome_heads(db, about)
        scales = scale_store.scales(db)
        self._scales = {number: scales[heads[number][1]].scale for number in about}

    def is_met(self, stored: StoredCriterion, choice: ChosenRow) -> bool:
        """Whether a criterion is met by a choice, so that it is carried over."""
        if choice.level_id is None:
            return False
        level = stored.level_ids.index(choice.level_id)
        values = self._values(stored, level, bool(choice.half_way))
        return is_met(values, level, len(stored.level_ids), bool(choice.half_way))

    def lowest_met(self, stored: StoredCriterion) -> int | None:
        """Give the lowest level at which a criterion is met, None where no level is."""
        levels = len(stored.level_ids)
        met = (
            level
            for level in range(levels)
            if is_met(self._values(stored, level, False), level, levels, half_way=False)
        )
        return next(met, None)

    def result_word(self, choices: Mapping[int, Choice]) -> ResultWord | None:
        """Give what came of a finished mark, in a word; None where nothing takes part
        (docs/calculations.md, “A task's result in a word”).
        """
        return result_word(
            self._marked(stored, choices.get(stored.id, NOTHING)) for stored in self.criteria
        )

    def _marked(self, stored: StoredCriterion, choice: Choice) -> MarkedCriterion:
        criterion = stored.criterion
        level = None if choice.level_id is None else stored.level_ids.index(choice.level_id)
        return MarkedCriterion(
            criterion.title,
            level,
            len(stored.level_ids),
            choice.half_way,
            criterion.bonus,
            criterion.kind is CriterionKind.YES_NO,
            () if level is None else self._values(stored, level, choice.half_way),
        )

    def _values(
        self, stored: StoredCriterion, level: int, half_way: bool
    ) -> list[tuple[Fraction | None, Scale]]:
        return [
            (
                chosen_value([cell.value for cell in tie.map.cells], level, half_way),
                self._scales[tie.outcome_id],
            )
            for tie in stored.alignments
        ]
