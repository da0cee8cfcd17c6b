"""Who gets at a student of somebody else's: by adding them, by a slip, by their address, by trying
identifiers; and who hears of it.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date, timedelta

import pytest

from jade_ladder.core.errors import NotFound, NotSignedIn, Refused
from jade_ladder.formats.class_list import StudentLine
from jade_ladder.formats.table import read_table
from jade_ladder.service.classes import class_list, classes, joining, slips, students
from jade_ladder.service.classes import teachers as class_teachers
from jade_ladder.service.messages.messages import own_messages
from jade_ladder.service.notes import notes
from jade_ladder.service.notes.notes import NoteWords
from jade_ladder.service.outcomes import outcomes
from jade_ladder.service.outcomes.outcomes import OutcomeWords
from jade_ladder.service.people import accounts, colleagues, invitations, notices, sessions
from jade_ladder.service.people.accounts import NewTeacher
from jade_ladder.service.people.notices import Answer, Notice
from jade_ladder.service.shared.caller import Administrator, Student, Teacher
from jade_ladder.store.shared.connection import Database
from tests.conftest import on_seven_days

AINO = StudentLine(1, "Aino", "Berg", "S1", "aino@tern.example")


@dataclass(frozen=True, slots=True)
class School:
    """Mei's class took Aino first, who signs in; Jun puts her into his, and is no friend of hers.
    Ilse is the administrator and teaches neither.
    """

    ilse: Administrator
    mei: Teacher
    jun: Teacher
    of_mei: int
    of_jun: int
    aino: int

    def told(self, teacher: Teacher) -> list[Notice]:
        return notices.notices(teacher)

    def add_aino(self) -> None:
        assert students.add_student(self.jun, self.of_jun, replace(AINO, email="")) == self.aino

    def make(self, teacher: Teacher, class_id: int) -> str:
        (slip,) = slips.make_slips(teacher, class_id, [self.aino])
        return slip.code

    @property
    def can_be_asked(self) -> slips.SigningIn:
        (found,) = slips.signing_in(self.jun, self.of_jun)
        return found


@pytest.fixture
def school(caller: Administrator) -> School:
    made = []
    for name in ("Mei", "Jun"):
        number = accounts.add_teacher(
            caller.database, NewTeacher(name, "Tan", f"{name}@tern.example", "a long password")
        )
        teacher = Teacher(caller.database, number, caller.now)
        class_id = classes.make_class(
            teacher, f"Room of {name}", date(2026, 9, 1), date(2027, 6, 30)
        )
        made.append((teacher, class_id))
    (mei, of_mei), (jun, of_jun) = made
    aino = students.add_student(mei, of_mei, AINO)
    (slip,) = slips.make_slips(mei, of_mei, [aino])
    invitations.accept(caller.database, slip.code, "a password of hers", caller.now, "aino")
    return School(caller, mei, jun, of_mei, of_jun, aino)


def test_a_colleague_cannot_become_a_student_whom_another_class_took_first(school: School) -> None:
    school.add_aino()
    token = sessions.begin_session(school.mei.database, school.aino, school.mei.now)
    with pytest.raises(Refused, match="took them first"):
        school.make(school.jun, school.of_jun)
    # Her password and her session are as they were, and nobody was told of a slip.
    signed_in = sessions.check_password(school.mei.database, "aino", "a password of hers")
    assert signed_in == school.aino
    assert sessions.person_of_session(school.mei.database, token, school.mei.now)
    assert [one.answer for one in school.told(school.mei)] == [Answer.UNDO_JOINING]


def test_a_slip_that_was_asked_for_is_granted_in_one_press_and_good_once(school: School) -> None:
    school.add_aino()
    assert not school.can_be_asked.may_make
    slips.ask_for_slips(school.jun, school.of_jun, [school.aino])
    assert school.can_be_asked.request is not None
    asked = school.told(school.mei)[1]
    assert asked.text.startswith("Jun Tan asks for a new slip for Aino Berg in Room of Jun")
    assert asked.answer is Answer.GRANT_SLIPS
    assert school.told(school.ilse) == [], "administrators only where no teacher is left"
    with pytest.raises(NotFound):
        slips.grant_slips(school.jun, asked.id)
    slips.grant_slips(school.mei, asked.id)
    (agreed,) = school.told(school.jun)
    assert (agreed.text, agreed.slips_of) == (
        "Mei Tan agreed to a new slip for Aino Berg: you can make it now.",
        school.of_jun,
    )
    token = sessions.begin_session(school.mei.database, school.aino, school.mei.now)
    code = school.make(school.jun, school.of_jun)
    with pytest.raises(NotSignedIn):
        sessions.person_of_session(school.mei.database, token, school.mei.now)
    assert "made a new slip for Aino Berg" in school.told(school.mei)[-1].text
    student = Student(school.mei.database, school.aino, school.mei.now)
    assert own_messages(student)[0].subject == "A new slip was made for you"
    assert invitations.invited_person(school.mei.database, code, school.mei.now)
    with pytest.raises(Refused, match="took them first"):
        school.make(school.jun, school.of_jun)


@on_seven_days
def test_a_grant_is_good_for_fourteen_days_and_so_is_asking(school: School) -> None:
    school.add_aino()
    slips.ask_for_slips(school.jun, school.of_jun, [school.aino])
    asked = school.told(school.mei)[1]
    late = timedelta(days=15)
    with pytest.raises(Refused, match="older than 14 days"):
        slips.grant_slips(replace(school.mei, now=school.mei.now + late), asked.id)
    slips.grant_slips(school.mei, asked.id)
    with pytest.raises(Refused, match="took them first"):
        slips.make_slips(
            replace(school.jun, now=school.jun.now + late), school.of_jun, [school.aino]
        )


def test_administrators_grant_where_no_teacher_of_the_first_class_is_active(school: School) -> None:
    school.add_aino()
    with school.ilse.transaction() as db:
        db.execute(
            "UPDATE person SET ended_at = ? WHERE id = ?", (school.ilse.now, school.mei.person_id)
        )
    slips.ask_for_slips(school.jun, school.of_jun, [school.aino])
    (asked,) = school.told(school.ilse)
    slips.grant_slips(school.ilse, asked.id)
    assert school.can_be_asked.may_make


def test_the_first_teachers_make_slips_themselves_and_the_others_are_told(school: School) -> None:
    school.add_aino()
    school.make(school.mei, school.of_mei)
    assert [one.text for one in school.told(school.jun)] == [
        "Mei Tan made a new slip for Aino Berg: a new password can be set with it, and whoever was "
        "signed in is signed out."
    ]
    with pytest.raises(Refused, match="yourself"):
        slips.ask_for_slips(school.mei, school.of_mei, [school.aino])


def test_teachers_are_told_of_a_joining_and_undo_it(school: School) -> None:
    school.add_aino()
    (joined,) = school.told(school.mei)
    assert joined.text == ("Jun Tan added Aino Berg to Room of Jun, and sees their mastery there.")
    assert school.told(school.jun) == []
    with pytest.raises(NotFound):
        joining.undo_joining(school.jun, joined.id)
    joining.undo_joining(school.mei, joined.id)
    assert students.students(school.jun, school.of_jun) == []
    assert [one.id for one in students.students(school.mei, school.of_mei)] == [school.aino]
    assert school.told(school.mei) == []
    assert [one.text for one in school.told(school.jun)] == [
        "Mei Tan removed Aino Berg from Room of Jun again."
    ]
    # Pressed again in another tab: nothing more happens, and nobody is told twice.
    joining.undo_joining(school.mei, joined.id)
    assert len(school.told(school.jun)) == 1


def test_a_joining_is_not_undone_once_there_is_work(school: School, caller: Teacher) -> None:
    school.add_aino()
    note = NoteWords(2, False, "Held the course")
    outcome = outcomes.add_outcome(school.jun, school.of_jun, OutcomeWords("N1", "New", "", None))
    notes.write_notes(school.jun, school.of_jun, "a-first-note", [school.aino], outcome, note)
    (joined,) = school.told(school.mei)
    with pytest.raises(Refused, match="Aino Berg has work in Room of Jun by now"):
        joining.undo_joining(school.mei, joined.id)
    assert [one.id for one in students.students(school.jun, school.of_jun)] == [school.aino]


def test_students_who_are_added_one_by_one_make_one_notice(school: School) -> None:
    school.add_aino()
    students.add_student(school.mei, school.of_mei, StudentLine(2, "Bo", "Lund", "S2"))
    students.add_student(school.jun, school.of_jun, StudentLine(2, "Bo", "Lund", "S2"))
    (joined,) = school.told(school.mei)
    assert joined.text.startswith("Jun Tan added Aino Berg and Bo Lund to Room of Jun")
    joining.undo_joining(school.mei, joined.id)
    assert students.students(school.jun, school.of_jun) == []


def test_to_who_teaches_them_already_a_further_class_is_nothing_new(school: School) -> None:
    school.add_aino()
    further = classes.make_class(school.jun, "Reef Room", date(2026, 9, 1), date(2027, 6, 30))
    students.add_student(school.jun, further, replace(AINO, email=""))
    assert len(school.told(school.mei)) == 1


def test_a_list_of_many_is_one_notice_for_each_teacher(school: School, made_list: str) -> None:
    class_list.import_class_list(school.jun, school.of_jun, read_table(made_list))
    assert [one.text for one in school.told(school.mei)] == [
        "Jun Tan added 6 of your students to Room of Jun, and sees their mastery there."
    ]


def test_who_was_added_and_removed_again_is_told_of_no_more_and_once_if_they_return(
    school: School, made_list: str
) -> None:
    table = read_table(made_list)
    school.add_aino()
    imported = class_list.import_class_list(school.jun, school.of_jun, table)
    class_list.undo_class_list(school.jun, school.of_jun, imported.entry)
    (joined,) = school.told(school.mei)
    assert joined.text.startswith("Jun Tan added Aino Berg to Room of Jun")
    class_list.import_class_list(school.jun, school.of_jun, table)
    (joined,) = school.told(school.mei)
    assert joined.text.startswith("Jun Tan added 6 of your students to Room of Jun")
    joining.undo_joining(school.mei, joined.id)
    again = class_list.import_class_list(school.jun, school.of_jun, table)
    class_list.undo_class_list(school.jun, school.of_jun, again.entry)
    assert school.told(school.mei) == []


@pytest.fixture
def made_list(school: School) -> str:
    for number in range(2, 7):
        students.add_student(
            school.mei, school.of_mei, StudentLine(number, f"Kai{number}", "Nord", f"S{number}")
        )
    rows = [f"Kai{number},Nord,S{number}" for number in range(2, 7)]
    return "\n".join(["Given name,Family name,Identifier", "Aino,Berg,S1", *rows])


def emails(teacher: Teacher, class_id: int) -> list[tuple[str | None, bool]]:
    return [(one.email, one.email_hidden) for one in students.students(teacher, class_id)]


def test_an_address_is_shown_to_whom_it_concerns(school: School) -> None:
    school.add_aino()
    class_teachers.add_class_teacher(school.jun, school.of_jun, school.ilse.person_id)
    shown, hidden = [("aino@tern.example", False)], [(None, True)]
    assert emails(school.mei, school.of_mei) == shown
    assert emails(school.jun, school.of_jun) == hidden
    assert emails(school.ilse, school.of_jun) == shown
    # Who wrote it: a student whom Jun took first, whom Mei takes, too.
    bo = students.add_student(school.jun, school.of_jun, StudentLine(2, "Bo", "Lund", "S2", "b@x"))
    students.add_student(school.mei, school.of_mei, StudentLine(2, "Bo", "Lund", "S2", "other@x"))
    assert emails(school.jun, school.of_jun) == [*hidden, ("b@x", False)]
    assert emails(school.mei, school.of_mei) == [*shown, (None, True)]
    # Mei may change the name where nobody else teaches them, and the address stays as it is.
    students.set_left(school.jun, school.of_jun, bo, date(2026, 11, 26))
    students.change_student(school.mei, school.of_mei, bo, StudentLine(1, "Bo", "Lind", "S2"))
    assert emails(school.jun, school.of_jun)[-1] == ("b@x", False)
    with pytest.raises(Refused, match="took them first"):
        students.change_student(
            school.mei, school.of_mei, bo, StudentLine(1, "Bo", "Lind", "S2", "mei@x")
        )


def test_a_link_leads_nowhere_after_its_account_was_ended_and_restored(
    caller: Administrator, database: Database
) -> None:
    ((person, token),) = colleagues.add_colleagues(
        caller, [colleagues.NewColleague("Ola", "Tan", "ola@tern.example")]
    )
    assert invitations.invited_person(database, token, caller.now)
    colleagues.end_account(caller, person.id)
    colleagues.restore_account(caller, person.id)
    with pytest.raises(NotFound):
        invitations.invited_person(database, token, caller.now)
