"""Short ways to what a test needs, all through the services."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from hashlib import sha256
from zoneinfo import ZoneInfo

from jade_ladder.core.alignment import Cell
from jade_ladder.core.rubric import Criterion, CriterionKind, CriterionLevel
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.formats.class_list import StudentLine
from jade_ladder.service.classes import classes, students
from jade_ladder.service.files import uploads
from jade_ladder.service.marking import desk, saving
from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.marking.state import MarkState
from jade_ladder.service.outcomes import outcomes, scales
from jade_ladder.service.outcomes.outcomes import OutcomeWords
from jade_ladder.service.rubrics import rubrics
from jade_ladder.service.rubrics.drafts import AlignmentDraft, CriterionDraft
from jade_ladder.service.shared.caller import Caller, Teacher
from jade_ladder.service.work import tasks
from jade_ladder.service.work.setting import TaskWords
from jade_ladder.store.shared.connection import Database


def everything(database: Database) -> str:
    """All rows of all tables, seen from a second connection; a mark of what an operation
    changed.
    """
    with sqlite3.connect(database.path) as db:
        dump = "\n".join(db.iterdump())
    db.close()
    return dump


class _Undo(Exception):
    """Raised on purpose, to let a transaction be undone."""


@contextmanager
def undone(database: Database) -> Iterator[sqlite3.Connection]:
    """Do operations and look at what they lead to; at the end nothing of them is stored."""
    with suppress(_Undo), database.transaction() as db:
        yield db
        raise _Undo


def at(caller: Teacher, days: float) -> Teacher:
    """The same teacher, so many days later (or earlier)."""
    return replace(caller, now=caller.now + timedelta(days=days))


def arrived(caller: Caller, name: str, content: bytes) -> int:
    """A file that has arrived whole, to be put somewhere; gives the upload's number."""
    key = sha256(name.encode() + content).hexdigest()[:24]
    upload = uploads.begin_upload(caller, key, name, len(content)).row
    _, receiving = uploads.receive(caller, upload.id, 0)
    with receiving as take:
        take(content)
    return upload.id


def school_day(caller: Teacher) -> date:
    """What day it is at the school of the tests."""
    return caller.now.astimezone(ZoneInfo("Pacific/Auckland")).date()


def second_class(caller: Teacher, made: Small) -> int:
    """Another class of the same teacher, with the first student of the small one in it."""
    class_id = classes.make_class(caller, "Tide Room", date(2026, 9, 1), date(2027, 6, 30))
    students.add_student(caller, class_id, StudentLine(1, "Aino", "Berg", "S1"))
    assert made.students[0] in [s.id for s in students.students(caller, class_id)]
    return class_id


def draft(
    key: str,
    outcome_ids: list[int],
    levels: int = 4,
    hand: list[int | None] | None = None,
    **settings: object,
) -> CriterionDraft:
    """A criterion with so many levels, aligned level by level or, with `hand`, by hand."""
    made = tuple(
        CriterionLevel(f"{key}{n}", f"Step {n}", n * 100, f"What {n} is")
        for n in range(1, levels + 1)
    )
    cells = tuple(
        None if hand is None else Cell(value, by_hand=True) for value in hand or [None] * levels
    )
    ties = tuple(AlignmentDraft(number, 1, cells) for number in outcome_ids)
    return CriterionDraft(Criterion(key, f"Criterion {key}", made, **settings), ties)  # type: ignore[arg-type]


@dataclass(frozen=True, slots=True)
class Small:
    """A class with two outcomes, two students, a final rubric and a task, and a second scale that
    nothing uses.
    """

    caller: Teacher
    class_id: int
    outcomes: tuple[int, int]
    students: tuple[int, int]
    rubric_id: int
    task_id: int
    scale_id: int

    def mark(
        self,
        student: int,
        *places: int,
        task_id: int | None = None,
        caller: Teacher | None = None,
        attempt: int = 1,
    ) -> MarkState:
        """Choose a level per criterion (1 the lowest) and finish."""
        caller = caller or self.caller
        task_id = task_id or self.task_id
        criteria = desk.desk(caller, task_id).criteria
        for stored, place in zip(criteria, places, strict=True):
            choice = Choice(stored.level_ids[place - 1])
            saving.choose(caller, task_id, student, stored.id, choice, 10_000, attempt)
        return saving.finish(caller, task_id, student, attempt)

    def new_task(self, title: str = "Another", **changes: object) -> int:
        """Set another task with the same rubric."""
        words = TaskWords(title, "", TaskKind.HANDED_IN, self.rubric_id, None, None, False)
        return tasks.make_task(self.caller, self.class_id, replace(words, **changes))  # type: ignore[arg-type]


def small(caller: Teacher, due: datetime | None = None) -> Small:
    """Make a small class: criterion a is evidence of W1, criterion b of W1 and W2."""
    class_id = classes.make_class(caller, "Chart Room", date(2026, 9, 1), date(2027, 6, 30))
    made = [
        outcomes.add_outcome(caller, class_id, OutcomeWords(code, f"I can {code}", "", None))
        for code in ("W1", "W2")
    ]
    there = [
        students.add_student(caller, class_id, StudentLine(1, given, family, number))
        for given, family, number in (("Aino", "Berg", "S1"), ("Zoe", "Anders", "S2"))
    ]
    rubric_id = final_rubric(caller, [draft("a", made[:1], half_way=True), draft("b", made)])
    words = TaskWords("Route", "", TaskKind.HANDED_IN, rubric_id, due, None, False)
    task_id = tasks.make_task(caller, class_id, words)
    scale_id = scales.add_scale(caller, "Two steps", scales.preset_scales()[0])
    return Small(
        caller,
        class_id,
        (made[0], made[1]),
        (there[0], there[1]),
        rubric_id,
        task_id,
        scale_id,
    )


def final_rubric(caller: Teacher, drafts: list[CriterionDraft], title: str = "Route card") -> int:
    """Make a rubric and finalise it."""
    number = rubrics.make_rubric(caller, title)
    view = rubrics.save_draft(caller, number, 1, title, drafts)
    rubrics.make_final(caller, number, view.row.version)
    return number


YES_NO = CriterionKind.YES_NO
