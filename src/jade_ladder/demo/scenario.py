"""The demo: two classes of a made-up island school, in a term of maps and finding one's way.

All of it is made through the services, so that it obeys the rules a teacher's own data obeys; the
seed is fixed, and every time is reckoned back in school days from the day it is made.
"""

from __future__ import annotations

import random
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass, replace
from datetime import datetime, time, timedelta
from zoneinfo import ZoneInfo

from jade_ladder.core.errors import NotFound, StoreError
from jade_ladder.core.methods import Method, MethodKind
from jade_ladder.core.rubric import Criterion, CriterionKind, CriterionLevel
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.demo import kinds_of_work, passages, words
from jade_ladder.demo.calendar import Calendar
from jade_ladder.demo.done_again import done_again
from jade_ladder.demo.in_passing import noted_in_passing
from jade_ladder.demo.judged import judged_by_the_teacher
from jade_ladder.demo.words import DemoCriterion, DemoTask
from jade_ladder.formats.class_list import StudentLine
from jade_ladder.outside import clock
from jade_ladder.service.changes import revisions
from jade_ladder.service.classes import classes, slips, students, teachers
from jade_ladder.service.marking import desk, handing_back, saving
from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.outcomes import methods, outcomes, strands
from jade_ladder.service.outcomes.outcomes import OutcomeWords
from jade_ladder.service.people import accounts, invitations
from jade_ladder.service.rubrics import library, rubrics
from jade_ladder.service.rubrics.drafts import AlignmentDraft, CriterionDraft
from jade_ladder.service.shared.caller import Administrator, Student, Teacher
from jade_ladder.service.student import results
from jade_ladder.service.work import attempts, tasks
from jade_ladder.service.work.setting import TaskWords
from jade_ladder.store.rubrics.criteria import StoredCriterion
from jade_ladder.store.shared.connection import Database

PASSWORD = "gull head light"
SEED = 20_260_907
TIME_ZONE = "Atlantic/Faroe"


@dataclass(frozen=True, slots=True)
class DemoClass:
    """The numbers of what was made."""

    class_id: int
    students: tuple[int, ...]
    outcomes: dict[str, int]
    rubrics: dict[str, int]
    tasks: dict[str, int]


def open_demo(database: Database, making: Callable[[], object] = lambda: None) -> None:
    """See that a database is the demo's, made here in an empty one (`making` is told before).

    Raises StoreError for any other: the demo lets everybody in as anybody.
    """
    school = accounts.the_school(database)
    if school is None and accounts.needs_first_teacher(database):
        making()
        make_demo(database)
    elif school is None or not school.demo:
        raise StoreError(
            f"{database.path} was not made by the demo, which lets anybody in: give another "
            "folder (DATA=folder make demo), or open it with jade-ladder serve"
        )


def make_demo(database: Database, now: datetime | None = None) -> DemoClass:
    """Fill an empty database with the demo school, as if the term had run up to `now`, and mark it
    as the demo's; all of it or nothing.
    """
    now = now or clock.now()
    teacher = accounts.NewTeacher("Ilse", "Varga", "ilse@tern.example", PASSWORD)
    with database.transaction():
        number = accounts.make_first_teacher(database, "Tern Island School", TIME_ZONE, teacher)
        accounts.mark_as_demo(database)
        return _Demo(database, number, now).make()


