"""Remarks on passages: kept by version, told apart, seen as they were handed back."""

from __future__ import annotations

from dataclasses import replace

import pytest

from jade_ladder.core.errors import NotFound, Refused, Stale
from jade_ladder.core.passage import Place, Quote, Shape, ShapeKind, Span
from jade_ladder.service.changes import revisions
from jade_ladder.service.marking import desk, handing_back, passages
from jade_ladder.service.marking.passages import NewPassage, NumberedPassage
from jade_ladder.service.rubrics import rubrics
from jade_ladder.service.shared.caller import Student, Teacher
from jade_ladder.service.student import results
from jade_ladder.service.work import attempts
from jade_ladder.store.marking import passages as store
from tests.builders import Small, at, draft, small

TEXT = "From the slipway along the old quay to the light"
KEY, OTHER = "first-passage", "other-passage"


def words(exact: str) -> Place:
    start = TEXT.index(exact)
    return Place(Quote(exact), Span(start, start + len(exact)))


@pytest.fixture
def made(caller: Teacher) -> Small:
    found = small(at(caller, -10))
    made = replace(found, caller=caller)
    attempts.enter_work(caller, made.task_id, made.students[0], TEXT)
    return made


def work(made: Small) -> desk.WorkAtDesk:
    return desk.work_at_desk(made.caller, made.task_id, made.students[0])


def part(made: Small) -> int:
    return work(made).parts[0].id


def say(
    made: Small,
    text: str | None,
    key: str = KEY,
    based_on: int = 0,
    exact: str = "old quay",
    criterion_id: int | None = None,
) -> int:
    """Save a remark on a passage, or (None) delete it; gives the version."""
    new = None
    if text is not None:
        new = NewPassage(part(made), criterion_id, text, words(exact))
    return passages.remark_on_passage(
        made.caller, made.task_id, made.students[0], key, new, based_on
    ).version


def told(found: tuple[NumberedPassage, ...]) -> list[tuple[int, str]]:
    return [(one.number, one.row.text) for one in found]


def test_passages_are_numbered_in_the_order_of_the_work_and_each_change_is_a_version(
    made: Small,
) -> None:
    first = say(made, "Which quay?")
    assert say(made, "Which quay?") == first, "sent twice it is one"
    say(made, "Good", OTHER, exact="slipway")
    assert told(work(made).passages) == [(1, "Good"), (2, "Which quay?")]
    changed = say(made, "Name the quay", based_on=first)
    assert told(work(made).passages) == [(1, "Good"), (2, "Name the quay")]
    deleted = say(made, None, based_on=changed)
    assert told(work(made).passages) == [(1, "Good")]
    # Undoing it: the same passage is there again.
    say(made, "Name the quay", based_on=deleted)
    assert told(work(made).passages) == [(1, "Good"), (2, "Name the quay")]


def test_a_passage_changed_in_another_tab_is_told_and_others_never_are(made: Small) -> None:
    seen = say(made, "Which quay?")
    there = say(made, "There: name it", based_on=seen)
    say(made, "Good", OTHER, exact="slipway")
    with pytest.raises(Stale, match="changed in another tab"):
        say(made, "Here: which?", based_on=seen)
    say(made, None, based_on=there)
    with pytest.raises(Stale, match="deleted in another tab"):
        say(made, "Here: which?", based_on=there)
    assert told(work(made).passages) == [(1, "Good")]


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"text": " \n"}, "Write what you remark"),
        ({"text": "x" * 5001}, "at most 5000"),
        ({"key": "Short"}, "A key is"),
        ({"key": "with spaces and more"}, "A key is"),
    ],
)
def test_what_is_no_remark_is_refused_and_nothing_is_begun(
    made: Small, change: dict[str, str], says: str
) -> None:
    with pytest.raises(Refused, match=says):
        say(made, change.get("text", "Fine"), change.get("key", KEY))
    assert work(made).mark.version == 0


def test_only_work_of_this_student_is_remarked_on(made: Small) -> None:
    second = made.students[1]
    attempts.enter_work(made.caller, made.task_id, second, TEXT)
    other = desk.work_at_desk(made.caller, made.task_id, second).parts[0].id
    new = NewPassage(other, None, "Fine", words("quay"))
    for _ in range(2):
        with pytest.raises(NotFound, match="no such work"):
            passages.remark_on_passage(made.caller, made.task_id, made.students[0], KEY, new, 9)
        say(made, "Here")


