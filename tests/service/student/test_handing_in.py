"""Slips, signing in, and handing in: what a student can do, when, and what is kept."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime, timedelta

import pytest

from jade_ladder.core.errors import NotFound, NotSignedIn, Refused, Stale
from jade_ladder.core.handing_in import Closed, StateOfWork, can_take_back, count_words, why_closed
from jade_ladder.core.marking import DeskState
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.formats.class_list import StudentLine
from jade_ladder.service.classes import classes, slips, students
from jade_ladder.service.classes import teachers as class_teachers
from jade_ladder.service.marking import again, desk, handing_back
from jade_ladder.service.marking.pile import pile
from jade_ladder.service.people import invitations, own_account, sessions
from jade_ladder.service.shared.caller import Student, Teacher
from jade_ladder.service.student import results
from jade_ladder.service.student.task_page import task_page
from jade_ladder.service.work import attempts, handing_in, tasks
from jade_ladder.service.work.setting import TaskWords
from tests.builders import Small, at, everything, school_day, small
from tests.conftest import on_seven_days

LONG = "a very long password"


def as_student(made: Small, which: int = 0, days: float = 0) -> Student:
    """One of the small class's students, so many days later."""
    caller = made.caller
    return Student(caller.database, made.students[which], caller.now + timedelta(days=days))


@pytest.fixture
def due(caller: Teacher) -> datetime:
    return caller.now + timedelta(days=3)


@pytest.fixture
def made(caller: Teacher, due: datetime) -> Small:
    """A class that began before today, so that its students are in it; its task is due later."""
    return small(caller, due)


# Slips and signing in


def test_a_slip_is_good_once_and_gives_a_name_and_password_of_ones_own(made: Small) -> None:
    db, now = made.caller.database, made.caller.now
    (slip,) = slips.make_slips(made.caller, made.class_id, [made.students[0]])
    assert len(slip.code) == 12
    typed = f" {slip.code[:4].lower()}-{slip.code[4:8]} {slip.code[8:]}"
    assert invitations.invited_person(db, typed, now).person.id == made.students[0]
    for name, problem in (("", "3 to 40"), ("a b c", "without blanks"), ("x@y.z", "Letters")):
        with pytest.raises(Refused, match=problem):
            invitations.accept(db, typed, LONG, now, name)
    assert invitations.accept(db, typed, LONG, now, "Aino.B") == made.students[0]
    assert sessions.check_password(db, "AINO.b ", LONG) == made.students[0]
    with pytest.raises(NotFound, match="used already"):
        invitations.accept(db, slip.code, LONG, now, "Other")
    (second,) = slips.make_slips(made.caller, made.class_id, [made.students[1]])
    with pytest.raises(Refused, match="signs in with this name already"):
        invitations.accept(db, second.code, LONG, now, "aino.B")
    with pytest.raises(NotFound, match="older than 14 days"):
        late = now + invitations.LINK_LASTS
        invitations.accept(db, second.code, LONG, late, "zoe")


def test_a_newer_slip_voids_the_older_and_ends_sessions_and_the_name_stays(made: Small) -> None:
    db, now = made.caller.database, made.caller.now
    (first,) = slips.make_slips(made.caller, made.class_id, [made.students[0]])
    invitations.accept(db, first.code, LONG, now, "aino")
    token = sessions.begin_session(db, made.students[0], now)
    (old,) = slips.make_slips(made.caller, made.class_id, [made.students[0]])
    (new,) = slips.make_slips(made.caller, made.class_id, [made.students[0]])
    assert new.sign_in_name == "aino"
    with pytest.raises(NotSignedIn):
        sessions.person_of_session(db, token, now)
    with pytest.raises(NotFound):
        invitations.accept(db, old.code, LONG, now)
    other = "another long password"
    assert invitations.accept(db, new.code, other, now) == made.students[0]
    assert sessions.check_password(db, "aino", other) == made.students[0]
    row = slips.signing_in(made.caller, made.class_id)[1].row
    assert (row.sign_in_name, row.joined, row.slip_until) == ("aino", True, None)


def test_slips_are_for_students_who_are_there_and_teach_nowhere(
    made: Small, other_teacher: Teacher
) -> None:
    students.set_left(made.caller, made.class_id, made.students[1], school_day(made.caller))
    later = at(made.caller, 1)
    with pytest.raises(Refused, match="has left the class"):
        slips.make_slips(later, made.class_id, [made.students[1]])
    with made.caller.transaction() as db:
        db.execute(
            """INSERT INTO membership (class_id, person_id, role, since)
               VALUES (?, ?, 'student', '2026-09-01')""",
            (made.class_id, other_teacher.person_id),
        )
    before = everything(made.caller.database)
    with pytest.raises(Refused, match="teaches at the school, too"):
        slips.make_slips(made.caller, made.class_id, [made.students[0], other_teacher.person_id])
    assert everything(made.caller.database) == before, "all or none"


