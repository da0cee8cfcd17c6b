"""Class lists: lines left out, and an import undone as one."""

from __future__ import annotations

from datetime import date

import pytest

from jade_ladder.core.errors import NotFound, Refused, RefusedMany
from jade_ladder.formats.table import Choices, read_table
from jade_ladder.service.classes import class_list, students
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import attempts
from jade_ladder.store.classes.students import memberships
from tests.builders import at, everything, school_day, second_class, small

LIST = "Name,ID\nBo Lund,S7\nKai Nord,S7\nAino Berg,S1\nMei Tan,\n"


def names(caller: Teacher, class_id: int) -> list[str]:
    return [one.name for one in students.students(caller, class_id)]


def test_lines_with_a_problem_are_left_out_when_asked(caller: Teacher) -> None:
    made = small(at(caller, -10))
    table = read_table(LIST)
    with pytest.raises(RefusedMany):
        class_list.import_class_list(caller, made.class_id, table)
    done = class_list.import_class_list(caller, made.class_id, table, leave_out=True)
    assert done.added == 2
    assert [read.line.name for read in done.left_out] == ["Kai Nord"]
    assert names(caller, made.class_id) == ["Zoe Anders", "Aino Berg", "Bo Lund", "Mei Tan"]


def test_nothing_is_imported_before_its_columns_are_known(caller: Teacher) -> None:
    made = small(at(caller, -10))
    table = read_table("Who,What\nBo Lund,7\n")
    with pytest.raises(Refused) as refused:
        class_list.import_class_list(caller, made.class_id, table)
    assert (refused.value.field, refused.value.message) == (
        "columns",
        "Choose the column that holds the names",
    )
    done = class_list.import_class_list(caller, made.class_id, table, Choices({"name": "Who"}))
    assert done.added == 1
    with pytest.raises(Refused, match="Nobody on this list is new"):
        class_list.import_class_list(caller, made.class_id, table, Choices({"name": "Who"}))


def test_an_import_is_undone_as_one_and_only_once(caller: Teacher) -> None:
    """Who was at the school before stays there."""
    made = small(at(caller, -10))
    other = second_class(caller, made)
    before = everything(caller.database).count('INSERT INTO "person"')
    table = read_table("Name,ID\nBo Lund,S7\nZoe Anders,S2\nAino Berg,S1\n")
    done = class_list.import_class_list(caller, other, table)
    assert done.added == 2
    with pytest.raises(NotFound):
        class_list.undo_class_list(caller, made.class_id, done.entry)
    assert class_list.undo_class_list(caller, other, done.entry) == 2
    assert names(caller, other) == ["Aino Berg"]
    assert names(caller, made.class_id) == ["Zoe Anders", "Aino Berg"]
    assert everything(caller.database).count('INSERT INTO "person"') == before
    with pytest.raises(Refused, match="undone already"):
        class_list.undo_class_list(caller, other, done.entry)


def test_an_import_stays_once_somebody_on_it_has_work(caller: Teacher) -> None:
    made = small(at(caller, -10))
    done = class_list.import_class_list(caller, made.class_id, read_table("Name,ID\nBo Lund,S7\n"))
    (new,) = (one.id for one in students.students(caller, made.class_id) if one.name == "Bo Lund")
    attempts.enter_work(caller, made.task_id, new, "My route")
    with pytest.raises(Refused, match="Bo Lund has work"):
        class_list.undo_class_list(caller, made.class_id, done.entry)
    assert "Bo Lund" in names(caller, made.class_id)


def test_who_left_and_comes_again_by_a_list_comes_then_and_leaves_again_when_it_is_undone(
    caller: Teacher,
) -> None:
    made = small(at(caller, -10))
    student = made.students[0]
    attempts.enter_work(caller, made.task_id, student, "My route")
    left = school_day(at(caller, -5))
    students.set_left(caller, made.class_id, student, left)

    def times() -> list[tuple[date, date | None]]:
        with caller.reading() as db:
            there = memberships(db, made.class_id)
        return [(one.since, one.until) for one in there if one.student_id == student]

    before = times()
    table = read_table("Name,ID\nAino Berg,S1\nBo Lund,S7\n")
    done = class_list.import_class_list(caller, made.class_id, table)
    assert times() == [*before, (school_day(caller), None)]
    assert class_list.undo_class_list(caller, made.class_id, done.entry) == 2
    assert times() == before
    assert names(caller, made.class_id) == ["Zoe Anders", "Aino Berg"]
    done = class_list.import_class_list(caller, made.class_id, table)
    students.set_left(caller, made.class_id, student, school_day(caller))
    with pytest.raises(Refused, match="Aino Berg has work, marks or a day they left"):
        class_list.undo_class_list(caller, made.class_id, done.entry)