def test_at_most_so_many_passages(made: Small, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(passages, "MOST_PASSAGES", 1)
    seen = say(made, "One")
    with pytest.raises(Refused, match="at most 1 remark"):
        say(made, "Two", OTHER)
    say(made, "One, changed", based_on=seen)


def test_a_student_sees_the_passages_that_were_handed_back(made: Small) -> None:
    student = Student(made.caller.database, made.students[0], made.caller.now)
    criterion = desk.desk(made.caller, made.task_id).criteria[0]
    seen = say(made, "Which quay?", criterion_id=criterion.id)
    made.mark(made.students[0], 3, 2)
    handing_back.hand_back(made.caller, made.task_id, None, True)
    say(made, "Changed later", based_on=seen)
    say(made, "New", OTHER, exact="light")
    result = results.own_result(student, made.task_id)
    assert told(result.passages) == [(1, "Which quay?")]
    assert result.passages[0].criterion_id == criterion.id


def test_a_passage_on_work_that_was_replaced_stays_with_the_old_work(made: Small) -> None:
    """Edited or removed work is kept where something is remarked in it, and only there."""
    say(made, "Which quay?")
    old = part(made)
    attempts.enter_work(made.caller, made.task_id, made.students[0], "Another text")
    after = work(made)
    assert [(one.text, one.replaced_at is None) for one in after.parts] == [
        ("Another text", True),
        (TEXT, False),
    ]
    assert [(one.number, one.row.part_id) for one in after.passages] == [(1, old)]
    new = NewPassage(after.parts[0].id, None, "Better", Place(Quote("Another"), Span(0, 7)))
    passages.remark_on_passage(made.caller, made.task_id, made.students[0], OTHER, new, 0)
    assert told(work(made).passages) == [(1, "Better"), (2, "Which quay?")]
    # Nothing stands in it any more: it is not shown, and its passage can still be undone.
    gone = say(made, None, based_on=100)
    assert [one.text for one in work(made).parts] == ["Another text"]
    back = NewPassage(old, None, "Which quay?", words("old quay"))
    passages.remark_on_passage(made.caller, made.task_id, made.students[0], KEY, back, gone)
    assert len(work(made).parts) == 2


def test_a_passage_keeps_its_criterion_through_revisions(made: Small) -> None:
    """By the key; where the criterion is gone it is on the work as a whole."""
    first = desk.desk(made.caller, made.task_id).criteria[0]
    say(made, "Which quay?", criterion_id=first.id)
    rubric, a, b = made.rubric_id, draft("a", [made.outcomes[0]]), draft("b", [made.outcomes[1]], 3)
    begun = revisions.revise(
        made.caller, rubric, rubrics.get_rubric(made.caller, rubric).row.version
    )
    saved = rubrics.save_draft(made.caller, rubric, begun.row.version, "Route card", [b, a])
    revisions.apply_revision(made.caller, rubric, 2, saved.row.version, [made.task_id])
    after = work(made)
    (found,) = after.passages
    moved = next(
        one
        for one in desk.desk(made.caller, made.task_id).criteria
        if one.criterion.key == first.criterion.key
    )
    assert (found.criterion_id, found.criterion_id == first.id) == (moved.id, False)


def test_the_same_place_sent_twice_is_one_whatever_its_corners(made: Small) -> None:
    def box(x1: float, x2: float) -> NewPassage:
        shape = Shape(ShapeKind.BOX, 1, x1, 10, x2, 40, 600, 800)
        return NewPassage(part(made), None, "Here", Place(shape=shape))

    args = (made.caller, made.task_id, made.students[0], KEY)
    first = passages.remark_on_passage(*args, box(10, 90), 0).version
    assert passages.remark_on_passage(*args, box(90, 10), 0).version == first
    with made.caller.reading() as db:
        mark_id = db.execute("SELECT id FROM mark").fetchone()[0]
        (row,) = store.passages_at(db, mark_id)
    assert row.place.shape is not None
    assert (row.place.shape.x1, row.place.shape.x2) == (10, 90)