@on_seven_days
def test_a_session_ends_after_half_an_hour_of_nothing_unless_the_device_is_ones_own(
    made: Small,
) -> None:
    db, now = made.caller.database, made.caller.now
    token = sessions.begin_session(db, made.students[0], now, own_device=False)
    for minutes in (20, 45, 70):
        sessions.keep_session(db, token, now + timedelta(minutes=minutes))
    sessions.person_of_session(db, token, now + timedelta(minutes=99))
    with pytest.raises(NotSignedIn):
        sessions.person_of_session(db, token, now + timedelta(minutes=100))
    own = sessions.begin_session(db, made.students[0], now, own_device=True)
    sessions.person_of_session(db, own, now + timedelta(days=13))
    teachers = sessions.begin_session(db, 1, now, own_device=False)
    sessions.person_of_session(db, teachers, now + timedelta(days=13))


def test_who_signs_in_changes_their_own_email_and_no_teacher_does(made: Small) -> None:
    db, now = made.caller.database, made.caller.now
    line = StudentLine(1, "Aino", "Berg", "S1", "aino@home.example")
    students.change_student(made.caller, made.class_id, made.students[0], line)
    (slip,) = slips.make_slips(made.caller, made.class_id, [made.students[0]])
    invitations.accept(db, slip.code, LONG, now, "aino")
    with pytest.raises(Refused, match="changes their e-mail themselves") as refused:
        students.change_student(
            made.caller, made.class_id, made.students[0], replace(line, email="me@tern.example")
        )
    assert refused.value.field == "email"
    students.change_student(
        made.caller, made.class_id, made.students[0], replace(line, given_name="Aina")
    )
    own_account.change_own_email(as_student(made), "new@home.example")
    person, name = own_account.student_account(as_student(made))
    assert (person.given_name, person.email, name) == ("Aina", "new@home.example", "aino")


# Handing in

OPEN = StateOfWork(
    observed=False,
    present=True,
    excused=False,
    due_at=datetime(2026, 11, 27, 16),
    closes_at=datetime(2026, 11, 28, 16),
    has_work=False,
    by_student=False,
    marked=False,
    granted=False,
)
SECOND = timedelta(seconds=1)


@pytest.mark.parametrize(
    ("changed", "at", "expected"),
    [
        ({}, datetime(2026, 11, 27, 10), None),
        ({}, datetime(2026, 11, 28, 16), None),
        ({}, datetime(2026, 11, 28, 16) + SECOND, Closed.PAST_CLOSING),
        ({"closes_at": None}, datetime(2027, 1, 1), None),
        ({"has_work": True}, datetime(2026, 11, 27, 16), None),
        ({"has_work": True}, datetime(2026, 11, 27, 16) + SECOND, Closed.PAST_DUE),
        ({"has_work": True, "due_at": None}, datetime(2026, 11, 27, 17), None),
        ({"marked": True}, datetime(2026, 11, 27, 10), Closed.MARKED),
        ({"marked": True, "granted": True}, datetime(2027, 1, 1), None),
        ({"granted": True, "excused": True}, datetime(2026, 11, 27), Closed.EXCUSED),
        ({"granted": True, "present": False}, datetime(2026, 11, 27), Closed.LEFT),
        ({"observed": True}, datetime(2026, 11, 27), Closed.OBSERVED),
    ],
)
def test_when_nothing_can_be_handed_in(
    changed: dict[str, object], at: datetime, expected: Closed | None
) -> None:
    assert why_closed(replace(OPEN, **changed), at) is expected  # type: ignore[arg-type]


def test_what_can_be_taken_back() -> None:
    there = replace(OPEN, has_work=True, by_student=True)
    assert can_take_back(there, datetime(2026, 11, 27, 16))
    assert not can_take_back(there, datetime(2026, 11, 27, 16) + SECOND)
    assert not can_take_back(replace(there, marked=True), datetime(2026, 11, 27, 10))
    assert not can_take_back(OPEN, datetime(2026, 11, 27, 10))
    # What a teacher entered is not theirs to take back.
    assert not can_take_back(replace(there, by_student=False), datetime(2026, 11, 27, 10))


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", 0),
        ("  \n ", 0),
        ("One, two — three!", 3),
        ("42° N", 2),
        ("–", 0),
        # Signs alone once took for ever.
        ("[" * 1_000_000, 0),
        ("_" * 1_000_000 + " a", 1),
    ],
)
def test_words_are_counted(text: str, words: int) -> None:
    assert count_words(text) == words


