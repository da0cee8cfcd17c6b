"""Messages: to whom they go, what is filled in, and the outbox that sends them."""

from __future__ import annotations

import asyncio
import socket
from collections.abc import Iterator
from contextlib import closing
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from email import message_from_bytes, policy
from email.message import EmailMessage
from typing import Any

import pytest
from aiosmtpd.controller import Controller

from jade_ladder.core.errors import NotFound, Refused, RefusedMany
from jade_ladder.formats.class_list import StudentLine
from jade_ladder.formats.mail import Mail, write_mail
from jade_ladder.outside.smtp import SmtpMailer
from jade_ladder.service.classes import slips, students
from jade_ladder.service.marking import desk, handing_back, reminders
from jade_ladder.service.marking.reminders import Audience, Reminder
from jade_ladder.service.messages import messages, outbox
from jade_ladder.service.people import invitations
from jade_ladder.service.shared.caller import Administrator, Student, Teacher
from jade_ladder.service.work import attempts
from jade_ladder.simulated.mail import SimulatedMailer
from jade_ladder.store.messages.messages import MessageKind
from tests.builders import Small, at, everything, small
from tests.conftest import on_seven_days

DUE = datetime(2026, 12, 4, 3, 0, tzinfo=UTC)
WRITTEN = Reminder(Audience.ALL, "About {task}", "Dear {given name}, {task} is due {due}. {other}")


@pytest.fixture
def made(caller: Teacher) -> Small:
    """Aino has an e-mail, Zoe has none."""
    found = small(at(caller, -10), DUE)
    line = StudentLine(1, "Aino", "Berg", "S1", "aino@home.example")
    students.change_student(caller, found.class_id, found.students[0], line)
    return replace(found, caller=caller)


def student(made: Small, which: int = 0, days: float = 0) -> Student:
    caller = made.caller
    return Student(caller.database, made.students[which], caller.now + timedelta(days=days))


def administrator(made: Small, days: float = 0) -> Administrator:
    caller = made.caller
    return Administrator(caller.database, caller.person_id, caller.now + timedelta(days=days))


def names(made: Small, audience: Audience, about: int | None = None, level: int | None = None):  # type: ignore[no-untyped-def]
    reminder = replace(WRITTEN, audience=audience, about=about, level=level)
    return [one.name for one in reminders.preview_reminder(made.caller, made.task_id, reminder)]


@on_seven_days
def test_fields_are_filled_in_once_and_by_the_schools_clock(made: Small) -> None:
    line = StudentLine(1, "{task}", "Anders", "S2")
    students.change_student(made.caller, made.class_id, made.students[1], line)
    zoe, aino = reminders.preview_reminder(made.caller, made.task_id, WRITTEN)
    assert (aino.subject, aino.text) == (
        "About Route",
        "Dear Aino, Route is due 4 December 2026, 16:00. {other}",
    )
    assert zoe.text.startswith("Dear {task}, Route"), "what a name holds is no field"


def test_to_whom_a_message_goes(made: Small) -> None:
    a, b = (stored.id for stored in desk.desk(made.caller, made.task_id).criteria)
    assert names(made, Audience.MISSING) == ["Zoe Anders", "Aino Berg"]
    made.mark(made.students[0], 3, 1)
    attempts.excuse(made.caller, made.task_id, made.students[1], True)
    assert names(made, Audience.ALL) == ["Zoe Anders", "Aino Berg"]
    assert names(made, Audience.MISSING) == []
    assert names(made, Audience.BELOW_ON_CRITERION, a, 2) == []
    assert names(made, Audience.BELOW_ON_CRITERION, a, 3) == ["Aino Berg"]
    assert names(made, Audience.BELOW_ON_CRITERION, b, 1) == ["Aino Berg"]
    assert names(made, Audience.BELOW_ON_OUTCOME, made.outcomes[1], 1) == ["Aino Berg"]
    assert names(made, Audience.BELOW_ON_OUTCOME, made.outcomes[0], 1) == []
    for about, level, field in ((999, 1, "about"), (a, 4, "level"), (a, None, "level")):
        with pytest.raises(Refused) as refused:
            names(made, Audience.BELOW_ON_CRITERION, about, level)
        assert refused.value.field == field


def test_it_is_read_in_the_application_and_stands_with_the_task(made: Small) -> None:
    before = everything(made.caller.database)
    with pytest.raises(RefusedMany):
        reminders.preview_reminder(
            made.caller, made.task_id, replace(WRITTEN, subject=" ", text="")
        )
    with pytest.raises(Refused, match="Choose somebody"):
        reminders.send_reminder(made.caller, made.task_id, WRITTEN, [999])
    assert everything(made.caller.database) == before
    assert reminders.send_reminder(made.caller, made.task_id, WRITTEN, made.students) == 2
    (mine,) = messages.own_messages(student(made))
    assert (mine.subject, mine.sender, mine.seen_at) == ("About Route", "Ilse Varga", None)
    with pytest.raises(NotFound):
        messages.see_message(student(made, 1), mine.id)
    messages.see_message(student(made), mine.id)
    (sent,) = reminders.sent_messages(made.caller, made.task_id)
    assert (sent.people, sent.seen, sent.mailed) == (2, 1, 0)


@on_seven_days
def test_what_is_handed_back_later_is_told_later_and_not_when_it_was_taken_back(
    made: Small,
) -> None:
    made.mark(made.students[0], 3, 3)
    tomorrow = made.caller.now + timedelta(days=1)
    handing_back.hand_back(made.caller, made.task_id, None, True, tomorrow)
    assert messages.own_messages(student(made)) == []
    assert outbox.deliver(made.caller.database, SimulatedMailer(), made.caller.now) == 0
    told = messages.own_messages(student(made, days=1))
    assert [(one.kind, one.path) for one in told] == [
        (MessageKind.HANDED_BACK, f"/my/tasks/{made.task_id}/result")
    ]
    handing_back.take_back(made.caller, made.task_id, [made.students[0]])
    assert messages.own_messages(student(made, days=2)) == []
    assert outbox.outbox(administrator(made)) == []


