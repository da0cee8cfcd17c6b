"""The school that every walk begins in: two classes that share students, an outcome and a teacher,
with a task of each kind and some of each state. It is made through the services, once.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, timedelta
from pathlib import Path

from jade_ladder.core.evidence import AttemptsRule
from jade_ladder.core.methods import Method, MethodKind
from jade_ladder.core.rubric import CriterionKind
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.formats.class_list import StudentLine
from jade_ladder.service.classes import classes, slips, students
from jade_ladder.service.classes import teachers as class_teachers
from jade_ladder.service.marking import desk, handing_back, saving
from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.notes import notes
from jade_ladder.service.notes.notes import NoteWords
from jade_ladder.service.observing import taps
from jade_ladder.service.observing.taps import Tap
from jade_ladder.service.outcomes import methods, outcomes, scales, strands
from jade_ladder.service.outcomes.outcomes import OutcomeWords
from jade_ladder.service.people import invitations
from jade_ladder.service.people.accounts import NewTeacher, add_teacher, make_first_teacher
from jade_ladder.service.people.sessions import token_hash
from jade_ladder.service.rubrics import library
from jade_ladder.service.shared.caller import Student, Teacher
from jade_ladder.service.work import attempts, handing_in, tasks
from jade_ladder.service.work.setting import TaskWords
from jade_ladder.store.people.guests import add_guest_link
from jade_ladder.store.shared.connection import Database
from tests.builders import arrived, draft, final_rubric
from tests.walk.asking import FILE, the_same_each_time

START = datetime(2027, 3, 30, 20, 0, tzinfo=UTC)
"""Wednesday, 31 March 2027, 9 in the morning at the school; its clocks are put back on 4 April."""
FIRST, LAST = date(2027, 2, 1), date(2027, 12, 17)
PASSWORD = "a long password"
ADMINISTRATOR, MEI, OLA = 1, 2, 3
"""The administrator teaches nothing; Mei answers for the first class, which Ola teaches, too, and
Ola for the second.
"""


@dataclass(slots=True)
class _Made:
    """Who does it, and a clock that the making goes by."""

    database: Database
    now: datetime

    def teacher(self, person: int) -> Teacher:
        self.now += timedelta(minutes=1)
        return Teacher(self.database, person, self.now)

    def student(self, person: int) -> Student:
        self.now += timedelta(minutes=1)
        return Student(self.database, person, self.now)

    def until(self, moment: datetime) -> None:
        assert moment >= self.now
        self.now = moment


GUESTS_SECRET = "a link that was made for a family"


def make_school(folder: Path) -> Path:
    """Make the school in a folder, at the time at which walks begin; gives the folder."""
    folder.mkdir(parents=True)
    with the_same_each_time():
        _make(folder)
    return folder


def _make(folder: Path) -> None:
    database = Database(folder / FILE)
    teacher = NewTeacher("Ilse", "Varga", "ilse@tern.example", PASSWORD)
    assert make_first_teacher(database, "Tern Island School", "Pacific/Auckland", teacher) == 1
    for given, family in (("Mei", "Tan"), ("Ola", "Reef")):
        add_teacher(database, NewTeacher(given, family, f"{given}@tern.example", PASSWORD))
    made = _Made(database, START - timedelta(days=30))
    _teach(made)
    with database.transaction() as db:
        student = db.execute("SELECT min(id) FROM person WHERE may_teach = 0").fetchone()[0]
        add_guest_link(db, student, token_hash(GUESTS_SECRET), MEI, START, START + timedelta(90))
    database.close()


def _teach(made: _Made) -> None:
    chart = classes.make_class(made.teacher(MEI), "Chart Room", FIRST, LAST)
    tide = classes.make_class(made.teacher(OLA), "Tide Room", FIRST, LAST)
    class_teachers.add_class_teacher(made.teacher(MEI), chart, OLA)
    strand = strands.add_strand(made.teacher(MEI), "Bearings")
    about = {
        "W1": ("I can plot a bearing", strand),
        "W2": ("I can follow a bearing", strand),
        "N1": ("I can name what I see", None),
    }
    w1, w2, n1 = (
        outcomes.add_outcome(made.teacher(MEI), chart, OutcomeWords(code, title, "", where))
        for code, (title, where) in about.items()
    )
    outcomes.set_schools_outcome(made.teacher(MEI), chart, w1, True)
    outcomes.teach_outcomes(made.teacher(OLA), tide, [w1])
    tides = outcomes.add_outcome(
        made.teacher(OLA), tide, OutcomeWords("T1", "I can wait", "", None)
    )
    methods.change_outcome_method(made.teacher(MEI), chart, w2, Method(MethodKind.LATEST), 2)
    names = (("Aino", "Berg"), ("Kai", "Nord"), ("Uma", "Reef"), ("Zoe", "Anders"))
    lines = [
        StudentLine(1, given, family, f"S{number}", f"{given}@tern.example")
        for number, (given, family) in enumerate(names, 1)
    ]
    aino, kai, uma = (students.add_student(made.teacher(MEI), chart, one) for one in lines[:3])
    zoe, *_ = (
        students.add_student(made.teacher(OLA), tide, one) for one in (lines[3], *lines[1:3])
    )
    scales.add_scale(made.teacher(MEI), "Two steps", scales.preset_scales()[0])
    rubric = final_rubric(
        made.teacher(MEI),
        [
            draft("plot", [w1], half_way=True),
            draft("follow", [w1, w2]),
            draft("name", [n1], levels=2, kind=CriterionKind.YES_NO),
            draft("extra", [], levels=2, bonus=True),
        ],
        "Route card",
    )
    library.share_rubric(made.teacher(MEI), rubric, True)
    waiting = final_rubric(made.teacher(OLA), [draft("wait", [tides, w1], half_way=True)], "Tides")
    due = START + timedelta(days=1, hours=3)
    words = TaskWords("Route", "Plan it.", TaskKind.HANDED_IN, rubric, due, None, False)
    route = tasks.make_task(made.teacher(MEI), chart, replace(words, late_per_day=10, late_most=50))
    earlier = START - timedelta(days=6)
    sketch = tasks.make_task(
        made.teacher(MEI), chart, replace(words, title="Sketch", due_at=earlier)
    )
    walk = tasks.make_task(
        made.teacher(OLA),
        chart,
        replace(words, title="Walk", kind=TaskKind.OBSERVED, due_at=None, rubric_id=waiting),
    )
    tasks.make_task(
        made.teacher(MEI), chart, replace(words, title="Talks", kind=TaskKind.OTHER_EVIDENCE)
    )
    tasks.make_task(
        made.teacher(OLA),
        tide,
        replace(
            words,
            title="Tide table",
            rubric_id=waiting,
            attempts_rule=AttemptsRule.HIGHEST,
            closes_at=due + timedelta(days=2),
        ),
    )
    made.until(earlier - timedelta(days=2))
    handing_in.hand_in(made.student(aino), sketch, "My sketch of the bay", 0)
    handing_in.hand_in(made.student(kai), sketch, "What I saw", 0)
    for student, places in ((aino, (3, 4, 2, 1)), (kai, (2, 2, 1, None))):
        _mark(made, sketch, student, places)
    handing_back.hand_back(made.teacher(MEI), sketch, [aino], True)
    (seen,) = desk.desk(made.teacher(OLA), walk).criteria
    for student, level in ((uma, 2), (kai, 3)):
        choice = Choice(seen.level_ids[level])
        tap = Tap(f"first-tap-{student}", timedelta(), criterion_id=seen.id, choice=choice)
        taps.tap(made.teacher(OLA), walk, student, tap)
    notes.write_notes(made.teacher(MEI), chart, "first-note", [kai], w1, NoteWords(3))
    notes.write_notes(made.teacher(OLA), tide, "second-note", [zoe], tides, NoteWords(2))
    made.until(START - timedelta(hours=12))
    handing_in.hand_in(made.student(uma), route, "From the beacon to the bay", 0)
    attempts.enter_work(made.teacher(MEI), route, kai, "On paper: north, then east")
    for slip in slips.make_slips(made.teacher(OLA), tide, [kai, zoe]):
        name = slip.person.given_name.lower()
        invitations.accept(made.database, slip.code, PASSWORD, made.now, name)
    for person in (MEI, OLA):
        arrived(made.teacher(person), "paper.txt", b"North, on paper")
    for person in (aino, kai, uma, zoe):
        arrived(made.student(person), "bay.txt", b"The bay, from the pier")


def _mark(made: _Made, task: int, student: int, places: tuple[int | None, ...]) -> None:
    for stored, place in zip(desk.desk(made.teacher(MEI), task).criteria, places, strict=True):
        if place is not None:
            choice = Choice(stored.level_ids[place - 1])
            saving.choose(made.teacher(MEI), task, student, stored.id, choice, 10_000)
    saving.finish(made.teacher(MEI), task, student)
