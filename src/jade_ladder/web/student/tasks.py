"""One's own tasks: what is asked, the draft, handing in."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel

from jade_ladder.service.student.task_page import task_page
from jade_ladder.service.work import handing_in as service
from jade_ladder.store.work.handing_in import DraftRow
from jade_ladder.web.mastery.models import MasteryOut
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsStudent
from jade_ladder.web.shared.fields import Text, Whole
from jade_ladder.web.student.models import (
    CriterionForStudentOut,
    OwnTaskOut,
    ReceiptOut,
    ScaleForStudentOut,
)
from jade_ladder.web.work.parts import WorkPartOut
from jade_ladder.web.work.task_files import TaskFileOut

router = router_of("own tasks", "/my/tasks")


class DraftOut(BaseModel):
    """What is written and not handed in."""

    text: str
    version: int
    saved_at: datetime

    @classmethod
    def of(cls, row: DraftRow) -> DraftOut:
        """Show a draft."""
        return cls(text=row.text, version=row.version, saved_at=row.saved_at)


class TextIn(BaseModel):
    """What is written, with the version of the draft that it is based on (0: there was none)."""

    text: Text
    version: Whole


class HandInIn(TextIn):
    """What is handed in: the text, the numbers of the files and links that are put in, and the
    receipt's number of what it replaces, if it does.
    """

    replaced: Whole | None = None
    parts: list[Whole] = []


class TaskOutcomeOut(BaseModel):
    """An outcome that a task is about, with one's own ladder on it."""

    id: int
    title: str
    description: str
    scale: ScaleForStudentOut
    mastery: MasteryOut


class OwnTaskPageOut(BaseModel):
    """A task's page. `instructions` are HTML that is safe to show; no criteria: the rubric is not
    shown beforehand. `put_in` are the files and links that are not handed in yet, `handed_in` the
    parts of the newest attempt. Of a further attempt that is open, `carried` and `asked_again` are
    the titles of the criteria that were met and of the others, once that was handed back.
    """

    task: OwnTaskOut
    instructions: str
    criteria: list[CriterionForStudentOut]
    outcomes: list[TaskOutcomeOut]
    draft: DraftOut | None
    put_in: list[WorkPartOut]
    handed_in: list[WorkPartOut]
    receipts: list[ReceiptOut]
    files: list[TaskFileOut]
    carried: list[str]
    asked_again: list[str]


@router.get("")
def read_own_tasks(caller: AsStudent) -> list[OwnTaskOut]:
    """List the tasks of all of one's classes, by due time."""
    return [OwnTaskOut.of(one) for one in service.own_tasks(caller)]


@router.get("/{task_id:int}")
def read_own_task(task_id: int, caller: AsStudent) -> OwnTaskPageOut:
    """Give a task's page."""
    page = task_page(caller, task_id)
    return OwnTaskPageOut(
        task=OwnTaskOut.of(page.task),
        instructions=page.instructions,
        criteria=[CriterionForStudentOut.of(one, page.points_shown) for one in page.criteria],
        outcomes=[
            TaskOutcomeOut(
                id=one.outcome.id,
                title=one.outcome.title,
                description=one.outcome.description,
                scale=ScaleForStudentOut.of(one.scale.scale),
                mastery=MasteryOut.of(one.mastery),
            )
            for one in page.outcomes
        ],
        draft=None if page.draft is None else DraftOut.of(page.draft),
        put_in=[WorkPartOut.of(part) for part in page.put_in],
        handed_in=[WorkPartOut.of(part) for part in page.handed_in],
        receipts=[ReceiptOut.of(one) for one in page.receipts],
        files=[TaskFileOut.of(one) for one in page.files],
        carried=list(page.carried),
        asked_again=list(page.asked_again),
    )


@router.post("/{task_id:int}/opened", status_code=204)
def open_own_task(task_id: int, caller: AsStudent) -> None:
    """Say that one has opened a task, which one's teacher sees."""
    service.open_task(caller, task_id)


@router.put("/{task_id:int}/draft")
def save_own_draft(task_id: int, body: TextIn, caller: AsStudent) -> DraftOut:
    """Keep what one writes."""
    return DraftOut.of(service.save_draft(caller, task_id, body.text, body.version))


@router.post("/{task_id:int}/hand-in", status_code=201)
def hand_in(task_id: int, body: HandInIn, caller: AsStudent) -> ReceiptOut:
    """Hand in, or replace what was handed in."""
    receipt = service.hand_in(caller, task_id, body.text, body.version, body.replaced, body.parts)
    return ReceiptOut.of(receipt)


@router.post("/{task_id:int}/draft")
def write_on(task_id: int, caller: AsStudent) -> DraftOut:
    """Begin a draft with what was handed in, to hand it in anew."""
    return DraftOut.of(service.write_on(caller, task_id))


class TakenBackIn(BaseModel):
    """A receipt, by its number."""

    receipt: Whole


@router.post("/{task_id:int}/take-back/undo")
def undo_taking_back(task_id: int, body: TakenBackIn, caller: AsStudent) -> ReceiptOut:
    """Let what one took back be handed in as it was, unless it was handed in anew since."""
    return ReceiptOut.of(service.undo_taking_back(caller, task_id, body.receipt))


@router.post("/{task_id:int}/take-back")
def take_own_work_back(task_id: int, caller: AsStudent) -> DraftOut:
    """Take back what was handed in, before it is due."""
    return DraftOut.of(service.take_back(caller, task_id))
