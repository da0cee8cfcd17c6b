"""Messages to the students of a task: to all, to those missing, or to those below a level."""

from __future__ import annotations

import re
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from jade_ladder.core.errors import Refused
from jade_ladder.core.marking import DeskState
from jade_ladder.service.mastery.wall import wall
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import school_zone
from jade_ladder.service.shared.forms import collect_errors, needed
from jade_ladder.service.shared.guards import own_task
from jade_ladder.service.work.standing import StudentAtTask
from jade_ladder.service.work.tasks import view_of
from jade_ladder.store.marking import marks as mark_store
from jade_ladder.store.messages import messages as store
from jade_ladder.store.messages.messages import MessageKind, NewMessage, SentRow
from jade_ladder.store.rubrics import criteria as criterion_store
from jade_ladder.store.rubrics.criteria import StoredCriterion
from jade_ladder.store.work.tasks import TaskRow

LONGEST_TEXT = 5_000


class Audience(StrEnum):
    """To whom a message goes."""

    ALL = "all"
    MISSING = "missing"
    BELOW_ON_CRITERION = "below-on-criterion"
    BELOW_ON_OUTCOME = "below-on-outcome"


@dataclass(frozen=True, slots=True)
class Reminder:
    """A message as it is written: fields in braces are filled in for each student. `about` is the
    criterion or outcome, `level` the place of the level (0 the lowest) that they are below.
    """

    audience: Audience
    subject: str
    text: str
    about: int | None = None
    level: int | None = None


@dataclass(frozen=True, slots=True)
class Filled:
    """A message as one student gets it."""

    student_id: int
    name: str
    subject: str
    text: str


FIELDS = ("given name", "name", "task", "due")
_FIELD = re.compile(r"\{(" + "|".join(FIELDS) + r")\}")


def preview_reminder(caller: Teacher, task_id: int, reminder: Reminder) -> list[Filled]:
    """Give a message as each of those gets it whom it would go to."""
    with caller.reading() as db:
        return _filled(db, caller, task_id, reminder)[1]


def send_reminder(
    caller: Teacher, task_id: int, reminder: Reminder, student_ids: Sequence[int]
) -> int:
    """Send a message to those of its audience who are chosen; gives to how many."""
    with caller.transaction() as db:
        row, filled = _filled(db, caller, task_id, reminder)
        chosen = [one for one in filled if one.student_id in set(student_ids)]
        if not chosen:
            raise Refused("Choose somebody it goes to", "student_ids")
        store.add_messages(
            db,
            (
                NewMessage(
                    one.student_id,
                    MessageKind.REMINDER,
                    one.subject,
                    one.text,
                    f"/my/tasks/{row.id}",
                    row.id,
                    caller.now,
                )
                for one in chosen
            ),
            caller.person_id,
            caller.now,
        )
        return len(chosen)


def sent_messages(caller: Teacher, task_id: int) -> list[SentRow]:
    """List what was sent about a task, the newest first."""
    with caller.reading() as db:
        own_task(db, caller, task_id)
        return store.sent_about(db, task_id)


def _filled(
    db: sqlite3.Connection, caller: Teacher, task_id: int, reminder: Reminder
) -> tuple[TaskRow, list[Filled]]:
    row, _ = own_task(db, caller, task_id)
    collect_errors(
        lambda: needed(reminder.subject, "subject", "A subject"),
        lambda: needed(reminder.text, "text", "A text", LONGEST_TEXT),
    )
    criteria = criterion_store.criteria(db, row.revision_id)
    there = [one for one in view_of(db, caller, row, criteria).students if one.row.left_on is None]
    chosen = _chosen(db, caller, row, criteria, there, reminder)
    due = ""
    if row.due_at is not None:
        local = row.due_at.astimezone(school_zone(db))
        due = f"{local.day} {local:%B %Y, %H:%M}"
    filled = []
    for one in chosen:
        values = (one.row.given_name or one.row.name, one.row.name, row.title, due)
        fill = dict(zip(FIELDS, values, strict=True))
        subject, text = (
            _FIELD.sub(lambda found, fill=fill: fill[found[1]], written.strip())  # type: ignore[misc]
            for written in (reminder.subject, reminder.text)
        )
        filled.append(Filled(one.row.student_id, one.row.name, subject, text))
    return row, filled


def _chosen(
    db: sqlite3.Connection,
    caller: Teacher,
    row: TaskRow,
    criteria: Sequence[StoredCriterion],
    there: Sequence[StudentAtTask],
    reminder: Reminder,
) -> list[StudentAtTask]:
    match reminder.audience:
        case Audience.ALL:
            return list(there)
        case Audience.MISSING:
            nothing = (DeskState.MISSING, DeskState.NOT_YET)
            return [one for one in there if one.state in nothing]
        case Audience.BELOW_ON_CRITERION:
            below = _below_on_criterion(db, criteria, there, reminder)
        case Audience.BELOW_ON_OUTCOME:
            below = _below_on_outcome(caller, row.class_id, reminder)
    return [one for one in there if one.row.student_id in below]


def _below_on_criterion(
    db: sqlite3.Connection,
    criteria: Sequence[StoredCriterion],
    there: Sequence[StudentAtTask],
    reminder: Reminder,
) -> set[int]:
    stored = next((one for one in criteria if one.id == reminder.about), None)
    if stored is None:
        raise Refused("Choose a criterion of this task", "about")
    level = _level(reminder, len(stored.level_ids))
    marks = {
        one.row.mark_id: one.row.student_id
        for one in there
        if one.row.mark_id is not None and one.row.finished_version is not None
    }
    finished = {one.row.mark_id: one.row.finished_version or 0 for one in there}
    below = set()
    for choice in mark_store.ever_chosen(db, marks):
        version = finished[choice.mark_id]
        counts = choice.since <= version and (choice.until is None or choice.until > version)
        if not counts or choice.criterion_id != stored.id or choice.level_id is None:
            continue
        if stored.level_ids.index(choice.level_id) < level:
            below.add(marks[choice.mark_id])
    return below


def _below_on_outcome(caller: Teacher, class_id: int, reminder: Reminder) -> set[int]:
    seen = wall(caller, class_id)
    column = next((at for at, one in enumerate(seen.outcomes) if one.id == reminder.about), None)
    if column is None:
        raise Refused("Choose an outcome that this class teaches", "about")
    level = _level(reminder, len(seen.rules[column].scale.levels))
    below = set()
    for student, cells in zip(seen.students, seen.cells, strict=True):
        reached = cells[column].mastery.level
        if reached is not None and reached < level:
            below.add(student.id)
    return below


def _level(reminder: Reminder, levels: int) -> int:
    if reminder.level is None or not 0 < reminder.level < levels:
        raise Refused("Choose the level that they are below", "level")
    return reminder.level
