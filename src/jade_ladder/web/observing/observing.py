"""Observing in the room: the class at hand, taps, seats, and finishing."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date, datetime, timedelta
from typing import Annotated

from pydantic import BaseModel, Field

from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.marking.saving import LONGEST_REMARK
from jade_ladder.service.observing import class_at_hand as hands
from jade_ladder.service.observing import finishing, taps
from jade_ladder.service.observing.class_at_hand import ClassAtHand, StudentAtHand
from jade_ladder.service.observing.taps import Tap
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.web.marking.models import ChoiceOut, MarkOut, RemarkOut
from jade_ladder.web.mastery.models import MasteryOut
from jade_ladder.web.outcomes.scales import ScaleOut
from jade_ladder.web.rubrics.criteria import CriterionOut
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Moment, Text, Whole, YesNo
from jade_ladder.web.shared.heavy import heavy
from jade_ladder.web.work.tasks import StudentAtTaskOut

router = router_of("observing")

LONGEST_WAIT = 400 * 24 * 3_600_000
"""A tap that says that it waited longer, in milliseconds, is a fault of its device."""


class FilesAtOut(BaseModel):
    """How many recordings and files there are on a criterion."""

    criterion_id: int
    files: int


class SeenEarlierOut(BaseModel):
    """What was seen of a student at an earlier observation, and on which day."""

    day: date
    choices: list[ChoiceOut]
    remarks: list[RemarkOut]


def _remarks(found: Mapping[int, str]) -> list[RemarkOut]:
    return [RemarkOut(criterion_id=at, text=text) for at, text in found.items()]


class StudentAtHandOut(BaseModel):
    """A student in the room: `attempt` is the number of the attempt that a tap goes to now (null:
    to none); what stands in it; `earlier` is what was seen at the observation before it, `opened`
    where a teacher opened it; `glances` are where they stand on each outcome (null: it is not
    expected of them).
    """

    student: StudentAtTaskOut
    attempt: int | None
    choices: list[ChoiceOut]
    remarks: list[RemarkOut]
    files: list[FilesAtOut]
    earlier: SeenEarlierOut | None
    opened: bool
    glances: list[MasteryOut | None]

    @classmethod
    def of(cls, one: StudentAtHand) -> StudentAtHandOut:
        """Show a student."""
        return cls(
            student=StudentAtTaskOut.of(one.standing),
            attempt=one.attempt,
            choices=ChoiceOut.several(one.choices),
            remarks=_remarks(one.remarks),
            files=[FilesAtOut(criterion_id=at, files=count) for at, count in one.files.items()],
            earlier=one.earlier
            and SeenEarlierOut(
                day=one.earlier.day,
                choices=ChoiceOut.several(one.earlier.choices),
                remarks=_remarks(one.earlier.remarks),
            ),
            opened=one.opened,
            glances=[None if found is None else MasteryOut.of(found) for found in one.glances],
        )


class OutcomeAtHandOut(BaseModel):
    """An outcome that a task is about."""

    id: int
    code: str
    title: str
    scale_id: int

    @classmethod
    def of(cls, row: OutcomeRow) -> OutcomeAtHandOut:
        """Show an outcome."""
        return cls(id=row.id, code=row.code, title=row.title, scale_id=row.scale_id)


class ObservationOut(BaseModel):
    """A class for one task that is observed, by name; `loaded_at` is the server's time, `day` the
    day it is at the school; `seats` are students in the order they sit, `unfinished` is how many
    marks would be finished now.
    """

    task_id: int
    title: str
    class_id: int
    class_name: str
    is_set: bool
    day: date
    loaded_at: datetime
    criteria: list[CriterionOut]
    outcomes: list[OutcomeAtHandOut]
    scales: list[ScaleOut]
    students: list[StudentAtHandOut]
    seats: list[int]
    unfinished: int

    @classmethod
    def of(cls, found: ClassAtHand) -> ObservationOut:
        """Show the class at hand."""
        return cls(
            task_id=found.task.id,
            title=found.task.title,
            class_id=found.klass.id,
            class_name=found.klass.name,
            is_set=found.task.set_at is not None,
            day=found.day,
            loaded_at=found.now,
            criteria=[CriterionOut.of(stored) for stored in found.criteria],
            outcomes=[OutcomeAtHandOut.of(outcome) for outcome in found.outcomes],
            scales=[ScaleOut.of(stored) for stored in found.scales.values()],
            students=[StudentAtHandOut.of(one) for one in found.students],
            seats=list(found.seats),
            unfinished=found.unfinished,
        )


@router.get("/tasks/{task_id:int}/observation")
@heavy
def read_observation(task_id: int, caller: AsTeacher) -> ObservationOut:
    """Give the class for a task that is observed."""
    return ObservationOut.of(hands.class_at_hand(caller, task_id))


class TapChoice(BaseModel):
    """What a device chose on a criterion, or showed; nothing: no level and not “not assessed”."""

    level_id: Whole | None = None
    half_way: YesNo = False
    not_assessed: YesNo = False

    def choice(self) -> Choice:
        """Give it as the service knows it."""
        return Choice(self.level_id, self.half_way, self.not_assessed)


class TapIn(BaseModel):
    """A tap: a choice or a remark on a criterion, or whether the student is absent; none of these
    only begins the attempt of the day. `key` is its own, `waited_ms` is how long ago it was made by
    the clock of its device, `loaded_at` the server's time of the class it was made in. `before` (or
    `said_before`) is what the device showed; null: it holds whatever stands there. With `carries`,
    what was carried over on the criterion stands again, if anything was: a choice that is undone.
    """

    key: Text
    waited_ms: Annotated[Whole, Field(ge=0, le=LONGEST_WAIT)] = 0
    loaded_at: Moment | None = None
    criterion_id: Whole | None = None
    choice: TapChoice | None = None
    remark: Annotated[Text, Field(json_schema_extra={"maxLength": LONGEST_REMARK})] | None = None
    absent: YesNo | None = None
    before: TapChoice | None = None
    said_before: Text | None = None
    carries: YesNo | None = None

    def tap(self) -> Tap:
        """Give it as the service knows it."""
        return Tap(
            self.key,
            timedelta(milliseconds=self.waited_ms),
            self.loaded_at,
            self.criterion_id,
            None if self.choice is None else self.choice.choice(),
            self.remark,
            self.absent,
            self.before.choice() if self.before is not None else self.said_before,
            bool(self.carries),
        )


@router.post("/tasks/{task_id:int}/students/{student_id:int}/taps")
def take_tap(task_id: int, student_id: int, body: TapIn, caller: AsTeacher) -> MarkOut:
    """Take a tap; sent twice, it is one."""
    return MarkOut.of(taps.tap(caller, task_id, student_id, body.tap()))


class FinishedOut(BaseModel):
    """How many marks were finished."""

    finished: int


@router.post("/tasks/{task_id:int}/observation/finish")
def finish_observed(task_id: int, caller: AsTeacher) -> FinishedOut:
    """Finish every mark of an observed task on which anything was chosen."""
    return FinishedOut(finished=finishing.finish_observed(caller, task_id))


class SeatsIn(BaseModel):
    """The students of a class in the order they sit."""

    student_ids: list[Whole]


@router.put("/classes/{class_id:int}/seats", status_code=204)
def arrange_seats(class_id: int, body: SeatsIn, caller: AsTeacher) -> None:
    """Say in what order a class sits."""
    hands.arrange_seats(caller, class_id, body.student_ids)
