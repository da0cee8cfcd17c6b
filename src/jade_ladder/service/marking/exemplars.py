"""Exemplars: pieces of work with agreed levels, pinned beside the work that is marked."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.service.marking.choices import choice_of
from jade_ladder.service.marking.state import Marking
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.guards import own_task
from jade_ladder.store.marking import exemplars as store
from jade_ladder.store.marking.exemplars import ExemplarRow
from jade_ladder.store.marking.hand_backs import revision_of_mark, standing_at
from jade_ladder.store.rubrics import criteria as criterion_store
from jade_ladder.store.work import parts as part_store
from jade_ladder.store.work.parts import WorkPart

LONGEST_TITLE = 120


@dataclass(frozen=True, slots=True)
class Agreed:
    """The level that is agreed on a criterion, by the keys that are the same in every revision."""

    criterion_key: str
    level_key: str
    level: str
    half_way: bool


@dataclass(frozen=True, slots=True)
class Exemplar:
    """A piece of work, its parts, and the levels that are agreed; never whose it is."""

    row: ExemplarRow
    parts: tuple[WorkPart, ...]
    levels: tuple[Agreed, ...]


def exemplars(caller: Teacher, task_id: int) -> list[Exemplar]:
    """List the exemplars for the rubric of a task, from classes that the caller teaches."""
    with caller.reading() as db:
        row, _ = own_task(db, caller, task_id)
        if row.rubric_id is None:
            return []
        found = store.exemplars_of_rubric(db, caller.person_id, row.rubric_id)
        return [_exemplar(db, one) for one in found]


def _exemplar(db: sqlite3.Connection, row: ExemplarRow) -> Exemplar:
    revision_id = revision_of_mark(db, row.mark_id, row.version)
    criteria = [] if revision_id is None else criterion_store.criteria(db, revision_id)
    choices = standing_at(db, row.mark_id, row.version).choices
    levels = []
    for stored in criteria:
        choice = choice_of(choices.get(stored.id))
        if choice.level_id in stored.level_ids:
            level = stored.criterion.levels[stored.level_ids.index(choice.level_id)]
            levels.append(Agreed(stored.criterion.key, level.key, level.name, choice.half_way))
    return Exemplar(row, tuple(part_store.work_parts(db, row.attempt_id)), tuple(levels))


def pin_exemplar(
    caller: Teacher, task_id: int, student_id: int, title: str, attempt: int = 1
) -> None:
    """Make a student's work an exemplar for the rubric of its task, with the levels of its finished
    mark; pinned again, the title and the levels are those of now. Refused while it is not finished.
    """
    title = title.strip()
    if not title:
        raise Refused("Give it a title that does not say whose it is", "title")
    if len(title) > LONGEST_TITLE:
        raise Refused(f"At most {LONGEST_TITLE} characters", "title")
    with caller.transaction() as db:
        own_task(db, caller, task_id)
        place = Marking.load(db, caller, task_id, student_id, attempt).place
        if place.attempt.id is None or place.mark.finished_version is None:
            raise Refused("Finish the mark first: its levels are those that are agreed", "title")
        rubric_id = store.rubric_of_revision(db, place.task.revision_id)
        store.pin(
            db,
            rubric_id,
            place.attempt.id,
            place.mark.finished_version,
            title,
            caller.now,
            caller.person_id,
        )


def unpin_exemplar(caller: Teacher, exemplar_id: int) -> None:
    """Let a piece of work be no exemplar any more; work and mark stay as they are."""
    with caller.transaction() as db:
        if not store.is_of_teacher(db, caller.person_id, exemplar_id):
            raise NotFound("There is no such exemplar")
        store.unpin(db, exemplar_id)