def test_a_new_slip_is_told_to_who_has_a_password(made: Small) -> None:
    (slip,) = slips.make_slips(made.caller, made.class_id, [made.students[0]])
    assert messages.own_messages(student(made)) == []
    invitations.accept(made.caller.database, slip.code, "a long password", made.caller.now, "aino")
    slips.make_slips(made.caller, made.class_id, [made.students[0]])
    (told,) = messages.own_messages(student(made))
    assert told.kind is MessageKind.SLIP
    assert slip.code not in told.text


def test_kinds_are_switched_off_as_mail_by_who_receives_them(made: Small) -> None:
    messages.set_kind_off(student(made), MessageKind.REMINDER, True)
    messages.set_kind_off(student(made), MessageKind.REMINDER, True)
    assert messages.kinds_off(student(made)) == {MessageKind.REMINDER}
    reminders.send_reminder(made.caller, made.task_id, WRITTEN, made.students)
    assert outbox.outbox(administrator(made)) == []
    assert len(messages.own_messages(student(made))) == 1
    messages.set_kind_off(student(made), MessageKind.REMINDER, False)
    reminders.send_reminder(made.caller, made.task_id, WRITTEN, made.students)
    assert [one.address for one in outbox.outbox(administrator(made))] == ["aino@home.example"]
    with pytest.raises(Refused, match="always told"):
        messages.set_kind_off(student(made), MessageKind.SLIP, True)


class Down:
    """A mail server that cannot be reached."""

    def send(self, mail: Mail) -> None:
        raise ConnectionRefusedError("nobody there")


@on_seven_days
def test_mail_is_tried_again_and_given_up_after_three_days(made: Small) -> None:
    reminders.send_reminder(made.caller, made.task_id, WRITTEN, made.students)
    db, now = made.caller.database, made.caller.now
    waits = []
    for _ in range(9):
        assert outbox.deliver(db, Down(), now) == 1
        assert outbox.deliver(db, Down(), now) == 0
        (row,) = outbox.outbox(administrator(made))
        waits.append((row.next_try_at - now).total_seconds() / 60)
        now = row.next_try_at
    assert waits == [1, 2, 4, 8, 16, 32, 60, 60, 60]
    assert row.problem == "nobody there"
    assert outbox.deliver(db, Down(), made.caller.now + timedelta(days=3, hours=1)) == 1
    (row,) = outbox.outbox(administrator(made))
    assert row.gave_up_at is not None
    assert outbox.deliver(db, SimulatedMailer(), made.caller.now + timedelta(days=9)) == 0


class Box:
    """Keeps what a mail server was handed."""

    def __init__(self) -> None:
        self.got: list[EmailMessage] = []

    async def handle_DATA(self, _server: Any, _session: Any, envelope: Any) -> str:
        await asyncio.sleep(0)
        self.got.append(message_from_bytes(envelope.content, policy=policy.default))  # type: ignore[arg-type]
        return "250 taken"


@pytest.fixture
def mail_server() -> Iterator[tuple[Box, int]]:
    """A real mail server on a free port."""
    with closing(socket.socket()) as found:
        found.bind(("127.0.0.1", 0))
        port = found.getsockname()[1]
    box = Box()
    controller = Controller(box, hostname="127.0.0.1", port=port)
    controller.start()
    yield box, port
    controller.stop()


def test_mail_by_smtp_has_the_link_of_the_school_and_one_message_id(
    made: Small, mail_server: tuple[Box, int]
) -> None:
    box, port = mail_server
    mailer = SmtpMailer("127.0.0.1", port, "ladder@tern.example", "https://ladder.tern.example/")
    reminders.send_reminder(made.caller, made.task_id, WRITTEN, made.students)
    db = made.caller.database
    assert outbox.deliver(db, mailer, made.caller.now) == 1
    assert outbox.deliver(db, mailer, made.caller.now) == 0
    # The program ended after the server's answer, and before the record of it.
    with db.transaction() as connection:
        connection.execute("UPDATE mail SET sent_at = NULL")
    outbox.deliver(db, mailer, made.caller.now)
    first, second = box.got
    assert first["Message-ID"] == second["Message-ID"]
    assert (first["To"], first["From"]) == ("aino@home.example", "ladder@tern.example")
    assert (
        first.get_content()
        .rstrip()
        .endswith(f"https://ladder.tern.example/my/tasks/{made.task_id}")
    )
    (row,) = outbox.outbox(administrator(made))
    assert (row.tries, row.problem) == (2, None)


@pytest.mark.parametrize("subject", ["Two\r\nBcc: all@tern.example", "Ünïcode 🌊", "x" * 300])
def test_a_subject_makes_no_header_of_its_own(subject: str) -> None:
    mail = Mail(
        "k", "a@b.example", subject, "Text\n.\nmore", "/my", datetime(2026, 1, 1, tzinfo=UTC)
    )
    written = write_mail(mail, "ladder@tern.example", None)
    again = message_from_bytes(written.as_bytes(), policy=policy.default)
    assert again["Bcc"] is None
    assert again["Subject"] == " ".join(subject.split())
    assert again.get_content() == "Text\n.\nmore\n"  # type: ignore[attr-defined]


def test_with_no_mail_server_links_are_never_those_of_a_request() -> None:
    mail = Mail("k", "a@b.example", "S", "Text", "/my", DUE)
    assert write_mail(mail, "l@t.example", None).get_content() == "Text\n"
