"""Messages to the students of a task."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel

from jade_ladder.service.marking import reminders as service
from jade_ladder.service.marking.reminders import Audience, Reminder
from jade_ladder.store.messages.messages import MessageKind
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Text, Whole
from jade_ladder.web.shared.models import Added

router = router_of("reminders", "/tasks/{task_id:int}/messages")


class ReminderIn(BaseModel):
    """A message as it is written; {given name}, {name}, {task} and {due} are filled in. To those
    below a level: on which criterion or outcome (`about`), and which level (0 the lowest).
    """

    audience: Audience
    subject: Text
    text: Text
    about: Whole | None = None
    level: Whole | None = None

    def reminder(self) -> Reminder:
        """Give it as the service knows it."""
        return Reminder(self.audience, self.subject, self.text, self.about, self.level)


class SendingIn(ReminderIn):
    """A message, and to which of its audience it goes."""

    student_ids: list[Whole]


class FilledOut(BaseModel):
    """A message as one student gets it."""

    student_id: int
    name: str
    subject: str
    text: str


class SentOut(BaseModel):
    """What was sent: to how many, how many have seen it, and how many got it as mail, too."""

    kind: MessageKind
    subject: str
    text: str
    at: datetime
    sender: str
    people: int
    seen: int
    mailed: int


@router.get("")
def read_sent_messages(task_id: int, caller: AsTeacher) -> list[SentOut]:
    """List what was sent about a task, the newest first."""
    return [
        SentOut(
            kind=one.kind,
            subject=one.subject,
            text=one.text,
            at=one.made_at,
            sender=one.sender,
            people=one.people,
            seen=one.seen,
            mailed=one.mailed,
        )
        for one in service.sent_messages(caller, task_id)
    ]


@router.post("/preview")
def preview_reminder(task_id: int, body: ReminderIn, caller: AsTeacher) -> list[FilledOut]:
    """Give a message as each of those gets it whom it would go to."""
    return [
        FilledOut(student_id=one.student_id, name=one.name, subject=one.subject, text=one.text)
        for one in service.preview_reminder(caller, task_id, body.reminder())
    ]


@router.post("", status_code=201)
def send_reminder(task_id: int, body: SendingIn, caller: AsTeacher) -> Added:
    """Send a message."""
    added = service.send_reminder(caller, task_id, body.reminder(), body.student_ids)
    return Added(added=added)
