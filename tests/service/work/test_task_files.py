"""Files that come with a task, and what each student gets a copy of to begin with."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

import pytest

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.service.shared.caller import Student, Teacher
from jade_ladder.service.student.task_page import task_page
from jade_ladder.service.work import handing_in, parts, task_files, tasks
from jade_ladder.service.work.setting import TaskWords
from tests.builders import Small, arrived, small


@pytest.fixture
def made(caller: Teacher) -> Small:
    return small(caller)


def own(made: Small, which: int = 0, days: float = 0) -> Student:
    caller = made.caller
    return Student(caller.database, made.students[which], caller.now + timedelta(days=days))


def attach(made: Small, name: str, starting: bool = False) -> int:
    upload = arrived(made.caller, name, name.encode())
    return task_files.attach_file(made.caller, made.task_id, upload, starting).id


def test_files_come_with_a_task_for_those_it_is_for(made: Small, other_teacher: Teacher) -> None:
    number = attach(made, "sheet.txt")
    for caller in (made.caller, own(made)):
        found = task_files.task_file(caller, number)
        assert (found.name, found.path.read_bytes()) == ("sheet.txt", b"sheet.txt")
    told = set()
    for caller, wanted in ((other_teacher, number), (made.caller, 99), (own(made), 99)):
        with pytest.raises(NotFound) as error:
            task_files.task_file(caller, wanted)
        told.add(str(error.value))
    assert len(told) == 1
    words = TaskWords("Route", "", TaskKind.HANDED_IN, made.rubric_id, None, None, False)
    tasks.change_task(made.caller, made.task_id, 1, replace(words, draft=True))
    with pytest.raises(NotFound):
        task_files.task_file(own(made), number)
    with pytest.raises(NotFound):
        task_files.detach_file(other_teacher, number)
    task_files.detach_file(made.caller, number)
    assert tasks.get_task(made.caller, made.task_id).files == ()


def test_each_student_begins_with_a_copy_of_their_own(made: Small) -> None:
    words = TaskWords("Route", "", TaskKind.HANDED_IN, made.rubric_id, None, None, False)
    words = replace(words, starting_text="Leg one:\nLeg two:\n")
    tasks.change_task(made.caller, made.task_id, 1, words)
    starting = attach(made, "template.txt", starting=True)
    attach(made, "sheet.txt")
    student = own(made)
    assert task_page(student, made.task_id).draft is None
    handing_in.open_task(student, made.task_id)
    handing_in.open_task(own(made, 0, 1), made.task_id)
    page = task_page(student, made.task_id)
    assert page.draft is not None
    assert page.draft.text == "Leg one:\nLeg two:"
    assert [part.file_name for part in page.put_in] == ["template.txt"]
    assert [one.name for one in page.files] == ["sheet.txt"]
    # The copy is the student's: they remove it, and it outlives the task's file.
    task_files.detach_file(made.caller, starting)
    part = page.put_in[0].id
    assert parts.part_file(student, part).path.read_bytes() == b"template.txt"
    handing_in.hand_in(student, made.task_id, "Leg one: 042", page.draft.version, None, [part])
    # Who has begun or handed in gets nothing over it.
    other = own(made, 1)
    handing_in.save_draft(other, made.task_id, "Already", 0)
    handing_in.open_task(other, made.task_id)
    assert handing_in.draft(other, made.task_id).text == "Already"  # type: ignore[union-attr]


def test_a_task_has_so_many_files(made: Small, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(task_files, "MOST_FILES", 1)
    upload = arrived(made.caller, "a.txt", b"a")
    first = task_files.attach_file(made.caller, made.task_id, upload, False)
    assert task_files.attach_file(made.caller, made.task_id, upload, False) == first
    with pytest.raises(Refused, match="at most 1 files"):
        attach(made, "b.txt")