class _Demo:
    """Makes the demo step by step; `luck` is the fixed seed's."""

    def __init__(self, database: Database, teacher_id: int, now: datetime) -> None:
        self.database = database
        self.teacher_id = teacher_id
        self.calendar = Calendar(now, ZoneInfo(TIME_ZONE))
        self.luck = random.Random(SEED)
        # Of its own, so that what is added to the work changes nothing of the marks.
        self.passage_luck = random.Random(SEED)

    def make(self) -> DemoClass:
        """Make everything in the order of the work."""
        with self.database.transaction():
            caller = self.at(-60)
            class_id = classes.make_class(
                caller, "Map Room · Year 9", self.calendar.day(-60), self.calendar.day(22)
            )
            students = tuple(self.students(caller, class_id))
            codes = self.outcomes(caller, class_id)
            made = {key: self.rubric(caller, key, codes) for key in words.RUBRICS}
            set_tasks = {
                task.title: self.task(class_id, made, students, task) for task in words.TASKS
            }
            self.files(set_tasks[words.FILES], students)
            self.students_side(class_id, students, set_tasks)
            self.revision(made["map"], codes)
            self.second_class(codes, made)
            return DemoClass(class_id, students, codes, made, set_tasks)

    def students_side(
        self, class_id: int, members: tuple[int, ...], set_tasks: dict[str, int]
    ) -> None:
        """Let some students sign in, hand back what is finished of earlier tasks, and open one
        attempt again.
        """
        joining = {
            members[at]: words.SIGNING_IN[given]
            for at, (given, _, _) in enumerate(words.STUDENTS)
            if given in words.SIGNING_IN
        }
        caller = self.at(-50)
        for slip in slips.make_slips(caller, class_id, list(joining)):
            name = joining[slip.person.id]
            invitations.accept(self.database, slip.code, PASSWORD, caller.now, name)
        for task in words.TASKS:
            number = set_tasks[task.title]
            if task.due > 0 or task.marked < 1:
                continue
            back = self.at(min(task.due + 3, 0), 18)
            handing_back.hand_back(back, number, None, True)
            for student_id in joining:
                with suppress(NotFound):
                    reader = Student(self.database, student_id, back.now + timedelta(hours=14))
                    if task.due < -14:
                        results.read_result(reader, number, 1, "")
        self.again(set_tasks[words.AGAIN], next(iter(joining)))
        people = {given: members[at] for at, (given, _, _) in enumerate(words.STUDENTS)}
        done_again(lambda day: self.at(day, 9), set_tasks, people)
        noted_in_passing(lambda day: self.at(day, 9), class_id, people)
        judged_by_the_teacher(lambda day: self.at(day, 10), class_id, people)

    def again(self, task_id: int, student_id: int) -> None:
        """Let a student ask for another attempt, and get it."""
        asking = Student(self.database, student_id, self.calendar.at(-2, 15))
        results.ask_again(asking, task_id, 1, "I know now how to credit the tide table")
        handing_back.answer_wish(
            self.at(-1),
            task_id,
            student_id,
            True,
            "Credit the tide table, then it stands.",
        )

    def files(self, task_id: int, members: tuple[int, ...]) -> None:
        """Let some students hand in files of several kinds."""
        given = [given for given, _, _ in words.STUDENTS]
        cards = kinds_of_work.route_cards()
        for place, (name, (with_text, work)) in enumerate(cards.items()):
            done_at = self.calendar.at(-4, 10 + place, 20)
            caller = Administrator(self.database, self.teacher_id, done_at)
            student_id = members[given.index(name)]
            kinds_of_work.put_in(caller, task_id, student_id, work, done_at, with_text)
        on_pdf, on_sketch = (members[given.index(name)] for name in ("Thị Mai", "Goran"))
        passages.on_files(self.at(-1), task_id, on_pdf, on_sketch)

    def tide_notes(self, class_id: int, rubric_id: int, members: list[int]) -> None:
        """Set a task of the second class, to which everybody hands in something else."""
        due = self.calendar.day(-2)
        asked = TaskWords(
            "Notes from the tide walk",
            "What did the water tell you about the map? Hand in **whatever shows it best**: "
            "a text, a sketch, a table, a recording.",
            TaskKind.HANDED_IN,
            rubric_id,
            datetime.combine(due, time(16)),
            None,
            practice=False,
        )
        task_id = tasks.make_task(self.at(-6), class_id, asked)
        given = [given for given, _ in words.SECOND_STUDENTS]
        for place, (name, work) in enumerate(kinds_of_work.tide_notes().items()):
            done_at = self.calendar.moment(due, 9 + place, 10)
            caller = Administrator(self.database, self.teacher_id, done_at)
            student_id = members[given.index(name)]
            kinds_of_work.put_in(caller, task_id, student_id, work, done_at, True)

    def talk(self, class_id: int, rubric_id: int, members: list[int]) -> None:
        """Set a task of the second class at which nothing is handed in: a talk, of which what was
        heard is entered. It asks two criteria of its rubric.
        """
        caller = self.at(-6)
        criteria = rubrics.get_rubric(caller, rubric_id).criteria
        asked = TaskWords(
            "Talk about the tide walk",
            "Say what the map shows of the water, and answer the others.",
            TaskKind.OTHER_EVIDENCE,
            rubric_id,
            None,
            None,
            practice=False,
            criteria=tuple(stored.criterion.key for stored in criteria[:2]),
        )
        task_id = tasks.make_task(caller, class_id, asked)
        given = [given for given, _ in words.SECOND_STUDENTS]
        named = dict(zip(given, members, strict=True))
        kinds_of_work.talk(lambda day: self.at(day, 11), task_id, named)

    def second_class(self, codes: dict[str, int], rubrics: dict[str, int]) -> None:
        """Make a class of a year below, on some of the same outcomes, with a colleague in it."""
        caller = self.at(-43)
        colleague = accounts.NewTeacher(*words.COLLEAGUE, PASSWORD)
        colleague_id = accounts.add_teacher(self.database, colleague)
        class_id = classes.make_class(
            caller, "Tide Room · Year 8", self.calendar.day(-43), self.calendar.day(22)
        )
        teachers.add_class_teacher(caller, class_id, colleague_id)
        outcomes.teach_outcomes(caller, class_id, [codes[code] for code in words.SECOND_OUTCOMES])
        made = [
            students.add_student(
                caller,
                class_id,
                StudentLine(number, given, family, f"T{800 + number}", from_list=True),
            )
            for number, (given, family) in enumerate(words.SECOND_STUDENTS, start=1)
        ]
        due = self.calendar.day(-8)
        task_id = tasks.make_task(
            self.at(-14),
            class_id,
            TaskWords(
                "Bearing walk at the quay",
                "In pairs, from the slip to the beacon.",
                TaskKind.OBSERVED,
                rubrics["walk"],
                datetime.combine(due, time(16)),
                None,
                practice=False,
            ),
        )
        marker = Teacher(self.database, colleague_id, self.calendar.moment(due, 14))
        criteria = desk.desk(marker, task_id).criteria
        for student_id in made[:-2]:
            skill = 2.2 + self.luck.gauss(0, 0.7)
            for stored in criteria:
                choice = self.choice(stored, skill)
                saving.choose(marker, task_id, student_id, stored.id, choice, 10_000)
            saving.finish(marker, task_id, student_id)
        self.tide_notes(class_id, rubrics["argument"], made)
        self.talk(class_id, rubrics["argument"], made)

    def at(self, offset: int, hour: int = 8) -> Teacher:
        """Give the teacher at work so many school days from the present one."""
        return Administrator(self.database, self.teacher_id, self.calendar.at(offset, hour))

    def students(self, caller: Teacher, class_id: int) -> list[int]:
        """Add the students, each with an identifier and e-mail."""
        made = []
        for number, (given, family, _) in enumerate(words.STUDENTS, start=1):
            line = StudentLine(
                number, given, family, f"T{900 + number}", f"t{900 + number}@tern.example"
            )
            made.append(students.add_student(caller, class_id, replace(line, from_list=True)))
        return made

    def outcomes(self, caller: Teacher, class_id: int) -> dict[str, int]:
        """Add strands and outcomes, one worked out by highest."""
        made: dict[str, int] = {}
        for strand, of_strand in words.OUTCOMES.items():
            strand_id = strands.add_strand(caller, strand)
            for code, title, description in of_strand:
                made[code] = outcomes.add_outcome(
                    caller, class_id, OutcomeWords(code, title, description, strand_id)
                )
        highest = Method(MethodKind.HIGHEST)
        methods.change_outcome_method(caller, class_id, made["M3"], highest, 1)
        methods.change_outcome_method(caller, class_id, made["M2"], None, 2)
        return made

    def rubric(self, caller: Teacher, key: str, codes: dict[str, int]) -> int:
        """Make a rubric, final but for the draft one."""
        title, criteria = words.RUBRICS[key]
        number = rubrics.make_rubric(caller, title)
        drafts = [self.criterion(key, index, one, codes) for index, one in enumerate(criteria)]
        view = rubrics.save_draft(caller, number, 1, title, drafts)
        if not view.missing:
            rubrics.make_final(caller, number, view.row.version)
        library.set_tags(caller, number, words.TAGS[key])
        return number

    def revision(self, rubric_id: int, codes: dict[str, int]) -> None:
        """Begin a revision of the map rubric: one criterion is worded and aligned anew."""
        caller = self.at(-1)
        view = revisions.revise(
            caller, rubric_id, rubrics.get_rubric(caller, rubric_id).row.version
        )
        title, criteria = words.RUBRICS["map"]
        revised = [words.SCALE_REVISED if one is words.SCALE else one for one in criteria]
        drafts = [self.criterion("map", index, one, codes) for index, one in enumerate(revised)]
        rubrics.save_draft(caller, rubric_id, view.row.version, title, drafts)

    def criterion(
        self, rubric: str, index: int, one: DemoCriterion, codes: dict[str, int]
    ) -> CriterionDraft:
        """Turn a criterion's words into a draft."""
        levels = tuple(
            CriterionLevel(f"{rubric}-{index}-{place}", name, points * 100, descriptor)
            for place, (name, points, descriptor) in enumerate(one.levels)
        )
        criterion = Criterion(
            f"{rubric}-{index}",
            one.title,
            levels,
            CriterionKind.YES_NO if one.yes_no else CriterionKind.LEVELS,
            one.bonus,
            half_way=one.half_way,
            weight=None if one.weight is None else one.weight * 100,
        )
        ties = tuple(AlignmentDraft(codes[code], 1, (None,) * len(levels)) for code in one.codes)
        return CriterionDraft(criterion, ties)

    def task(
        self, class_id: int, made: dict[str, int], students: tuple[int, ...], task: DemoTask
    ) -> int:
        """Set a task, let the students hand in, and mark as much of it as the demo wants."""
        due = self.calendar.day(task.due)
        number = tasks.make_task(
            self.at(min(task.due - 6, 0)),
            class_id,
            TaskWords(
                task.title,
                task.instructions,
                TaskKind.OBSERVED if task.observed else TaskKind.HANDED_IN,
                made[task.rubric],
                datetime.combine(due, time(16)),
                None,
                practice=task.practice,
            ),
        )
        if task.due > 0:
            return number
        view = desk.desk(self.at(task.due), number)
        for place, student_id in enumerate(students):
            self.student(task, number, view.criteria, place, student_id)
        return number

    def student(
        self,
        task: DemoTask,
        number: int,
        criteria: tuple[StoredCriterion, ...],
        place: int,
        student_id: int,
    ) -> None:
        """Let one student hand in, be missing or excused, and mark them as far as it goes."""
        given, _, course = words.STUDENTS[place]
        fate = self.luck.random()
        if course == "absent" and fate < 0.5:
            if fate < 0.2:
                attempts.excuse(self.at(task.due), number, student_id, True)
            return
        if course != "absent" and fate < 0.05:
            return
        done_at = self.done_at(task)
        caller = Teacher(self.database, self.teacher_id, done_at)
        skill = self.skill(course, task.due)
        if not task.observed:
            text = words.work_text(self.luck, task, given, skill)
            attempts.enter_work(caller, number, student_id, text, done_at=done_at)
        if place >= len(words.STUDENTS) * task.marked:
            return
        desk = self.at(min(task.due + 2, 0), 17)
        marker = desk if not task.observed else caller
        self.mark(marker, task, number, criteria, student_id, skill, place)

    def done_at(self, task: DemoTask) -> datetime:
        """Say when a student does a task: in the two days before it is due, now and then late; in
        the hours of its day, where it is observed.
        """
        due = self.calendar.at(task.due, 16)
        before, late = self.luck.randrange(5, 2800), self.luck.random() < 0.08
        after = self.luck.randrange(20, 1500) if late else 0
        if task.observed:
            return due - timedelta(minutes=before % 400)
        if late:
            return min(due + timedelta(minutes=after), self.calendar.now)
        return due - timedelta(minutes=before)

    def skill(self, course: str, due: int) -> float:
        """Say how high, in levels from 1 to 4, a student stands so many school days before today
        (negative).
        """
        progress = max(0.0, min(1.0, 1 + due / 60))
        start, end = words.COURSES[course]
        return start + (end - start) * progress + self.luck.gauss(0, 0.35)

    def mark(
        self,
        caller: Teacher,
        task: DemoTask,
        number: int,
        criteria: tuple[StoredCriterion, ...],
        student_id: int,
        skill: float,
        place: int,
    ) -> None:
        """Choose levels and leave remarks; the last of a half-marked set stays unfinished."""
        unfinished = place + 1 >= len(words.STUDENTS) * task.marked and task.marked < 1
        for index, stored in enumerate(criteria):
            if unfinished and index >= 2:
                return
            choice = self.choice(stored, skill)
            saving.choose(caller, number, student_id, stored.id, choice, 10_000)
            if choice.level_id is not None and self.luck.random() < 0.3:
                level = stored.level_ids.index(choice.level_id)
                share = level / (len(stored.level_ids) - 1)
                text = words.remark(self.luck, share)
                saving.remark(caller, number, student_id, stored.id, text, 10_000)
        if self.luck.random() < 0.4:
            text = self.luck.choice(words.ON_THE_WHOLE)
            saving.remark(caller, number, student_id, None, text, 10_000)
        given = words.STUDENTS[place][0]
        share = 1 if given in words.SIGNING_IN else 0.4
        passages.in_text(caller, number, student_id, given, self.passage_luck, share)
        if task.title == words.AGAIN and given in words.SIGNING_IN:
            passages.spoken(caller, number, student_id)
        saving.finish(caller, number, student_id)

    def choice(self, stored: StoredCriterion, skill: float) -> Choice:
        """Choose a level near the student's skill; now and then half-way or not assessed."""
        if self.luck.random() < 0.015 and not stored.criterion.bonus:
            return Choice(None, not_assessed=True)
        highest = len(stored.level_ids) - 1
        reach = (skill + self.luck.gauss(0, 0.3) - 1) / 3 * highest
        level = max(0, min(highest, round(reach)))
        if stored.criterion.kind is CriterionKind.YES_NO:
            level = int(skill + self.luck.gauss(0, 0.4) > 2.3)
        half = stored.criterion.allows_half_way and level < highest and 0.25 < reach - level < 0.5
        return Choice(stored.level_ids[level], half_way=half)
