"""What is seen in the room: taken once, dated by when it was seen, an attempt a day."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, timedelta
from itertools import count

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from jade_ladder.core.errors import NotFound, Refused, Stale
from jade_ladder.core.marking import DeskState
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.service.classes import students
from jade_ladder.service.marking import again, desk
from jade_ladder.service.marking.choices import NOTHING, Choice
from jade_ladder.service.marking.state import MarkState
from jade_ladder.service.mastery.wall import wall
from jade_ladder.service.observing import class_at_hand as hands
from jade_ladder.service.observing.finishing import finish_observed
from jade_ladder.service.observing.taps import Tap, tap
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import attempts, tasks
from jade_ladder.store.evidence.evidence import evidence_faults
from tests.builders import Small, small, undone

# Of the scale 1, 2, 3, 4 with mastery at 3 (cut 2.75): criterion a is evidence of W1, b of both.
# At the school of the tests, in Auckland, a day begins at 11:00 UTC in summer.
NOON = datetime(2026, 11, 24, 23, 0, tzinfo=UTC)
_keys = count(1)


@dataclass(frozen=True)
class Room:
    """A class in a room, one student of it, and the task that is observed."""

    made: Small
    task_id: int

    def tap(
        self,
        level: int | None = None,
        which: int = 0,
        student: int = 0,
        days: float = 0,
        **said: object,
    ) -> MarkState:
        """Tap a level (1 the lowest) of a criterion, so many days after noon; or something else."""
        caller = replace(self.made.caller, now=NOON + timedelta(days=days))
        stored = desk.desk(caller, self.task_id).criteria[which]
        if level is not None:
            said["choice"] = Choice(stored.level_ids[level - 1])
        said = {"key": f"key-{next(_keys):06d}", "age": timedelta(), **said}
        made = Tap(criterion_id=stored.id, **said)  # type: ignore[arg-type]
        return tap(caller, self.task_id, self.made.students[student], made)

    def at_hand(self, days: float = 0, student: int = 0) -> hands.StudentAtHand:
        """The student as the room shows them so many days after noon."""
        caller = replace(self.made.caller, now=NOON + timedelta(days=days))
        found = hands.class_at_hand(caller, self.task_id).students
        return next(
            one for one in found if one.standing.row.student_id == self.made.students[student]
        )

    def levels(self, attempt: int) -> list[tuple[int | None, int | None]]:
        """The levels that stand in an attempt, each with the attempt that it is carried from."""
        mark = desk.work_at_desk(
            self.made.caller, self.task_id, self.made.students[0], attempt
        ).mark
        found = []
        for stored in desk.desk(self.made.caller, self.task_id).criteria:
            choice = mark.choices.get(stored.id, NOTHING)
            level = choice.level_id
            place = None if level is None else stored.level_ids.index(level) + 1
            found.append((place, choice.carried_from))
        return found

    def finish(self, days: float = 0) -> int:
        """Finish all that was seen."""
        return finish_observed(
            replace(self.made.caller, now=NOON + timedelta(days=days)), self.task_id
        )

    def values(self, days: float = 0) -> list[int | None]:
        """The student's mastery of W1 and W2."""
        caller = replace(self.made.caller, now=NOON + timedelta(days=days))
        with caller.reading() as db:
            assert evidence_faults(db) == []
        seen = wall(caller, self.made.class_id)
        row = [one.id for one in seen.students].index(self.made.students[0])
        return [cell.mastery.value for cell in seen.cells[row]]


@pytest.fixture
def room(caller: Teacher) -> Room:
    made = small(replace(caller, now=NOON - timedelta(days=10)))
    task_id = made.new_task("Walk", kind=TaskKind.OBSERVED)
    return Room(replace(made, caller=replace(caller, now=NOON)), task_id)


def test_a_tap_is_there_at_once_and_the_same_tap_sent_twice_is_one(room: Room) -> None:
    assert room.at_hand().standing.state is DeskState.WAITING
    first = room.tap(2, key="a-first-tap")
    assert (first.attempt, first.version, first.student.state) == (1, 1, DeskState.STARTED)
    second = room.tap(3)
    # The first one arrives again, after the second: nothing goes back.
    again = room.tap(2, key="a-first-tap")
    assert (again.version, again.choices) == (second.version, second.choices)
    assert room.levels(1) == [(3, None), (None, None)]


