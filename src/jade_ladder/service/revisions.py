"""Changing a final rubric that tasks use: its wording, in place."""

from __future__ import annotations

from collections.abc import Sequence

from jade_ladder.core.errors import Problem, Refused, RefusedMany
from jade_ladder.core.revision import RevisedCriterion, structural_changes
from jade_ladder.core.rubric import Criterion, missing_before_final
from jade_ladder.service.caller import Caller, check_version, needed
from jade_ladder.service.drafts import CriterionDraft, checked_drafts
from jade_ladder.service.rubrics import RubricView, own_rubric, view_of
from jade_ladder.store import criteria as criterion_store
from jade_ladder.store import log
from jade_ladder.store import rubrics as store
from jade_ladder.store.criteria import StoredAlignment


def reword(
    caller: Caller,
    rubric_id: int,
    based_on: int,
    title: str,
    drafts: Sequence[CriterionDraft],
    points_shown: bool = True,
) -> RubricView:
    """Change the words of a final rubric in place, for every task and mark that uses it: titles,
    level names, descriptors, the order of criteria. Marks, totals and mastery stay as they are.

    Raises RefusedMany, saying what, when anything of the structure would change too.
    """
    title = needed(title, "title", "A title for the rubric")
    with caller.deed() as db:
        row = own_rubric(db, caller, rubric_id)
        check_version(based_on, row.version, "The rubric")
        if row.final_at is None:
            raise Refused("This rubric is a draft: it is saved as it is written")
        stored = criterion_store.criteria(db, row.revision_id)
        checked = checked_drafts(db, caller, drafts)
        changes = structural_changes(
            [_revised(one.criterion, one.alignments) for one in stored],
            [_revised(criterion, ties) for criterion, ties in checked],
        )
        if changes:
            raise RefusedMany(
                "This changes more than words, so that marks would mean something else: "
                f"{changes[0]}. Copy the rubric to change it",
                [Problem("", change) for change in changes],
            )
        new = [criterion for criterion, _ in checked]
        missing = missing_before_final(title, new)
        if missing:
            raise RefusedMany(missing[0].message, missing)
        before = _words(row.title, [one.criterion for one in stored])
        criterion_store.reword_criteria(db, row.revision_id, new)
        store.set_points_shown(db, row.revision_id, points_shown)
        store.touch_rubric(db, rubric_id, title, caller.now)
        after = _words(title, new)
        log.add_entry(db, caller.now, caller.person_id, "rubric-wording", rubric_id, before, after)
        return view_of(db, caller, own_rubric(db, caller, rubric_id))


def _revised(criterion: Criterion, ties: Sequence[StoredAlignment]) -> RevisedCriterion:
    return RevisedCriterion(
        criterion, {tie.outcome_id: (tie.weight, tie.map.cells) for tie in ties}
    )


def _words(title: str, criteria: Sequence[Criterion]) -> dict[str, object]:
    return {
        "title": title,
        "criteria": [
            [one.key, one.title, [[level.name, level.descriptor] for level in one.levels]]
            for one in criteria
        ],
    }
