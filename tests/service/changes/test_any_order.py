"""Operations in any order: a plain model of the desk, and the wall must agree with it."""

from __future__ import annotations

import tempfile
from fractions import Fraction
from pathlib import Path

from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, precondition, rule

from jade_ladder.core.errors import Refused
from jade_ladder.core.numbers import round_half_up
from jade_ladder.service.marking import desk, pile, saving
from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.mastery import wall as mastery
from jade_ladder.service.people.accounts import NewTeacher, make_first_teacher
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import attempts, setting, tasks
from jade_ladder.store.evidence.evidence import evidence_faults
from jade_ladder.store.shared.connection import Database
from tests.builders import Small, at, small
from tests.conftest import NOW

LEVELS = st.integers(1, 4)
STUDENT = st.integers(0, 1)
TASK = st.integers(0, 2)
HALF = st.booleans()


class Desk(RuleBasedStateMachine):
    """Two students, three tasks, criterion a (half-way allowed) on W1, criterion b on W1 and W2.

    `open` is what stands on the desk, `counted` what was last finished: choices by criterion, as
    exact values; None is "not assessed".
    """

    @initialize()
    def begin(self) -> None:
        self.folder = tempfile.TemporaryDirectory()
        self.database = Database(Path(self.folder.name) / "jade-ladder.sqlite3")
        teacher = NewTeacher("Ilse", "Varga", "ilse@tern.example", "a long password")
        number = make_first_teacher(self.database, "School", "UTC", teacher)
        self.caller = Teacher(self.database, number, NOW)
        self.made: Small = small(at(self.caller, -30))
        self.tasks = [self.made.task_id, self.made.new_task("B"), self.made.new_task("C")]
        self.open: dict[tuple[int, int], dict[str, Fraction | None]] = {}
        self.counted: dict[tuple[int, int], dict[str, Fraction | None]] = {}
        self.excused: set[tuple[int, int]] = set()
        self.practice: set[int] = set()
        self.order: dict[int, list[int]] = {0: [], 1: []}
        self.steps = 0

    def teardown(self) -> None:
        if hasattr(self, "database"):
            self.database.close()
            self.folder.cleanup()

    def now(self) -> Teacher:
        """Each operation comes a minute after the one before."""
        self.steps += 1
        return at(self.caller, -20 + self.steps / 1440)

    def choose(
        self, student: int, task: int, key: str, choice: Choice, value: Fraction | None
    ) -> None:
        if task not in self.order[student]:
            self.order[student].append(task)
        stored = {c.criterion.key: c for c in desk.desk(self.caller, self.tasks[task]).criteria}
        saving.choose(
            self.now(),
            self.tasks[task],
            self.made.students[student],
            stored[key].id,
            choice,
            based_on=10_000,
        )
        self.open.setdefault((student, task), {})[key] = value

    @rule(student=STUDENT, task=TASK, key=st.sampled_from("ab"), level=LEVELS, half=HALF)
    def mark(self, student: int, task: int, key: str, level: int, half: bool) -> None:
        half = half and key == "a" and level < 4
        stored = {c.criterion.key: c for c in desk.desk(self.caller, self.tasks[task]).criteria}
        choice = Choice(stored[key].level_ids[level - 1], half_way=half)
        self.choose(student, task, key, choice, Fraction(2 * level + half, 2))

    @rule(student=STUDENT, task=TASK, key=st.sampled_from("ab"))
    def not_assessed(self, student: int, task: int, key: str) -> None:
        self.choose(student, task, key, Choice(None, not_assessed=True), None)

    @precondition(lambda self: self.open)
    @rule(data=st.data())
    def finish(self, data: st.DataObject) -> None:
        student, task = data.draw(st.sampled_from(sorted(self.open)))
        place = self.tasks[task], self.made.students[student]
        chosen = self.open[student, task]
        if len(chosen) == 2:
            assert saving.finish(self.now(), *place).finished
            self.counted[student, task] = dict(chosen)
        else:
            try:
                saving.finish(self.now(), *place)
            except Refused:
                return
            raise AssertionError("an unfinished mark was finished")

    @rule(student=STUDENT, task=TASK, excused=st.booleans())
    def excuse(self, student: int, task: int, excused: bool) -> None:
        attempts.excuse(self.now(), self.tasks[task], self.made.students[student], excused)
        (self.excused.add if excused else self.excused.discard)((student, task))

    @rule(task=TASK, practice=st.booleans())
    def practise(self, task: int, practice: bool) -> None:
        row = tasks.get_task(self.caller, self.tasks[task]).row
        words = setting.TaskWords(
            row.title, "", row.kind, row.rubric_id, row.due_at, row.points, practice
        )
        tasks.change_task(self.now(), row.id, row.version, words)
        (self.practice.add if practice else self.practice.discard)(task)

    def evidence(self, student: int, keys: str) -> list[int]:
        """What counts for one student and the criteria of one outcome, in order of beginning."""
        found = []
        for task in self.order[student]:
            counted = self.counted.get((student, task), {})
            values = [v for key in keys if (v := counted.get(key)) is not None]
            if values and (student, task) not in self.excused and task not in self.practice:
                found.append(round_half_up(sum(values, Fraction(0)) / len(values)))
        return found

    @invariant()
    def the_wall_is_what_was_finished(self) -> None:
        wall = mastery.wall(self.caller, self.made.class_id)
        ids = [student.id for student in wall.students]
        for student in (0, 1):
            row = wall.cells[ids.index(self.made.students[student])]
            for column, keys in enumerate(("ab", "b")):
                expected: Fraction | None = None
                for piece in self.evidence(student, keys):
                    new = Fraction(piece, 100)
                    expected = new if expected is None else (3 * new + 2 * expected) / 5
                found = row[column].mastery.value
                assert found == (None if expected is None else round_half_up(expected))

    @invariant()
    def to_mark_counts_what_is_unfinished(self) -> None:
        for task, task_id in enumerate(self.tasks):
            view = tasks.get_task(self.caller, task_id)
            waiting = 0
            for student in (0, 1):
                place = (student, task)
                done = self.counted.get(place)
                if place in self.open and place not in self.excused:
                    reopened = next(
                        s.row.version != s.row.finished_version
                        for s in view.students
                        if s.row.student_id == self.made.students[student]
                    )
                    assert done is not None or reopened
                    waiting += reopened
            assert view.to_mark == waiting
            (line,) = (
                line
                for line in tasks.class_tasks(self.caller, self.made.class_id)
                if line.row.id == task_id
            )
            assert (line.counts, line.handed_in) == (view.counts, view.handed_in)
            in_pile = {line.row.id for line in pile.pile(self.caller, self.made.class_id)}
            assert (task_id in in_pile) is bool(waiting)

    @invariant()
    def the_evidence_that_is_kept_is_what_is_worked_out(self) -> None:
        with self.caller.reading() as db:
            assert evidence_faults(db) == []


TestDesk = Desk.TestCase
TestDesk.settings = settings(max_examples=15, stateful_step_count=20)
