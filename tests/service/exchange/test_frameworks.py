"""Frameworks imported into a class: compared, applied as one operation, and undone."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.formats.case import Framework, FrameworkOutcome, FrameworkStrand
from jade_ladder.formats.case_in import read_framework
from jade_ladder.formats.case_out import write_framework
from jade_ladder.service.classes import classes
from jade_ladder.service.classes import teachers as class_teachers
from jade_ladder.service.exchange import framework_import, frameworks
from jade_ladder.service.mastery import wall as mastery
from jade_ladder.service.outcomes import outcomes, strands
from jade_ladder.service.outcomes.outcomes import OutcomeWords
from jade_ladder.service.people.accounts import NewTeacher, make_first_teacher
from jade_ladder.service.rubrics import rubrics
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.store.shared.connection import Database
from tests import strategies
from tests.builders import Small, at, draft, everything, final_rubric, second_class, small, undone
from tests.conftest import NOW


def written_and_read(caller: Teacher, class_id: int) -> Framework:
    return read_framework(write_framework(frameworks.class_framework(caller, class_id), NOW))


def other_school(path: Path) -> Teacher:
    """A teacher of a new school."""
    database = Database(path / "other.sqlite3")
    teacher = NewTeacher("Noa", "Lind", "noa@gull.example", "a long password")
    number = make_first_teacher(database, "Other School", "UTC", teacher)
    return Teacher(database, number, NOW)


def test_a_class_goes_to_another_school_with_its_rubrics_and_alignments(
    caller: Teacher, tmp_path: Path
) -> None:
    made = small(caller)
    strand_id = strands.add_strand(caller, "Finding the way")
    outcomes.place_outcome(caller, made.class_id, made.outcomes[1], strand_id, None)
    sent = written_and_read(caller, made.class_id)
    other = other_school(tmp_path)
    class_id = classes.make_class(other, "Room", NOW.date(), NOW.date().replace(year=2027))
    framework_import.import_framework(other, class_id, sent)
    arrived = frameworks.class_framework(other, class_id)
    assert (arrived.strands, arrived.outcomes, arrived.rubrics, arrived.scales) == (
        sent.strands,
        sent.outcomes,
        sent.rubrics,
        sent.scales,
    )
    other.database.close()


@given(strategies.frameworks())
@settings(max_examples=25, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_what_is_imported_is_what_goes_out_and_undone_leaves_nothing(
    caller: Teacher, framework: Framework
) -> None:
    """Whatever the framework: outcomes, rubrics, alignments; once more it changes nothing."""
    with undone(caller.database):
        class_id = classes.make_class(caller, "Room", NOW.date(), NOW.date().replace(year=2027))
        before = dump(caller)
        titles = [strand.title.casefold() for strand in framework.strands]
        entry = framework_import.import_framework(caller, class_id, framework)
        found = frameworks.class_framework(caller, class_id)
        assert {one.guid: one for one in found.outcomes}.keys() == {
            one.guid for one in framework.outcomes
        }
        if len(set(titles)) == len(titles):
            assert set(found.outcomes) == set(framework.outcomes)
        aligned = {one.guid: one for one in found.rubrics}
        for rubric in framework.rubrics:
            if any(ties for _, ties in rubric.criteria):
                assert aligned[rubric.guid] == rubric
        again = frameworks.compare_framework(caller, class_id, framework)
        assert (again.new, again.joining, again.gone, again.new_rubrics) == ((), (), (), ())
        kept = framework_import.undo_framework_import(caller, class_id, entry)
        assert (kept.outcomes_kept, kept.rubrics_kept) == (0, 0)
        assert dump(caller) == before


def dump(caller: Teacher) -> str:
    """All rows but the log and the counters, as the present transaction sees them."""
    with caller.reading() as db:
        return "\n".join(
            line for line in db.iterdump() if '"log"' not in line and "LOG" not in line
        )


def framework_of(made: Small, caller: Teacher, **changes: object) -> Framework:
    found = frameworks.class_framework(caller, made.class_id)
    return replace(found, rubrics=(), **changes)  # type: ignore[arg-type]


def test_new_changed_same_and_gone_are_told_and_applied(caller: Teacher) -> None:
    made = small(caller)
    now = framework_of(made, caller)
    first = replace(now.outcomes[0], title="I can follow a bearing", description="Outside")
    new = FrameworkOutcome("11111111-1111-4111-8111-111111111111", "N1", "New", "", "s")
    sent = replace(now, outcomes=(first, new), strands=(FrameworkStrand("s", "Weather"),))
    told = frameworks.compare_framework(caller, made.class_id, sent)
    assert [one.code for one in told.new] == ["N1"]
    assert [(one.was.title, one.now.title) for one in told.changed] == [
        ("I can W1", "I can follow a bearing")
    ]
    assert (told.same, [one.code for one in told.gone]) == (0, ["W2"])
    assert [one.title for one in told.new_strands] == ["Weather"]
    made.mark(made.students[0], 3, 3)
    entry = framework_import.import_framework(caller, made.class_id, sent, retire_gone=True)
    wall = mastery.wall(at(caller, 1), made.class_id)
    assert [one.title for one in wall.outcomes] == ["New", "I can follow a bearing"]
    assert wall.cells[1][1].mastery.value == 300
    kept = framework_import.undo_framework_import(caller, made.class_id, entry)
    assert kept.outcomes_kept == 0
    rows = outcomes.outcomes_of_class(caller, made.class_id).outcomes
    assert [(row.title, row.active_until) for row in rows] == [
        ("I can W1", None),
        ("I can W2", None),
    ]
    assert [row.title for row in strands.strands(caller)] == []
    with pytest.raises(Refused, match="undone already"):
        framework_import.undo_framework_import(caller, made.class_id, entry)


def test_an_outcome_typed_before_is_known_by_its_code_and_keeps_its_evidence(
    caller: Teacher,
) -> None:
    made = small(caller)
    made.mark(made.students[0], 3, 3)
    sent = Framework(
        "d", "District", "", (), (FrameworkOutcome("other-guid", "w1", "The official words"),)
    )
    told = frameworks.compare_framework(caller, made.class_id, sent)
    assert (len(told.new), len(told.changed), told.gone) == (0, 1, ())
    framework_import.import_framework(caller, made.class_id, sent)
    wall = mastery.wall(at(caller, 1), made.class_id)
    assert wall.outcomes[0].title == "The official words"
    assert wall.cells[1][0].mastery.value == 300


def test_a_framework_gives_no_class_a_code_twice(caller: Teacher) -> None:
    made = small(caller)
    now = framework_of(made, caller)
    first, second = now.outcomes

    def codes() -> list[str]:
        return [row.code for row in outcomes.outcomes_of_class(caller, made.class_id).outcomes]

    # Two may change codes with each other, and again when that is undone.
    swapped = replace(now, outcomes=(replace(first, code="W2"), replace(second, code="W1")))
    entry = framework_import.import_framework(caller, made.class_id, swapped)
    assert codes() == ["W2", "W1"]
    assert framework_import.undo_framework_import(caller, made.class_id, entry).outcomes_kept == 0
    assert codes() == ["W1", "W2"]
    # One may not take the code of another that stays, here or where both are taught.
    taking = replace(now, outcomes=(replace(first, code="w2"),))
    with pytest.raises(Refused, match="W2 is the code of “I can W2” already") as refused:
        frameworks.compare_framework(caller, made.class_id, taking)
    assert refused.value.field == "file"
    other = second_class(caller, made)
    outcomes.teach_outcomes(caller, other, [made.outcomes[0]])
    outcomes.add_outcome(caller, other, OutcomeWords("R1", "Mine", "", None))
    taking = replace(now, outcomes=(replace(first, code="R1"), second))
    with pytest.raises(Refused, match="R1 is the code of “Mine” already, in"):
        framework_import.import_framework(caller, made.class_id, taking)
    # A code that was taken since stays with who has it.
    renamed = replace(now, outcomes=(replace(first, code="N1"), second))
    entry = framework_import.import_framework(caller, made.class_id, renamed)
    outcomes.add_outcome(caller, made.class_id, OutcomeWords("W1", "Another", "", None))
    assert framework_import.undo_framework_import(caller, made.class_id, entry).outcomes_kept == 1
    assert codes() == ["N1", "W2", "W1"]


def test_what_was_used_since_is_kept_when_a_framework_is_taken_back(caller: Teacher) -> None:
    made = small(caller)
    sent = framework_of(made, caller, guid="elsewhere")
    other = second_class(caller, made)
    new = FrameworkOutcome("11111111-1111-4111-8111-111111111111", "N1", "New")
    entry = framework_import.import_framework(
        caller, other, replace(sent, outcomes=(*sent.outcomes, new))
    )
    rows = {row.code: row for row in outcomes.outcomes_of_class(caller, other).outcomes}
    assert rows.keys() == {"W1", "W2", "N1"}
    assert rows["W1"].id == made.outcomes[0]
    outcomes.change_outcome(caller, other, rows["W2"].id, OutcomeWords("W2", "Mine", "", None))
    final_rubric(caller, [draft("q", [rows["N1"].id])], "Uses it")
    kept = framework_import.undo_framework_import(caller, other, entry)
    assert kept.outcomes_kept == 2
    codes = [row.code for row in outcomes.outcomes_of_class(caller, other).outcomes]
    assert codes == ["N1"]
    here = outcomes.outcomes_of_class(caller, made.class_id).outcomes
    assert [row.title for row in here] == ["I can W1", "Mine"]


def test_a_framework_is_taken_back_only_by_who_brought_it_in_and_where(
    caller: Teacher, other_teacher: Teacher
) -> None:
    made = small(caller)
    other = second_class(caller, made)
    entry = framework_import.import_framework(caller, made.class_id, framework_of(made, caller))
    before = everything(caller.database)
    for who, where in ((other_teacher, made.class_id), (caller, other), (caller, 999)):
        with pytest.raises(NotFound):
            framework_import.undo_framework_import(who, where, entry)
    assert everything(caller.database) == before


def test_a_rubric_comes_as_a_draft_that_can_be_made_final(caller: Teacher) -> None:
    made = small(caller)
    sent = frameworks.class_framework(caller, made.class_id)
    coming = tuple(replace(one, guid=f"new-{one.guid}") for one in sent.rubrics)
    framework_import.import_framework(caller, made.class_id, replace(sent, rubrics=coming))
    new = max(rubrics.rubrics(caller), key=lambda row: row.id)
    assert new.final_at is None
    assert rubrics.make_final(caller, new.id, new.version).missing == ()


def test_what_a_colleague_or_the_school_has_in_a_shared_class_is_known_and_keeps_its_words(
    caller: Teacher, other_teacher: Teacher
) -> None:
    made = small(caller)
    strand_id = strands.add_strand(caller, "Finding the way")
    outcomes.place_outcome(caller, made.class_id, made.outcomes[1], strand_id, None)
    outcomes.set_schools_outcome(caller, made.class_id, made.outcomes[0], True)
    class_teachers.add_class_teacher(caller, made.class_id, other_teacher.person_id)
    # A colleague's rubric and strand are in what they export, by the same identifiers; a copy of
    # the rubric is made once.
    sent = written_and_read(other_teacher, made.class_id)
    own = written_and_read(caller, made.class_id)
    assert (sent.strands, sent.outcomes, sent.rubrics) == (own.strands, own.outcomes, own.rubrics)
    assert len(frameworks.compare_framework(other_teacher, made.class_id, sent).new_rubrics) == 1
    framework_import.import_framework(other_teacher, made.class_id, sent)
    assert frameworks.compare_framework(other_teacher, made.class_id, sent).new_rubrics == ()
    before = outcomes.outcomes_of_class(caller, made.class_id).outcomes
    other_words = tuple(replace(one, title=f"{one.title} well") for one in sent.outcomes)
    changed = replace(sent, outcomes=other_words, rubrics=())
    found = frameworks.compare_framework(other_teacher, made.class_id, changed)
    assert (len(found.new), len(found.changed), len(found.kept), found.same) == (0, 0, 2, 0)
    framework_import.import_framework(other_teacher, made.class_id, changed)
    assert outcomes.outcomes_of_class(caller, made.class_id).outcomes == before
    # Whose they are changes them.
    found = frameworks.compare_framework(caller, made.class_id, changed)
    assert (len(found.new), len(found.changed), len(found.kept)) == (0, 2, 0)


def test_what_an_import_brought_back_is_retired_again_from_its_own_day(caller: Teacher) -> None:
    made = small(at(caller, -10))
    sent = written_and_read(caller, made.class_id)
    outcomes.retire_outcome(at(caller, -5), made.class_id, made.outcomes[0], True)
    before = outcomes.outcomes_of_class(caller, made.class_id).outcomes
    entry = framework_import.import_framework(caller, made.class_id, sent)
    assert outcomes.outcomes_of_class(caller, made.class_id).outcomes != before
    framework_import.undo_framework_import(caller, made.class_id, entry)
    assert [
        one.active_until for one in outcomes.outcomes_of_class(caller, made.class_id).outcomes
    ] == [one.active_until for one in before]
