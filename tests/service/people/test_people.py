"""People belong to the school: what is told of them, and who changes what."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date

import pytest

from jade_ladder.core.errors import NotAllowed, Refused
from jade_ladder.formats.class_list import StudentLine
from jade_ladder.formats.table import read_table
from jade_ladder.service.classes import class_list, classes, students
from jade_ladder.service.people import school
from jade_ladder.service.shared.caller import Administrator, Student, Teacher, caller_of
from jade_ladder.store.people import people as store
from tests.builders import Small, school_day, small


@pytest.fixture
def theirs(other_teacher: Teacher) -> int:
    """A class of a colleague, without students."""
    return classes.make_class(other_teacher, "Tide Room", date(2026, 9, 1), date(2027, 6, 30))


@pytest.fixture
def made(caller: Teacher) -> Small:
    return small(caller)


def test_which_kind_of_caller_somebody_is_is_decided_by_the_session(
    caller: Teacher, other_teacher: Teacher, made: Small
) -> None:
    numbers = (caller.person_id, other_teacher.person_id, made.students[0])
    with caller.reading() as db:
        found = [store.person(db, number) for number in numbers]
    kinds = [type(caller_of(caller.database, one, caller.now)) for one in found if one]
    assert kinds == [Administrator, Teacher, Student]


WAYS: dict[str, Callable[[Teacher, int, str], str]] = {
    "one student": lambda caller, class_id, identifier: refused(
        lambda: students.add_student(caller, class_id, StudentLine(1, "Bo", "Lund", identifier))
    ),
    "a list": lambda caller, class_id, identifier: "".join(
        read.problem
        for read in class_list.preview_class_list(
            caller,
            class_id,
            read_table(f"given_name,family_name,identifier\nBo,Lund,{identifier}\n"),
        ).lines
    ),
    "a change": lambda caller, class_id, identifier: refused(
        lambda: students.change_student(
            caller,
            class_id,
            students.add_student(caller, class_id, StudentLine(1, "Bo", "Lund", "N1")),
            StudentLine(1, "Bo", "Lund", identifier),
        )
    ),
}


def refused(call: Callable[[], object]) -> str:
    with pytest.raises(Refused) as error:
        call()
    assert error.value.field == "identifier"
    return error.value.message


@pytest.mark.parametrize("way", WAYS.values(), ids=WAYS)
def test_an_identifier_that_is_taken_is_told_without_a_name(
    way: Callable[[Teacher, int, str], str], made: Small, other_teacher: Teacher, theirs: int
) -> None:
    for told in (way(other_teacher, theirs, "S1"), way(made.caller, made.class_id, "S1")):
        assert told == "S1 belongs to somebody else at the school"


def test_a_student_whom_others_teach_is_changed_by_the_administrator(
    caller: Teacher, other_teacher: Teacher, theirs: int
) -> None:
    known = StudentLine(1, "Aino", "Berg", "S1", "aino@tern.example")
    student = students.add_student(other_teacher, theirs, known)
    renamed = StudentLine(1, "Aino", "Lund", "S1", "aino@tern.example")
    # Alone, the teacher may.
    students.change_student(other_teacher, theirs, student, renamed)
    second = classes.make_class(caller, "Chart Room", date(2026, 9, 1), date(2027, 6, 30))
    assert students.add_student(caller, second, renamed) == student
    for line in (known, StudentLine(1, "Aino", "Lund", "S9"), StudentLine(1, "Aino", "Lund", "S1")):
        with pytest.raises(NotAllowed, match="Others teach Aino Lund too"):
            students.change_student(other_teacher, theirs, student, line)
    # To save what is there already changes nothing, and is allowed.
    students.change_student(other_teacher, theirs, student, renamed)
    students.change_student(caller, second, student, known)
    # After the student has left the other class, it is the teacher's again.
    students.set_left(caller, second, student, school_day(caller))
    students.change_student(other_teacher, theirs, student, renamed)


def test_names_are_sorted_without_marks_and_capitals_where_no_language_is_at_hand(
    caller: Teacher,
) -> None:
    """Å, Ç and Ñ stand with A, C and N, and not after Z; the browser has the school's language."""
    class_id = classes.make_class(caller, "Names", date(2026, 9, 1), date(2027, 6, 30))
    for family in ("Zorn", "Åberg", "çelik", "Ñandú", "Nadal", "Cohen", "abbas"):
        students.add_student(caller, class_id, StudentLine(1, "Kim", family))
    shown = [one.family_name for one in students.students(caller, class_id)]
    assert shown == ["abbas", "Åberg", "çelik", "Cohen", "Nadal", "Ñandú", "Zorn"]


@pytest.mark.parametrize("language", ["", "Swedish", "sv_SE", "sv-" + "x" * 9, "s"])
def test_what_is_no_language_is_refused(caller: Administrator, language: str) -> None:
    with pytest.raises(Refused, match="not the code of a language") as refused:
        school.change_school(caller, language=language)
    assert refused.value.field == "language"
