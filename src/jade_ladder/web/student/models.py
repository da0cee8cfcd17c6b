"""What students are shown of rubrics, outcomes and tasks."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel

from jade_ladder.core.handing_in import Closed
from jade_ladder.core.scale import Scale
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.service.student.criteria import ShownCriterion
from jade_ladder.service.work.handing_in import OwnTask, Receipt
from jade_ladder.web.shared.numbers import ShortNumber


class LevelForStudentOut(BaseModel):
    """A level of a criterion; points only where the rubric shows them."""

    id: int
    name: str
    descriptor: str
    points: ShortNumber | None


class CriterionForStudentOut(BaseModel):
    """A criterion, levels from the lowest; it is met from `met_level` on (0 the lowest)."""

    id: int
    title: str
    bonus: bool
    weight: ShortNumber | None
    met_level: int | None
    levels: list[LevelForStudentOut]

    @classmethod
    def of(cls, shown: ShownCriterion, points_shown: bool) -> CriterionForStudentOut:
        """Show a criterion."""
        criterion = shown.stored.criterion
        return cls(
            id=shown.stored.id,
            title=criterion.title,
            bonus=criterion.bonus,
            weight=criterion.weight,
            met_level=shown.met_level,
            levels=[
                LevelForStudentOut(
                    id=number,
                    name=level.name,
                    descriptor=level.descriptor,
                    points=level.points if points_shown else None,
                )
                for number, level in zip(shown.stored.level_ids, criterion.levels, strict=True)
            ],
        )


class ScaleLevelForStudentOut(BaseModel):
    """A level of a scale, and what it means where somebody wrote that."""

    name: str
    description: str


class ScaleForStudentOut(BaseModel):
    """A scale, lowest level first."""

    mastery_level: int
    levels: list[ScaleLevelForStudentOut]

    @classmethod
    def of(cls, scale: Scale) -> ScaleForStudentOut:
        """Show a scale."""
        return cls(
            mastery_level=scale.mastery_level,
            levels=[
                ScaleLevelForStudentOut(name=level.name, description=level.description)
                for level in scale.levels
            ],
        )


class OwnTaskOut(BaseModel):
    """A task, and where its student stands with it: `closed` says why nothing can be handed in now,
    `why` in words; handing in now costs `late_percent` of the points. `attempt` is the one that is
    open or was handed in last, and where that is a `further` one `due_at` is its own (null: it has
    none), by which nothing is late. `back_number` is the newest attempt that was handed back; in a
    list, `about` are the outcomes that it is about.
    """

    id: int
    class_id: int
    class_name: str
    title: str
    kind: TaskKind
    due_at: datetime | None
    closes_at: datetime | None
    practice: bool
    present: bool
    excused: bool
    closed: Closed | None
    why: str
    can_take_back: bool
    late_percent: int
    drafted_at: datetime | None
    handed_in_at: datetime | None
    has_work: bool
    attempt: int
    further: bool
    wished: bool
    granted: bool | None
    answer: str | None
    back_number: int | None
    back_at: datetime | None
    read_at: datetime | None
    about: list[int]

    @classmethod
    def of(cls, task: OwnTask) -> OwnTaskOut:
        """Show a task."""
        row = task.row
        return cls(
            id=row.id,
            class_id=row.class_id,
            class_name=row.class_name,
            title=row.title,
            kind=row.kind,
            due_at=row.due_at,
            closes_at=row.closes_at,
            practice=row.practice,
            present=row.present,
            excused=row.excused,
            closed=task.closed,
            why=task.why,
            can_take_back=task.can_take_back,
            late_percent=task.late_percent,
            drafted_at=row.drafted_at,
            handed_in_at=row.handed_in_at,
            has_work=row.has_work,
            attempt=task.open_number,
            further=row.further,
            wished=row.wished,
            granted=row.granted,
            answer=row.answer,
            back_number=row.back_number,
            back_at=row.back_at,
            read_at=row.read_at,
            about=list(task.about),
        )


class ReceiptPartOut(BaseModel):
    """A file or link that was handed in: its name or address, and the SHA-256 of what was sent."""

    name: str
    sent_hash: str


class ReceiptOut(BaseModel):
    """That work was handed in: when, how many words, the SHA-256 of its text, and its parts."""

    number: int
    attempt: int
    at: datetime
    words: int
    text_hash: str
    taken_back_at: datetime | None
    parts: list[ReceiptPartOut]

    @classmethod
    def of(cls, receipt: Receipt) -> ReceiptOut:
        """Show a receipt."""
        return cls(
            number=receipt.number,
            attempt=receipt.attempt,
            at=receipt.at,
            words=receipt.words,
            text_hash=receipt.text_hash,
            taken_back_at=receipt.taken_back_at,
            parts=[
                ReceiptPartOut(name=part.name, sent_hash=part.sent_hash) for part in receipt.parts
            ],
        )
