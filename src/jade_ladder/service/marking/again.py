"""Another attempt: opened for one student or several, with what was met carried over
(docs/calculations.md, “Marks, attempts, evidence”).
"""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.core.mastery import State
from jade_ladder.service.marking.met import MetCriteria
from jade_ladder.service.marking.task_marks import TaskMarks
from jade_ladder.service.mastery.wall import wall
from jade_ladder.service.shared.caller import Caller, Teacher
from jade_ladder.service.shared.days import check_day, day_and_time, in_utc, school_zone
from jade_ladder.service.shared.guards import own_student, own_task
from jade_ladder.store.marking import again as store
from jade_ladder.store.marking import hand_backs as hand_back_store
from jade_ladder.store.marking.again import CarriedRow
from jade_ladder.store.marking.hand_backs import HandedBackRow
from jade_ladder.store.messages import messages as message_store
from jade_ladder.store.messages.messages import MessageKind, NewMessage
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.store.rubrics import criteria as criterion_store
from jade_ladder.store.shared.log import LogSubject
from jade_ladder.store.work.tasks import TaskRow

LONGEST_WORDS = 1_000


def open_attempts(
    caller: Teacher,
    task_id: int,
    student_ids: Sequence[int],
    words: str,
    due_at: datetime | None = None,
    carries: bool = True,
) -> int:
    """Open another attempt at a task for some students, with a word on what to do, by when it is
    due (by the school's clock where it has no zone; nothing is deducted by it), and with what was
    met carried over, as it counts now. Gives for how many; for whom one is open, it stays as it is.

    Refused for whoever has not a finished mark, by name.
    """
    words = words.strip()
    if len(words) > LONGEST_WORDS:
        raise Refused(f"At most {LONGEST_WORDS:,} characters", "words")
    if not student_ids:
        raise Refused("Choose the students it is for", "student_ids")
    with caller.transaction() as db:
        row, klass = own_task(db, caller, task_id)
        if row.kind.entries:
            raise Refused("Enter what you saw as a further entry: nothing has to be opened")
        due = None
        if due_at is not None:
            check_day(due_at.date(), "due_at", klass)
            due = in_utc(due_at, school_zone(db))
            if due <= caller.now:
                raise Refused("This time has passed already", "due_at")
        there = {
            one.student_id: one for one in hand_back_store.handed_back(db, task_id, caller.now)
        }
        opening = _Opening(db, caller, row)
        opened = 0
        for student_id in dict.fromkeys(student_ids):
            name = own_student(db, row.class_id, student_id).name
            found = there.get(student_id)
            if found is None or found.finished_version is None:
                raise Refused(f"The mark of {name} is not finished yet", "student_ids")
            if not found.granted:
                opening.open(found, words, due, carries)
                opened += 1
        if not opened:
            raise Refused("Another attempt is open for all of them already", "student_ids")
        return opened


def open_attempt_after(
    db: sqlite3.Connection, caller: Teacher, task: TaskRow, row: HandedBackRow, words: str
) -> None:
    """Open another attempt after one, as `open_attempts` does. Part of a transaction."""
    _Opening(db, caller, task).open(row, words, None, carries=True)


def carry_into_next(
    db: sqlite3.Connection, caller: Caller, task: TaskRow, student_id: int, attempt_id: int
) -> None:
    """Note what is carried over into the attempt after the newest one of a student, which begins
    without having been opened: what was met in its finished mark. Part of a transaction.
    """
    there = hand_back_store.handed_back(db, task.id, caller.now)
    found = next((one for one in there if one.student_id == student_id), None)
    met: list[CarriedRow] = []
    if found is not None and found.finished_version is not None:
        met = _Opening(db, caller, task).met(found)[0]
    store.set_carried(db, attempt_id, met)


@dataclass(frozen=True, slots=True)
class BelowMastery:
    """An outcome that a task is about, and who could do the task again for it: students with a
    finished mark of it who have not reached mastery.
    """

    outcome: OutcomeRow
    student_ids: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class WhoAgain:
    """Who could do a task again: by outcome, and of whom every criterion was met, so that nothing
    would be asked again.
    """

    below: tuple[BelowMastery, ...]
    all_met: tuple[int, ...]


