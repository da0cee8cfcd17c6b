"""The first page."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, datetime
from typing import TypedDict

from pydantic import BaseModel

from jade_ladder.core.trail import PointBy
from jade_ladder.service.overview import first_page as service
from jade_ladder.service.overview.first_page import FirstPage
from jade_ladder.service.overview.worth_a_look import (
    JudgedBefore,
    ManyOn,
    Missing,
    Reached,
    Slipped,
)
from jade_ladder.service.work.tasks import TaskLine
from jade_ladder.store.classes.students import StudentRow
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.heavy import heavy
from jade_ladder.web.work.tasks import TaskLineOut

router = router_of("overview", "/today")


class NamedOut(BaseModel):
    """A student by number and name."""

    id: int
    name: str


class OutcomeNamedOut(BaseModel):
    """An outcome by number, code and title."""

    id: int
    code: str
    title: str


class InClassOut(BaseModel):
    """Something of a class."""

    class_id: int
    class_name: str


class StoppedAtOut(InClassOut):
    """The mark that was changed last and is not finished."""

    task_id: int
    task: str
    student: NamedOut
    attempt: int
    at: datetime


class TaskOfClassOut(TaskLineOut):
    """A task with how many students stand where, and the class it is of."""

    class_name: str


class ToHandBackOut(InClassOut):
    """A task with so many students whose finished mark is not handed back."""

    task_id: int
    task: str
    students: int


class SlippedOut(InClassOut):
    """A student who slipped on an outcome lately; `level` is where they are now."""

    student: NamedOut
    outcome: OutcomeNamedOut
    level: int | None
    levels: int
    mastery_level: int
    at: datetime
    by: PointBy


class ReachedOut(InClassOut):
    """The students who reached an outcome lately, the last one first."""

    outcome: OutcomeNamedOut
    students: list[NamedOut]
    at: datetime


class JudgedBeforeOut(InClassOut):
    """A student who is judged on an outcome, and whose evidence changed since."""

    student: NamedOut
    outcome: OutcomeNamedOut


class ManyOnOut(InClassOut):
    """An outcome with so many students of `of`: close, or thin and `without` evidence."""

    outcome: OutcomeNamedOut
    students: int
    of: int
    without: int


class MissingOut(InClassOut):
    """A student who is missing again, with the newest task that is."""

    student: NamedOut
    missing: int
    of: int
    task_id: int
    task: str


class FirstPageOut(BaseModel):
    """What waits, what is due within two weeks, and what is worth a look, over all of one's classes
    that are not set aside.
    """

    day: date
    stopped: StoppedAtOut | None
    waiting: list[TaskOfClassOut]
    coming: list[TaskOfClassOut]
    to_hand_back: list[ToHandBackOut]
    slipped: list[SlippedOut]
    reached: list[ReachedOut]
    judged: list[JudgedBeforeOut]
    close: list[ManyOnOut]
    thin: list[ManyOnOut]
    missing: list[MissingOut]

    @classmethod
    def shown(cls, page: FirstPage) -> FirstPageOut:
        """Show it."""
        names = page.names

        def tasks(lines: Sequence[TaskLine]) -> list[TaskOfClassOut]:
            return [
                TaskOfClassOut(
                    **TaskLineOut.of(line).model_dump(), class_name=names[line.row.class_id]
                )
                for line in lines
            ]

        return cls(
            day=page.day,
            stopped=_stopped(page),
            waiting=tasks(page.waiting),
            coming=tasks(page.coming),
            to_hand_back=_to_hand_back(page),
            slipped=[_slipped(one) for one in page.slipped],
            reached=[
                ReachedOut(
                    **_place(one), students=[_student(each) for each in one.students], at=one.at
                )
                for one in page.reached
            ],
            judged=[
                JudgedBeforeOut(**_place(one), student=_student(one.student)) for one in page.judged
            ],
            close=[_many(one) for one in page.close],
            thin=[_many(one) for one in page.thin],
            missing=[_missing(one) for one in page.missing],
        )


def _stopped(page: FirstPage) -> StoppedAtOut | None:
    found = page.stopped
    if found is None:
        return None
    return StoppedAtOut(
        class_id=found.class_id,
        class_name=page.names[found.class_id],
        task_id=found.task_id,
        task=found.title,
        student=NamedOut(id=found.student_id, name=found.name),
        attempt=found.number,
        at=found.changed_at,
    )


def _to_hand_back(page: FirstPage) -> list[ToHandBackOut]:
    return [
        ToHandBackOut(
            class_id=one.class_id,
            class_name=page.names[one.class_id],
            task_id=one.task_id,
            task=one.title,
            students=one.students,
        )
        for one in page.to_hand_back
    ]


def _slipped(one: Slipped) -> SlippedOut:
    return SlippedOut(
        **_place(one),
        student=_student(one.student),
        level=one.level,
        levels=len(one.scale.levels),
        mastery_level=one.scale.mastery_level,
        at=one.at,
        by=one.by,
    )


def _missing(one: Missing) -> MissingOut:
    return MissingOut(
        class_id=one.klass.id,
        class_name=one.klass.name,
        student=NamedOut(id=one.student_id, name=one.name),
        missing=one.missing,
        of=one.of,
        task_id=one.task.id,
        task=one.task.title,
    )


class _Place(TypedDict):
    class_id: int
    class_name: str
    outcome: OutcomeNamedOut


def _place(one: Slipped | Reached | JudgedBefore | ManyOn) -> _Place:
    """Say of which class and outcome a line is."""
    outcome = one.outcome
    return {
        "class_id": one.klass.id,
        "class_name": one.klass.name,
        "outcome": OutcomeNamedOut(id=outcome.id, code=outcome.code, title=outcome.title),
    }


def _many(one: ManyOn) -> ManyOnOut:
    return ManyOnOut(**_place(one), students=one.students, of=one.of, without=one.without)


def _student(row: StudentRow) -> NamedOut:
    return NamedOut(id=row.id, name=row.name)


@router.get("")
@heavy
def read_first_page(caller: AsTeacher) -> FirstPageOut:
    """Give the first page, as of now."""
    return FirstPageOut.shown(service.first_page(caller))
