"""Another attempt: what was met is carried over, and only the rest is evidence anew."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta
from fractions import Fraction
from zoneinfo import ZoneInfo

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.core.evidence import AttemptsRule
from jade_ladder.core.mastery import State
from jade_ladder.core.methods import Method, MethodKind
from jade_ladder.core.numbers import round_half_up
from jade_ladder.core.total import Adjustments, ByHand
from jade_ladder.service.changes.task_effects import task_effects
from jade_ladder.service.classes import students
from jade_ladder.service.evidence.evidence import Alignments, evidence_of
from jade_ladder.service.marking import adjusting, again, desk, handing_back, saving
from jade_ladder.service.marking.choices import NOTHING, Choice
from jade_ladder.service.marking.history import go_back
from jade_ladder.service.marking.pile import whole_pile
from jade_ladder.service.marking.task_marks import totals_of_task
from jade_ladder.service.mastery.wall import wall
from jade_ladder.service.outcomes import methods
from jade_ladder.service.overview.first_page import first_page
from jade_ladder.service.reports.sheets import task_sheet
from jade_ladder.service.shared.caller import Student, Teacher
from jade_ladder.service.student import results
from jade_ladder.service.student.results import own_result
from jade_ladder.service.work import attempts, handing_in, tasks
from jade_ladder.service.work.setting import TaskWords
from jade_ladder.store.evidence.choices import finished_choices
from jade_ladder.store.evidence.evidence import evidence, evidence_faults
from jade_ladder.store.messages import messages as message_store
from tests.builders import Small, at, school_day, small, undone

# Of the scale 1, 2, 3, 4 with mastery at 3 (cut 2.75): criterion a is evidence of W1, b of both.


@pytest.fixture
def made(caller: Teacher) -> Small:
    return replace(small(at(caller, -20)), caller=at(caller, -10))


def values(made: Small, caller: Teacher) -> list[int | None]:
    """The first student's mastery of W1 and W2; the evidence that is kept is right, and so is what
    previews work out of the choices.
    """
    with caller.reading() as db:
        assert evidence_faults(db) == []
        kept = {
            (row.student_id, row.outcome_id, row.source_id): row.value
            for row in evidence(db, made.students, made.outcomes, "9")
        }
        anew = evidence_of(finished_choices(db, made.students), Alignments.load(db, made.outcomes))
        assert kept == {
            (student, outcome, one.key.source): one.value
            for (student, outcome), several in anew.attempts.items()
            for one in several
        }
    seen = wall(caller, made.class_id)
    row = next(at for at, one in enumerate(seen.students) if one.id == made.students[0])
    return [cell.mastery.value for cell in seen.cells[row]]


def chosen(made: Small, attempt: int) -> list[tuple[int | None, int | None]]:
    """The levels (1 the lowest) of the criteria in an attempt, each with where it is from."""
    mark = desk.work_at_desk(made.caller, made.task_id, made.students[0], attempt).mark
    found = []
    for stored in desk.desk(made.caller, made.task_id).criteria:
        choice = mark.choices.get(stored.id, NOTHING)
        level = None if choice.level_id is None else stored.level_ids.index(choice.level_id) + 1
        found.append((level, choice.carried_from))
    return found


def choose(made: Small, attempt: int, which: int, level: int | None) -> None:
    stored = desk.desk(made.caller, made.task_id).criteria[which]
    choice = (
        Choice(None, not_assessed=True) if level is None else Choice(stored.level_ids[level - 1])
    )
    args = (made.caller, made.task_id, made.students[0], stored.id, choice, 10_000, attempt)
    assert saving.choose(*args).attempt == attempt


def open_it(made: Small, carries: bool = True) -> None:
    opened = again.open_attempts(made.caller, made.task_id, made.students[:1], "", None, carries)
    assert opened == 1


def test_what_was_met_is_carried_over_and_only_the_rest_is_asked(made: Small) -> None:
    student = made.students[0]
    made.mark(student, 4, 2)
    assert values(made, made.caller) == [300, 200]
    open_it(made)
    later = replace(made, caller=at(made.caller, 1))
    # Before anything is chosen it is there, and waits for nobody.
    work = desk.work_at_desk(later.caller, later.task_id, student, 2)
    assert (work.mark.unmarked, work.mark.version, work.mark.attempts) == (("b",), 0, 2)
    assert chosen(later, 2) == [(4, 1), (None, None)]
    assert work.mark.total is not None
    assert (work.mark.total.value, work.mark.total.out_of) == (400, 400)
    choose(later, 2, 1, 3)
    # Nothing counts until it is finished.
    assert values(later, later.caller) == [300, 200]
    state = saving.finish(later.caller, later.task_id, student, 2)
    assert (state.attempt, state.finished, state.attempts) == (2, True, 2)
    assert desk.work_at_desk(later.caller, later.task_id, student, 1).mark.attempts == 2
    assert chosen(later, 2) == [(4, 1), (3, None)]
    # W1 of both, the carried one and the new one; W2 of the new one.
    assert values(later, later.caller) == [350, 300]
    # A criterion that was opened and marked anew is not carried any more.
    choose(later, 2, 0, 4)
    assert chosen(later, 2)[0] == (4, None)
    go_back(later.caller, later.task_id, student, 2, 3, 2)
    assert chosen(later, 2)[0] == (4, 1)


def test_an_outcome_whose_criteria_are_all_carried_gets_no_evidence(made: Small) -> None:
    student = made.students[0]
    made.mark(student, 2, 3)
    assert values(made, made.caller) == [250, 300]
    open_it(made)
    later = replace(made, caller=at(made.caller, 1))
    assert chosen(later, 2) == [(None, None), (3, 1)]
    choose(later, 2, 0, None)
    saving.finish(later.caller, later.task_id, student, 2)
    # What is asked was not assessed: nothing is said anew, and the earlier pieces stand.
    assert values(later, later.caller) == [250, 300]
    choose(later, 2, 0, 4)
    saving.finish(later.caller, later.task_id, student, 2)
    assert values(later, later.caller) == [350, 300]
    # Carried again, it keeps the attempt that it is from.
    open_it(later)
    assert chosen(later, 3) == [(4, 2), (3, 1)]


def test_it_is_carried_as_it_counted_when_the_attempt_was_opened(made: Small) -> None:
    student = made.students[0]
    made.mark(student, 4, 2)
    open_it(made)
    made.mark(student, 1, 3)
    assert chosen(made, 2) == [(4, 1), (None, None)]
    # And switched off, nothing is.
    again.withdraw_attempt(made.caller, made.task_id, student)
    open_it(made, carries=False)
    assert chosen(made, 2) == [(None, None), (None, None)]


def test_an_attempt_opened_by_mistake_is_withdrawn_and_nothing_changed(made: Small) -> None:
    student = made.students[0]
    made.mark(student, 4, 2)
    before = values(made, made.caller)
    open_it(made)
    again.withdraw_attempt(made.caller, made.task_id, student)
    assert values(made, made.caller) == before
    with pytest.raises(NotFound):
        desk.work_at_desk(made.caller, made.task_id, student, 2)
    with pytest.raises(NotFound, match="No further attempt"):
        again.withdraw_attempt(made.caller, made.task_id, student)
    # Once something is in it, it stays.
    open_it(made)
    choose(made, 2, 1, 3)
    with pytest.raises(NotFound, match="No further attempt"):
        again.withdraw_attempt(made.caller, made.task_id, student)


def test_a_wish_without_words_stays_when_an_attempt_is_withdrawn(made: Small) -> None:
    student = made.students[0]
    made.mark(student, 4, 2)
    handing_back.hand_back(made.caller, made.task_id, [student], True)
    results.ask_again(Student(made.caller.database, student, made.caller.now), made.task_id, 1, "")
    before = handing_back.handing_back(made.caller, made.task_id)
    open_it(made)
    again.withdraw_attempt(made.caller, made.task_id, student)
    assert handing_back.handing_back(made.caller, made.task_id) == before
    (line,) = tasks.class_tasks(made.caller, made.class_id)
    assert line.asking == 1


def test_who_may_have_another_attempt_is_said_by_name(made: Small) -> None:
    task, (first, second) = made.task_id, made.students
    with pytest.raises(Refused, match=r"^The mark of Aino Berg is not finished yet$"):
        again.open_attempts(made.caller, task, [first], "")
    made.mark(first, 2, 3)
    with pytest.raises(Refused, match="Zoe Anders"):
        again.open_attempts(made.caller, task, [first, second], "")
    with pytest.raises(Refused, match="passed already"):
        again.open_attempts(made.caller, task, [first], "", made.caller.now)
    with pytest.raises(Refused, match="Choose the students"):
        again.open_attempts(made.caller, task, [], "")
    open_it(made)
    with pytest.raises(Refused, match="open for all of them"):
        again.open_attempts(made.caller, task, [first], "")
    with pytest.raises(NotFound):
        desk.work_at_desk(made.caller, task, second, 2)
    with pytest.raises(NotFound):
        desk.work_at_desk(made.caller, task, first, 3)
    # And who is below mastery, of those with a finished mark.
    found = again.who_again(made.caller, task)
    below = [(one.outcome.code, one.student_ids) for one in found.below]
    assert (below, found.all_met) == ([("W1", (first,)), ("W2", ())], ())
    made.mark(second, 3, 3)
    assert again.who_again(made.caller, task).all_met == (second,)


def test_what_reaches_mastery_is_read_at_the_attempts_own_time(made: Small) -> None:
    """Handed in before a piece of 1 under latest, nothing of it decides any more."""
    first = made.students[0]
    methods.change_class_method(made.caller, made.class_id, 1, Method(MethodKind.LATEST))
    made.mark(first, 4, 2, caller=at(made.caller, -9))
    again.open_attempts(at(made.caller, -8), made.task_id, [first], "Again")
    student = Student(made.caller.database, first, at(made.caller, -5).now)
    handing_in.hand_in(student, made.task_id, "Leg two", 0)

    def needed() -> list[tuple[str, int | None, bool]]:
        work = desk.work_at_desk(made.caller, made.task_id, first, 2)
        return [
            (one.outcome.code, one.choice and one.choice.level, one.followed) for one in work.needs
        ]

    before = needed()
    assert before == [("W2", 2, False)]
    another = made.new_task("Another")
    made.mark(first, 4, 1, task_id=another, caller=at(made.caller, -1))
    assert needed() == [("W1", None, True), ("W2", None, True)]
    # Chosen all the same, it leaves both as they are.
    made.mark(first, 4, 4, caller=made.caller, attempt=2)
    row = wall(made.caller, made.class_id)
    place = [one.id for one in row.students].index(first)
    assert [cell.mastery.state for cell in row.cells[place]] == [State.NOT_YET] * 2


def test_who_asks_for_another_attempt_is_counted_where_work_waits(made: Small) -> None:
    """The same number in the list, the pile, on the first page and the task's page, until it is
    answered.
    """
    first, second = made.students
    for student in (first, second):
        made.mark(student, 2, 2)
    handing_back.hand_back(made.caller, made.task_id, None, True)
    for student in (first, second):
        asking = Student(made.caller.database, student, made.caller.now)
        results.ask_again(asking, made.task_id, 1, "I know it now")

    def asked() -> list[int]:
        lists = (
            tasks.class_tasks(made.caller, made.class_id),
            [one.line for one in whole_pile(made.caller).tasks],
            first_page(made.caller).waiting,
            [tasks.get_task(made.caller, made.task_id)],
        )
        return [sum(one.asking for one in lines) for lines in lists]

    assert asked() == [2, 2, 2, 2]
    assert tasks.to_mark_by_class(made.caller)[made.class_id] == 0, "it is no marking"
    handing_back.answer_wish(made.caller, made.task_id, first, True, "Go on")
    assert asked() == [1, 1, 1, 1]
    students.set_left(made.caller, made.class_id, second, school_day(made.caller))
    assert asked() == [0, 0, 0, 0]


def test_its_student_reads_what_is_asked_again_and_hands_in(made: Small) -> None:
    first = made.students[0]
    made.mark(first, 4, 2)
    handing_back.hand_back(made.caller, made.task_id, None, True)
    due = made.caller.now + timedelta(days=3)
    again.open_attempts(made.caller, made.task_id, [first], "Look at leg two.", due)
    with made.caller.reading() as db:
        told = {one.text for one in message_store.messages_of(db, first, made.caller.now)}
    local = due.astimezone(ZoneInfo("Pacific/Auckland"))
    by = f"{local:%A} {local.day} {local:%B %Y, %H:%M}"
    assert (
        f"Another attempt at “Route” is open. It is due {by}. Look at leg two. "
        "Asked again: Criterion b."
    ) in told
    student = Student(made.caller.database, first, made.caller.now + timedelta(days=1))
    receipt = handing_in.hand_in(student, made.task_id, "Leg two, anew", 0)
    assert receipt.attempt == 2
    later = replace(made, caller=at(made.caller, 2))
    assert chosen(later, 2) == [(4, 1), (None, None)]
    state = desk.work_at_desk(later.caller, later.task_id, first, 2).mark.student
    assert (state.state, state.left, state.late_minutes) == ("waiting", 1, 0)


def test_what_is_asked_again_is_not_told_before_the_mark_is_handed_back(made: Small) -> None:
    first = made.students[0]
    made.mark(first, 4, 2)
    again.open_attempts(made.caller, made.task_id, [first], "Once more.")
    with made.caller.reading() as db:
        (told,) = message_store.messages_of(db, first, made.caller.now)
    assert told.text == "Another attempt at “Route” is open. Once more."


def test_work_that_is_entered_after_it_was_opened_is_the_further_attempt(made: Small) -> None:
    first = made.students[0]
    attempts.enter_work(made.caller, made.task_id, first, "First go")
    made.mark(first, 4, 2)
    open_it(made)
    attempts.enter_work(made.caller, made.task_id, first, "Second go")
    works = [
        [part.text for part in desk.work_at_desk(made.caller, made.task_id, first, number).parts]
        for number in (1, 2)
    ]
    assert works == [["First go"], ["Second go"]]


@pytest.mark.parametrize(("told", "done"), [(None, 5), (2, 2), (9, 5)])
def test_a_further_attempt_on_paper_is_dated_by_its_own_due_time(
    caller: Teacher, told: int | None, done: int
) -> None:
    """And never by the task's, which is over: days from now, marked on the fifth."""
    found = replace(small(at(caller, -20), due=caller.now - timedelta(days=12)), caller=caller)
    found.mark(found.students[0], 4, 2, caller=at(caller, -9))
    due = None if told is None else caller.now + timedelta(days=told)
    again.open_attempts(caller, found.task_id, found.students[:1], "", due)
    choose(replace(found, caller=at(caller, 5)), 2, 1, 3)
    student = desk.work_at_desk(caller, found.task_id, found.students[0], 2).mark.student
    assert student.row.done_at == caller.now + timedelta(days=done)
    assert student.late_minutes == 0


