"""Rubrics: drafts saved as they grow, made final when nothing is missing."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from jade_ladder.core.errors import NotFound, Problem, Refused, RefusedMany
from jade_ladder.core.numbers import Hundredths
from jade_ladder.core.rubric import (
    equal_shares,
    highest_points,
    missing_before_final,
    share_missing,
    with_shares,
)
from jade_ladder.core.scale import Scale
from jade_ladder.service.rubrics.drafts import CriterionDraft, checked_drafts
from jade_ladder.service.rubrics.notes import notes_on
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.forms import check_version, needed
from jade_ladder.store.outcomes import outcomes as outcome_store
from jade_ladder.store.outcomes import scales as scale_store
from jade_ladder.store.outcomes.outcomes import OwnOutcome
from jade_ladder.store.rubrics import criteria as criterion_store
from jade_ladder.store.rubrics import revisions as revision_store
from jade_ladder.store.rubrics import rubrics as store
from jade_ladder.store.rubrics.criteria import StoredCriterion
from jade_ladder.store.rubrics.rubrics import RubricRow, Use


@dataclass(frozen=True, slots=True)
class Reach:
    """How strongly a rubric reaches an outcome: by how many criteria, with what share of all the
    weight that its criteria carry (a fraction of 1).
    """

    outcome: OwnOutcome
    criteria: int
    share: Fraction
    lifts_to: Hundredths | None


@dataclass(frozen=True, slots=True)
class RubricView:
    """A rubric with all that its editor shows."""

    row: RubricRow
    criteria: tuple[StoredCriterion, ...]
    missing: tuple[Problem, ...]
    notes: tuple[Problem, ...]
    points: Hundredths
    reaches: tuple[Reach, ...]
    outcomes: tuple[OwnOutcome, ...]
    scales: dict[int, Scale]
    tasks: tuple[Use, ...]


def rubrics(caller: Teacher) -> list[RubricRow]:
    """List the caller's rubrics, the last changed first."""
    with caller.reading() as db:
        return store.rubrics(db, caller.person_id)


def get_rubric(caller: Teacher, rubric_id: int) -> RubricView:
    """Give one of the caller's rubrics."""
    with caller.reading() as db:
        return view_of(db, caller, own_rubric(db, caller, rubric_id))


def own_rubric(db: sqlite3.Connection, caller: Teacher, rubric_id: int) -> RubricRow:
    """Give a rubric of the caller's; NotFound for any other. Part of a transaction."""
    row = store.rubric(db, rubric_id, caller.person_id)
    if row is None:
        raise NotFound("There is no such rubric among yours")
    return row


def as_shares(criteria: Sequence[StoredCriterion]) -> list[StoredCriterion]:
    """Give the criteria that a task asks with their weights scaled to 100%, to be shown."""
    scaled = with_shares([stored.criterion for stored in criteria])
    return [
        replace(stored, criterion=criterion)
        for stored, criterion in zip(criteria, scaled, strict=True)
    ]


def make_rubric(caller: Teacher, title: str) -> int:
    """Begin a draft; gives the rubric's number."""
    with caller.transaction() as db:
        title = needed(title, "title", "A title for the rubric")
        return store.add_rubric(db, caller.person_id, title, caller.now)


def copy_rubric(caller: Teacher, rubric_id: int) -> int:
    """Copy a rubric, as it is in force, into a new draft; gives the new one's number."""
    with caller.transaction() as db:
        row = own_rubric(db, caller, rubric_id)
        number = store.add_rubric(db, caller.person_id, f"{row.title} (copy)", caller.now)
        copy = own_rubric(db, caller, number)
        criteria = criterion_store.criteria(db, row.in_force)
        criterion_store.replace_criteria(
            db, copy.revision_id, [(stored.criterion, stored.alignments) for stored in criteria]
        )
        store.set_points_shown(db, copy.revision_id, store.points_shown(db, row.in_force))
        return number


def save_draft(
    caller: Teacher,
    rubric_id: int,
    based_on: int,
    title: str,
    drafts: Sequence[CriterionDraft],
    points_shown: bool = True,
) -> RubricView:
    """Save a draft as it stands, finished or not; gives it with its maps worked out. The same
    draft sent twice, as after an answer that was lost, is one.

    What cannot be stored is refused at its field; what is only missing is told and stored.
    """
    wanted = needed(title, "title", "A title for the rubric")
    with caller.transaction() as db:
        row = own_rubric(db, caller, rubric_id)
        before = criterion_store.criteria(db, row.revision_id)
        checked = checked_drafts(db, caller, drafts, before)
        if (row.edited_title, row.points_shown) == (wanted, points_shown) and checked == [
            (stored.criterion, list(stored.alignments)) for stored in before
        ]:
            return view_of(db, caller, row)
        check_version(based_on, row.version, "The rubric")
        _check_draft(row)
        criterion_store.replace_criteria(db, row.revision_id, checked)
        store.set_points_shown(db, row.revision_id, points_shown)
        if row.number == 1:
            store.touch_rubric(db, rubric_id, caller.now, wanted)
        else:
            # The title, too, changes only once the revision is applied.
            revision_store.set_title(db, row.revision_id, wanted)
            store.touch_rubric(db, rubric_id, caller.now)
        return view_of(db, caller, own_rubric(db, caller, rubric_id))


