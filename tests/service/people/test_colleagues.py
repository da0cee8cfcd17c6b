"""Colleagues: added, joining by a link, made administrators, ended with everything kept."""

from __future__ import annotations

from datetime import date, timedelta

import pytest

from jade_ladder.core.errors import NotAllowed, NotFound, NotSignedIn, Refused, RefusedMany
from jade_ladder.service.classes import classes
from jade_ladder.service.classes import teachers as class_teachers
from jade_ladder.service.outcomes import outcomes, strands
from jade_ladder.service.outcomes.outcomes import OutcomeWords
from jade_ladder.service.people import colleagues, invitations, log, own_account, sessions
from jade_ladder.service.people.colleagues import NewColleague
from jade_ladder.service.rubrics import rubrics
from jade_ladder.service.shared.caller import Administrator, Teacher
from jade_ladder.service.work import next_class
from tests.builders import at, everything, small

MEI = NewColleague("Mei", "Tan", "mei@tern.example")
LONG = "a very long password"


def joined(caller: Administrator, new: NewColleague = MEI) -> Teacher:
    ((person, token),) = colleagues.add_colleagues(caller, [new])
    assert invitations.accept(caller.database, token, LONG, caller.now) == person.id
    return Teacher(caller.database, person.id, caller.now)


def test_a_link_is_good_for_once_and_for_fourteen_days(caller: Administrator) -> None:
    db = caller.database
    ((person, token),) = colleagues.add_colleagues(caller, [MEI])
    with pytest.raises(NotSignedIn):
        sessions.check_password(db, MEI.email, LONG)
    assert invitations.invited_person(db, token, caller.now).person.name == "Mei Tan"
    late = caller.now + invitations.LINK_LASTS
    with pytest.raises(NotFound, match="older than 14 days"):
        invitations.accept(db, token, LONG, late)
    with pytest.raises(Refused, match="at least 10"):
        invitations.accept(db, token, "short", caller.now)
    assert invitations.accept(db, token, LONG, late - timedelta(seconds=1)) == person.id
    with pytest.raises(NotFound, match="used already"):
        invitations.accept(db, token, "another long password", caller.now)
    assert sessions.check_password(db, "MEI@tern.example", LONG) == person.id


def test_a_newer_link_replaces_the_one_before_and_ends_what_is_open(caller: Administrator) -> None:
    mei = joined(caller)
    token = sessions.begin_session(caller.database, mei.person_id, caller.now)
    first = colleagues.new_link(caller, mei.person_id)
    second = colleagues.new_link(caller, mei.person_id)
    with pytest.raises(NotFound):
        invitations.accept(caller.database, first, "another long password", caller.now)
    invitations.accept(caller.database, second, "another long password", caller.now)
    with pytest.raises(NotSignedIn):
        sessions.person_of_session(caller.database, token, caller.now)


@pytest.mark.parametrize(
    ("people", "field", "says"),
    [
        ([], "people", "Say who"),
        ([MEI] * 201, "people", "At most 200"),
        ([NewColleague("", "Tan", "mei@tern.example")], "people.0.given_name", "is needed"),
        ([NewColleague("Mei", "Tan", "mei")], "people.0.email", "looks like"),
        ([NewColleague("Mei", "Tan", " ILSE@tern.example")], "people.0.email", "of Ilse Varga"),
        ([MEI, NewColleague("Bo", "Tan", "MEI@tern.example")], "people.1.email", "here twice"),
    ],
)
def test_who_cannot_be_added_is_said_and_nobody_is(
    caller: Administrator, people: list[NewColleague], field: str, says: str
) -> None:
    before = everything(caller.database)
    with pytest.raises(Refused) as refused:
        colleagues.add_colleagues(caller, people)
    problem = refused.value
    found = problem.problems[0] if isinstance(problem, RefusedMany) else problem
    assert found.field == field
    assert says in found.message
    assert everything(caller.database) == before


