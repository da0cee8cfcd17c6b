"""Where a student stands with a task, and what keeps a mark from being finished."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from jade_ladder.core.rubric import Criterion


class DeskState(StrEnum):
    """What the marking desk says of one student."""

    WAITING = "waiting"
    STARTED = "started"
    CHANGED = "changed"
    DONE = "done"
    MISSING = "missing"
    NOT_YET = "not-yet"
    EXCUSED = "excused"
    ABSENT = "absent"


class MarkRole(StrEnum):
    """In which role somebody marks an attempt: the teacher's mark is the one that counts, and every
    page, count and piece of evidence is by that alone (docs/calculations.md, “Filter first, then
    the rule”).
    """

    TEACHER = "teacher"
    SELF = "self"
    PEER = "peer"
    SECOND_MARKER = "second-marker"


WAITS_FOR_TEACHER = frozenset({DeskState.WAITING, DeskState.STARTED, DeskState.CHANGED})
"""What "to mark" counts: missing and excused work never does, nor who was absent."""


@dataclass(frozen=True, slots=True)
class Progress:
    """What is known of one student's work and mark: `version` is None before marking began;
    `absent` where they were, when others were observed, `there_when_due` where they were in the
    class on the day that it was due: nobody owes what was due before they came.
    """

    excused: bool
    has_work: bool
    version: int | None
    finished_version: int | None
    absent: bool = False
    there_when_due: bool = True


def desk_state(progress: Progress, observed: bool, due_passed: bool) -> DeskState:
    """Say where a student stands. Observed work waits once it is due (or has no due time), but not
    that of who was absent.
    """
    if progress.excused:
        return DeskState.EXCUSED
    if progress.finished_version is not None:
        changed = progress.version != progress.finished_version
        return DeskState.CHANGED if changed else DeskState.DONE
    if progress.version:
        return DeskState.STARTED
    if observed and progress.absent:
        return DeskState.ABSENT
    if progress.has_work or (observed and due_passed):
        return DeskState.WAITING
    owed = due_passed and not observed and progress.there_when_due
    return DeskState.MISSING if owed else DeskState.NOT_YET


def time_on_paper(now: datetime, due: datetime | None, before: datetime | None) -> datetime:
    """Give the time of an attempt without a time handed in, at its first choice: its due time if
    that is past, else now; never before the attempt `before` it (“Time and order”).
    """
    done = due if due is not None and due < now else now
    return done if before is None else max(done, before)


def unmarked(criteria: Sequence[Criterion], chosen_keys: Collection[str]) -> list[Criterion]:
    """List the criteria that still need a level or "not assessed": all but the bonus ones."""
    return [
        criterion
        for criterion in criteria
        if not criterion.bonus and criterion.key not in chosen_keys
    ]