def who_again(caller: Teacher, task_id: int) -> WhoAgain:
    """Say of each outcome of a task, as far as its class teaches it, who is below mastery on it,
    and of whom nothing would be asked again.
    """
    with caller.reading() as db:
        row, _ = own_task(db, caller, task_id)
        criteria = criterion_store.criteria(db, row.revision_id, row.asked)
        about = {tie.outcome_id for stored in criteria for tie in stored.alignments}
        there = hand_back_store.handed_back(db, task_id, caller.now)
        finished = {one.student_id for one in there if one.finished_version is not None}
        all_met = TaskMarks.load(db, row).with_all_met()
    seen = wall(caller, row.class_id)
    below = tuple(
        BelowMastery(
            outcome,
            tuple(
                student.id
                for student, cells in zip(seen.students, seen.cells, strict=True)
                if student.id in finished and cells[column].mastery.state is not State.MASTERED
            ),
        )
        for column, outcome in enumerate(seen.outcomes)
        if outcome.id in about
    )
    return WhoAgain(below, tuple(all_met))


def withdraw_attempt(caller: Teacher, task_id: int, student_id: int) -> None:
    """Close an attempt that was opened by mistake, and nothing changed; Refused once there is
    anything in it.
    """
    with caller.transaction() as db:
        row, _ = own_task(db, caller, task_id)
        name = own_student(db, row.class_id, student_id).name
        there = hand_back_store.handed_back(db, task_id, caller.now)
        found = next((one for one in there if one.student_id == student_id), None)
        if found is None or not found.granted:
            raise NotFound(f"No further attempt of {name} waits to be begun")
        store.withdraw(db, found.attempt_id)
        said = f"Another attempt at “{row.title}” was withdrawn."
        tell_of_attempt(db, caller, row, student_id, said)
        caller.log(db, LogSubject.ATTEMPT_WITHDRAWN, found.attempt_id, None, None)


class _Opening:
    """Opens attempts at one task; what its revisions and scales are is read once."""

    def __init__(self, db: sqlite3.Connection, caller: Caller, task: TaskRow) -> None:
        self._db = db
        self._caller = caller
        self._task = task
        self._criteria: dict[int | None, MetCriteria] = {}

    def open(self, row: HandedBackRow, words: str, due_at: datetime | None, carries: bool) -> None:
        """Open the attempt after one, and tell its student."""
        db, caller, task = self._db, self._caller, self._task
        met, asked = self.met(row)
        store.set_carried(db, row.attempt_id, met if carries else ())
        hand_back_store.answer_wish(
            db, row.attempt_id, True, words, caller.now, caller.person_id, due_at
        )
        due = "" if due_at is None else f" It is due {day_and_time(due_at, school_zone(db))}."
        told = [f"Another attempt at “{task.title}” is open.{due}", words]
        # What was met is the mark's to tell, once it is handed back.
        if carries and met and row.seen_version == row.finished_version:
            told.append(
                f"Asked again: {', '.join(asked)}."
                if asked
                else "Nothing is asked again: every criterion was met."
            )
        said = " ".join(one for one in told if one)
        tell_of_attempt(db, caller, task, row.student_id, said)
        caller.log(
            db, LogSubject.ATTEMPT_OPENED, row.attempt_id, None, {"due": due_at, "carries": carries}
        )

    def met(self, row: HandedBackRow) -> tuple[list[CarriedRow], list[str]]:
        """Give what was met in the finished version of a mark, and the titles of the rest."""
        version = row.finished_version or 0
        revision_id = hand_back_store.revision_of_mark(self._db, row.mark_id, version)
        chosen = hand_back_store.standing_at(self._db, row.mark_id, version).choices
        aside = store.aside_at(self._db, row.student_id, self._task.id)
        met: list[CarriedRow] = []
        asked: list[str] = []
        under = self._of_revision(revision_id or self._task.revision_id)
        for stored in under.criteria:
            choice = chosen.get(stored.id)
            from_number = (choice and choice.carried_from) or row.number
            about = {(from_number, tie.outcome_id) for tie in stored.alignments}
            if (
                choice is None
                or choice.level_id is None
                or about & aside
                or not under.is_met(stored, choice)
            ):
                asked.append(stored.criterion.title)
                continue
            level = stored.criterion.levels[stored.level_ids.index(choice.level_id)]
            met.append(CarriedRow(stored.criterion.key, level.key, choice.half_way, from_number))
        return met, asked

    def _of_revision(self, revision_id: int | None) -> MetCriteria:
        found = self._criteria.get(revision_id)
        if found is None:
            criteria = criterion_store.criteria(self._db, revision_id, self._task.asked)
            found = self._criteria[revision_id] = MetCriteria(self._db, criteria)
        return found


def tell_of_attempt(
    db: sqlite3.Connection, caller: Caller, task: TaskRow, student_id: int, said: str
) -> None:
    """Tell a student something about another attempt at a task. Part of a transaction."""
    message = NewMessage(
        student_id,
        MessageKind.ATTEMPT,
        f"Another attempt: {task.title}",
        said,
        f"/my/tasks/{task.id}",
        task.id,
        caller.now,
    )
    message_store.add_messages(db, [message], caller.person_id, caller.now)
