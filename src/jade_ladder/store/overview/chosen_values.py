"""What single criteria of finished marks give for outcomes."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from typing import NamedTuple

from jade_ladder.store.shared.versions import in_version


class ChosenValue(NamedTuple):
    """What a criterion gives for an outcome in the finished mark of an attempt: the value of the
    level chosen, and of the one above where it is half-way.
    """

    attempt_id: int
    outcome_id: int
    key: str
    title: str
    value: int
    above: int | None
    half_way: int


def chosen_values(db: sqlite3.Connection, attempt_ids: Iterable[int]) -> list[ChosenValue]:
    """List it for attempts, each in the order of the rubric; what was carried over, or says nothing
    about the outcome, is left out.
    """
    rows = db.execute(
        f"""SELECT m.attempt_id, l.outcome_id, k.key, k.title, here.value, above.value, c.half_way
           FROM json_each(?) n
           JOIN teachers_mark m ON m.attempt_id = n.value
           JOIN mark_choice c ON c.mark_id = m.id AND c.carried_from IS NULL
             AND {in_version("c", "m.finished_version")}
           JOIN criterion k ON k.id = c.criterion_id
           JOIN alignment l ON l.criterion_id = c.criterion_id
           JOIN alignment_cell here ON here.alignment_id = l.id AND here.level_id = c.level_id
           LEFT JOIN criterion_level next ON c.half_way = 1 AND next.criterion_id = c.criterion_id
             AND next.position = (SELECT position + 1 FROM criterion_level WHERE id = c.level_id)
           LEFT JOIN alignment_cell above ON above.alignment_id = l.id AND above.level_id = next.id
           WHERE here.value IS NOT NULL AND (c.half_way = 0 OR above.value IS NOT NULL)
           ORDER BY m.attempt_id, l.outcome_id, k.position, k.id""",
        (json.dumps(list(attempt_ids)),),
    )
    return [ChosenValue(*row) for row in rows]