def test_the_school_always_has_an_administrator_who_can_sign_in(caller: Administrator) -> None:
    mei = joined(caller)
    ((waiting, _),) = colleagues.add_colleagues(
        caller, [NewColleague("Ola", "Berg", "ola@tern.example")]
    )
    with pytest.raises(Refused, match="cannot sign in yet"):
        colleagues.set_administrator(caller, waiting.id, True)
    for leave in (
        lambda: colleagues.set_administrator(caller, caller.person_id, False),
        lambda: colleagues.end_account(caller, caller.person_id),
    ):
        with pytest.raises(Refused, match="only administrator"):
            leave()
    colleagues.set_administrator(caller, mei.person_id, True)
    # Two at once: whoever comes second finds that there is no other any more.
    colleagues.set_administrator(caller, caller.person_id, False)
    other = Administrator(caller.database, mei.person_id, caller.now)
    with pytest.raises(Refused, match="only administrator"):
        colleagues.set_administrator(other, mei.person_id, False)


def test_an_account_ends_with_everything_kept_once_its_classes_are_handed_over(
    caller: Administrator,
) -> None:
    mei = joined(caller)
    class_id = classes.make_class(mei, "Tide Room", *days(caller))
    token = sessions.begin_session(caller.database, mei.person_id, caller.now)
    with pytest.raises(Refused, match="only teacher of Tide Room"):
        colleagues.end_account(caller, mei.person_id)
    class_teachers.assign_class(caller, class_id, caller.person_id)
    colleagues.end_account(caller, mei.person_id)
    with pytest.raises(NotSignedIn):
        sessions.person_of_session(caller.database, token, caller.now)
    with pytest.raises(NotSignedIn):
        sessions.check_password(caller.database, MEI.email, LONG)
    with pytest.raises(Refused, match="has ended"):
        colleagues.new_link(caller, mei.person_id)
    with pytest.raises(RefusedMany, match="e-mail of Mei Tan already"):
        colleagues.add_colleagues(caller, [MEI])
    assert [one.name for one in class_teachers.class_teachers(caller, class_id)] == ["Ilse Varga"]
    colleagues.restore_account(caller, mei.person_id)
    assert sessions.check_password(caller.database, MEI.email, LONG) == mei.person_id
    assert log.read_log(caller).said[:3] == (
        "let Mei Tan sign in again",
        "ended the account of Mei Tan",
        "made Ilse Varga responsible for Tide Room (before: Mei Tan)",
    )


def days(caller: Teacher) -> tuple[object, object]:
    first = caller.now.date() - timedelta(days=30)
    return first, first + timedelta(days=200)


def test_the_teachers_of_a_class_share_it_and_one_is_responsible(caller: Administrator) -> None:
    made = small(at(caller, -10))
    mei = joined(caller)
    with pytest.raises(NotFound):
        classes.get_class(mei, made.class_id)
    class_teachers.add_class_teacher(caller, made.class_id, mei.person_id)
    with pytest.raises(Refused, match="teaches this class already"):
        class_teachers.add_class_teacher(caller, made.class_id, mei.person_id)
    # She sees what it is marked by, marks in it, and reads its outcomes in their strands.
    assert [row.id for row in rubrics.rubrics(mei)] == [made.rubric_id]
    assert rubrics.get_rubric(mei, made.rubric_id).row.id == made.rubric_id
    made.mark(made.students[0], 3, 3, caller=mei)
    assert len(outcomes.outcomes_of_class(mei, made.class_id).outcomes) == 2
    for change in (
        lambda: class_teachers.hand_over_class(mei, made.class_id, mei.person_id),
        lambda: class_teachers.remove_class_teacher(mei, made.class_id, caller.person_id),
    ):
        with pytest.raises(NotAllowed, match="Ilse Varga is responsible"):
            change()
    with pytest.raises(Refused, match="hand it over first"):
        class_teachers.remove_class_teacher(caller, made.class_id, caller.person_id)
    class_teachers.hand_over_class(caller, made.class_id, mei.person_id)
    class_teachers.remove_class_teacher(caller, made.class_id, caller.person_id)
    with pytest.raises(NotFound):
        classes.get_class(caller, made.class_id)
    assert [one.name for one in class_teachers.class_teachers(mei, made.class_id)] == ["Mei Tan"]


