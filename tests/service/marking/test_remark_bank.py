"""The remark bank: it fills itself, offers what is nearest, and is looked after."""

from __future__ import annotations

from dataclasses import replace

import pytest

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.core.passage import Place, Quote, Span
from jade_ladder.formats.class_list import StudentLine
from jade_ladder.service.classes import students
from jade_ladder.service.marking import desk, passages, remark_bank, saving
from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.marking.passages import NewPassage
from jade_ladder.service.marking.remark_bank import Offer
from jade_ladder.service.people.accounts import NewTeacher, add_teacher
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import attempts
from tests.builders import Small, at, small


@pytest.fixture
def made(caller: Teacher) -> Small:
    """A class of three."""
    early = at(caller, -10)
    found = small(early)
    students.add_student(early, found.class_id, StudentLine(1, "Goran", "Petrov", "S3"))
    everybody = {one.id for one in students.students(caller, found.class_id)}
    third = everybody - set(found.students)
    return replace(found, caller=caller, students=(*found.students, *third))


def criteria(made: Small) -> list[int]:
    return [one.id for one in desk.desk(made.caller, made.task_id).criteria]


def remark(made: Small, student: int, criterion: int | None, text: str) -> None:
    saving.remark(made.caller, made.task_id, made.students[student], criterion, text, 1000)


def choose(made: Small, student: int, criterion: int, place: int) -> int:
    """Choose a level, 0 the lowest; gives its number."""
    stored = next(
        one for one in desk.desk(made.caller, made.task_id).criteria if one.id == criterion
    )
    level = stored.level_ids[place]
    saving.choose(made.caller, made.task_id, made.students[student], criterion, Choice(level), 1000)
    return level


def offered(
    made: Small,
    criterion: int | None,
    level: int | None = None,
    search: str = "",
    student: int = 2,
) -> list[Offer]:
    return remark_bank.offers(
        made.caller, made.task_id, made.students[student], criterion, level, search
    )


def texts(made: Small, search: str = "") -> dict[str, int]:
    return {row.text: row.uses for row in remark_bank.bank(made.caller, search).rows}


def test_what_was_written_at_this_level_comes_first_then_on_this_criterion_then_all(
    made: Small,
) -> None:
    first, second = criteria(made)
    low, high = choose(made, 0, first, 0), choose(made, 1, first, 2)
    remark(made, 0, first, "Name the quay")
    remark(made, 1, first, "Very clear")
    remark(made, 0, second, "Which sheet?")
    remark(made, 1, None, "Thank you")
    assert [(one.filled, one.row.nearness) for one in offered(made, first, low)] == [
        ("Name the quay", 0),
        ("Very clear", 1),
        ("Thank you", 2),
        ("Which sheet?", 2),
    ]
    assert [one.filled for one in offered(made, first, high)][:2] == ["Very clear", "Name the quay"]
    # The level goes with what is chosen now.
    choose(made, 0, first, 2)
    remark(made, 2, first, "Very clear")
    assert [(one.filled, one.row.uses) for one in offered(made, first, high)][:2] == [
        ("Very clear", 1),
        ("Name the quay", 1),
    ]
    assert [one.filled for one in offered(made, None, search="QUÁY")] == ["Name the quay"]


def test_the_bank_holds_what_stands_and_forgets_what_was_half_written(made: Small) -> None:
    first, _ = criteria(made)
    for text in ("Name", "Name the", "Name the quay"):
        remark(made, 0, first, text)
    remark(made, 1, first, "Name the quay")
    assert texts(made) == {"Name the quay": 2}
    remark(made, 0, first, "")
    assert texts(made) == {"Name the quay": 1}
    remark(made, 0, first, "ok")
    assert texts(made) == {"Name the quay": 1}, "too short to be offered"
    remark(made, 1, first, "Another")
    assert texts(made) == {"Another": 1}


