"""Slips: a code for each student of a class, by which they set a password of their own."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.service.classes.joining import own_name, tell_teachers
from jade_ladder.service.people.invitations import LINK_LASTS, make_code
from jade_ladder.service.people.notices import SLIPS_ASKED, SLIPS_GRANTED, SLIPS_MADE
from jade_ladder.service.shared.caller import Administrator, Teacher
from jade_ladder.service.shared.days import today
from jade_ladder.service.shared.guards import own_class, own_student
from jade_ladder.store.classes import first_class, slip_requests
from jade_ladder.store.classes import students as store
from jade_ladder.store.classes.slip_requests import SlipRequest
from jade_ladder.store.classes.students import SignInRow
from jade_ladder.store.messages import messages as message_store
from jade_ladder.store.messages.messages import MessageKind, NewMessage
from jade_ladder.store.people import notices as notice_store
from jade_ladder.store.people.people import Person
from jade_ladder.store.shared.log import LogSubject


@dataclass(frozen=True, slots=True)
class Slip:
    """A student's slip: the code, shown once, and the name they sign in with if they have one."""

    person: Person
    code: str
    sign_in_name: str | None


@dataclass(frozen=True, slots=True)
class SigningIn:
    """How a student signs in, whether the caller may make a slip for them, and what they asked for
    where they may not, or might not before.
    """

    row: SignInRow
    may_make: bool
    request: SlipRequest | None


def signing_in(caller: Teacher, class_id: int) -> list[SigningIn]:
    """List the students of a class who are in it now, and whether each can sign in."""
    with caller.reading() as db:
        own_class(db, caller, class_id)
        return list(_signing_in(db, caller, class_id).values())


def _signing_in(db: sqlite3.Connection, caller: Teacher, class_id: int) -> dict[int, SigningIn]:
    """A slip for somebody who has a password is made by teachers of the class that took them first
    and by administrators, or by who asked one of them.
    """
    rows = store.signing_in(db, class_id, today(db, caller))
    first = first_class.first_teachers(db, [one.id for one in rows])
    asked = slip_requests.requests_of(db, class_id, caller.person_id, caller.now - LINK_LASTS)

    def found(row: SignInRow) -> SigningIn:
        request = asked.get(row.id)
        may = (
            not row.joined
            or isinstance(caller, Administrator)
            or caller.person_id in first[row.id]
            or (request is not None and request.granted_at is not None)
        )
        return SigningIn(row, may, request)

    return {row.id: found(row) for row in rows}


def make_slips(caller: Teacher, class_id: int, student_ids: Sequence[int]) -> list[Slip]:
    """Make a slip for students of a class, in place of earlier ones; whoever is signed in is signed
    out. Those who have a password, and all their teachers, are told. Only for people who teach
    nowhere: for teachers the administrator's link holds.
    """
    _some(student_ids)
    with caller.transaction() as db:
        own_class(db, caller, class_id)
        there = _signing_in(db, caller, class_id)
        numbers = list(dict.fromkeys(student_ids))
        made = [_slip(db, caller, class_id, number, there.get(number)) for number in numbers]
        teachers = first_class.teachers_of(db, numbers)
        told = {
            number: teachers[number]
            for number in numbers
            if there[number].row.joined or caller.person_id not in teachers[number]
        }
        tell_teachers(db, caller, told, SLIPS_MADE, {})
        return made


def ask_for_slips(caller: Teacher, class_id: int, student_ids: Sequence[int]) -> None:
    """Ask for a slip for students who have a password and whom another class took first: its
    teachers are told and can grant it, or administrators where it has none any more.
    Asking again while that waits changes nothing.
    """
    _some(student_ids)
    with caller.transaction() as db:
        klass = own_class(db, caller, class_id)
        there = _signing_in(db, caller, class_id)
        numbers = list(dict.fromkeys(student_ids))
        for number in numbers:
            person = own_student(db, class_id, number)
            if number not in there:
                raise Refused(f"{person.name} has left the class", "student_ids")
            if there[number].may_make:
                raise Refused(f"You can make a slip for {person.name} yourself", "student_ids")
        # What waits for an answer is not asked again.
        anew = [number for number in numbers if there[number].request is None]
        requests = [
            slip_requests.add_request(db, number, class_id, caller.person_id, caller.now)
            for number in anew
        ]
        about = {"class": klass.name, "requests": requests}
        tell_teachers(db, caller, _who_grants(db, anew), SLIPS_ASKED, about)


def _who_grants(db: sqlite3.Connection, students: Sequence[int]) -> dict[int, set[int]]:
    first = first_class.first_teachers(db, students)
    return {number: first[number] or first_class.administrators(db) for number in students}


def grant_slips(caller: Teacher, notice_id: int) -> None:
    """Grant what a notice asks for: each who asked can make one slip for each student in it, within
    14 days, and is told so. What is granted already is not granted again.
    """
    with caller.transaction() as db:
        notice = notice_store.notice(db, notice_id, caller.person_id)
        if notice is None or notice.kind != SLIPS_ASKED:
            raise NotFound("There is no such notice for you")
        said = json.loads(notice.details)
        mine = {one["id"]: one for one in said["students"]}
        asked = slip_requests.requests(db, said["requests"])
        since = caller.now - LINK_LASTS
        grants = _who_grants(db, list(mine))
        open_ones = [
            one
            for one in asked
            if one.student_id in mine
            and one.asked_at > since
            and (caller.person_id in grants[one.student_id] or isinstance(caller, Administrator))
        ]
        if not open_ones:
            raise Refused("Nobody waits for this any more: it was used, or is older than 14 days")
        notice_store.mark_seen(db, notice_id, caller.person_id, caller.now)
        granted = [one for one in open_ones if one.granted_at is None]
        if not granted:
            return
        for one in granted:
            slip_requests.grant(db, one.id, caller.person_id, caller.now)
            caller.log(db, LogSubject.SLIP_GRANTED, one.student_id, None, {"to": one.asked_by})
        told = {
            "by": own_name(db, caller),
            "class_id": granted[0].class_id,
            "students": [mine[one.student_id] for one in granted],
        }
        notice_store.add_notice(db, granted[0].asked_by, caller.now, SLIPS_GRANTED, told)


def _some(student_ids: Sequence[int]) -> None:
    if not student_ids:
        raise Refused("Choose the students who get a slip", "student_ids")


def _slip(
    db: sqlite3.Connection,
    caller: Teacher,
    class_id: int,
    student_id: int,
    found: SigningIn | None,
) -> Slip:
    person = own_student(db, class_id, student_id)
    if found is None:
        raise Refused(f"{person.name} has left the class", "student_ids")
    if store.teaches_somewhere(db, student_id):
        raise Refused(
            f"{person.name} teaches at the school, too: the administrator makes them a link",
            "student_ids",
        )
    if not found.may_make:
        raise Refused(
            f"{person.name} signs in already: teachers of the class that took them first make "
            "a new slip. Ask them for it.",
            "student_ids",
        )
    code = make_code(db, caller, student_id)
    caller.log(db, LogSubject.SLIP, student_id, None, {"class": class_id})
    if found.request is not None:
        slip_requests.use(db, found.request.id, caller.now)
    if found.row.joined:
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
    return Slip(person, code, found.row.sign_in_name)