def test_one_changes_ones_own_account_and_signs_out_elsewhere(caller: Administrator) -> None:
    mei = joined(caller)
    db = caller.database
    here, there = (sessions.begin_session(db, mei.person_id, caller.now) for _ in range(2))
    with pytest.raises(Refused, match="e-mail of Ilse Varga"):
        own_account.change_own_account(mei, "Mei", "Tan", "Ilse@Tern.example")
    own_account.change_own_account(mei, "Mei Lin", "Tan", "lin@tern.example")
    assert own_account.own_account(mei).name == "Mei Lin Tan"
    with pytest.raises(Refused) as refused:
        own_account.change_own_password(mei, here, "wrong", "another long password")
    assert refused.value.field == "current"
    assert own_account.change_own_password(mei, here, LONG, "another long password") == 1
    with pytest.raises(NotSignedIn):
        sessions.person_of_session(db, there, caller.now)
    assert sessions.check_password(db, "lin@tern.example", "another long password")
    there = sessions.begin_session(db, mei.person_id, caller.now, device="Firefox on Linux")
    seen = own_account.own_sessions(mei, here)
    assert [(one.device, one.this) for one in seen] == [("Firefox on Linux", False), ("", True)]
    with pytest.raises(NotFound):
        own_account.end_own_session(mei, here, seen[1].id)
    with pytest.raises(NotFound):
        own_account.end_own_session(caller, here, seen[0].id)
    own_account.end_own_session(mei, here, seen[0].id)
    with pytest.raises(NotSignedIn):
        sessions.person_of_session(db, there, caller.now)


def test_an_outcome_of_the_school_is_everybodys_to_teach_and_an_administrators_to_change(
    caller: Administrator, other_teacher: Teacher
) -> None:
    made = small(caller)
    strand = strands.add_strand(caller, "Weather")
    words = OutcomeWords("W1", "I can W1", "", strand)
    outcomes.change_outcome(caller, made.class_id, made.outcomes[0], words)
    outcomes.set_schools_outcome(caller, made.class_id, made.outcomes[0], True)
    theirs = classes.make_class(other_teacher, "Loft", date(2026, 9, 1), date(2027, 6, 30))
    outcomes.teach_outcomes(other_teacher, theirs, [made.outcomes[0]])
    for change in (
        lambda: outcomes.change_outcome(other_teacher, theirs, made.outcomes[0], words),
        lambda: strands.change_strand(other_teacher, strand, "Wind"),
        lambda: strands.delete_strand(other_teacher, strand),
    ):
        with pytest.raises(Refused, match="school's: an administrator changes it"):
            change()
    with pytest.raises(Refused, match="is taught in Loft, too, and stays the school's"):
        outcomes.set_schools_outcome(caller, made.class_id, made.outcomes[0], False)
    second = made.outcomes[1]
    outcomes.change_outcome(
        caller, made.class_id, second, OutcomeWords("W2", "I can W2", "", strand)
    )
    outcomes.set_schools_outcome(caller, made.class_id, second, True)
    outcomes.set_schools_outcome(caller, made.class_id, second, False)
    assert [one.schools for one in strands.strands(caller)] == [True], "W1 is in it still"


def test_a_class_whose_teacher_has_left_is_found_and_handed_over(
    caller: Administrator, other_teacher: Teacher
) -> None:
    theirs = classes.make_class(other_teacher, "Loft", date(2026, 9, 1), date(2027, 6, 30))
    next_class.set_class_aside(other_teacher, theirs, True)
    assert colleagues.untaught_classes(caller) == []
    colleagues.end_account(caller, other_teacher.person_id)
    assert [(one.name, one.set_aside) for one in colleagues.untaught_classes(caller)] == [
        ("Loft", True)
    ]
    class_teachers.assign_class(caller, theirs, caller.person_id)
    assert colleagues.untaught_classes(caller) == []
    assert classes.get_class(caller, theirs).name == "Loft"
