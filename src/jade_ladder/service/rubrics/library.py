"""The library of rubrics: tags, archiving, sharing, and copies that fit a class."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from jade_ladder.core.alignment import moved_to_scale
from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.core.rubric import Criterion
from jade_ladder.core.scale import Scale
from jade_ladder.service.rubrics.rubrics import own_rubric
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.guards import own_class
from jade_ladder.store.outcomes import outcomes as outcome_store
from jade_ladder.store.outcomes import scales as scale_store
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.rubrics import criteria as criterion_store
from jade_ladder.store.rubrics import library as store
from jade_ladder.store.rubrics import rubrics as rubric_store
from jade_ladder.store.rubrics.criteria import StoredAlignment, StoredCriterion
from jade_ladder.store.rubrics.library import SharedRubric
from jade_ladder.store.rubrics.rubrics import RubricRow

MOST_TAGS, LONGEST_TAG = 12, 40


@dataclass(frozen=True, slots=True)
class Library:
    """A teacher's rubrics with their tags, and those that colleagues share."""

    own: tuple[RubricRow, ...]
    tags: dict[int, list[str]]
    shared: tuple[SharedRubric, ...]


def library(caller: Teacher) -> Library:
    """List the caller's rubrics, archived ones too, and what colleagues share."""
    with caller.reading() as db:
        return Library(
            tuple(rubric_store.rubrics(db, caller.person_id)),
            store.tags(db, caller.person_id),
            tuple(store.shared_rubrics(db, caller.person_id)),
        )


def set_tags(caller: Teacher, rubric_id: int, tags: Sequence[str]) -> None:
    """Give a rubric of the caller's these tags; the same tag twice is one."""
    wanted = {tag.strip().casefold(): tag.strip() for tag in reversed(tags) if tag.strip()}
    if len(wanted) > MOST_TAGS:
        raise Refused(f"A rubric has at most {MOST_TAGS} tags", "tags")
    if any(len(tag) > LONGEST_TAG for tag in wanted.values()):
        raise Refused(f"A tag has at most {LONGEST_TAG} characters", "tags")
    with caller.transaction() as db:
        own_rubric(db, caller, rubric_id)
        store.set_tags(db, rubric_id, wanted.values())


def archive_rubric(caller: Teacher, rubric_id: int, archived: bool) -> None:
    """Archive a rubric, or restore it; tasks that use it go on."""
    with caller.transaction() as db:
        own_rubric(db, caller, rubric_id)
        store.set_archived(db, rubric_id, caller.now if archived else None)


def share_rubric(caller: Teacher, rubric_id: int, shared: bool) -> None:
    """Let colleagues copy a rubric, or no longer; nobody else can change it. They see it once it
    is final.
    """
    with caller.transaction() as db:
        own_rubric(db, caller, rubric_id)
        store.set_shared(db, rubric_id, shared)


@dataclass(frozen=True, slots=True)
class Fit:
    """How a rubric fits what a class teaches: codes of outcomes that it teaches, that are matched
    by code with another outcome of the class, and that the class has nothing for. `criteria` are
    its own.
    """

    taught: tuple[str, ...]
    matched: tuple[str, ...]
    unmatched: tuple[str, ...]
    criteria: tuple[Criterion, ...]


def fit_rubric(caller: Teacher, class_id: int, rubric_id: int) -> Fit:
    """Say how a rubric of the caller's, or a shared one, fits a class; nothing is changed."""
    with caller.reading() as db:
        own_class(db, caller, class_id)
        found = _readable(db, caller, rubric_id)
        return _Fitting(db, class_id, criterion_store.criteria(db, found.in_force)).fit


def copy_for_class(caller: Teacher, class_id: int, rubric_id: int) -> tuple[int, Fit]:
    """Copy a rubric of the caller's, or a shared one, into a new draft whose alignments are to
    outcomes of the class; those without a match are left out. Gives the copy's number.
    """
    with caller.transaction() as db:
        own_class(db, caller, class_id)
        found = _readable(db, caller, rubric_id)
        fitting = _Fitting(db, class_id, criterion_store.criteria(db, found.in_force))
        title = found.title if isinstance(found, SharedRubric) else f"{found.title} (copy)"
        number = rubric_store.add_rubric(db, caller.person_id, title, caller.now)
        copy = own_rubric(db, caller, number)
        criterion_store.replace_criteria(db, copy.revision_id, fitting.criteria)
        shown = rubric_store.points_shown(db, found.in_force)
        rubric_store.set_points_shown(db, copy.revision_id, shown)
        return number, fitting.fit


def _readable(db: sqlite3.Connection, caller: Teacher, rubric_id: int) -> RubricRow | SharedRubric:
    own = rubric_store.rubric(db, rubric_id, caller.person_id)
    found = own or store.shared_rubric(db, rubric_id, caller.person_id)
    if found is None:
        raise NotFound("There is no such rubric among yours or those shared with you")
    return found


class _Fitting:
    """A rubric's criteria with their alignments moved to the outcomes of a class."""

    def __init__(
        self, db: sqlite3.Connection, class_id: int, criteria: Sequence[StoredCriterion]
    ) -> None:
        rows = [o for o in outcome_store.class_outcomes(db, class_id) if o.active_until is None]
        self._here = {row.id: row for row in rows}
        self._by_code = {row.code.casefold(): row for row in rows}
        self._scales = {n: one.scale for n, one in scale_store.scales(db).items()}
        ids = {tie.outcome_id for stored in criteria for tie in stored.alignments}
        self._there = outcome_store.outcome_heads(db, ids)
        self._taught: dict[str, None] = {}
        self._matched: dict[str, None] = {}
        self._unmatched: dict[str, None] = {}
        self.criteria = [
            (stored.criterion, self._alignments(stored.criterion, stored.alignments))
            for stored in criteria
        ]
        self.fit = Fit(
            tuple(self._taught),
            tuple(self._matched),
            tuple(self._unmatched),
            tuple(stored.criterion for stored in criteria),
        )

    def _alignments(
        self, criterion: Criterion, ties: Sequence[StoredAlignment]
    ) -> list[StoredAlignment]:
        found: dict[int, StoredAlignment] = {}
        for tie in ties:
            code, scale_id = self._there[tie.outcome_id]
            if tie.outcome_id in self._here:
                self._taught[code] = None
                found.setdefault(tie.outcome_id, tie)
            elif here := self._by_code.get(code.casefold()):
                self._matched[code] = None
                moved = self._moved(criterion, tie, self._scales[scale_id], here)
                found.setdefault(here.id, moved)
            else:
                self._unmatched[code] = None
        return list(found.values())

    def _moved(
        self, criterion: Criterion, tie: StoredAlignment, old: Scale, to: OutcomeRow
    ) -> StoredAlignment:
        cells = moved_to_scale(criterion, tie.map, old, self._scales[to.scale_id])
        return StoredAlignment(to.id, tie.weight, cells)
