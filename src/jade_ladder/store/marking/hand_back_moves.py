"""What attempts moved when they were handed back, as their students saw it then."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from dataclasses import astuple, dataclass

from jade_ladder.core.mastery import Mastery, State
from jade_ladder.core.scale import Scale, ScaleLevel


@dataclass(frozen=True, slots=True)
class KeptMove:
    """Mastery of an outcome without an attempt and with it, on the scale as it was."""

    outcome_id: int
    title: str
    scale: Scale
    before: Mastery
    after: Mastery


def keep_moves(db: sqlite3.Connection, mark_id: int, moves: Iterable[KeptMove]) -> None:
    """Keep what the newest hand-back of a mark moved."""
    db.executemany(
        """INSERT INTO hand_back_move (hand_back_id, outcome_id, before, after, levels,
                                       mastery_level)
           SELECT max(id), ?2, ?3, ?4, ?5, ?6 FROM hand_back WHERE mark_id = ?1""",
        [
            (
                mark_id,
                one.outcome_id,
                _written(one.before),
                _written(one.after),
                json.dumps([astuple(level) for level in one.scale.levels]),
                one.scale.mastery_level,
            )
            for one in moves
        ],
    )


def kept_moves(db: sqlite3.Connection, hand_back_id: int) -> list[KeptMove]:
    """List what a hand-back moved, by the outcome's number; none where it was not kept."""
    rows = db.execute(
        """SELECT o.id, o.title, v.levels, v.mastery_level, v.before, v.after
           FROM hand_back_move v JOIN outcome o ON o.id = v.outcome_id
           WHERE v.hand_back_id = ? ORDER BY o.id""",
        (hand_back_id,),
    )
    return [
        KeptMove(
            number,
            title,
            Scale(tuple(ScaleLevel(*level) for level in json.loads(levels)), mastery_level),
            _read(before),
            _read(after),
        )
        for number, title, levels, mastery_level, before, after in rows
    ]


def _written(mastery: Mastery) -> str:
    return json.dumps([mastery.state, mastery.value, mastery.level, mastery.pieces])


def _read(text: str) -> Mastery:
    state, value, level, pieces = json.loads(text)
    return Mastery(State(state), value, level, pieces, calculated=value)
