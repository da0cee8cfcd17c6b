"""The history of a mark: who said what when, and going back to any version of it."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from jade_ladder.core.errors import NotFound, Refused, Stale
from jade_ladder.core.passage import Place, Quote, Span
from jade_ladder.core.total import Adjustments, Line, LineKind
from jade_ladder.service.changes import revisions
from jade_ladder.service.marking import adjusting, desk, handing_back, history, passages, saving
from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.marking.passages import NewPassage
from jade_ladder.service.rubrics import rubrics
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import attempts
from jade_ladder.store.shared.verify import faults
from tests.builders import Small, at, draft, small, undone


@pytest.fixture
def made(caller: Teacher) -> Small:
    found = small(at(caller, -10))
    attempts.enter_work(caller, found.task_id, found.students[0], "The old quay")
    return replace(found, caller=caller)


def later(made: Small, minutes: float) -> Small:
    caller = made.caller
    return replace(made, caller=replace(caller, now=caller.now + timedelta(minutes=minutes)))


def work(made: Small) -> desk.WorkAtDesk:
    return desk.work_at_desk(made.caller, made.task_id, made.students[0])


def choose(made: Small, place: int | None) -> int:
    stored = desk.desk(made.caller, made.task_id).criteria[0]
    choice = Choice(None if place is None else stored.level_ids[place])
    args = (made.caller, made.task_id, made.students[0])
    return saving.choose(*args, stored.id, choice, 1000).version


def remark(made: Small, text: str) -> int:
    return saving.remark(made.caller, made.task_id, made.students[0], None, text, 1000).version


def passage(made: Small, text: str) -> int:
    part = work(made).parts[0].id
    new = NewPassage(part, None, text, Place(Quote("old"), Span(4, 7))) if text else None
    args = (made.caller, made.task_id, made.students[0], "a-passage", new, 1000)
    return passages.remark_on_passage(*args).version


def adjust(made: Small, *amounts: int) -> int:
    lines = tuple(Line(LineKind.ADJUSTMENT, f"Line {one}", one) for one in amounts)
    args = (made.caller, made.task_id, made.students[0], Adjustments(lines), 1000)
    return adjusting.adjust_total(*args).version


def stands(made: Small) -> dict[str, Any]:
    """All that a mark says now."""
    found = work(made)
    mark = found.mark
    return {
        "choices": {one: choice for one, choice in mark.choices.items() if any(choice)},
        "remarks": {one: row.text for one, row in mark.remarks.items() if row.text},
        "passages": {one.row.key: one.row.text for one in found.passages},
        "lines": sorted(line.amount for line in mark.adjustments.lines),
    }


def back(made: Small, version: int) -> int:
    based_on = work(made).mark.version
    return history.go_back(made.caller, made.task_id, made.students[0], version, based_on).version


def told(made: Small) -> list[tuple[int, list[str]]]:
    rows = history.history(made.caller, made.task_id, made.students[0])
    return [
        (
            one.number,
            [
                f"{change.row.what}: {_brief(change.before)} to {_brief(change.row)}"
                for change in one.changes
            ],
        )
        for one in rows
    ]


def _brief(row: Any) -> str:
    return "nothing" if row is None else row.level or row.text or "nothing"


def test_who_said_what_when_the_newest_first(made: Small) -> None:
    choose(made, 0)
    remark(made, "Which")
    remark(made, "Which quay?")
    choose(later(made, 30), 2)
    choose(later(made, 32), 3)
    assert told(made) == [
        (5, ["choice: Step 1 to Step 4"]),
        (3, ["remark: nothing to Which quay?"]),
        (1, ["choice: nothing to Step 1"]),
    ]
    newest = history.history(made.caller, made.task_id, made.students[0])[0]
    assert newest.by == "Ilse Varga"
    assert newest.made_at == later(made, 32).caller.now


def test_what_counts_and_what_was_handed_back_stays_a_version_of_its_own(made: Small) -> None:
    made.mark(made.students[0], 2, 2)
    handing_back.hand_back(made.caller, made.task_id, None, True)
    before = work(made).mark.version
    remark(made, "One")
    remark(made, "Two")
    rows = history.history(made.caller, made.task_id, made.students[0])
    assert [(one.number, one.counts, one.handed_back_at is not None) for one in rows[:2]] == [
        (before + 2, False, False),
        (before, True, True),
    ]


STEPS = st.one_of(
    st.tuples(st.just(choose), st.sampled_from([None, 0, 1, 3])),
    st.tuples(st.just(remark), st.sampled_from(["", "Good", "Which quay?"])),
    st.tuples(st.just(passage), st.sampled_from(["", "How old?", "Name it"])),
    st.tuples(st.just(adjust), st.sampled_from([0, 50, -25])),
)


@settings(max_examples=25, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(STEPS, min_size=1, max_size=10), st.data())
def test_going_back_says_all_again_that_was_said_then(
    made: Small, steps: list[tuple[Any, Any]], data: st.DataObject
) -> None:
    """Whatever was done, to any version and back again; and what is laid beside tells it."""
    with undone(made.caller.database):
        seen: dict[int, dict[str, Any]] = {}
        for step, value in steps:
            number = step(made, *([value] if value or step is not adjust else []))
            seen[number] = stands(made)
        newest, last = max(seen), stands(made)
        for version in data.draw(st.lists(st.sampled_from(sorted(seen)), max_size=3)):
            if not version:
                continue
            beside = history.version_beside(made.caller, made.task_id, made.students[0], version)
            same = stands(made) == seen[version]
            assert same is not any(one.different for one in beside)
            back(made, version)
            assert stands(made) == seen[version]
        if newest:
            back(made, newest)
        assert stands(made) == last


def test_the_file_is_whole_however_one_goes_back(made: Small) -> None:
    """Every version has something that began or ended with it; without a change there is none."""
    choose(made, 1)
    passage(made, "How old?")
    adjust(made, 50)
    adjust(made)
    assert back(made, 2) == 4, "the line that came is gone again"
    assert back(made, 1) == 5
    assert back(made, 3) == 6
    assert faults(made.caller.database.path) == []


def test_going_back_does_not_count_until_it_is_finished(made: Small) -> None:
    choose(made, 0)
    made.mark(made.students[0], 3, 3)
    finished = work(made).mark
    back(made, 1)
    after = work(made).mark
    assert not after.finished
    assert after.version == finished.version + 1


def test_it_is_refused_where_it_cannot_be(made: Small) -> None:
    choose(made, 0)
    choose(made, 1)
    args = (made.caller, made.task_id, made.students[0])
    with pytest.raises(Stale, match="changed in another tab"):
        history.go_back(*args, 1, 1)
    for version in (0, 3, -1):
        with pytest.raises(NotFound, match="no such version"):
            history.go_back(*args, version, 2)
        with pytest.raises(NotFound, match="no such version"):
            history.version_beside(*args, version)
    rubric, ties = made.rubric_id, [[one] for one in made.outcomes]
    version = rubrics.get_rubric(made.caller, rubric).row.version
    begun = revisions.revise(made.caller, rubric, version)
    drafts = [draft("a", ties[0], 3), draft("b", ties[1])]
    saved = rubrics.save_draft(made.caller, rubric, begun.row.version, "Route card", drafts)
    revisions.apply_revision(made.caller, rubric, 2, saved.row.version, [made.task_id])
    with pytest.raises(Refused, match="under revision 1 of the rubric"):
        back(made, 1)
