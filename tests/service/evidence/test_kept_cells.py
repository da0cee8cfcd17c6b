"""Walls that are kept: only what changed is worked out, and never anything that was so once."""

from __future__ import annotations

import sqlite3
from collections import Counter
from collections.abc import Callable
from contextlib import closing
from dataclasses import replace
from datetime import timedelta

import pytest

from jade_ladder.core.methods import Method, MethodKind
from jade_ladder.service.evidence import kept_cells
from jade_ladder.service.evidence.class_standing import Frame, WallCell
from jade_ladder.service.evidence.kept_evidence import KeptEvidence
from jade_ladder.service.mastery.wall import wall
from jade_ladder.service.notes import notes
from jade_ladder.service.notes.notes import NoteWords
from jade_ladder.service.outcomes import methods, outcomes
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.store.shared.connection import Database
from tests.builders import Small, at, second_class, small

Change = Callable[[Teacher, Small], object]


@pytest.fixture
def worked_out(monkeypatch: pytest.MonkeyPatch) -> Counter[int]:
    """How many cells were worked out, by student."""
    counted: Counter[int] = Counter()
    real = Frame.cell_by

    def counting(frame: Frame, kept: KeptEvidence, student: int, outcome: int) -> WallCell:
        counted[student] += 1
        return real(frame, kept, student, outcome)

    monkeypatch.setattr(Frame, "cell_by", counting)
    return counted


@pytest.mark.parametrize(
    ("change", "touched"),
    [
        (lambda c, s: None, ()),
        (lambda c, s: s.mark(s.students[0], 1, 1), (0,)),
        (lambda c, s: notes.write_notes(
            c, s.class_id, "a-new-note", s.students[1:], s.outcomes[0], NoteWords(3)
        ), (1,)),
        (lambda c, s: methods.change_class_method(
            c, s.class_id, 1, Method(MethodKind.LATEST)
        ), (0, 1)),
    ],
    ids=["nothing", "a mark", "a note", "a method"],
)  # fmt: skip
def test_only_the_rows_that_a_change_touches_are_worked_out(
    change: Change, touched: tuple[int, ...], caller: Teacher, worked_out: Counter[int]
) -> None:
    made = small(caller)
    for student in made.students:
        made.mark(student, 3, 2)
    wall(caller, made.class_id)
    worked_out.clear()
    change(caller, made)
    wall(caller, made.class_id)
    assert worked_out == {made.students[student]: len(made.outcomes) for student in touched}


FIRSTS = "(SELECT id FROM task_student WHERE student_id = {first})"


@pytest.mark.parametrize(
    ("gone", "touched"),
    [
        (f"DELETE FROM task_student WHERE id IN {FIRSTS}", (0,)),
        (f"DELETE FROM attempt WHERE task_student_id IN {FIRSTS}", (0,)),
        ("DELETE FROM mark WHERE attempt_id = (SELECT min(id) FROM attempt)", (0,)),
        ("DELETE FROM mark_choice WHERE id = (SELECT min(id) FROM mark_choice)", (0,)),
        ("DELETE FROM task", (0, 1)),
        ("DELETE FROM note", (1,)),
        ("DELETE FROM note_version", (1,)),
        ("DELETE FROM alignment WHERE outcome_id = {outcome}", (0, 1)),
    ],
)
def test_a_source_that_is_deleted_takes_its_evidence_with_it(
    gone: str, touched: tuple[int, ...], caller: Teacher, worked_out: Counter[int]
) -> None:
    """Each source, and each thing that a source comes of, deleted by SQL alone: the rows that it
    touches are worked out anew, and the wall is what a process that kept nothing says.
    """
    made = small(caller)
    for student in made.students:
        made.mark(student, 3, 2)
    words = NoteWords(3)
    notes.write_notes(
        caller, made.class_id, "a-note-of-zoe", made.students[1:], made.outcomes[0], words
    )
    before = wall(caller, made.class_id)
    worked_out.clear()
    with caller.transaction() as db:
        db.execute(gone.format(first=made.students[0], outcome=made.outcomes[1]))
    after = wall(caller, made.class_id)
    assert set(worked_out) == {made.students[student] for student in touched}
    assert after.cells != before.cells
    with closing(Database(caller.database.path)) as anew:
        assert wall(replace(caller, database=anew), made.class_id).cells == after.cells


def test_the_next_day_and_an_earlier_one_are_worked_out_anew(
    caller: Teacher, worked_out: Counter[int]
) -> None:
    made = small(at(caller, -20))
    made.mark(made.students[0], 3, 2)
    wall(caller, made.class_id)
    for who, day in ((at(caller, 1), None), (caller, caller.now.date() - timedelta(days=9))):
        worked_out.clear()
        wall(who, made.class_id, day)
        assert worked_out.total() == len(made.students) * len(made.outcomes)


def test_one_class_gives_way_to_another_where_too_much_is_kept(
    caller: Teacher, worked_out: Counter[int], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(kept_cells, "MOST_CELLS", 4)
    made = small(caller)
    other = second_class(caller, made)
    outcomes.teach_outcomes(caller, other, list(made.outcomes))
    for class_id in (made.class_id, other, made.class_id):
        worked_out.clear()
        wall(caller, class_id)
        assert worked_out
    worked_out.clear()
    wall(caller, made.class_id)
    assert not worked_out


def test_a_backup_that_is_put_back_is_not_taken_for_what_came_after_it(caller: Teacher) -> None:
    made = small(caller)
    made.mark(made.students[0], 3, 2)
    backup = sqlite3.connect(":memory:")
    with sqlite3.connect(caller.database.path) as there:
        there.backup(backup)
    before = wall(caller, made.class_id)
    made.mark(made.students[0], 1, 1)
    later = wall(caller, made.class_id)
    backup.backup(there)
    assert wall(caller, made.class_id) == before != later
    made.mark(made.students[0], 2, 1)
    assert wall(caller, made.class_id).cells not in (before.cells, later.cells)
    backup.close()
    there.close()
