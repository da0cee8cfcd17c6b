"""Judgements: a level that the teacher sets for a student and outcome, over the calculation
(docs/calculations.md, “Mastery”, *judgement*).
"""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable, Mapping, Sequence
from datetime import date
from typing import Any, NamedTuple

from jade_ladder.core.errors import NotFound, Refused, Stale
from jade_ladder.core.mastery import Seen, counted_evidence
from jade_ladder.service.evidence.kept_evidence import KeptEvidence, limits_of
from jade_ladder.service.evidence.rules import is_taught
from jade_ladder.service.outcomes.outcomes import own_outcome
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import check_day, today
from jade_ladder.service.shared.forms import needed
from jade_ladder.service.shared.guards import own_class, own_student
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.mastery import judgements as store
from jade_ladder.store.mastery.expectation import not_expected
from jade_ladder.store.mastery.judgements import JudgementRow
from jade_ladder.store.outcomes import scales as scale_store
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.shared import log
from jade_ladder.store.shared.log import LogSubject

LONGEST_REASON = 1_000
MOST_AT_ONCE = 1_000
_JUDGED, _LIFTED = LogSubject.JUDGEMENT, LogSubject.JUDGEMENT_LIFTED
_UNDONE = LogSubject.JUDGEMENT_UNDONE


class Judged(NamedTuple):
    """The level (0 the lowest) that a student is judged to be at on an outcome."""

    student_id: int
    outcome_id: int
    level: int


_NONE = "There is no such judgement in this class"


def judge(
    caller: Teacher,
    class_id: int,
    levels: Sequence[Judged],
    reason: str,
    since: date | None = None,
) -> int:
    """Set levels for students on outcomes with one reason, from a day on (today at first), until
    they are lifted. Gives the number in the log by which it is undone. The same sent twice is one.
    """
    reason = needed(reason, "reason", "A reason", LONGEST_REASON)
    _check_all(levels)
    with caller.transaction() as db:
        klass = own_class(db, caller, class_id)
        day = _day(db, caller, klass, since)
        outcomes = _outcomes(db, caller, klass, levels)
        _check_students(db, caller, klass, levels, outcomes)
        scales = scale_store.scales(db)
        seen = _seen_now(db, caller, class_id, [(one.student_id, one.outcome_id) for one in levels])
        again = _judged_already(db, caller, class_id, levels, reason, day, seen)
        if again is not None:
            return again
        made: list[int] = []
        cut: list[list[Any]] = []
        for at, one in enumerate(levels):
            count = len(scales[outcomes[one.outcome_id].scale_id].scale.levels)
            if not 0 <= one.level < count:
                raise Refused(f"The scale has {count} levels", f"levels.{at}.level")
            cut += _make_room(db, caller, one, day)
            made.append(
                store.add_judgement(
                    db,
                    one.student_id,
                    one.outcome_id,
                    one.level,
                    count,
                    reason,
                    day,
                    seen[one.student_id, one.outcome_id],
                    caller.now,
                    caller.person_id,
                )
            )
        before = {"cut": cut}
        after = {"made": made, "levels": [list(one) for one in levels], "reason": reason}
        return caller.log(db, _JUDGED, class_id, before, after)


def _judged_already(
    db: sqlite3.Connection,
    caller: Teacher,
    class_id: int,
    levels: Sequence[Judged],
    reason: str,
    day: date,
    seen: Mapping[tuple[int, int], Seen],
) -> int | None:
    """Give the number in the log of the same judgements, made last by the caller, where all of them
    hold and were made by the evidence that there is now.
    """
    found = log.newest_entry(db, _JUDGED, class_id, caller.person_id)
    if found is None:
        return None
    number, made = found
    if (made["levels"], made["reason"]) != ([list(one) for one in levels], reason):
        return None
    for judgement_id, one in zip(made["made"], levels, strict=True):
        row = store.judgement(db, judgement_id)
        if row is None or (row.until, row.since) != (None, day):
            return None
        if row.seen != seen[one.student_id, one.outcome_id]:
            return None
    return number


def undo_judging(caller: Teacher, class_id: int, number: int) -> None:
    """Undo what `judge` did, as if it never had been; Stale where any of it was changed since."""
    with caller.transaction() as db:
        klass = own_class(db, caller, class_id)
        found = log.entry(db, number, caller.person_id, _JUDGED)
        if found is None or found[0] != class_id:
            raise NotFound("There is no such judgement to undo")
        rows = [store.judgement(db, one) for one in found[2]["made"]]
        if any(row is None or row.until is not None for row in rows):
            raise Stale("A judgement was changed again since, and stays as it is", klass.version)
        for one in found[2]["made"]:
            store.delete_judgement(db, one)
        for judgement_id, until, lifted_at, lifted_by in found[1]["cut"]:
            store.put_end(db, judgement_id, until, lifted_at, lifted_by)
        caller.log(db, _UNDONE, class_id, found[2], None)


def lift_judgement(
    caller: Teacher, class_id: int, judgement_id: int, until: date | None = None
) -> int:
    """Let a judgement hold no longer, from a day on (today at first): the calculation counts again.
    Gives the number in the log by which it is undone.
    """
    with caller.transaction() as db:
        klass = own_class(db, caller, class_id)
        row = _own(db, caller, class_id, judgement_id)
        day = _day(db, caller, klass, until, "until")
        if until is not None and until < row.since:
            raise Refused(f"It holds from {row.since.isoformat()}: choose a later day", "until")
        store.lift(db, judgement_id, day, caller.now, caller.person_id)
        return caller.log(db, _LIFTED, judgement_id, None, {"until": day, **_whose(row)})


