"""The library of rubrics: tags, archiving, sharing, copies that fit a class."""

from __future__ import annotations

import pytest

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.service.classes import classes
from jade_ladder.service.outcomes import outcomes, scales
from jade_ladder.service.outcomes.outcomes import OutcomeWords
from jade_ladder.service.rubrics import library, rubrics
from jade_ladder.service.shared.caller import Teacher
from tests.builders import at, draft, everything, final_rubric, second_class, small
from tests.strategies import scale_of


def test_tags_are_kept_once_whatever_their_capitals(caller: Teacher) -> None:
    made = small(caller)
    library.set_tags(caller, made.rubric_id, [" Maps", "bearings", "maps ", ""])
    assert library.library(caller).tags == {made.rubric_id: ["bearings", "Maps"]}
    library.set_tags(caller, made.rubric_id, [])
    assert library.library(caller).tags == {}


@pytest.mark.parametrize("tags", [["x" * 41], [str(n) for n in range(13)]])
def test_too_many_or_too_long_tags_are_refused(caller: Teacher, tags: list[str]) -> None:
    made = small(caller)
    before = everything(caller.database)
    with pytest.raises(Refused) as refused:
        library.set_tags(caller, made.rubric_id, tags)
    assert refused.value.field == "tags"
    assert everything(caller.database) == before


def test_an_archived_rubric_goes_on_where_it_is_used_and_comes_back(caller: Teacher) -> None:
    made = small(caller)
    library.archive_rubric(caller, made.rubric_id, True)
    (row,) = library.library(caller).own
    assert row.archived_at == caller.now
    assert made.mark(made.students[0], 3, 3).finished
    library.archive_rubric(caller, made.rubric_id, False)
    (row,) = library.library(caller).own
    assert row.archived_at is None


def test_a_colleague_can_copy_a_shared_rubric_and_not_change_it(
    caller: Teacher, other_teacher: Teacher
) -> None:
    made = small(caller)
    class_id = classes.make_class(
        other_teacher, "Harbour Room", caller.now.date(), caller.now.date().replace(year=2027)
    )
    own = outcomes.add_outcome(other_teacher, class_id, OutcomeWords("w1", "Theirs", "", None))
    with pytest.raises(NotFound):
        library.copy_for_class(other_teacher, class_id, made.rubric_id)
    library.share_rubric(caller, made.rubric_id, True)
    (seen,) = library.library(other_teacher).shared
    assert (seen.title, seen.owner, seen.criteria) == ("Route card", "Ilse Varga", 2)
    for operation in (
        lambda: rubrics.get_rubric(other_teacher, made.rubric_id),
        lambda: rubrics.save_draft(other_teacher, made.rubric_id, 1, "Mine", []),
        lambda: library.share_rubric(other_teacher, made.rubric_id, False),
        lambda: library.set_tags(other_teacher, made.rubric_id, ["x"]),
        lambda: library.archive_rubric(other_teacher, made.rubric_id, True),
    ):
        with pytest.raises(NotFound):
            operation()
    number, fit = library.copy_for_class(other_teacher, class_id, made.rubric_id)
    assert (fit.taught, fit.matched, fit.unmatched) == ((), ("W1",), ("W2",))
    copy = rubrics.get_rubric(other_teacher, number)
    assert copy.row.title == "Route card"
    assert [[tie.outcome_id for tie in one.alignments] for one in copy.criteria] == [[own], [own]]
    # A draft, or an archived one, is not shown to colleagues.
    library.archive_rubric(caller, made.rubric_id, True)
    assert library.library(other_teacher).shared == ()


def test_a_copy_fits_the_outcomes_of_a_class_by_what_it_teaches_and_by_code(
    caller: Teacher,
) -> None:
    made = small(caller)
    other = second_class(caller, made)
    hand = final_rubric(
        caller, [draft("h", list(made.outcomes), hand=[None, 150, 250, 350])], "By hand"
    )
    outcomes.teach_outcomes(caller, other, [made.outcomes[0]])
    wide = scales.add_scale(
        caller, "Wide", scale_of([0, 500, 1000], scales.CutPreset.AT_THE_VALUE, 1)
    )
    scales.choose_class_scale(caller, other, 1, wide)
    own = outcomes.add_outcome(caller, other, OutcomeWords("W2", "Their own", "", None))
    before = everything(caller.database)
    fit = library.fit_rubric(caller, other, hand)
    assert (fit.taught, fit.matched, fit.unmatched) == (("W1",), ("W2",), ())
    assert everything(caller.database) == before
    number, _ = library.copy_for_class(at(caller, 1), other, hand)
    ((stored),) = rubrics.get_rubric(caller, number).criteria
    cells = {tie.outcome_id: [cell.value for cell in tie.map.cells] for tie in stored.alignments}
    assert cells == {
        made.outcomes[0]: [None, 150, 250, 350],
        # 1.50, 2.50 and 3.50 of 1 to 4 keep their places between 0 and 10.
        own: [None, 167, 500, 833],
    }