def test_a_draft_is_kept_and_another_tab_is_told(made: Small) -> None:
    student = as_student(made)
    first = handing_in.save_draft(student, made.task_id, "Leg one", 0)
    assert handing_in.save_draft(student, made.task_id, "Leg one", 0) == first, "sent twice is one"
    second = handing_in.save_draft(student, made.task_id, "Leg one and two", first.version)
    with pytest.raises(Stale) as stale:
        handing_in.save_draft(student, made.task_id, "From another tab", first.version)
    assert stale.value.current == second.version
    assert handing_in.draft(student, made.task_id) == second
    with pytest.raises(Stale):
        handing_in.hand_in(student, made.task_id, "From another tab", first.version)
    assert task_page(student, made.task_id).handed_in == ()


def test_handing_in_twice_is_once_and_replacing_keeps_both_receipts(made: Small) -> None:
    student = as_student(made)
    draft = handing_in.save_draft(student, made.task_id, "Leg one", 0)
    first = handing_in.hand_in(student, made.task_id, "Leg one", draft.version)
    again = handing_in.hand_in(as_student(made, days=0.1), made.task_id, "Leg one", 0)
    assert again == first
    assert len(first.text_hash) == 64
    assert [line.to_mark for line in pile(made.caller, made.class_id)] == [1]
    later = as_student(made, days=1)
    for stale in (None, first.number + 1):
        with pytest.raises(Stale, match="from another tab or device"):
            handing_in.hand_in(later, made.task_id, "Leg one. Leg two.", 0, stale)
    other = handing_in.hand_in(later, made.task_id, "Leg one. Leg two.", 0, first.number)
    page = task_page(later, made.task_id)
    assert [one.number for one in page.receipts] == [other.number, first.number]
    assert [part.text for part in page.handed_in] == ["Leg one. Leg two."]
    assert page.task.row.handed_in_at == later.now
    (mine,) = handing_in.handing_in(made.caller, made.task_id)[:1] or [None]
    assert mine is None, "nobody opened it"
    handing_in.open_task(later, made.task_id)
    (mine,) = handing_in.handing_in(made.caller, made.task_id)
    assert (mine.times, mine.opened_at) == (2, later.now)


@on_seven_days
def test_it_is_taken_back_before_it_is_due_and_is_a_draft_again(made: Small) -> None:
    student = as_student(made)
    handing_in.hand_in(student, made.task_id, "Leg one", 0)
    draft = handing_in.take_back(as_student(made, days=1), made.task_id)
    assert draft.text == "Leg one"
    assert pile(made.caller, made.class_id) == []
    # What was written on since it was handed in is not lost when it is taken back.
    handing_in.hand_in(student, made.task_id, "Leg one", draft.version)
    on = handing_in.save_draft(student, made.task_id, "Leg one and a half", 0)
    assert handing_in.take_back(as_student(made, days=1), made.task_id) == on
    draft = handing_in.save_draft(student, made.task_id, "Leg one", on.version)
    page = task_page(student, made.task_id)
    assert page.receipts[0].taken_back_at == student.now + timedelta(days=1)
    handing_in.hand_in(as_student(made, days=4), made.task_id, "Leg one", draft.version)
    late = next(
        one
        for one in tasks.get_task(at(made.caller, 4), made.task_id).students
        if one.row.student_id == made.students[0]
    )
    assert late.late_minutes == 24 * 60
    with pytest.raises(Refused, match="past its due time"):
        handing_in.take_back(as_student(made, days=4), made.task_id)


