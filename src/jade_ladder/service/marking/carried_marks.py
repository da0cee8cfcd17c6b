"""Carry marks over from one revision of a rubric to another, level by level."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from jade_ladder.core.revision import carried_level
from jade_ladder.service.marking.choices import NOTHING, Choice, choice_of, unmarked_criteria
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.store.marking import marks as store
from jade_ladder.store.marking.desk import DeskPlace
from jade_ladder.store.marking.marks import ChoiceRow, EverChosen, EverRemarked, TaskMark
from jade_ladder.store.rubrics import criteria as criterion_store
from jade_ladder.store.rubrics import revisions as revision_store
from jade_ladder.store.rubrics.criteria import StoredCriterion


@dataclass(frozen=True, slots=True)
class CarriedMark:
    """A mark as it would stand under another revision: by criterion of that revision, what is
    chosen and remarked.

    `was` is what stands now, by criterion of the present revision. `unmarked` are titles of
    criteria that would still need a choice. With `counts` the carried mark is what counts at once;
    else what counts stays, under the revision it was given under, until the teacher finishes it
    anew.
    """

    mark: TaskMark
    was: Mapping[int, Choice]
    choices: Mapping[int, Choice]
    remarks: Mapping[int, str]
    unmarked: tuple[str, ...]
    counts: bool

    @property
    def stays(self) -> bool:
        """Whether what counts stays on the old revision for now."""
        return self.mark.finished_version is not None and not self.counts

    def carry(self, db: sqlite3.Connection, caller: Teacher) -> None:
        """Do it: append it as a version of the mark. Part of a transaction."""
        choices = {number: (*choice,) for number, choice in self.choices.items()}
        store.carry_over(
            db, self.mark.id, choices, self.remarks, self.counts, caller.now, caller.person_id
        )


def carried_marks(
    db: sqlite3.Connection,
    sources: Mapping[int, Sequence[StoredCriterion]],
    targets: Mapping[int, Sequence[StoredCriterion]],
) -> dict[int, list[CarriedMark]]:
    """Say how the marks of tasks would stand under another revision.

    `sources` are the criteria that each task is marked by now, `targets` those that it would be
    marked by. Gives the marks by task; those on
    which nothing was ever chosen are left out. Part of a transaction.
    """
    marks = store.marks_of_tasks(db, sources)
    chosen: dict[int, list[EverChosen]] = {}
    for choice in store.ever_chosen(db, (mark.id for mark in marks)):
        chosen.setdefault(choice.mark_id, []).append(choice)
    remarked: dict[int, list[EverRemarked]] = {}
    for remark in store.ever_remarked(db, (mark.id for mark in marks)):
        remarked.setdefault(remark.mark_id, []).append(remark)
    found: dict[int, list[CarriedMark]] = {task_id: [] for task_id in sources}
    ways = {task_id: _Way(source, targets[task_id]) for task_id, source in sources.items()}
    for mark in marks:
        if mark.version:
            way = ways[mark.task_id]
            carried = way.carried(mark, chosen.get(mark.id, []), remarked.get(mark.id, []))
            found[mark.task_id].append(carried)
    return found


class _Way:
    """The way from the criteria of one revision to those of another; where a choice goes is worked
    out once.
    """

    def __init__(
        self, source: Sequence[StoredCriterion], target: Sequence[StoredCriterion]
    ) -> None:
        by_key = {stored.criterion.key: stored for stored in source}
        self._target = target
        self._pairs = [(by_key.get(stored.criterion.key), stored) for stored in target]
        self._known: dict[tuple[int, Choice], Choice] = {}

    def carried(
        self, mark: TaskMark, ever: Sequence[EverChosen], remarks: Sequence[EverRemarked]
    ) -> CarriedMark:
        """Say how a mark would stand, of all that was ever chosen and remarked on it."""
        was: dict[int, Choice] = {}
        earlier: dict[int, Choice] = {}
        for one in ever:
            choice = earlier[one.criterion_id] = choice_of(one)
            if one.until is None:
                was[one.criterion_id] = choice
        choices = {}
        for old, new in self._pairs:
            if old and old.id in was:
                choice = self._choice(old, new, was[old.id])
            else:
                # Marked under this revision before the task was put on the present one.
                choice = earlier.get(new.id, NOTHING)
            if choice != NOTHING:
                choices[new.id] = choice
        unmarked = unmarked_criteria(self._target, choices)
        finished = mark.finished_version
        counts = (
            not unmarked
            and finished is not None
            and (finished == mark.version or _as_of(ever, finished) == choices)
        )
        titles = tuple(criterion.title for criterion in unmarked)
        return CarriedMark(mark, was, choices, self._remarks(remarks), titles, counts)

    def _remarks(self, remarks: Sequence[EverRemarked]) -> dict[int, str]:
        if not remarks:
            return {}
        said = {one.criterion_id: one.text for one in remarks if one.until is None}
        earlier = {one.criterion_id: one.text for one in remarks}
        texts = {
            new.id: said[old.id] if old and old.id in said else earlier.get(new.id, "")
            for old, new in self._pairs
        }
        return {number: text for number, text in texts.items() if text}

    def _choice(self, old: StoredCriterion, new: StoredCriterion, choice: Choice) -> Choice:
        known = self._known.get((old.id, choice))
        if known is None:
            known = self._known[old.id, choice] = _carried_choice(old, new, choice)
        return known


def _carried_choice(old: StoredCriterion, new: StoredCriterion, choice: Choice) -> Choice:
    if choice.level_id is None:
        return choice
    place = old.level_ids.index(choice.level_id)
    carried = carried_level(old.criterion, new.criterion, place, choice.half_way)
    if carried is None:
        return NOTHING
    return choice._replace(level_id=new.level_ids[carried])


def _as_of(ever: Iterable[EverChosen], version: int) -> dict[int, Choice]:
    standing = {
        one.criterion_id: choice_of(one)
        for one in ever
        if one.since <= version and (one.until is None or one.until > version)
    }
    return {number: choice for number, choice in standing.items() if choice != NOTHING}


@dataclass(frozen=True, slots=True)
class CountingUnder:
    """What counts of a mark while it was given under another revision than the task's: that
    revision's number, and what was chosen on its criteria.
    """

    revision: int
    choices: tuple[tuple[StoredCriterion, Choice], ...]


def counting_under(
    db: sqlite3.Connection,
    place: DeskPlace,
    criteria: Sequence[StoredCriterion],
    counted: Mapping[int, ChoiceRow],
) -> CountingUnder | None:
    """Give what counts of a mark, of which `counted` are the finished choices, if it is not by
    these criteria, the task's. Part of a transaction.
    """
    finished = place.mark.finished_version
    if finished is None or finished == place.mark.version or not counted:
        return None
    if any(stored.id in counted for stored in criteria):
        return None
    found = revision_store.revision_of_criterion(db, min(counted))
    if found is None:
        return None
    _, revision_id, number = found
    chosen = [
        (stored, choice)
        for stored in criterion_store.criteria(db, revision_id)
        if (choice := choice_of(counted.get(stored.id))) != NOTHING
    ]
    return CountingUnder(number, tuple(chosen))
