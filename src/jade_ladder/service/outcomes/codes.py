"""That a class has each code once: outcomes are known by their codes."""

from __future__ import annotations

import sqlite3
from collections.abc import Mapping, Sequence

from jade_ladder.core.errors import Refused
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.store.outcomes import codes as store
from jade_ladder.store.outcomes.codes import TaughtCode


def check_codes(
    db: sqlite3.Connection,
    caller: Teacher,
    class_id: int,
    changed: Mapping[int, str],
    coming: Sequence[str] = (),
    field: str = "code",
) -> None:
    """Refuse codes that a class would then have twice (docs/calculations.md, “Names match”).
    `changed` are the codes that outcomes of the class, or those it is to teach, would have; they
    change wherever else these are taught, too. `coming` are those of new ones. Part of a
    transaction or a reading.
    """
    taught: dict[int, list[TaughtCode]] = {class_id: []}
    for one in store.codes_beside(db, caller.person_id, class_id, changed):
        taught.setdefault(one.class_id, []).append(one)
    for number, rows in taught.items():
        here = number == class_id
        stay = {one.code.casefold(): one for one in rows if one.outcome_id not in changed}
        there = {one.outcome_id for one in rows}
        others = [code for outcome, code in changed.items() if here or outcome in there]
        met: set[str] = set()
        for code in (*others, *(coming if here else ())):
            key = code.strip().casefold()
            if key in stay:
                other = stay[key]
                where = "" if here else _where(other)
                raise Refused(f"{other.code} is the code of “{other.title}” already{where}", field)
            if key in met:
                raise Refused(f"{code.strip()} would be the code of two outcomes", field)
            met.add(key)


def _where(one: TaughtCode) -> str:
    return f", in {one.class_name}" if one.own else ", in a colleague's class that teaches both"
