"""Other evidence: what was seen, entered entry by entry, each a piece of its own."""

from __future__ import annotations

from datetime import timedelta

import pytest

from jade_ladder.core.errors import NotFound, Refused, Stale
from jade_ladder.core.evidence import AttemptsRule
from jade_ladder.core.marking import DeskState
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.service.marking import desk, handing_back, saving
from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.marking.pile import whole_pile
from jade_ladder.service.marking.state import MarkState
from jade_ladder.service.mastery import trail
from jade_ladder.service.reports.sheets import task_sheet
from jade_ladder.service.reports.work_archive import work_archive
from jade_ladder.service.shared.caller import Student, Teacher
from jade_ladder.service.student import results
from jade_ladder.service.student.task_page import task_page
from jade_ladder.service.work import attempts, handing_in, parts, tasks
from jade_ladder.service.work.setting import TaskWords
from jade_ladder.store.shared.verify import faults
from tests.builders import Small, arrived, at, small


@pytest.fixture
def made(caller: Teacher) -> Small:
    return small(caller)


@pytest.fixture
def talk(made: Small) -> int:
    """A task of other evidence, whatever rule is asked for."""
    return made.new_task("Talk", kind=TaskKind.OTHER_EVIDENCE, attempts_rule=AttemptsRule.LATEST)


def mark(made: Small, talk: int, number: int, *places: int, days: float = 0) -> MarkState:
    caller = at(made.caller, days)
    return made.mark(made.students[0], *places, task_id=talk, attempt=number, caller=caller)


def enter(made: Small, talk: int, number: int | None, text: str, days: float = 0) -> None:
    """Enter what was seen so many days from now, on that day."""
    attempts.enter_work(at(made.caller, days), talk, made.students[0], text, number=number)


def pieces(made: Small) -> list[tuple[int, int]]:
    """The evidence on the second outcome in its order: the entry, and its value."""
    found = trail.trail(at(made.caller, 60), made.class_id, made.students[0], made.outcomes[1])
    return [(one.evidence.number, one.evidence.value) for one in found.pieces if one.counted]


def standing(made: Small, talk: int) -> tuple[DeskState, int | None, int]:
    """Where the first student stands, told alike by the task's page, its counts and the pile."""
    view = tasks.get_task(made.caller, talk)
    (one,) = (one for one in view.students if one.row.student_id == made.students[0])
    (line,) = (
        line for line in tasks.class_tasks(made.caller, made.class_id) if line.row.id == talk
    )
    assert line.counts[one.state] >= 1
    waiting = [s for s in whole_pile(made.caller).students if s.task_id == talk]
    assert line.to_mark == len(waiting) == int(one.waits)
    if waiting:
        assert (waiting[0].student.state, waiting[0].student.row.number) == (
            one.state,
            one.row.number,
        )
    return one.state, one.row.number, line.to_mark


def test_every_entry_is_a_piece_of_its_own_at_its_own_time(made: Small, talk: int) -> None:
    """Entries 2 (day 1) and 4 (day 2), then one of the day before both: 60% of 4 and the rest."""
    assert tasks.get_task(made.caller, talk).row.attempts_rule is AttemptsRule.EVERY
    for number, place, day in ((1, 2, 1), (2, 4, 2)):
        enter(made, talk, number, "Spoke up", day)
        mark(made, talk, number, place, place, days=day)
    assert pieces(made) == [(1, 200), (2, 400)]
    late = at(made.caller, 3)
    attempts.enter_work(
        late, talk, made.students[0], "Asked", None, made.caller.now + timedelta(hours=1), 3
    )
    mark(made, talk, 3, 3, 3, days=3)
    assert pieces(made) == [(3, 300), (1, 200), (2, 400)]
    found = trail.trail(late, made.class_id, made.students[0], made.outcomes[1])
    # 0.6 × 4 + 0.4 × (0.6 × 2 + 0.4 × 3)
    assert found.mastery.value == 336
    # Nothing is carried over: what was met before is asked again, and counts as it is marked.
    assert desk.work_at_desk(late, talk, made.students[0], 4).mark.unmarked == ("a", "b")
    # A time that is corrected moves the piece.
    attempts.enter_work(late, talk, made.students[0], "Asked", None, late.now, 3)
    assert pieces(made) == [(1, 200), (2, 400), (3, 300)]
    assert faults(made.caller.database.path) == []


