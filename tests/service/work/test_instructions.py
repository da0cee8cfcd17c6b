"""Instructions as HTML: made when they are saved, kept with the task, and never for ever."""

from __future__ import annotations

from datetime import date

import pytest

from jade_ladder.core.errors import Refused
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.outside import conversion
from jade_ladder.service.shared.caller import Student, Teacher
from jade_ladder.service.student.task_page import task_page
from jade_ladder.service.work import copying, instructions, next_class, tasks
from jade_ladder.service.work.next_class import NextClass
from jade_ladder.service.work.setting import TaskWords
from jade_ladder.service.work.tasks import class_tasks
from tests.builders import Small, small

ASKED = "Plan a walk, **each leg** on a bearing."
HTML = "<p>Plan a walk, <strong>each leg</strong> on a bearing.</p>\n"


def words(made: Small, text: str) -> TaskWords:
    return TaskWords("Walk", text, TaskKind.HANDED_IN, made.rubric_id, None, None, False)


def test_they_are_rendered_when_they_are_saved_and_looked_at_as_kept(
    caller: Teacher, monkeypatch: pytest.MonkeyPatch
) -> None:
    made = small(caller)
    number = tasks.make_task(made.caller, made.class_id, words(made, ASKED))

    def never(_: str) -> str:
        raise AssertionError("it is rendered already")

    with monkeypatch.context() as patch:
        patch.setattr(instructions, "rendered", never)
        copy = copying.copy_task(made.caller, number, made.class_id).task_id
        following = next_class.copy_class(
            made.caller,
            made.class_id,
            NextClass("Next", date(2027, 9, 1), date(2028, 6, 30), True, True),
        )
        last = class_tasks(made.caller, following)[-1].row.id
        own = Student(made.caller.database, made.students[0], made.caller.now)
        shown = [tasks.get_task(made.caller, one).instructions for one in (number, copy, last)]
        assert [*shown, task_page(own, number).instructions] == [HTML] * 4
    changed = words(made, "Walk *again*")
    tasks.change_task(made.caller, number, 1, changed)
    assert tasks.get_task(made.caller, number).instructions == "<p>Walk <em>again</em></p>\n"


def test_those_of_a_task_from_before_are_rendered_when_they_are_looked_at(caller: Teacher) -> None:
    made = small(caller)
    number = tasks.make_task(made.caller, made.class_id, words(made, ASKED))
    with made.caller.transaction() as db:
        db.execute("UPDATE task SET instructions_html = NULL")
    assert tasks.get_task(made.caller, number).instructions == HTML


def test_what_takes_for_ever_is_refused_at_its_field(
    caller: Teacher, monkeypatch: pytest.MonkeyPatch
) -> None:
    made = small(caller)
    monkeypatch.setattr(conversion, "LONGEST_WAIT", 0.1)
    with pytest.raises(Refused, match="cannot be shown") as refused:
        tasks.make_task(made.caller, made.class_id, words(made, "![" * 10_000))
    assert refused.value.field == "instructions"