def test_what_was_taken_back_is_handed_in_again_as_it_was(made: Small) -> None:
    """At its time, whatever is written since; what was changed stays as a draft."""
    student = as_student(made)
    first = handing_in.hand_in(student, made.task_id, "Leg one", 0)
    draft = handing_in.take_back(as_student(made, days=1), made.task_id)
    late = as_student(made, days=5)
    assert handing_in.undo_taking_back(late, made.task_id, first.number).at == first.at
    assert handing_in.undo_taking_back(late, made.task_id, first.number) == first
    page = task_page(late, made.task_id)
    assert (page.task.row.handed_in_at, page.draft) == (first.at, None)
    assert page.task.closed is Closed.PAST_DUE
    assert [one.text for one in page.handed_in] == ["Leg one"]
    handing_in.take_back(as_student(made, days=2), made.task_id)
    handing_in.save_draft(as_student(made, days=2), made.task_id, "Leg two", draft.version)
    handing_in.undo_taking_back(as_student(made, days=2), made.task_id, first.number)
    page = task_page(as_student(made, days=2), made.task_id)
    assert page.draft is not None
    assert ([one.text for one in page.handed_in], page.draft.text) == (["Leg one"], "Leg two")
    handing_in.take_back(as_student(made, days=2), made.task_id)
    draft_now = handing_in.draft(student, made.task_id)
    assert draft_now is not None
    handing_in.hand_in(as_student(made, days=2), made.task_id, "Leg two", draft_now.version)
    with pytest.raises(Refused, match="handed in since"):
        handing_in.undo_taking_back(as_student(made, days=2), made.task_id, first.number)


@pytest.mark.parametrize("due_in", [None, 3])
def test_a_further_attempt_is_replaced_until_its_own_due_time_and_is_never_late(
    made: Small, due_in: int | None
) -> None:
    """Or, without one, until its marking begins; whatever the task's own times were."""
    handing_in.hand_in(as_student(made), made.task_id, "Leg one", 0)
    made.mark(made.students[0], 2, 2)
    handing_back.hand_back(made.caller, made.task_id, None, True)
    teacher = at(made.caller, 10)
    own_due = None if due_in is None else teacher.now + timedelta(days=due_in)
    again.open_attempts(teacher, made.task_id, made.students[:1], "Look at leg two", own_due)
    row = task_page(as_student(made, days=10), made.task_id).task.row
    assert (row.further, row.due_at, row.closes_at, row.answer) == (
        *(True, own_due, None),
        "Look at leg two",
    )
    first = handing_in.hand_in(as_student(made, days=11), made.task_id, "Leg two", 0)
    seen = task_page(as_student(made, days=12), made.task_id).task
    assert (seen.row.due_at, seen.closed, seen.can_take_back) == (own_due, None, True)
    handing_in.hand_in(as_student(made, days=12), made.task_id, "Better", 0, first.number)
    after = task_page(as_student(made, days=14), made.task_id).task
    assert after.closed is (None if due_in is None else Closed.PAST_DUE)
    assert after.can_take_back is (due_in is None)
    there = tasks.get_task(at(made.caller, 14), made.task_id).students
    where = next(one for one in there if one.row.student_id == made.students[0])
    assert (where.late_minutes, where.state) == (0, DeskState.WAITING)
    made.mark(made.students[0], 4, 3, caller=at(made.caller, 14), attempt=2)
    with pytest.raises(Refused, match="begun to mark"):
        handing_in.hand_in(as_student(made, days=14), made.task_id, "Late", 0)


def test_what_is_being_marked_stays_as_it_is(made: Small) -> None:
    student = as_student(made)
    handing_in.hand_in(student, made.task_id, "Leg one", 0)
    made.mark(made.students[0], 2, 2)
    for change in (
        lambda: handing_in.hand_in(student, made.task_id, "Better", 0),
        lambda: handing_in.save_draft(student, made.task_id, "Better", 0),
        lambda: handing_in.take_back(student, made.task_id),
    ):
        with pytest.raises(Refused, match="has begun to mark this"):
            change()
    assert desk.work_at_desk(made.caller, made.task_id, made.students[0]).parts[0].text == "Leg one"
    handing_back.hand_back(made.caller, made.task_id, [made.students[0]], False)
    with pytest.raises(Refused, match=r"and handed back. You can ask for another attempt$"):
        handing_in.hand_in(student, made.task_id, "Better", 0)
    results.ask_again(student, made.task_id, 1, "I practised")
    assert task_page(student, made.task_id).task.why == "This is marked, and handed back"


def test_the_excused_the_gone_and_the_observed_hand_nothing_in(made: Small) -> None:
    student = as_student(made)
    attempts.excuse(made.caller, made.task_id, made.students[0], True)
    observed = made.new_task(kind=TaskKind.OBSERVED)
    students.set_left(made.caller, made.class_id, made.students[1], school_day(made.caller))
    for who, task, why in (
        (student, made.task_id, "excused"),
        (student, observed, "your teacher watches"),
        (as_student(made, 1, days=1), made.task_id, "not in this class any more"),
    ):
        with pytest.raises(Refused, match=why):
            handing_in.hand_in(who, task, "Text", 0)
    with pytest.raises(Refused, match="nothing written"):
        handing_in.hand_in(as_student(made, 1), made.task_id, " \n", 0)