def test_a_student_waits_for_the_first_entry_that_is_not_finished(made: Small, talk: int) -> None:
    assert standing(made, talk) == (DeskState.NOT_YET, None, 0), "nobody owes anything"
    enter(made, talk, 1, "Spoke up")
    assert standing(made, talk) == (DeskState.WAITING, 1, 1)
    enter(made, talk, 2, "Answered", 1)
    assert standing(made, talk) == (DeskState.WAITING, 1, 1)
    done = mark(made, talk, 2, 3, 3)
    assert (done.student.state, done.student.row.number, done.attempt) == (DeskState.WAITING, 1, 2)
    assert done.finished
    assert standing(made, talk) == (DeskState.WAITING, 1, 1)
    assert mark(made, talk, 1, 3, 3).student.state is DeskState.DONE
    assert standing(made, talk) == (DeskState.DONE, 2, 0)
    # Looking at a further entry, of which nothing is said yet, changes nothing.
    looked = desk.work_at_desk(made.caller, talk, made.students[0], 3).mark
    assert (looked.student.state, looked.attempt) == (DeskState.DONE, 3)
    attempts.excuse(made.caller, talk, made.students[0], True)
    assert standing(made, talk)[0] is DeskState.EXCUSED
    assert pieces(made) == []


def test_a_choice_begins_the_next_entry_and_only_that(made: Small, talk: int) -> None:
    first = made.students[0]
    level = desk.desk(made.caller, talk).criteria[0].level_ids[2]
    for number in (1, 2):
        criterion = desk.desk(made.caller, talk).criteria[0].id
        caller = at(made.caller, number)
        saved = saving.choose(caller, talk, first, criterion, Choice(level), 0, number)
        assert saved.student.row.done_at == caller.now
    assert [one.number for one in attempts.entries(made.caller, talk)] == [1, 2]
    for beyond in (4, 0):
        with pytest.raises(NotFound):
            desk.work_at_desk(made.caller, talk, first, beyond)
        with pytest.raises(NotFound):
            enter(made, talk, beyond, "Too early")
    # At other tasks a further attempt is granted, and not begun by a choice.
    made.mark(first, 3, 3)
    with pytest.raises(NotFound):
        made.mark(first, 3, 3, attempt=2)


def test_an_entry_has_words_files_and_links(made: Small, talk: int) -> None:
    first = made.students[0]
    enter(made, talk, 1, "Led the group")
    upload = arrived(made.caller, "talk.txt", b"What was said")
    parts.add_work_file(made.caller, talk, first, upload, number=2)
    parts.add_work_link(made.caller, talk, first, "https://tern.example/talk", number=2)
    shown = desk.work_at_desk(made.caller, talk, first, 2)
    assert [str(part.kind) for part in shown.parts] == ["file", "link"]
    assert len(parts.parts_of_task(made.caller, talk)) == 3
    with work_archive(made.caller, talk) as (path, _):
        assert path.stat().st_size > 0
    with pytest.raises(Refused, match="nothing in it"):
        enter(made, talk, 3, "  ")
    assert len(attempts.entries(made.caller, talk)) == 2
    enter(made, talk, 1, "Led the whole group")
    assert attempts.entries(made.caller, talk)[0].beginning == "Led the whole group"


def test_only_the_newest_entry_without_a_mark_is_deleted(made: Small, talk: int) -> None:
    first = made.students[0]
    for number in (1, 2, 3):
        enter(made, talk, number, f"Seen {number}")
    with pytest.raises(Refused, match="newest"):
        attempts.delete_entry(made.caller, talk, first, 2)
    attempts.delete_entry(made.caller, talk, first, 3)
    mark(made, talk, 2, 3, 3)
    with pytest.raises(Refused, match="mark"):
        attempts.delete_entry(made.caller, talk, first, 2)
    for task, number in ((talk, 3), (made.task_id, 1)):
        with pytest.raises(NotFound):
            attempts.delete_entry(made.caller, task, first, number)
    assert [one.number for one in attempts.entries(made.caller, talk)] == [1, 2]


def test_times_belong_to_entries_and_nothing_is_handed_in(made: Small, talk: int) -> None:
    first = made.students[0]
    enter(made, talk, 1, "Spoke up")
    with pytest.raises(Refused, match="time of its own"):
        attempts.correct_times(made.caller, talk, [first], made.caller.now)
    with pytest.raises(Refused, match="not come yet"):
        attempts.enter_work(
            made.caller, talk, first, "Soon", None, made.caller.now + timedelta(days=1), 2
        )
    student = Student(made.caller.database, first, made.caller.now)
    with pytest.raises(Refused, match="your teacher watches"):
        handing_in.hand_in(student, talk, "Here", 0)