def test_remarks_on_passages_are_in_it_too(made: Small) -> None:
    first, _ = criteria(made)
    attempts.enter_work(made.caller, made.task_id, made.students[0], "The old quay")
    part = desk.work_at_desk(made.caller, made.task_id, made.students[0]).parts[0].id

    def say(text: str | None, based_on: int) -> int:
        place = Place(Quote("old"), Span(4, 7))
        new = None if text is None else NewPassage(part, first, text, place)
        args = (made.caller, made.task_id, made.students[0], "a-passage", new, based_on)
        return passages.remark_on_passage(*args).version

    level = choose(made, 0, first, 1)
    seen = say("How old?", 0)
    assert [(one.filled, one.row.nearness) for one in offered(made, first, level)] == [
        ("How old?", 0)
    ]
    say(None, seen)
    assert texts(made) == {}


def test_no_name_goes_to_another_student(made: Small) -> None:
    first, _ = criteria(made)
    people = students.students(made.caller, made.class_id)
    own = next(one for one in people if one.id == made.students[0])
    other = next(one for one in people if one.id == made.students[1])
    remark(made, 0, first, f"{own.given_name}, ask {other.name.upper()} how")
    assert texts(made) == {"{given name}, ask {another student} how": 1}
    third = next(one for one in people if one.id == made.students[2])
    assert [one.filled for one in offered(made, first)] == [f"{third.given_name}, ask … how"]
    # Who joins later is not named either.
    remark(made, 1, None, "Sail like Orsolya")
    students.add_student(made.caller, made.class_id, StudentLine(1, "Orsolya", "Nagy"))
    assert offered(made, None)[0].filled == "Sail like …"


def test_it_is_edited_pinned_deleted_and_searched(made: Small) -> None:
    first, _ = criteria(made)
    remark(made, 0, first, "Name the quay")
    remark(made, 1, first, "Which sheet?")
    rows = {row.text: row for row in remark_bank.bank(made.caller).rows}
    assert rows["Which sheet?"].criteria == "Criterion a"
    quay, sheet = rows["Name the quay"].id, rows["Which sheet?"].id
    changed = remark_bank.change_in_bank(made.caller, quay, " Name the quay, {given name} ", True)
    assert (changed.text, changed.pinned, changed.uses) == ("Name the quay, {given name}", True, 1)
    remark(made, 0, first, "")
    assert texts(made)["Name the quay, {given name}"] == 0, "what was edited stays"
    remark_bank.delete_from_bank(made.caller, sheet, True)
    remark(made, 2, first, "Which sheet?")
    assert list(texts(made)) == ["Name the quay, {given name}"], "what was deleted stays away"
    assert [one.row.id for one in offered(made, first)] == [quay]
    remark_bank.delete_from_bank(made.caller, sheet, False)
    assert texts(made, "SHEET") == {"Which sheet?": 2}
    # The same text again is one.
    merged = remark_bank.change_in_bank(made.caller, quay, "Which sheet?", False)
    assert texts(made) == {"Which sheet?": 2}
    assert merged.id == quay
    added = remark_bank.add_to_bank(made.caller, "Well rowed")
    assert texts(made)["Well rowed"] == 0
    with pytest.raises(Refused, match="no field"):
        remark_bank.change_in_bank(made.caller, added.id, "{rank} rowed", False)


def test_it_is_ones_own(made: Small) -> None:
    remark(made, 0, None, "Name the quay")
    (row,) = remark_bank.bank(made.caller).rows
    number = add_teacher(
        made.caller.database, NewTeacher("Ola", "Tan", "ola@tern.example", "a long password")
    )
    other = Teacher(made.caller.database, number, made.caller.now)
    assert remark_bank.bank(other).rows == ()
    for deed in (
        lambda: remark_bank.change_in_bank(other, row.id, "Taken over", True),
        lambda: remark_bank.delete_from_bank(other, row.id, True),
    ):
        with pytest.raises(NotFound, match="no such text in your bank"):
            deed()
