"""What counts is one rule: what is kept of random schools is what previews work out otherwise."""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import suppress

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.core.evidence import AttemptEvidence, AttemptsRule, Combining
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.service.changes.combining import change_combining
from jade_ladder.service.changes.scales import put_on_scale
from jade_ladder.service.classes import classes, students
from jade_ladder.service.evidence.class_evidence import ClassEvidence
from jade_ladder.service.evidence.class_standing import Frame
from jade_ladder.service.marking import again, desk, saving
from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.mastery.setting_aside import count_evidence_again, set_evidence_aside
from jade_ladder.service.notes import notes
from jade_ladder.service.notes.notes import NoteWords
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import today
from jade_ladder.service.shared.guards import own_class
from jade_ladder.service.work import attempts, setting, tasks
from jade_ladder.store.evidence.evidence import evidence_faults
from tests.builders import Small, at, small, undone

# Which of the students, tasks or outcomes, which level or attempt, and whether it is so or not.
STEPS = st.lists(
    st.tuples(st.integers(0, 12), st.integers(0, 1), st.integers(0, 2), st.integers(0, 3)),
    min_size=6,
    max_size=24,
)


class _School:
    """A small class in which one thing after the other is done, each a little later."""

    def __init__(self, made: Small, tasks_there: list[int]) -> None:
        self.made = made
        self.tasks = tasks_there
        self.done = 0

    def do(self, what: int, one: int, which: int, much: int) -> None:
        """Do one thing; what cannot be done now is left."""
        self.done += 1
        caller = at(self.made.caller, 10 + self.done / 50)
        student, task = self.made.students[one], self.tasks[which]
        does = (self._choose, self._choose, self._finish, self._finish, self._again)
        if what < len(does):
            does[what](caller, task, student, much)
        else:
            self._rest(caller, what - len(does), one, which, much)

    def _choose(self, caller: Teacher, task: int, student: int, much: int) -> None:
        number = self._number(caller, task, student)
        first, second = desk.desk(caller, task).criteria
        for stored in ([first, second], [second], [first])[much % 3]:
            half = stored.criterion.half_way and much == 1
            choice = Choice(stored.level_ids[much], half_way=half)
            saving.choose(caller, task, student, stored.id, choice, 10_000, number)

    def _finish(self, caller: Teacher, task: int, student: int, much: int) -> None:
        saving.finish(caller, task, student, self._number(caller, task, student))

    def _again(self, caller: Teacher, task: int, student: int, much: int) -> None:
        again.open_attempts(caller, task, [student], "Once more", carries=much > 0)
        if much > 1:
            self._choose(caller, task, student, 2)
            self._finish(caller, task, student, much)

    @staticmethod
    def _number(caller: Teacher, task: int, student: int) -> int:
        with caller.reading() as db:
            (newest,) = db.execute(
                """SELECT max(number) FROM attempt a JOIN task_student s ON s.id = task_student_id
                   WHERE s.task_id = ? AND s.student_id = ?""",
                (task, student),
            ).fetchone()
        return newest or 1

    def _rest(self, caller: Teacher, what: int, one: int, which: int, much: int) -> None:
        made, student, task = self.made, self.made.students[one], self.tasks[which]
        outcome = made.outcomes[much % 2]
        match what:
            case 0:
                attempts.excuse(caller, task, student, much > 1)
            case 1:
                row = tasks.get_task(caller, task).row
                words = setting.TaskWords(
                    row.title, "", row.kind, row.rubric_id, row.due_at, row.points, much > 1
                )
                tasks.change_task(caller, task, row.version, words)
            case 2:
                some = None if much > 1 else [outcome]
                set_evidence_aside(caller, task, [student], "Noisy", None, some)
            case 3:
                count_evidence_again(caller, task, [student])
            case 4:
                said = NoteWords(much, half_way=much < 3 and which == 1)
                notes.write_notes(
                    caller, made.class_id, f"note-{self.done}-x", [student], outcome, said
                )
            case 5:
                attempts.correct_times(caller, task, [student], at(caller, -much - 1).now)
            case 6:
                version = classes.get_class(caller, made.class_id).version
                how = list(Combining)[much % 3]
                change_combining(caller, made.class_id, version, how)
            case _:
                self._change_a_note(caller, which, much)

    def _change_a_note(self, caller: Teacher, which: int, much: int) -> None:
        with caller.reading() as db:
            there = db.execute("SELECT id, version FROM note ORDER BY id DESC").fetchall()
        number, version = there[which % len(there)]
        match much:
            case 0:
                notes.set_note_aside(caller, number, "Heard of, not seen")
            case 1:
                notes.withdraw_note(caller, number, version)
            case 2:
                notes.withdraw_note(caller, number, version, withdrawn=False)
            case _ if which:
                put_on_scale(caller, self.made.class_id, self.made.outcomes[0], self.made.scale_id)
            case _:
                day = at(caller, -1).now.date()
                students.set_left(caller, self.made.class_id, self.made.students[0], day)


@pytest.fixture
def made(caller: Teacher) -> tuple[Small, list[int]]:
    there = small(at(caller, -20))
    second = there.new_task("Second", attempts_rule=AttemptsRule.MEAN)
    every = [there.task_id, second, there.new_task("Room", kind=TaskKind.OBSERVED)]
    for days, task in enumerate(every):
        for level, student in enumerate(there.students, 1):
            there.mark(student, level, 4 - days, task_id=task, caller=at(caller, -15 + days))
    notes.write_notes(
        at(caller, -12),
        there.class_id,
        "first-note",
        there.students,
        there.outcomes[0],
        NoteWords(2, half_way=True),
    )
    return there, every


@given(steps=STEPS)
@settings(max_examples=60, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_what_is_kept_is_what_is_worked_out_otherwise(
    made: tuple[Small, list[int]], caller: Teacher, steps: list[tuple[int, int, int, int]]
) -> None:
    with undone(caller.database) as db:
        school = _School(*made)
        for step in steps:
            with suppress(Refused, NotFound):
                school.do(*step)
        assert evidence_faults(db) == []
        klass = own_class(db, caller, school.made.class_id)
        frame = Frame.load(db, caller, klass, today(db, caller))
        kept = frame.evidence_of(db, frame.limits)
        otherwise = ClassEvidence.load(db, caller, klass, school.made.outcomes)
        for student, outcome in otherwise.places():
            place = student.id, outcome.id
            anew = otherwise.pieces(student.id, otherwise.attempts(*place))
            assert _told(kept.gathered(*place).pieces()) == _told(anew)


def _told(pieces: Sequence[AttemptEvidence]) -> list[tuple[object, ...]]:
    return [(one.key, one.origin, one.number, one.value, one.order) for one in pieces]