LEVELS = st.sampled_from([1, 2, 3, 4])


@settings(max_examples=25, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(
    st.tuples(LEVELS, LEVELS),
    st.lists(st.tuples(st.booleans(), LEVELS | st.none(), LEVELS | st.none()), max_size=3),
)
def test_any_attempts_give_what_exact_fractions_give(
    made: Small, first: tuple[int, int], further: list[tuple[bool, int | None, int | None]]
) -> None:
    """Against a plain model: what counts of W1 and W2 by the latest attempt that says something."""
    student = made.students[0]
    with undone(made.caller.database):
        made.mark(student, *first)
        stands: list[tuple[int | None, bool]] = [(level, False) for level in first]
        pieces = [Fraction(sum(first), 2), Fraction(first[1])]
        for number, (carries, *levels) in enumerate(further, 2):
            now = replace(made, caller=at(made.caller, number))
            open_it(now, carries)
            # a gives W1 its value, b gives W1 and W2 theirs: met from level 3 on.
            stands = [
                (level, True) if carries and level is not None and level >= 3 else (None, False)
                for level, _ in stands
            ]
            for which, level in enumerate(levels):
                if level is not None or stands[which] == (None, False):
                    choose(now, number, which, level)
                    stands[which] = (level, False)
            saving.finish(now.caller, now.task_id, student, number)
            for outcome, about in enumerate(((0, 1), (1,))):
                parts = [stands[one] for one in about if stands[one][0] is not None]
                if any(not carried for _, carried in parts):
                    said = [Fraction(level or 0) for level, _ in parts]
                    pieces[outcome] = sum(said, Fraction(0)) / len(said)
            assert values(now, now.caller) == [round_half_up(one) for one in pieces]


def needs(made: Small, attempt: int) -> list[tuple[str, str, tuple[int, bool, int] | None]]:
    """What the criteria that an attempt asks have to give: by criterion and outcome."""
    work = desk.work_at_desk(made.caller, made.task_id, made.students[0], attempt)
    titles = {stored.id: stored.criterion.key for stored in work.criteria}
    return [
        (titles[one.criterion_id], one.outcome.code, one.choice and tuple(one.choice))  # type: ignore[misc]
        for one in work.needs
    ]


def test_what_reaches_mastery_is_said_per_criterion_that_is_asked(made: Small) -> None:
    latest = Method(MethodKind.LATEST)
    methods.change_class_method(made.caller, made.class_id, 1, latest)
    made.mark(made.students[0], 4, 1)
    assert needs(made, 1) == [], "a first attempt asks for all"
    open_it(made)
    # W1 is of both, with 4 carried: half-way is not of criterion b; W2 of the other one alone.
    assert needs(made, 2) == [("b", "W1", (1, False, 149)), ("b", "W2", (2, False, 275))]
    choose(made, 2, 1, 2)
    saving.finish(made.caller, made.task_id, made.students[0], 2)
    # By now W1 is mastered; what this very attempt gives is left out of what it needs.
    assert needs(made, 2) == [("b", "W1", (1, False, 149)), ("b", "W2", (2, False, 275))]
    assert values(made, made.caller) == [300, 200]


@pytest.mark.parametrize(
    ("rule", "total"),
    [
        (AttemptsRule.LATEST, 600),
        (AttemptsRule.HIGHEST, 700),
        (AttemptsRule.MEAN, 650),
        (AttemptsRule.EVERY, 600),
    ],
)
def test_a_total_over_attempts_follows_the_tasks_rule_and_is_previewed(
    made: Small, rule: AttemptsRule, total: int
) -> None:
    student = made.students[0]
    made.mark(student, 4, 3)
    totals = totals_of_task(made.caller, made.task_id)
    assert totals.over_attempts == {}, "there are not several"
    open_it(made, carries=False)
    made.mark(student, 2, 3, attempt=2)
    by_hand = Adjustments(by_hand=ByHand(600, "Agreed"))
    adjusting.adjust_total(made.caller, made.task_id, student, by_hand, 99, 2)
    saving.finish(made.caller, made.task_id, student, 2)
    row = tasks.get_task(made.caller, made.task_id).row
    words = TaskWords(row.title, "", row.kind, row.rubric_id, None, None, False, attempts_rule=rule)
    told = task_effects(made.caller, made.task_id, words).totals
    moved = [(one.before and one.before.value, one.after and one.after.value) for one in told]
    assert moved == ([] if total == 600 else [(600, total)])
    tasks.change_task(made.caller, made.task_id, row.version, words)
    together = totals_of_task(made.caller, made.task_id).over_attempts
    assert together == ({} if total == 600 else {student: total})
    # What the student sees is of what was handed back to them, with its total.
    who = Student(made.caller.database, student, made.caller.now)
    handing_back.hand_back(made.caller, made.task_id, None, True)
    assert own_result(who, made.task_id).over_attempts is None, "they see the second one only"
    sheet = task_sheet(made.caller, made.task_id)
    assert ("Over attempts" in sheet.headings) is (total != 600)


def test_a_further_attempt_can_begin_as_a_copy_of_the_last(made: Small) -> None:
    student = made.students[0]
    who = Student(made.caller.database, student, made.caller.now)
    handing_in.hand_in(who, made.task_id, "By the gully", 0)
    made.mark(student, 2, 2)
    open_it(made)
    assert handing_in.draft(who, made.task_id) is None
    copied = handing_in.write_on(who, made.task_id)
    assert copied.text == "By the gully"
    handing_in.hand_in(who, made.task_id, "By the ridge", copied.version)
    parts = [
        desk.work_at_desk(made.caller, made.task_id, student, number).parts[0].text
        for number in (1, 2)
    ]
    assert parts == ["By the gully", "By the ridge"]
