"""A year later: a class is set aside, and goes on as another one."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass, replace
from datetime import date, datetime

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.service.classes.classes import checked_class
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import in_utc, school_zone, today
from jade_ladder.service.work.setting import still_asked
from jade_ladder.store.classes import classes as class_store
from jade_ladder.store.classes import students as member_store
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.outcomes import outcomes as outcome_store
from jade_ladder.store.people import teachers as teacher_store
from jade_ladder.store.shared.log import LogSubject
from jade_ladder.store.work import task_files as task_file_store
from jade_ladder.store.work import tasks as task_store


@dataclass(frozen=True, slots=True)
class NextClass:
    """How a class goes on: its name and days, and what besides outcomes and methods it takes."""

    name: str
    first_day: date
    last_day: date
    students: bool
    tasks: bool


def copy_class(caller: Teacher, class_id: int, as_class: NextClass) -> int:
    """Make a class with the outcomes, methods and scale of another, with those of its students who
    have not left and its tasks as wished; gives its number. Tasks move by as many days as the first
    day does, and go by the newest revision of their rubric. Evidence follows the students.
    """
    name = checked_class(as_class.name, as_class.first_day, as_class.last_day)
    with caller.transaction() as db:
        old = _own_class(db, caller, class_id)
        number = class_store.add_class(
            db,
            caller.person_id,
            name,
            as_class.first_day,
            as_class.last_day,
            old.scale_id,
            old.method,
            old.newest,
            old.last,
        )
        class_store.change_strand_roll_up(db, number, old.strand_roll_up)
        class_store.change_combining(db, number, old.combining)
        day = today(db, caller)
        # Who teaches it reaches it from now on, whenever it begins.
        since = min(day, as_class.first_day)
        member_store.add_member(db, number, caller.person_id, "teacher", since)
        outcome_store.copy_class_outcomes(db, class_id, number, day, since)
        if as_class.students:
            present = [one.id for one in member_store.students(db, class_id) if one.until is None]
            member_store.add_members(
                db, number, "student", ((one, as_class.first_day) for one in present)
            )
        if as_class.tasks:
            _copy_tasks(db, caller, old, number, as_class)
        caller.log(db, LogSubject.CLASS_COPIED, number, {"class": class_id}, {"name": name})
        return number


def _copy_tasks(
    db: sqlite3.Connection, caller: Teacher, old: ClassRow, number: int, as_class: NextClass
) -> None:
    zone = school_zone(db)
    later = as_class.first_day - old.first_day

    def moved(due_at: datetime | None) -> datetime | None:
        # By the clock of the school, which may be another hour of UTC by then.
        if due_at is None:
            return None
        return in_utc(due_at.astimezone(zone).replace(tzinfo=None) + later, zone)

    for task in task_store.class_tasks(db, old.id):
        revision_id = task_store.newest_revision(db, task.revision_id)
        fields = replace(
            task.fields(),
            revision_id=revision_id,
            due_at=moved(task.due_at),
            closes_at=moved(task.closes_at),
            # Students see it once it is set in the new class.
            set_at=None
            if task.set_at is None
            else max(caller.now, moved(task.set_at) or caller.now),
            for_all=True,
            asked=still_asked(db, revision_id, task.asked),
        )
        made = task_store.add_task(db, number, fields, caller.now)
        task_store.copy_instructions(db, task.id, made)
        task_file_store.copy_task_files(db, task.id, made)


def set_class_aside(caller: Teacher, class_id: int, aside: bool) -> None:
    """Set a class aside, so that it can only be looked at and is out of the lists, or take it up
    again. Its evidence goes on counting for its students. The responsible teacher says so.
    """
    with caller.transaction() as db:
        row = _own_class(db, caller, class_id)
        responsible = [one for one in teacher_store.class_teachers(db, class_id) if one.responsible]
        if responsible and responsible[0].id != caller.person_id:
            raise Refused(f"{responsible[0].name} is responsible for this class")
        if (row.set_aside_at is not None) == aside:
            return
        class_store.set_aside(db, class_id, caller.now if aside else None)
        caller.log(db, LogSubject.CLASS_SET_ASIDE, class_id, not aside, aside)


def _own_class(db: sqlite3.Connection, caller: Teacher, class_id: int) -> ClassRow:
    """Give a class of the caller's, set aside or not."""
    found = class_store.class_of_teacher(db, class_id, caller.person_id)
    if found is None:
        raise NotFound("There is no such class among yours")
    return found
