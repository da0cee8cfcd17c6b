"""Revisions: changing a final rubric without changing what marks under it mean."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.core.revision import (
    CriterionComparison,
    RevisedCriterion,
    compare,
    structural_changes,
)
from jade_ladder.core.rubric import Criterion
from jade_ladder.service.marking.carried_marks import CarriedMark, carried_marks
from jade_ladder.service.rubrics.rubrics import RubricView, check_complete, own_rubric, view_of
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.forms import check_version
from jade_ladder.store.classes import classes as class_store
from jade_ladder.store.rubrics import criteria as criterion_store
from jade_ladder.store.rubrics import revisions as store
from jade_ladder.store.rubrics import rubrics as rubric_store
from jade_ladder.store.rubrics.criteria import StoredCriterion
from jade_ladder.store.rubrics.revisions import RevisionRow
from jade_ladder.store.rubrics.rubrics import RubricRow
from jade_ladder.store.shared.log import LogSubject
from jade_ladder.store.work import tasks as task_store
from jade_ladder.store.work.tasks import TaskRow


def revise(caller: Teacher, rubric_id: int, based_on: int) -> RubricView:
    """Open a final rubric for changes: while no task uses it, it is a draft again; else a new
    revision begins as a draft, a copy of the newest, and tasks go on with theirs.
    """
    with caller.transaction() as db:
        row = own_rubric(db, caller, rubric_id)
        check_version(based_on, row.version, "The rubric")
        if row.final_at is None:
            raise Refused("This rubric is a draft already")
        if row.number == 1 and not row.tasks:
            rubric_store.set_final(db, row.revision_id, None)
        else:
            number = store.add_revision(db, rubric_id, row.number + 1, row.points_shown)
            criteria = criterion_store.criteria(db, row.revision_id)
            copies = [(stored.criterion, stored.alignments) for stored in criteria]
            criterion_store.replace_criteria(db, number, copies)
        rubric_store.count_version(db, rubric_id)
        return view_of(db, caller, own_rubric(db, caller, rubric_id))


def discard_revision(caller: Teacher, rubric_id: int, based_on: int) -> RubricView:
    """Throw the draft of a later revision away; the one before it stays as it is."""
    with caller.transaction() as db:
        row = own_rubric(db, caller, rubric_id)
        check_version(based_on, row.version, "The rubric")
        if row.final_at is not None or row.number == 1:
            raise Refused("There is no revision being written")
        store.delete_revision(db, row.revision_id)
        rubric_store.count_version(db, rubric_id)
        return view_of(db, caller, own_rubric(db, caller, rubric_id))


@dataclass(frozen=True, slots=True)
class SideBySide:
    """Two revisions of a rubric: their criteria by key, and how each compares."""

    old: RevisionRow
    new: RevisionRow
    revisions: tuple[RevisionRow, ...]
    title: str
    comparisons: tuple[CriterionComparison, ...]
    old_criteria: dict[str, StoredCriterion]
    new_criteria: dict[str, StoredCriterion]


def side_by_side(
    caller: Teacher, rubric_id: int, old: int | None = None, new: int | None = None
) -> SideBySide:
    """Lay two revisions side by side: the newest and the final one before it, if not said."""
    with caller.reading() as db:
        row = own_rubric(db, caller, rubric_id)
        known = store.revisions(db, rubric_id)
        newer = revision_numbered(known, new or row.number)
        older = revision_numbered(known, old or max(newer.number - 1, 1))
        criteria = [criterion_store.criteria(db, one.id) for one in (older, newer)]
        return SideBySide(
            older,
            newer,
            tuple(known),
            row.edited_title,
            tuple(compare(*(revised(one) for one in criteria))),
            *({stored.criterion.key: stored for stored in one} for one in criteria),
        )


def revision_numbered(known: Sequence[RevisionRow], number: int) -> RevisionRow:
    """Give the revision of that number; NotFound where there is none."""
    for revision in known:
        if revision.number == number:
            return revision
    raise NotFound("There is no such revision of this rubric")


def revised(criteria: Sequence[StoredCriterion]) -> list[RevisedCriterion]:
    """Give criteria as revisions are compared by."""
    return [
        RevisedCriterion(
            stored.criterion,
            {tie.outcome_id: (tie.weight, tie.map.cells) for tie in stored.alignments},
        )
        for stored in criteria
    ]


@dataclass(frozen=True, slots=True)
class CarryPlan:
    """What putting tasks on another revision of their rubric comes to: the criteria there, what
    of the structure a draft changes and, by task, the criteria it is marked by now (`sources`) and
    would be marked by (`targets`: those that it asks), and its marks as they would stand.
    `elsewhere` counts tasks of classes that the caller does not teach.
    """

    row: RubricRow
    target: RevisionRow
    criteria: tuple[StoredCriterion, ...]
    changes: tuple[str, ...]
    tasks: tuple[TaskRow, ...]
    sources: dict[int, list[StoredCriterion]]
    targets: dict[int, list[StoredCriterion]]
    marks: dict[int, list[CarriedMark]]
    elsewhere: int

    @property
    def only_words(self) -> bool:
        """Whether the target is a draft that changes nothing but words, so that it is not needed:
        the words are changed in place.
        """
        return self.target.final_at is None and not self.changes


def carry_plan(db: sqlite3.Connection, caller: Teacher, rubric_id: int, number: int) -> CarryPlan:
    """Work out how the marks of all tasks on other revisions would stand under this one. Part of a
    operation.

    Tasks of classes that the caller does not teach, or set aside, are only counted: they stay.
    """
    row = own_rubric(db, caller, rubric_id)
    target = revision_numbered(store.revisions(db, rubric_id), number)
    criteria = criterion_store.criteria(db, target.id)
    classes = {
        klass.id
        for klass in class_store.classes_of_teacher(db, caller.person_id)
        if klass.set_aside_at is None
    }
    uses = [use for use in rubric_store.tasks_of_rubric(db, rubric_id) if use.revision != number]
    changes = _structure(db, row, criteria) if target.final_at is None else []
    if target.final_at is None and not changes:
        uses = []
    tasks = [
        task
        for use in uses
        if use.class_id in classes and (task := task_store.task(db, use.task_id)) is not None
    ]
    sources = _asked(db, tasks, lambda task: task.revision_id)
    targets = _asked(db, tasks, lambda _: target.id)
    return CarryPlan(
        row,
        target,
        tuple(criteria),
        tuple(changes),
        tuple(tasks),
        sources,
        targets,
        carried_marks(db, sources, targets),
        len(uses) - len(tasks),
    )


def _asked(
    db: sqlite3.Connection, tasks: Iterable[TaskRow], revision_of: Callable[[TaskRow], int | None]
) -> dict[int, list[StoredCriterion]]:
    """Give the criteria that each task asks of a revision; tasks that ask the same share them."""
    known: dict[tuple[int | None, str | None], list[StoredCriterion]] = {}
    found = {}
    for task in tasks:
        place = revision_of(task), task.asked
        if place not in known:
            known[place] = criterion_store.criteria(db, *place)
        found[task.id] = known[place]
    return found


def _structure(
    db: sqlite3.Connection, row: RubricRow, criteria: Sequence[StoredCriterion]
) -> list[str]:
    """Say what of the structure differs from the newest final revision."""
    if row.final_revision_id is None:
        return []
    final = criterion_store.criteria(db, row.final_revision_id)
    return structural_changes(revised(final), revised(criteria))


def apply_revision(
    caller: Teacher, rubric_id: int, number: int, based_on: int, task_ids: Sequence[int]
) -> RubricView:
    """Put these tasks on a revision, their marks carried over level by level; others stay on
    theirs. A draft becomes final by it; one that changes only words is not needed: the words are
    changed in place, for every task of the newest final revision.

    Nothing marked is lost: every version of a mark can be read again, and what counts stays where
    a mark could not be carried over as a whole, until it is finished anew.
    """
    with caller.transaction() as db:
        check_version(based_on, own_rubric(db, caller, rubric_id).version, "The rubric")
        found = carry_plan(db, caller, rubric_id, number)
        row, target = found.row, found.target
        if not set(task_ids) <= {task.id for task in found.tasks}:
            raise Refused("One of these tasks is not yours, or on this revision already", "tasks")
        for task in found.tasks:
            asked = [stored.criterion for stored in found.targets[task.id]]
            if task.id in task_ids and all(criterion.bonus for criterion in asked):
                raise Refused(
                    f"“{task.title}” asks only criteria that this revision has not: leave it out, "
                    "or change first what it asks",
                    "tasks",
                )
        if target.final_at is None:
            if row.final_revision_id is None:
                raise Refused("The first revision is made final, not applied")
            check_complete(row.edited_title, found.criteria)
            if found.only_words:
                _reword(db, caller, row, found.criteria)
            else:
                rubric_store.set_final(db, target.id, caller.now)
                store.set_title(db, target.id, None)
            rubric_store.touch_rubric(db, rubric_id, caller.now, row.edited_title)
        else:
            rubric_store.touch_rubric(db, rubric_id, caller.now)
        for task in found.tasks:
            if task.id in task_ids:
                _move(db, caller, task, target, found.marks[task.id])
        return view_of(db, caller, own_rubric(db, caller, rubric_id))


def _move(
    db: sqlite3.Connection,
    caller: Teacher,
    task: TaskRow,
    target: RevisionRow,
    marks: Sequence[CarriedMark],
) -> None:
    for mark in marks:
        mark.carry(db, caller)
    store.set_task_revision(db, task.id, target.id)
    caller.log(
        db,
        LogSubject.TASK_REVISION,
        task.id,
        {"revision": task.revision},
        {"revision": target.number, "stay": [mark.mark.id for mark in marks if mark.stays]},
    )


def _reword(
    db: sqlite3.Connection, caller: Teacher, row: RubricRow, criteria: Sequence[StoredCriterion]
) -> None:
    """Give the newest final revision the words of its draft, which is thrown away."""
    final = row.final_revision_id
    if final is None:
        return
    before = [stored.criterion for stored in criterion_store.criteria(db, final)]
    after = [stored.criterion for stored in criteria]
    criterion_store.reword_criteria(db, final, after)
    rubric_store.set_points_shown(db, final, row.points_shown)
    store.delete_revision(db, row.revision_id)
    caller.log(
        db,
        LogSubject.RUBRIC_WORDING,
        row.id,
        _words(row.title, before),
        _words(row.edited_title, after),
    )


def _words(title: str, criteria: Sequence[Criterion]) -> dict[str, object]:
    return {
        "title": title,
        "criteria": [
            [one.key, one.title, [[level.name, level.descriptor] for level in one.levels]]
            for one in criteria
        ],
    }
