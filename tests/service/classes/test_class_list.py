"""Class lists: lines left out, and an import undone as one."""

from __future__ import annotations

import pytest

from jade_ladder.core.errors import NotFound, Refused, RefusedMany
from jade_ladder.formats.table import Choices, read_table
from jade_ladder.service.classes import class_list, students
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import attempts
from tests.builders import at, everything, second_class, small

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
