"""The versions of a mark: who said what when, one beside today's, and going back to it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from jade_ladder.core.errors import NotFound, Refused, Stale
from jade_ladder.service.marking.bank_filling import bank_passage, bank_remark
from jade_ladder.service.marking.state import Marking, MarkState
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.store.marking import hand_backs as hand_back_store
from jade_ladder.store.marking import history as store
from jade_ladder.store.marking import marks as mark_store
from jade_ladder.store.marking import passages as passage_store
from jade_ladder.store.marking.history import ChangeRow
from jade_ladder.store.rubrics import revisions as revision_store
from jade_ladder.store.rubrics.criteria import StoredCriterion

# What one person changes again and again at one place within this time is one step.
ONE_STEP = timedelta(minutes=10)


@dataclass(frozen=True, slots=True)
class Change:
    """What was said at one place: before, and from then on (None: nothing)."""

    row: ChangeRow
    before: ChangeRow | None


@dataclass(frozen=True, slots=True)
class Version:
    """A step in a mark's history: the version that it led to, when and by whom, and what changed.
    `counts` where it is the finished one, `handed_back_at` where it was handed back.
    """

    number: int
    made_at: datetime
    by: str
    changes: tuple[Change, ...]
    counts: bool
    handed_back_at: datetime | None


def history(caller: Teacher, task_id: int, student_id: int, attempt: int = 1) -> list[Version]:
    """List the versions of a student's mark, the newest first."""
    with caller.reading() as db:
        place = Marking.load(db, caller, task_id, student_id, attempt).place
        if place.mark.id is None:
            return []
        handed = {one.version: one.at for one in store.handed_back_versions(db, place.mark.id)}
        kept = {place.mark.finished_version, *handed}
        found: list[Version] = []
        for one in _versions(store.changes(db, place.mark.id)):
            told = replace(
                one,
                counts=one.number == place.mark.finished_version,
                handed_back_at=handed.get(one.number),
            )
            before = found[-1] if found else None
            if before and before.number not in kept and _one_step(before, told):
                told = replace(told, changes=(_merged(before.changes[0], told.changes[0]),))
                found.pop()
            found.append(told)
        return found[::-1]


def _place(row: ChangeRow) -> tuple[str, str]:
    if row.what in ("choice", "remark"):
        return row.what, row.criterion_key or ""
    # Each line of a total is one of its own.
    return row.what, f"{row.amount} {row.text}" if row.what == "line" else row.key


def _versions(rows: Sequence[ChangeRow]) -> Iterable[Version]:
    standing: dict[tuple[str, str], ChangeRow] = {}
    numbers = dict.fromkeys(row.version for row in rows)
    by_version: dict[int, list[ChangeRow]] = {number: [] for number in numbers}
    for row in rows:
        by_version[row.version].append(row)
    for number, said in by_version.items():
        first = said[0]
        changes = tuple(Change(row, standing.get(_place(row))) for row in said)
        standing |= {_place(row): row for row in said}
        name = f"{first.given_name} {first.family_name}".strip()
        yield Version(number, first.made_at, name, changes, False, None)


def _one_step(before: Version, after: Version) -> bool:
    """Whether two versions are one person's changes at one place, soon after each other."""
    if len(before.changes) != 1 or len(after.changes) != 1 or before.by != after.by:
        return False
    same = _place(before.changes[0].row) == _place(after.changes[0].row)
    return same and after.made_at - before.made_at < ONE_STEP


def _merged(before: Change, after: Change) -> Change:
    return Change(after.row, before.before)


@dataclass(frozen=True, slots=True)
class Beside:
    """One place of a mark: what stood there in an earlier version, and what does now (None:
    nothing).
    """

    then: ChangeRow | None
    now: ChangeRow | None

    @property
    def different(self) -> bool:
        """Whether something else is said now."""
        return _said(self.then) != _said(self.now)


def version_beside(
    caller: Teacher, task_id: int, student_id: int, version: int, attempt: int = 1
) -> list[Beside]:
    """Lay an earlier version of a mark beside today's, place by place."""
    with caller.reading() as db:
        place = Marking.load(db, caller, task_id, student_id, attempt).place
        if place.mark.id is None or not 1 <= version <= (place.mark.version or 0):
            raise NotFound("There is no such version of this mark")
        rows = store.changes(db, place.mark.id)
    then = {_place(row): row for row in rows if row.version <= version and _stood(row, version)}
    now = {_place(row): row for row in rows if row.until is None}
    found = [Beside(then.get(one), now.get(one)) for one in dict.fromkeys([*then, *now])]
    return [one for one in found if _said(one.then) or _said(one.now)]


def _stood(row: ChangeRow, version: int) -> bool:
    return row.until is None or row.until > version


def _said(row: ChangeRow | None) -> tuple[object, ...] | None:
    if row is None:
        return None
    said = (row.level, row.half_way, row.not_assessed, row.text, row.amount)
    return said if any(said) else None


def go_back(
    caller: Teacher,
    task_id: int,
    student_id: int,
    version: int,
    based_on: int,
    attempt: int = 1,
) -> MarkState:
    """Let all of a mark stand as it did in an earlier version, as a new one; what counts stays
    until it is finished. Refused for a version that was given under another revision of the rubric;
    Stale where the mark was changed after version `based_on`.
    """
    with caller.transaction() as db:
        marking = Marking.load(db, caller, task_id, student_id, attempt)
        place = marking.place
        if place.mark.id is None or not 1 <= version <= (place.mark.version or 0):
            raise NotFound("There is no such version of this mark")
        if place.mark.version != based_on:
            raise Stale("This mark was changed in another tab", place.mark.version or 0)
        revision = hand_back_store.revision_of_mark(db, place.mark.id, version)
        if revision is not None and revision != place.task.revision_id:
            number = revision_store.revision_number(db, revision)
            raise Refused(
                f"This version was given under revision {number} of the rubric: put the task back "
                "on that revision first, or choose anew"
            )
        if version == place.mark.version:
            return marking.state()
        new = store.restore(db, place.mark.id, version, caller.now, caller.person_id)
        if not new:
            return marking.state()
        marking.standing = mark_store.standing(db, place.mark.id, place.mark.finished_version)
        marking.saved("mark", version=new, changed_at=caller.now)
        _fill_bank(marking, place.mark.id)
        return marking.state()


def _fill_bank(marking: Marking, mark_id: int) -> None:
    by_id: dict[int, StoredCriterion] = {stored.id: stored for stored in marking.criteria}
    for criterion_id, remark in marking.standing.remarks.items():
        if criterion_id is None or criterion_id in by_id:
            stored = None if criterion_id is None else by_id[criterion_id]
            bank_remark(marking, stored, remark.text)
    for passage in passage_store.last_said_in(marking.db, mark_id, marking.place.mark.version or 0):
        bank_passage(marking, *passage)
