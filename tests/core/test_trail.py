"""The trail under methods that held until a day, and under judgements."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jade_ladder.core.evidence import AttemptEvidence, View, gather
from jade_ladder.core.mastery import Judgement, Rules, State, mastery_of
from jade_ladder.core.methods import Method, MethodKind
from jade_ladder.core.trail import Course, PointBy, glance_at, glance_of, trail_of
from tests.strategies import START, four_levels, methods, piece, pieces

LATER = View(START + timedelta(days=1000))
LATEST, HIGHEST = (
    Rules(Method(kind), four_levels) for kind in (MethodKind.LATEST, MethodKind.HIGHEST)
)


def day(number: float) -> datetime:
    return START + timedelta(days=number)


def judged_from(since: float, until: float | None, level: int) -> Judgement:
    return Judgement(level, "Seen", day(since), None if until is None else day(until))


def test_the_documents_method_from_a_day_on() -> None:
    """4, 4, 1 is 4.00 by highest, and from the day on which latest holds 1.00: a slip that is the
    method's doing.
    """
    found = gather([piece(400, 1), piece(400, 2), piece(100, 3)], LATER, {})
    trail = trail_of(found, Course(LATEST, ((day(5), HIGHEST),)))
    assert [(point.at, point.value, point.by) for point in trail.points] == [
        (day(1), 400, PointBy.EVIDENCE),
        (day(2), 400, PointBy.EVIDENCE),
        (day(3), 400, PointBy.EVIDENCE),
        (day(5), 100, PointBy.METHOD),
    ]
    assert (trail.slipped_at, trail.slipped_by) == (day(5), PointBy.METHOD)


@pytest.mark.parametrize(
    ("judgements", "points"),
    [
        ([(2, None, 2)], [(1, 100, "evidence"), (2, 300, "judged"), (3, 300, "evidence")]),
        (
            [(2, 4, 2)],
            [(1, 100, "evidence"), (2, 300, "judged"), (3, 300, "evidence"), (4, 200, "lifted")],
        ),
        # Before there is any evidence.
        ([(0, None, 3)], [(0, 400, "judged"), (1, 400, "evidence"), (3, 400, "evidence")]),
        (
            [(0, 0.5, 3)],
            [(0, 400, "judged"), (0.5, None, "lifted"), (1, 100, "evidence"), (3, 200, "evidence")],
        ),
        # One after the other: a point, and not two.
        (
            [(2, 4, 2), (4, None, 0)],
            [(1, 100, "evidence"), (2, 300, "judged"), (3, 300, "evidence"), (4, 100, "judged")],
        ),
        # Made and lifted on one day: it held on none.
        ([(2, 2, 2)], [(1, 100, "evidence"), (2, 100, "lifted"), (3, 200, "evidence")]),
        # At the time of a piece.
        ([(3, None, 2)], [(1, 100, "evidence"), (3, 300, "judged")]),
    ],
)
def test_where_a_judgement_begins_and_ends_is_a_point(
    judgements: list[tuple[float, float | None, int]],
    points: list[tuple[float, int | None, str]],
) -> None:
    found = gather([piece(100, 1), piece(200, 3)], LATER, {})
    course = Course(LATEST, (), tuple(judged_from(*one) for one in judgements))
    trail = trail_of(found, course)
    assert [(point.at, point.value, point.by) for point in trail.points] == [
        (day(at), value, by) for at, value, by in points
    ]


def test_reached_held_back_and_slipped_read_what_counts() -> None:
    found = gather([piece(300, 1), piece(100, 2), piece(200, 4)], LATER, {})
    back = trail_of(found, Course(LATEST, (), (judged_from(3, None, 2),)))
    assert (back.first_reached, back.held_since, back.back) == (day(1), day(3), True)
    lifted = trail_of(found, Course(LATEST, (), (judged_from(3, 5, 2),)))
    assert (lifted.slipped_at, lifted.slipped_by) == (day(5), PointBy.LIFTED)
    down = trail_of(found, Course(HIGHEST, (), (judged_from(3, None, 0),)))
    assert (down.slipped_at, down.slipped_by) == (day(3), PointBy.JUDGED)


courses = st.builds(
    Course,
    st.builds(Rules, methods, st.just(four_levels), st.integers(1, 3)),
    st.lists(
        st.tuples(st.integers(0, 20).map(day), st.builds(Rules, methods, st.just(four_levels))),
        max_size=3,
        unique_by=lambda pair: pair[0],
    ).map(lambda found: tuple(sorted(found, key=lambda pair: pair[0]))),
)


@given(pieces(), courses, st.lists(st.tuples(st.integers(0, 20), st.integers(0, 3)), max_size=2))
def test_each_point_is_mastery_at_its_time(
    attempts: list[AttemptEvidence], course: Course, judged: list[tuple[int, int]]
) -> None:
    """However it is worked out: by every way through, what held then is applied to what was there
    then.
    """
    since = sorted(dict(judged).items())
    ends = [*(at for at, _ in since), None][1:]
    course = replace(
        course,
        judgements=tuple(
            judged_from(at, end, level) for (at, level), end in zip(since, ends, strict=True)
        ),
    )
    found = gather(attempts, LATER, {})
    trail = trail_of(found, course)
    moments = {one.done_at for one in attempts} | {one.since for one in course.judgements}
    if attempts:
        first = min(one.done_at for one in attempts)
        moments |= {at for at, _ in course.before if at > first}
    assert [point.at for point in trail.points] == sorted(moments)
    for point in trail.points:
        then = [one for one in attempts if one.done_at <= point.at]
        rules = next((rules for at, rules in course.before if point.at < at), course.rules)
        calculated = mastery_of(gather(then, LATER, {}).pieces(), rules)
        holding = [one for one in course.judgements if one.since <= point.at]
        assert point.calculated == calculated.value
        if holding:
            assert point.value == (holding[-1].level + 1) * 100
        else:
            assert (point.value, point.state) == (calculated.value, calculated.state)
    now = course.mastery_now(found.pieces())
    if trail.points:
        assert (trail.points[-1].value, trail.points[-1].state) == (now.value, now.state)
        slipped = now.state is not State.MASTERED and any(
            point.state is State.MASTERED for point in trail.points
        )
        assert glance_of(found, course) == (now, trail.direction, slipped)


@given(courses, st.lists(st.tuples(st.integers(0, 20), st.integers(100, 400)), max_size=8))
def test_a_glance_at_texts_goes_by_the_methods_that_held(
    course: Course, said: list[tuple[int, int]]
) -> None:
    attempts = [
        piece(value, when, source=number) for number, (when, value) in enumerate(sorted(said))
    ]
    found = gather(attempts, LATER, {})
    at_once = glance_at(
        [one.done_at.isoformat() for one in found.attempts],
        [one.value for one in found.attempts],
        course.rules,
        [(until.isoformat(), rules) for until, rules in course.before],
    )
    assert at_once == glance_of(found, course)