def test_all_entries_are_handed_back_and_seen(made: Small, talk: int) -> None:
    first = made.students[0]
    mark(made, talk, 1, 2, 2)
    mark(made, talk, 2, 4, 4, days=1)
    enter(made, talk, 3, "Asked", 1)
    caller = at(made.caller, 2)
    (row,) = handing_back.handing_back(caller, talk)
    assert (row.row.number, row.ready) == (2, True)
    assert handing_back.hand_back(caller, talk, None, True) == 1
    student = Student(made.caller.database, first, caller.now)
    assert results.own_result(student, talk).attempts == (2, 1)
    assert results.own_result(student, talk, 1).seen.number == 1
    mark(made, talk, 3, 1, 1, days=3)
    later = at(made.caller, 4)
    (row,) = handing_back.handing_back(later, talk)
    assert (row.row.number, row.ready) == (3, True)
    handing_back.hand_back(later, talk, [first], True)
    handing_back.take_back(later, talk, [first])
    with pytest.raises(NotFound):
        results.own_result(Student(made.caller.database, first, later.now), talk)


def test_a_student_sees_an_entry_once_it_is_handed_back_and_no_other(
    made: Small, talk: int
) -> None:
    first = made.students[0]
    enter(made, talk, 1, "Led the group")
    upload = arrived(made.caller, "talk.txt", b"What was said")
    part = parts.add_work_file(made.caller, talk, first, upload, number=1)
    student = Student(made.caller.database, first, made.caller.now)

    def sees() -> bool:
        page = task_page(student, talk)
        assert (page.handed_in, page.task.row.has_work) == ((), False)
        try:
            return parts.part_file(student, part.id).name == "talk.txt"
        except NotFound:
            return False

    assert not sees()
    mark(made, talk, 1, 3, 3)
    assert not sees(), "finished, and not handed back"
    handing_back.hand_back(made.caller, talk, None, True)
    assert sees()
    assert len(results.own_result(student, talk).parts) == 2
    with pytest.raises(Refused, match="as it comes"):
        results.ask_again(student, talk, 1, "Please")
    with pytest.raises(Refused, match="further entry"):
        handing_back.answer_wish(made.caller, talk, first, True, "")
    handing_back.take_back(made.caller, talk, [first])
    assert not sees()


def test_what_students_handed_in_stays_theirs_when_the_kind_changes(made: Small) -> None:
    student = Student(made.caller.database, made.students[0], made.caller.now)
    part = parts.add_own_file(student, made.task_id, arrived(student, "route.txt", b"Leg one"))
    handing_in.hand_in(student, made.task_id, "Leg one", 0, parts=[part.id])
    words = TaskWords(
        "Route", "", TaskKind.OTHER_EVIDENCE, made.rubric_id, None, None, practice=False
    )
    tasks.change_task(made.caller, made.task_id, 1, words)
    assert parts.part_file(student, part.id).name == "route.txt"


def test_the_sheet_has_a_line_for_each_entry(made: Small, talk: int) -> None:
    mark(made, talk, 1, 2, 2)
    mark(made, talk, 2, 4, 4, days=1)
    sheet = task_sheet(at(made.caller, 2), talk)
    assert sheet.headings[:3] == ("Student", "Entry", "State")
    lines = [[cell.text for cell in row] for row in sheet.rows]
    assert [line[:3] + line[-3:] for line in lines] == [
        ["Zoe Anders", "", "not yet", "", "", ""],
        ["Aino Berg", "1", "marked", "4", "8", "Not yet: Criterion a, Criterion b"],
        ["Aino Berg", "2", "marked", "8", "8", "All met"],
    ]


def test_words_that_another_tab_entered_meanwhile_are_not_written_over(
    made: Small, talk: int
) -> None:
    first = made.students[0]

    def put(text: str, replaces: str | None, task: int, number: int | None) -> None:
        attempts.enter_work(made.caller, task, first, text, None, None, number, replaces)

    for task, number in ((talk, 1), (made.task_id, None)):
        put("Mine", "", task, number)
        with pytest.raises(Stale, match="meanwhile"):
            put("Theirs", "", task, number)
        put("Mine", "", task, number)
        put("Both", "Mine ", task, number)
        with pytest.raises(Stale):
            put("", "Mine", task, number)
        assert desk.work_at_desk(made.caller, task, first).parts[0].text == "Both"
