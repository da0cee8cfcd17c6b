"""The versions of a mark."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel

from jade_ladder.service.marking import history as service
from jade_ladder.service.marking.history import Beside, Change, Version
from jade_ladder.store.marking.history import ChangeRow
from jade_ladder.web.marking.models import ATTEMPT, MarkOut
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Whole
from jade_ladder.web.shared.numbers import Value

router = router_of("marking")


class SaidOut(BaseModel):
    """What was said at a place of a mark: a level (null: none), half-way up, not assessed; words;
    an amount of points.
    """

    level: str | None
    half_way: bool
    not_assessed: bool
    text: str
    amount: Value | None

    @classmethod
    def of(cls, row: ChangeRow) -> SaidOut:
        """Show what was said."""
        points = row.what in ("line", "by-hand")
        return cls(
            level=row.level,
            half_way=row.half_way,
            not_assessed=row.not_assessed,
            text=row.text,
            amount=row.amount if points else None,
        )


class ChangeOut(BaseModel):
    """A change of a mark at one place: `what` is choice, remark, passage, recording, file, line,
    waived or by-hand; with the criterion where it is on one, and what was said before and from then
    on (null: nothing before).
    """

    what: str
    criterion_key: str | None
    criterion: str | None
    before: SaidOut | None
    after: SaidOut

    @classmethod
    def of(cls, change: Change) -> ChangeOut:
        """Show a change."""
        row = change.row
        return cls(
            what=row.what,
            criterion_key=row.criterion_key,
            criterion=row.criterion,
            before=None if change.before is None else SaidOut.of(change.before),
            after=SaidOut.of(row),
        )


class VersionOut(BaseModel):
    """A version of a mark: when and by whom, and what changed. `counts`: it is the finished one."""

    version: int
    made_at: datetime
    by: str
    changes: list[ChangeOut]
    counts: bool
    handed_back_at: datetime | None

    @classmethod
    def of(cls, version: Version) -> VersionOut:
        """Show a version."""
        return cls(
            version=version.number,
            made_at=version.made_at,
            by=version.by,
            changes=[ChangeOut.of(change) for change in version.changes],
            counts=version.counts,
            handed_back_at=version.handed_back_at,
        )


class BesideOut(BaseModel):
    """One place of a mark: what stood there in an earlier version and what does now (null:
    nothing), and whether that is different.
    """

    what: str
    criterion: str | None
    then: SaidOut | None
    now: SaidOut | None
    different: bool

    @classmethod
    def of(cls, found: Beside) -> BesideOut:
        """Show a place."""
        row = found.now or found.then
        assert row is not None, "one of both stands"
        return cls(
            what=row.what,
            criterion=row.criterion,
            then=None if found.then is None else SaidOut.of(found.then),
            now=None if found.now is None else SaidOut.of(found.now),
            different=found.different,
        )


class BackIn(BaseModel):
    """The version of the mark that was seen last."""

    version: Whole


@router.get(f"{ATTEMPT}/history")
def read_history(
    task_id: int, student_id: int, attempt: int, caller: AsTeacher
) -> list[VersionOut]:
    """Give the versions of a mark, the newest first."""
    found = service.history(caller, task_id, student_id, attempt)
    return [VersionOut.of(version) for version in found]


@router.get(f"{ATTEMPT}/history/{{version:int}}")
def read_version_beside(
    task_id: int, student_id: int, attempt: int, version: int, caller: AsTeacher
) -> list[BesideOut]:
    """Lay an earlier version of a mark beside today's."""
    found = service.version_beside(caller, task_id, student_id, version, attempt)
    return [BesideOut.of(one) for one in found]


@router.post(f"{ATTEMPT}/history/{{version:int}}")
def go_back(
    task_id: int, student_id: int, attempt: int, version: int, body: BackIn, caller: AsTeacher
) -> MarkOut:
    """Let a mark stand as it did in an earlier version, as a new one."""
    return MarkOut.of(service.go_back(caller, task_id, student_id, version, body.version, attempt))