def test_a_tap_is_dated_by_when_it_was_seen(room: Room) -> None:
    # Seen on Friday, sent on Monday, by a phone whose clock is wrong by years.
    room.tap(3, days=3, age=timedelta(days=3, hours=-1))
    room.tap(2, which=1, days=3, age=timedelta(days=3))
    row = room.at_hand(days=3).standing.row
    assert row.done_at == NOON + timedelta(hours=1), "by the first choice that arrived"
    seen = room.at_hand(days=3)
    assert (seen.attempt, seen.choices, seen.opened) == (2, {}, False)
    assert seen.earlier is not None
    assert (seen.earlier.day, len(seen.earlier.choices)) == (date(2026, 11, 25), 2)


@pytest.mark.parametrize(
    ("age", "loaded", "then"),
    [
        (timedelta(days=-1), None, NOON),
        (timedelta(days=4000), None, datetime(2026, 8, 31, 12, 0, tzinfo=UTC)),
        (timedelta(days=365), NOON - timedelta(minutes=20), NOON - timedelta(minutes=20)),
        (timedelta(hours=1), NOON + timedelta(days=1), NOON),
    ],
    ids=["the clock was put back", "before the class began", "before it had the class", "to come"],
)
def test_a_time_that_cannot_be_is_brought_back_to_one_that_can(
    room: Room, age: timedelta, loaded: datetime | None, then: datetime
) -> None:
    room.tap(3, age=age, loaded_at=loaded)
    assert room.at_hand().standing.row.done_at == then


def test_another_day_is_another_attempt_and_what_was_met_is_carried_over(room: Room) -> None:
    room.tap(4)
    room.tap(2, which=1)
    assert room.finish() == 1
    assert room.values() == [300, 200]
    later = room.tap(3, which=1, days=1)
    assert later.attempt == 2
    assert room.levels(2) == [(4, 1), (3, None)]
    # What the first day was stays as it was.
    assert room.levels(1) == [(4, None), (2, None)]
    assert room.finish(1) == 1
    assert room.values(1) == [350, 300]
    # At midnight an hour matters.
    assert room.tap(2, days=1, age=timedelta(hours=11.9)).attempt == 2
    assert room.tap(2, days=1, age=timedelta(hours=12.1)).attempt == 1
    assert room.tap(2, days=1.51).attempt == 3


def test_what_was_not_finished_on_another_day_is_not_carried(room: Room) -> None:
    room.tap(4)
    assert room.tap(2, which=1, days=1).attempt == 2
    assert room.levels(2) == [(None, None), (2, None)]
    # Finishing is for all that was chosen, on any day.
    assert room.finish(1) == 2
    assert room.levels(1) == [(4, None), (None, None)]
    assert room.values(1) == [200, 200], "the latest attempt counts"


def test_a_tap_that_arrives_after_a_later_day_goes_to_its_own_or_is_told(room: Room) -> None:
    room.tap(4, days=2)
    with pytest.raises(Refused, match="Aino Berg was observed again after 2026-11-25"):
        room.tap(2, days=2, age=timedelta(days=2))
    room.tap(3, student=1)
    room.tap(4, student=1, days=2)
    assert room.tap(2, student=1, which=1, days=2, age=timedelta(days=2)).attempt == 1


def test_a_tap_begins_the_attempt_that_was_opened(room: Room) -> None:
    room.tap(4)
    room.tap(2, which=1)
    room.finish()
    caller = replace(room.made.caller, now=NOON + timedelta(minutes=5))
    again.open_attempts(caller, room.task_id, room.made.students[:1], "Once more", None, False)
    looked = desk.work_at_desk(caller, room.task_id, room.made.students[0], 2).mark
    line = tasks.class_tasks(caller, room.made.class_id)
    walk = next(one for one in line if one.row.id == room.task_id)
    assert (looked.waits, walk.to_mark) == (False, 1), "the other one waits, as the list says"
    assert room.tap(3, which=1, days=0.1).attempt == 2
    assert room.levels(2) == [(None, None), (3, None)], "carrying was switched off"
    room.finish(0.1)
    later = replace(room.made.caller, now=NOON + timedelta(hours=3))
    again.open_attempts(later, room.task_id, room.made.students[:1], "And again")
    met = room.at_hand(0.2)
    assert (met.attempt, [one.carried_from for one in met.choices.values()]) == (3, [2])
    # A phone that did not know of it chooses over it.
    assert room.tap(2, which=1, days=0.2, before=NOTHING).attempt == 3


