"""Terms that go otherwise than planned: every page says the same, and none falls over."""

from __future__ import annotations

import io
from collections.abc import Callable
from dataclasses import replace
from datetime import timedelta

import openpyxl
import pytest

from jade_ladder.core.evidence import AttemptsRule
from jade_ladder.formats.exported.writing import Form, write_export
from jade_ladder.service.changes import scales as scale_changes
from jade_ladder.service.classes import students
from jade_ladder.service.mastery.trail import trail
from jade_ladder.service.mastery.wall import wall
from jade_ladder.service.notes.notes import NoteWords, write_notes
from jade_ladder.service.outcomes import outcomes
from jade_ladder.service.overview.class_outcomes import class_outcomes
from jade_ladder.service.overview.first_page import first_page
from jade_ladder.service.reports.exports import class_export
from jade_ladder.service.shared.caller import Teacher
from tests.builders import Small, at, school_day, second_class, small
from tests.strategies import four_at_values


def nothing(made: Small, caller: Teacher) -> int:
    """Nobody has any evidence."""
    return made.class_id


def one_piece(made: Small, caller: Teacher) -> int:
    made.mark(made.students[0], 3, 2, caller=at(caller, -5))
    return made.class_id


def a_hundred_in_a_day(made: Small, caller: Teacher) -> int:
    for number in range(100):
        said = NoteWords(number % 4, number % 4 < 3 and bool(number % 2))
        write_notes(
            at(caller, -3 + number / 5000),
            made.class_id,
            f"note-{number:04}",
            made.students[:1],
            made.outcomes[number % 2],
            said,
        )
    return made.class_id


def before_the_class_began(made: Small, caller: Teacher) -> int:
    """Evidence of last term follows the student into a class that begins today."""
    made.mark(made.students[0], 4, 4, caller=at(caller, -20))
    other = second_class(caller, made)
    outcomes.teach_outcomes(caller, other, list(made.outcomes))
    return other


def scale_changed_in_between(made: Small, caller: Teacher) -> int:
    made.mark(made.students[0], 3, 3, caller=at(caller, -20))
    scale_id = wall(caller, made.class_id).outcomes[0].scale_id
    scale_changes.change_scale(at(caller, -10), scale_id, 1, "Stricter", four_at_values)
    made.mark(made.students[0], 2, 4, task_id=made.new_task("Second"), caller=at(caller, -5))
    return made.class_id


def left_and_came_back(made: Small, caller: Teacher) -> int:
    made.mark(made.students[0], 4, 4, caller=at(caller, -30))
    students.set_left(at(caller, -20), made.class_id, made.students[0], school_day(at(caller, -20)))
    students.bring_back_student(at(caller, -5), made.class_id, made.students[0])
    return made.class_id


def in_two_classes(made: Small, caller: Teacher) -> int:
    other = second_class(at(caller, -20), made)
    outcomes.teach_outcomes(at(caller, -20), other, list(made.outcomes))
    task = made.new_task("Every", attempts_rule=AttemptsRule.EVERY)
    made.mark(made.students[0], 2, 4, task_id=task, caller=at(caller, -10))
    return other


@pytest.mark.parametrize(
    "happens",
    [
        nothing,
        one_piece,
        a_hundred_in_a_day,
        before_the_class_began,
        scale_changed_in_between,
        left_and_came_back,
        in_two_classes,
    ],
)
def test_every_page_says_the_same(
    caller: Teacher, happens: Callable[[Small, Teacher], int]
) -> None:
    made = small(at(caller, -40))
    class_id = happens(made, caller)
    seen = wall(caller, class_id)
    term = class_outcomes(caller, class_id, seen.as_of - timedelta(days=60))
    assert term.days[-1] == seen.as_of
    assert len(set(term.days)) == len(term.days)
    target = io.BytesIO()
    with class_export(caller, class_id) as export:
        write_export(export, Form.WORKBOOK, target)
    rows = list(openpyxl.load_workbook(target)["Wall"].values)[1:]
    for column, outcome in enumerate(seen.outcomes):
        assert term.outcomes[column].now == seen.pictures[column]
        assert term.outcomes[column].over_term[-1] == seen.pictures[column]
        for line, student in enumerate(seen.students):
            cell = seen.cells[line][column]
            told = trail(caller, class_id, student.id, outcome.id)
            # The sign of a judgement aside, of which there are none here.
            assert told.mastery == replace(cell.mastery)
            assert told.trail.direction == cell.direction
            value = cell.mastery.value
            assert rows[line][2 + column] == (None if value is None else value / 100)
    page = first_page(caller)
    reached = {
        (line.klass.id, student.id, line.outcome.id)
        for line in page.reached
        for student in line.students
    }
    for klass, student, outcome in reached:
        assert trail(caller, klass, student, outcome).trail.held_since is not None