def undo_lifting(caller: Teacher, class_id: int, number: int) -> None:
    """Undo what `lift_judgement` did; Stale where another judgement was made since."""
    with caller.transaction() as db:
        klass = own_class(db, caller, class_id)
        found = log.entry(db, number, caller.person_id, _LIFTED)
        row = None if found is None else store.judgement(db, found[0])
        if row is None:
            raise NotFound("There is no such judgement to undo")
        _check_own(db, caller, class_id, row)
        if row.until is None or store.holding(db, row.student_id, row.outcome_id):
            raise Stale("A judgement was made since, and stays as it is", klass.version)
        store.put_end(db, row.id, None, None, None)
        caller.log(db, _UNDONE, class_id, {"lifted": row.id, "until": row.until}, None)


def keep_judgement(caller: Teacher, class_id: int, judgement_id: int) -> None:
    """Keep a judgement although the evidence changed: the sign is gone until it changes again."""
    with caller.transaction() as db:
        row = _own(db, caller, class_id, judgement_id)
        place = row.student_id, row.outcome_id
        store.see(db, row.id, _seen_now(db, caller, class_id, [place])[place], caller.now)
        caller.log(db, LogSubject.JUDGEMENT_KEPT, row.id, {"seen": row.seen_json}, _whose(row))


def _whose(row: JudgementRow) -> dict[str, int]:
    """Give what the log knows a judgement by once it is undone and gone."""
    return {"student": row.student_id, "outcome": row.outcome_id}


def _check_all(levels: Sequence[Judged]) -> None:
    if not levels:
        raise Refused("Choose a level for at least one student", "levels")
    if len(levels) > MOST_AT_ONCE:
        raise Refused(f"At most {MOST_AT_ONCE:,} at once", "levels")
    if len({(one.student_id, one.outcome_id) for one in levels}) < len(levels):
        raise Refused("A student has two levels on one outcome", "levels")


def _day(
    db: sqlite3.Connection,
    caller: Teacher,
    klass: ClassRow,
    day: date | None,
    field: str = "since",
) -> date:
    now = today(db, caller)
    if day is None:
        return now
    check_day(day, field, klass)
    if day > now:
        raise Refused("This day has not come yet: choose today or an earlier one", field)
    if day < klass.first_day:
        raise Refused(
            f"{klass.name} began on {klass.first_day.isoformat()}: choose a later day", field
        )
    return day


def _outcomes(
    db: sqlite3.Connection, caller: Teacher, klass: ClassRow, levels: Iterable[Judged]
) -> dict[int, OutcomeRow]:
    found = {}
    for number in dict.fromkeys(one.outcome_id for one in levels):
        outcome = own_outcome(db, caller, klass.id, number)
        if not is_taught(outcome, today(db, caller)):
            raise Refused(f"{klass.name} does not teach {outcome.code} now", "levels")
        found[number] = outcome
    return found


def _check_students(
    db: sqlite3.Connection,
    caller: Teacher,
    klass: ClassRow,
    levels: Sequence[Judged],
    outcomes: dict[int, OutcomeRow],
) -> None:
    day = today(db, caller)
    there = {one.id for one in student_store.students(db, klass.id, day)}
    lifted = not_expected(db, {one.student_id for one in levels}, day)
    for at, one in enumerate(levels):
        name = own_student(db, klass.id, one.student_id).name
        if one.student_id not in there:
            raise Refused(f"{name} has left {klass.name}", f"levels.{at}.student_id")
        if (one.student_id, one.outcome_id) in lifted:
            code = outcomes[one.outcome_id].code
            raise Refused(
                f"{code} is not expected of {name}: expect it again first, or leave them out",
                f"levels.{at}.student_id",
            )


def _seen_now(
    db: sqlite3.Connection, caller: Teacher, class_id: int, places: Sequence[tuple[int, int]]
) -> dict[tuple[int, int], Seen]:
    """Give the counted evidence of today."""
    students = {student_id for student_id, _ in places}
    day = today(db, caller)
    there = [one for one in student_store.students(db, class_id, day) if one.id in students]
    kept = KeptEvidence.load(db, limits_of(db, there, day), {number for _, number in places})
    return {place: counted_evidence(kept.gathered(*place).pieces()) for place in places}


def _make_room(db: sqlite3.Connection, caller: Teacher, one: Judged, day: date) -> list[list[Any]]:
    """End what holds on a day or later; gives each as it was."""
    cut: list[list[Any]] = []
    for row in store.judgements(db, [one.student_id], [one.outcome_id]):
        if row.until is None or row.until > max(day, row.since):
            _, lifted_at, lifted_by = end = store.end_of_judgement(db, row.id)
            cut.append([row.id, *end])
            store.put_end(
                db,
                row.id,
                max(day, row.since),
                lifted_at or caller.now,
                lifted_by or caller.person_id,
            )
    return cut


def _own(db: sqlite3.Connection, caller: Teacher, class_id: int, judgement_id: int) -> JudgementRow:
    """Give a judgement that holds, of a student and an outcome of an own class."""
    own_class(db, caller, class_id)
    row = store.judgement(db, judgement_id)
    if row is None:
        raise NotFound(_NONE)
    _check_own(db, caller, class_id, row)
    if row.until is not None:
        raise Refused("This judgement was lifted already")
    return row


def _check_own(db: sqlite3.Connection, caller: Teacher, class_id: int, row: JudgementRow) -> None:
    try:
        own_outcome(db, caller, class_id, row.outcome_id)
        own_student(db, class_id, row.student_id)
    except NotFound:
        # In the same words whether it is another class's or nobody's.
        raise NotFound(_NONE) from None