def _check_draft(row: RubricRow) -> None:
    if row.final_at is not None:
        raise Refused("This rubric is final: open it for changes first")


def share_weights(caller: Teacher, rubric_id: int, based_on: int, equally: bool) -> RubricView:
    """Share out the weight that is missing to 100%, or give all criteria equal weights."""
    with caller.transaction() as db:
        row = own_rubric(db, caller, rubric_id)
        check_version(based_on, row.version, "The rubric")
        _check_draft(row)
        criteria = criterion_store.criteria(db, row.revision_id)
        counting = [stored for stored in criteria if not stored.criterion.bonus]
        weights = (
            equal_shares(len(counting))
            if equally
            else share_missing([stored.criterion.weight for stored in counting])
        )
        by_id = dict(zip((stored.id for stored in counting), weights, strict=True))
        drafts = [
            (replace(stored.criterion, weight=by_id.get(stored.id)), stored.alignments)
            for stored in criteria
        ]
        criterion_store.replace_criteria(db, row.revision_id, drafts)
        store.touch_rubric(db, rubric_id, caller.now)
        return view_of(db, caller, own_rubric(db, caller, rubric_id))


def make_final(caller: Teacher, rubric_id: int, based_on: int) -> RubricView:
    """Make a first draft final, so that tasks can use it; refused with all that is missing. A
    later revision is applied instead, with what it does to each task.
    """
    with caller.transaction() as db:
        row = own_rubric(db, caller, rubric_id)
        check_version(based_on, row.version, "The rubric")
        _check_draft(row)
        if row.number > 1:
            raise Refused("This is a revision: look at what it does to the tasks, and apply it")
        check_complete(row.title, criterion_store.criteria(db, row.revision_id))
        store.set_final(db, row.revision_id, caller.now)
        store.touch_rubric(db, rubric_id, caller.now)
        return view_of(db, caller, own_rubric(db, caller, rubric_id))


def check_complete(title: str, criteria: Sequence[StoredCriterion]) -> None:
    """Raise RefusedMany with all that is missing before a rubric can be final."""
    missing = missing_before_final(title, [stored.criterion for stored in criteria])
    if missing:
        raise RefusedMany(missing[0].message, missing)


def delete_rubric(caller: Teacher, rubric_id: int) -> None:
    """Delete a rubric that no task uses."""
    with caller.transaction() as db:
        row = own_rubric(db, caller, rubric_id)
        if row.tasks:
            raise Refused("A task uses this rubric, so it cannot be deleted")
        store.delete_rubric(db, rubric_id)


def view_of(db: sqlite3.Connection, caller: Teacher, row: RubricRow) -> RubricView:
    """Give a rubric with all that its editor shows. Part of a transaction."""
    criteria = criterion_store.criteria(db, row.revision_id)
    outcomes = outcome_store.own_outcomes(db, caller.person_id)
    plain = [stored.criterion for stored in criteria]
    scales = {number: stored.scale for number, stored in scale_store.scales(db).items()}
    return RubricView(
        row,
        tuple(criteria),
        tuple(missing_before_final(row.edited_title, plain)),
        tuple(notes_on(criteria)),
        highest_points(plain),
        tuple(_reaches(criteria, outcomes)),
        tuple(outcomes),
        scales,
        tuple(store.tasks_of_rubric(db, row.id)),
    )


def _reaches(criteria: Sequence[StoredCriterion], outcomes: Sequence[OwnOutcome]) -> list[Reach]:
    reaches = []
    ties = [tie for stored in criteria for tie in stored.alignments]
    whole = sum(tie.weight for tie in ties)
    for outcome in outcomes:
        own = [tie for tie in ties if tie.outcome_id == outcome.id]
        if not own:
            continue
        values = [cell.value for tie in own for cell in tie.map.cells if cell.value is not None]
        share = Fraction(sum(tie.weight for tie in own), whole)
        reaches.append(Reach(outcome, len(own), share, max(values, default=None)))
    return reaches
