"""Only the teacher's mark counts: whatever others say of an attempt, nobody sees it anywhere."""

from __future__ import annotations

from pathlib import Path

import pytest

from jade_ladder.core.errors import NotFound
from jade_ladder.core.marking import MarkRole
from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.marking.rights import Right, as_assigned, as_student, as_teacher
from jade_ladder.service.marking.saving import begin, put_choice, put_remark
from jade_ladder.service.marking.state import Marking
from jade_ladder.service.shared.caller import Student, Teacher
from jade_ladder.store.marking import marks
from jade_ladder.store.marking.desk import assign_marker
from tests.walk.asking import School, the_same_each_time
from tests.walk.school import MEI, OLA, START, make_school
from tests.walk.truths import TRUTHS, Pages
from tests.walk.trying.everything import everybodys_pages

SECOND = MarkRole.SECOND_MARKER
_ATTEMPTS = (
    "SELECT a.id, ts.task_id, ts.student_id, a.number FROM attempt a "
    "JOIN task_student ts ON ts.id = a.task_student_id ORDER BY a.id"
)


def test_what_others_mark_is_seen_nowhere(tmp_path: Path) -> None:
    """Each attempt is marked by its student, by another one and by a second marker, each choosing
    the highest level, remarking and finishing: every page, count and piece of evidence stays.
    """
    with the_same_each_time():
        school = School.copied(make_school(tmp_path / "made"), tmp_path / "walked", START)
        before = everybodys_pages(school)
        aside = ("assigned_marker", "mark", "mark_choice", "mark_remark", "session")
        tables = school.dump(aside)
        attempts = school.rows(_ATTEMPTS)
        students = sorted({student for _, _, student, _ in attempts})
        for attempt, task, student, number in attempts:
            other = students[students.index(student) - 1]
            reader = Student(school.database, other, school.now)
            second = Teacher(school.database, OLA, school.now)
            with school.database.transaction() as db:
                for role, marker in ((MarkRole.PEER, reader), (SECOND, second)):
                    assign_marker(db, role, marker.person_id, attempt)
            own = as_student(Student(school.database, student, school.now))
            for right in (own, as_assigned(reader, MarkRole.PEER), as_assigned(second, SECOND)):
                _mark(right, task, student, number)
        roles = school.rows("SELECT role, count(*) FROM mark GROUP BY role ORDER BY role")
        assert [role for role, count in roles if count >= len(attempts)] == sorted(
            {MarkRole.SELF, MarkRole.SECOND_MARKER, MarkRole.PEER}
        )
        assert school.dump(aside) == tables
        after = everybodys_pages(school)
        assert {place: page for place, page in after.items() if page != before[place]} == {}
        for holds in TRUTHS.values():
            holds(Pages(school))
        school.close()


def _mark(right: Right, task: int, student: int, number: int) -> None:
    """Mark by a right, as an operation for it would."""
    with right.caller.transaction() as db:
        marking = Marking.load_by(db, right, task, student, number)
        mark_id = begin(marking)
        for stored in marking.criteria:
            put_choice(marking, mark_id, stored, Choice(stored.level_ids[-1]))
            put_remark(marking, mark_id, stored, "I think that this is as well as it gets")
        marks.finish(db, mark_id, right.caller.now)
        assert marking.state().moves == ()


def test_nobody_marks_without_a_right(tmp_path: Path) -> None:
    """A student marks their own attempt, once it is there; a teacher those of their classes; who is
    assigned to one that one, in that role.
    """
    with the_same_each_time():
        school = School.copied(make_school(tmp_path / "made"), tmp_path / "walked", START)
        (_, task, student, number), *_ = school.rows(_ATTEMPTS)
        other = school.rows("SELECT id FROM person WHERE may_teach = 0 AND id <> ?", student)[0]
        own, others = (Student(school.database, one, START) for one in (student, other))
        ilse, mei = (Teacher(school.database, one, START) for one in (1, MEI))
        with school.database.transaction() as db:
            attempt = school.rows(_ATTEMPTS)[0][0]
            assign_marker(db, MarkRole.PEER, other, attempt)
        with school.database.reading() as db:
            for right in (as_student(own), as_teacher(mei), as_assigned(others, MarkRole.PEER)):
                found = Marking.load_by(db, right, task, student, number)
                assert found.place.student.id == student
                assert found.counts is (right.role is MarkRole.TEACHER)
            for right, attempt in (
                (as_student(own), number + 1),
                (as_student(others), number),
                (as_teacher(ilse), number),
                (as_assigned(others, MarkRole.PEER), number + 1),
                (as_assigned(others, SECOND), number),
                (as_assigned(own, MarkRole.PEER), number),
                (as_assigned(ilse, SECOND), number),
            ):
                with pytest.raises(NotFound):
                    Marking.load_by(db, right, task, student, attempt)
        school.close()