def test_a_wish_that_is_granted_opens_another_attempt_whatever_has_closed(
    made: Small, due: datetime
) -> None:
    student = as_student(made)
    handing_in.hand_in(student, made.task_id, "Leg one", 0)
    made.mark(made.students[0], 2, 2)
    with pytest.raises(NotFound, match="Nothing was handed back"):
        results.ask_again(student, made.task_id, 1, "Please")
    with pytest.raises(Refused, match="back first"):
        handing_back.answer_wish(made.caller, made.task_id, made.students[0], True, "")
    handing_back.hand_back(made.caller, made.task_id, None, True)
    results.ask_again(student, made.task_id, 1, "I know leg two now")
    with pytest.raises(Refused, match="asked already"):
        results.ask_again(student, made.task_id, 1, "Again")
    (row,) = handing_back.handing_back(made.caller, made.task_id)
    assert (row.row.wish, row.row.granted) == ("I know leg two now", None)
    handing_back.answer_wish(made.caller, made.task_id, made.students[0], True, "Go on")
    late = as_student(made, days=30)
    receipt = handing_in.hand_in(late, made.task_id, "Leg one and two", 0)
    assert receipt.attempt == 2
    made.mark(made.students[0], 4, 3, caller=at(made.caller, 31), attempt=2)
    assert results.own_result(late, made.task_id).attempts == (1,), "the second is not back yet"
    handing_back.hand_back(at(made.caller, 31), made.task_id, None, True)
    seen = results.own_result(as_student(made, days=32), made.task_id)
    assert (seen.seen.number, seen.attempts) == (2, (2, 1))


def test_a_colleague_reaches_the_same_and_a_student_of_another_class_nothing(
    made: Small, other_teacher: Teacher
) -> None:
    class_teachers.add_class_teacher(made.caller, made.class_id, other_teacher.person_id)
    assert slips.make_slips(other_teacher, made.class_id, [made.students[0]])
    loft = classes.make_class(
        other_teacher, "Loft", school_day(made.caller), at(made.caller, 90).now.date()
    )
    stranger = students.add_student(other_teacher, loft, StudentLine(1, "Kai", "Nord", "K"))
    for call in (task_page, handing_in.take_back, handing_in.open_task, handing_in.draft):
        with pytest.raises(NotFound, match="no such task for you"):
            call(Student(made.caller.database, stranger, made.caller.now), made.task_id)


@on_seven_days
def test_late_work_costs_what_the_task_says_at_the_desk_and_on_the_result(
    made: Small, due: datetime
) -> None:
    """8 points, 5% a started day, at most 20%: 25 hours late are two started days, 0.80 points."""
    row = tasks.get_task(made.caller, made.task_id).row
    words = TaskWords("Route", "", TaskKind.HANDED_IN, made.rubric_id, due, None, False)
    words = replace(words, late_per_day=5, late_most=20)
    tasks.change_task(made.caller, made.task_id, row.version, words)
    with pytest.raises(Refused, match="from 0 to 100"):
        tasks.change_task(made.caller, made.task_id, 2, replace(words, late_per_day=101))
    early, late = as_student(made, days=3 + 1 / 24), as_student(made, days=4 + 1 / 24)
    assert [task_page(one, made.task_id).task.late_percent for one in (early, late)] == [5, 10]
    assert task_page(as_student(made, days=30), made.task_id).task.late_percent == 20
    handing_in.hand_in(late, made.task_id, "Leg one", 0)
    teacher = at(made.caller, 5)
    total = made.mark(made.students[0], 4, 4, caller=teacher).total
    assert total is not None
    assert [(line.kind, line.amount) for line in total.lines] == [("rubric", 800), ("late", -80)]
    handing_back.hand_back(teacher, made.task_id, None, True)
    assert results.own_result(as_student(made, days=6), made.task_id).total == total
    # A further attempt, which was granted, has no due time: it is not late.
    handing_back.answer_wish(teacher, made.task_id, made.students[0], True, "")
    again = as_student(made, days=20)
    assert task_page(again, made.task_id).task.late_percent == 0
    handing_in.hand_in(again, made.task_id, "Better", 0)
    second = made.mark(made.students[0], 4, 4, caller=at(made.caller, 21), attempt=2)
    assert second.total is not None
    assert second.total.calculated == 800
    assert second.student.late_minutes == 0
