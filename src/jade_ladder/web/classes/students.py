"""Students of a class, and importing a class list."""

from __future__ import annotations

from datetime import date

from pydantic import BaseModel

from jade_ladder.core.errors import Refused
from jade_ladder.formats.class_list import StudentLine, check_student
from jade_ladder.service.classes import students
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Day, Text
from jade_ladder.web.shared.models import Made

router = router_of("students", "/classes/{class_id:int}/students")


class StudentIn(BaseModel):
    """What a teacher says of a student."""

    given_name: Text = ""
    family_name: Text = ""
    identifier: Text = ""
    email: Text = ""

    def line(self) -> StudentLine:
        """Give it as a class list's line would be, or refuse it at its field."""
        given, family, identifier, email = (
            text.strip()
            for text in (self.given_name, self.family_name, self.identifier, self.email)
        )
        problem, field = check_student(given, family, identifier, email)
        if problem:
            raise Refused(problem, field)
        return StudentLine(1, given, family, identifier, email)


class StudentOut(BaseModel):
    """A student, with their days in the class; an e-mail that is `email_hidden` is told to who
    wrote it, to teachers of the class that took the student first, and to administrators.
    """

    id: int
    name: str
    sort_name: str
    given_name: str
    family_name: str
    identifier: str | None
    email: str | None
    email_hidden: bool
    since: date
    until: date | None


@router.get("")
def read_students(class_id: int, caller: AsTeacher) -> list[StudentOut]:
    """List everybody who is or was a student of the class."""
    return [
        StudentOut(
            id=one.id,
            name=one.name,
            sort_name=one.sort_name,
            given_name=one.given_name,
            family_name=one.family_name,
            identifier=one.identifier,
            email=one.email,
            email_hidden=one.email_hidden,
            since=one.since,
            until=one.until,
        )
        for one in students.students(caller, class_id)
    ]


@router.post("", status_code=201)
def add_student(class_id: int, body: StudentIn, caller: AsTeacher) -> Made:
    """Add one student."""
    return Made(id=students.add_student(caller, class_id, body.line()))


@router.put("/{student_id:int}", status_code=204)
def change_student(class_id: int, student_id: int, body: StudentIn, caller: AsTeacher) -> None:
    """Change what is known of a student."""
    students.change_student(caller, class_id, student_id, body.line())


class LeftIn(BaseModel):
    """The first day on which a student is no longer in the class; null: they did not leave."""

    left_on: Day | None


@router.put("/{student_id:int}/left", status_code=204)
def set_left(class_id: int, student_id: int, body: LeftIn, caller: AsTeacher) -> None:
    """Say when a student left the class, or that they did not; everything of theirs is kept."""
    students.set_left(caller, class_id, student_id, body.left_on)


@router.post("/{student_id:int}/return", status_code=204)
def bring_back_student(class_id: int, student_id: int, caller: AsTeacher) -> None:
    """Let a student who left belong to the class again."""
    students.bring_back_student(caller, class_id, student_id)
