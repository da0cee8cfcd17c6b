"""Slips: a code for each student of a class, by which they set a password of their own."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from jade_ladder.core.errors import Refused
from jade_ladder.service.people.invitations import make_code
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import today
from jade_ladder.service.shared.guards import own_class, own_student
from jade_ladder.store.classes import students as store
from jade_ladder.store.classes.students import SignInRow
from jade_ladder.store.messages import messages as message_store
from jade_ladder.store.messages.messages import MessageKind, NewMessage
from jade_ladder.store.people.people import Person


@dataclass(frozen=True, slots=True)
class Slip:
    """A student's slip: the code, shown once, and the name they sign in with if they have one."""

    person: Person
    code: str
    sign_in_name: str | None


def signing_in(caller: Teacher, class_id: int) -> list[SignInRow]:
    """List the students of a class who are in it now, and whether each can sign in."""
    with caller.reading() as db:
        own_class(db, caller, class_id)
        return store.signing_in(db, class_id, today(db, caller))


def make_slips(caller: Teacher, class_id: int, student_ids: Sequence[int]) -> list[Slip]:
    """Make a slip for students of a class, in place of earlier ones; whoever is signed in is signed
    out. Only for people who teach nowhere: for teachers the administrator's link holds.
    """
    if not student_ids:
        raise Refused("Choose the students who get a slip", "student_ids")
    with caller.transaction() as db:
        own_class(db, caller, class_id)
        there = {one.id: one for one in store.signing_in(db, class_id, today(db, caller))}
        return [_slip(db, caller, class_id, number, there) for number in dict.fromkeys(student_ids)]


def _slip(
    db: sqlite3.Connection,
    caller: Teacher,
    class_id: int,
    student_id: int,
    there: dict[int, SignInRow],
) -> Slip:
    person = own_student(db, class_id, student_id)
    row = there.get(student_id)
    if row is None:
        raise Refused(f"{person.name} has left the class", "student_ids")
    if store.teaches_somewhere(db, student_id):
        raise Refused(
            f"{person.name} teaches at the school, too: the administrator makes them a link",
            "student_ids",
        )
    code = make_code(db, caller, student_id)
    caller.log(db, "slip", student_id, None, {"class": class_id})
    if row.joined:
        # Who did not ask for it hears of it.
        message_store.add_messages(
            db,
            [
                NewMessage(
                    student_id,
                    MessageKind.SLIP,
                    "A new slip was made for you",
                    "Your teacher made a new slip by which your password can be set anew, and you "
                    "were signed out. If you did not ask for it, speak to them.",
                    "/my/account",
                    None,
                    caller.now,
                )
            ],
            caller.person_id,
            caller.now,
        )
    return Slip(person, code, row.sign_in_name)