def test_two_phones_that_choose_differently_are_told(room: Room) -> None:
    shown = Choice(desk.desk(room.made.caller, room.task_id).criteria[0].level_ids[1])
    room.tap(2, before=NOTHING)
    with pytest.raises(Stale, match="Aino Berg, “Criterion a”: it was marked differently"):
        room.tap(3, before=NOTHING)
    # On another criterion, or by one who saw what stands, it goes through; the same is no conflict.
    room.tap(3, which=1, before=NOTHING)
    room.tap(2, before=NOTHING)
    room.tap(4, before=shown)
    # Decided by the teacher, it holds whatever stands.
    room.tap(1)
    assert room.levels(1) == [(1, None), (3, None)]
    room.tap(remark="Steady", before="")
    with pytest.raises(Stale):
        room.tap(remark="Shaky", before="")
    assert list(room.at_hand().remarks.values()) == ["Steady"]


def test_an_undone_tap_of_another_day_leaves_what_was_seen_as_it_was(room: Room) -> None:
    """Nothing stands in it: there is no second attempt, and the first can be handed back."""
    room.tap(4)
    room.tap(2, which=1)
    room.finish()
    before = room.at_hand(days=1)
    assert room.tap(3, which=1, days=1).attempt == 2
    undone = room.tap(choice=NOTHING, which=1, days=1)
    assert (undone.attempt, undone.student.state) == (1, DeskState.DONE)
    assert room.at_hand(days=1) == before
    room.tap(absent=True, days=1)
    assert room.at_hand(days=1).standing.state is DeskState.DONE
    # What was carried over and tapped stands as it was carried again.
    room.tap(1, days=2)
    room.tap(3, which=1, days=2)
    room.tap(4, days=2, carries=True)
    assert room.levels(2) == [(4, 1), (3, None)]
    # A word, a file or a finished mark is something: it stays.
    room.tap(remark="Steady", which=1, days=2)
    assert room.tap(choice=NOTHING, which=1, days=2).attempt == 2
    assert room.tap(remark="", which=1, days=2).attempt == 1


def test_the_first_tap_of_all_that_is_undone_leaves_nothing(room: Room) -> None:
    room.tap(3)
    assert room.tap(choice=NOTHING).student.state is DeskState.WAITING
    assert room.at_hand().standing.row.attempt_id is None


def test_a_tap_from_before_an_attempt_was_opened_does_not_begin_it(room: Room) -> None:
    room.tap(2, days=3)
    room.finish(3)
    caller = replace(room.made.caller, now=NOON + timedelta(days=4))
    again.open_attempts(caller, room.task_id, room.made.students[:1], "Once more")
    # Three days late, of the day before the first attempt: it is the teacher's to decide.
    with pytest.raises(Refused, match="was observed again after"):
        room.tap(3, days=5, age=timedelta(days=3))
    # Of the day of the first one, it goes there.
    assert room.tap(3, days=5, age=timedelta(days=2)).attempt == 1
    assert room.at_hand(days=5).opened
    assert room.tap(3, days=5, age=timedelta(hours=1)).attempt == 2


def test_absent_is_a_state_of_the_day_that_a_tap_ends(room: Room) -> None:
    state = room.tap(absent=True)
    assert (state.student.state, state.waits, state.waited) == (DeskState.ABSENT, False, True)
    assert room.at_hand().standing.row.absent_on == date(2026, 11, 25)
    line = tasks.class_tasks(replace(room.made.caller, now=NOON), room.made.class_id)
    walk = next(one for one in line if one.row.id == room.task_id)
    assert (walk.to_mark, walk.counts[DeskState.ABSENT]) == (1, 1)
    # They come later: seen, and not absent any more.
    state = room.tap(2)
    assert (state.student.state, state.waited) == (DeskState.STARTED, False)
    assert room.at_hand().standing.row.absent_on is None
    with pytest.raises(Refused, match="was seen on this day"):
        room.tap(absent=True)
    # Cleared, they can be.
    room.tap(choice=NOTHING)
    room.tap(absent=True)
    room.tap(absent=False)
    assert room.at_hand().standing.row.absent_on is None


