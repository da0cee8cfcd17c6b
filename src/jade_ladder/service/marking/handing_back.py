"""Handing back: which version of a mark its student sees, and taking it back."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.service.marking.again import open_attempt_after, tell_of_attempt
from jade_ladder.service.marking.hand_back_moves import keep_what_moved
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import check_day, in_utc, school_zone
from jade_ladder.service.shared.guards import own_student, own_task
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.marking import hand_backs as store
from jade_ladder.store.marking.hand_backs import HandedBackRow
from jade_ladder.store.messages import messages as message_store
from jade_ladder.store.messages.messages import MessageKind, NewMessage
from jade_ladder.store.shared.log import LogSubject
from jade_ladder.store.work import tasks as task_store
from jade_ladder.store.work.tasks import TaskRow

LONGEST_ANSWER = 1_000


@dataclass(frozen=True, slots=True)
class HandingBack:
    """Where handing back stands for one student.

    `ready` where there is a finished version that they have not been handed back; `changed` where
    they see, or will see, an earlier one.
    """

    row: HandedBackRow

    @property
    def handed_version(self) -> int | None:
        """The version that was handed back last, seen yet or not."""
        return self.row.coming_version or self.row.seen_version

    @property
    def ready(self) -> bool:
        """Whether something finished can be handed back that was not."""
        row = self.row
        return row.finished_version is not None and row.finished_version != self.handed_version

    @property
    def changed(self) -> bool:
        """Whether the mark was changed since it was handed back."""
        handed = self.handed_version
        return handed is not None and handed != self.row.version


def handing_back(caller: Teacher, task_id: int) -> list[HandingBack]:
    """List where handing back stands for everybody whose newest attempt has a mark; of several
    entries of other evidence it is told of the newest that can be handed back, or of the newest.
    """
    with caller.reading() as db:
        own_task(db, caller, task_id)
        there = _by_student(store.handed_back(db, task_id, caller.now))
    return [
        next((one for one in of_student if one.ready), of_student[0])
        for of_student in there.values()
    ]


def _by_student(rows: Iterable[HandedBackRow]) -> dict[int, list[HandingBack]]:
    found: dict[int, list[HandingBack]] = {}
    for row in rows:
        found.setdefault(row.student_id, []).append(HandingBack(row))
    return found


def hand_back(
    caller: Teacher,
    task_id: int,
    student_ids: Sequence[int] | None,
    total_shown: bool,
    visible_at: datetime | None = None,
) -> int:
    """Hand the finished marks of some students back, or (None) of all who have one that they have
    not seen; gives to how many. They see them now, or from a time on, by the school's clock where
    it has no zone. Refused for a mark that is not finished.
    """
    with caller.transaction() as db:
        row, klass = own_task(db, caller, task_id)
        when = caller.now
        if visible_at is not None:
            when = _coming_time(db, caller, klass, visible_at)
        there = _by_student(store.handed_back(db, task_id, caller.now))
        if student_ids is None:
            ready = (one for of_student in there.values() for one in of_student if one.ready)
            chosen = [one.row for one in ready]
        else:
            chosen = [
                one
                for number in dict.fromkeys(student_ids)
                for one in _finished(db, row.class_id, there.get(number, []), number)
            ]
        if not chosen:
            raise Refused("There is nothing finished that was not handed back", "student_ids")
        # Sent twice, or from two tabs, it is one: nobody is told anew of the version they have.
        same = [
            one
            for one in chosen
            if row.total_shown == total_shown
            and _is_handed_back(one, None if visible_at is None else when)
        ]
        everybody = list(dict.fromkeys(one.student_id for one in chosen))
        chosen = [one for one in chosen if one not in same]
        if not chosen:
            return len(everybody)
        marks = [(one.mark_id, one.finished_version or 0) for one in chosen]
        store.add_hand_backs(db, marks, total_shown, when, caller.now, caller.person_id)
        keep_what_moved(db, caller, klass, chosen, when)
        task_store.set_total_shown(db, task_id, total_shown)
        students = list(dict.fromkeys(one.student_id for one in chosen))
        _tell(db, caller, row, students, when)
        caller.log(
            db,
            LogSubject.TASK_HANDED_BACK,
            task_id,
            None,
            {"students": students, "from": when, "total": total_shown},
        )
        return len(everybody)


def _is_handed_back(row: HandedBackRow, visible_at: datetime | None) -> bool:
    """Whether the finished version is handed back already, to be seen now (None) or from a time."""
    if visible_at is None:
        return row.coming_version is None and row.seen_version == row.finished_version
    return (row.coming_version, row.coming_at) == (row.finished_version, visible_at)


def _tell(
    db: sqlite3.Connection,
    caller: Teacher,
    task: TaskRow,
    students: Sequence[int],
    visible_at: datetime,
) -> None:
    message_store.drop_coming(db, task.id, students, MessageKind.HANDED_BACK, caller.now)
    message_store.add_messages(
        db,
        (
            NewMessage(
                number,
                MessageKind.HANDED_BACK,
                f"Handed back: {task.title}",
                f"Your work “{task.title}” was handed back, with levels and remarks.",
                f"/my/tasks/{task.id}/result",
                task.id,
                visible_at,
            )
            for number in students
        ),
        caller.person_id,
        caller.now,
    )


def _finished(
    db: sqlite3.Connection, class_id: int, there: Sequence[HandingBack], student_id: int
) -> list[HandedBackRow]:
    found = [one.row for one in there if one.row.finished_version is not None]
    if not found:
        name = own_student(db, class_id, student_id).name
        raise Refused(f"The mark of {name} is not finished yet", "student_ids")
    return found


def _coming_time(
    db: sqlite3.Connection, caller: Teacher, klass: ClassRow, visible_at: datetime
) -> datetime:
    check_day(visible_at.date(), "visible_at", klass)
    when = in_utc(visible_at, school_zone(db))
    if when <= caller.now:
        raise Refused("This time has passed: leave it empty to hand back now", "visible_at")
    return when


def take_back(caller: Teacher, task_id: int, student_ids: Sequence[int]) -> int:
    """Take back what was handed back to some students, seen or not yet; gives to how many. That it
    was there stays on record.
    """
    if not student_ids:
        raise Refused("Choose the students it is taken back from", "student_ids")
    with caller.transaction() as db:
        row, _ = own_task(db, caller, task_id)
        there = _by_student(store.handed_back(db, task_id, caller.now))
        marks: list[int] = []
        for student_id in dict.fromkeys(student_ids):
            of_student = there.get(student_id, [])
            handed = [one.row.mark_id for one in of_student if one.handed_version is not None]
            if not handed:
                name = own_student(db, row.class_id, student_id).name
                raise Refused(f"Nothing was handed back to {name}", "student_ids")
            marks += handed
        store.take_back(db, marks, caller.now, caller.person_id)
        message_store.drop_coming(db, task_id, student_ids, MessageKind.HANDED_BACK, caller.now)
        caller.log(db, LogSubject.TASK_TAKEN_BACK, task_id, {"students": list(student_ids)}, None)
        return len(set(student_ids))


def answer_wish(caller: Teacher, task_id: int, student_id: int, granted: bool, answer: str) -> None:
    """Grant a student another attempt at a task, or decline it, with a word; also unasked. One that
    is granted is open until it is handed in. The same answer sent twice is one.
    """
    if len(answer) > LONGEST_ANSWER:
        raise Refused(f"At most {LONGEST_ANSWER:,} characters", "answer")
    with caller.transaction() as db:
        row, _ = own_task(db, caller, task_id)
        person = own_student(db, row.class_id, student_id)
        if row.kind.entries:
            raise Refused("Enter what you saw as a further entry: nothing has to be granted")
        there = {one.student_id: one for one in store.handed_back(db, task_id, caller.now)}
        found = there.get(student_id)
        if found is None:
            raise NotFound(f"{person.name} has no marked attempt at this task")
        if (found.granted, found.answer or "") == (granted, answer.strip()):
            return
        if granted and found.seen_version is None:
            raise Refused(f"Hand the attempt of {person.name} back first", "granted")
        if granted:
            open_attempt_after(db, caller, row, found, answer.strip())
            return
        store.answer_wish(db, found.attempt_id, False, answer.strip(), caller.now, caller.person_id)
        said = f"Another attempt at “{row.title}” is not open for now. {answer.strip()}"
        tell_of_attempt(db, caller, row, student_id, said.strip())
        caller.log(db, LogSubject.WISH, found.attempt_id, None, {"granted": False})