def test_finishing_leaves_who_was_not_seen_and_notes_the_rest_not_assessed(room: Room) -> None:
    room.tap(3, which=1)
    room.tap(absent=True, student=1)
    assert hands.class_at_hand(room.made.caller, room.task_id).unfinished == 1
    assert room.finish() == 1
    mark = desk.work_at_desk(room.made.caller, room.task_id, room.made.students[0], 1).mark
    first = desk.desk(room.made.caller, room.task_id).criteria[0].id
    assert mark.finished
    assert mark.choices[first] == Choice(None, not_assessed=True)
    assert room.values() == [300, 300]
    assert room.finish() == 0, "done is done"
    assert room.at_hand(student=1).standing.state is DeskState.ABSENT


def test_what_cannot_be_is_refused_in_words(room: Room, caller: Teacher) -> None:
    made = room.made
    other = desk.desk(made.caller, room.task_id).criteria[1].level_ids[0]
    for said, match in (
        ({"choice": Choice(other)}, "This level is of another criterion"),
        ({"choice": Choice(None, half_way=True)}, "Half-way stands between"),
        ({"remark": "x" * 5001}, "at most 5000"),
        ({"key": "no key!"}, "A key is"),
        ({"remark": "Steady", "absent": True}, "says one thing"),
    ):
        with pytest.raises(Refused, match=match):
            room.tap(**said)  # type: ignore[arg-type]
    room.tap(remark="", key="once-only")
    with pytest.raises(Refused, match="that of another tap"):
        room.tap(2, student=1, key="once-only")
    with pytest.raises(Refused, match="not observed"):
        tap(made.caller, made.task_id, made.students[0], Tap("a-fine-key", timedelta()))
    with pytest.raises(NotFound):
        tap(made.caller, room.task_id, 10_000, Tap("a-fine-key", timedelta()))
    attempts.excuse(made.caller, room.task_id, made.students[0], True)
    with pytest.raises(Refused, match="Aino Berg is excused"):
        room.tap(3)
    # Who left on Thursday was there on Wednesday.
    friday = replace(made.caller, now=NOON + timedelta(days=2))
    students.set_left(friday, made.class_id, made.students[1], date(2026, 11, 26))
    assert room.tap(3, student=1, days=4, age=timedelta(days=4)).attempt == 1
    with pytest.raises(Refused, match="Zoe Anders left the class on 2026-11-26"):
        room.tap(3, student=1, days=4)
    assert evidence_free(room)


def evidence_free(room: Room) -> bool:
    """Nothing is finished, so nothing counts."""
    return room.values() == [None, None]


def test_seats_are_the_class_s_own(room: Room) -> None:
    made = room.made
    hands.arrange_seats(made.caller, made.class_id, made.students)
    assert hands.class_at_hand(made.caller, room.task_id).seats == list(made.students)
    hands.arrange_seats(made.caller, made.class_id, made.students[::-1])
    assert hands.class_at_hand(made.caller, room.task_id).seats == list(made.students[::-1])
    for wrong in ([made.students[0]] * 2, [made.caller.person_id]):
        with pytest.raises(Refused):
            hands.arrange_seats(made.caller, made.class_id, wrong)


@settings(
    max_examples=25, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture]
)
@given(
    st.lists(
        st.tuples(st.integers(0, 3), st.integers(0, 1), st.integers(1, 4), st.integers(0, 6)),
        max_size=12,
    ),
)
def test_taps_that_wait_and_come_twice_lead_where_taps_at_once_lead(
    room: Room, made: list[tuple[int, int, int, int]]
) -> None:
    """In the order in which they were made, some sent again, each with what it waited."""
    made.sort(key=lambda one: one[0])
    taps = [(f"tap-number-{n}", *one) for n, one in enumerate(made)]
    days = sorted({one[0] for one in made})

    def all_levels() -> list[object]:
        return [room.levels(number + 1) for number in range(len(days))]

    with undone(room.made.caller.database):
        for key, day, which, level, _ in taps:
            room.tap(level, which=which, days=day, key=key)
        at_once = all_levels()
        room.finish(4)
        values = room.values(4)
    with undone(room.made.caller.database):
        for key, day, which, level, twice in taps:
            for _ in range(1 + (twice == 0)):
                room.tap(level, which=which, days=4, key=key, age=timedelta(days=4 - day))
        assert all_levels() == at_once
        room.finish(4)
        assert room.values(4) == values
