"""Lists of outcomes: what is new, changed and gone, as one operation that can be taken back."""

from __future__ import annotations

from datetime import date

import pytest

from jade_ladder.core.errors import Refused, RefusedMany
from jade_ladder.formats.outcome_list import write_outcome_list
from jade_ladder.formats.table import decode, read_table
from jade_ladder.service.classes import classes
from jade_ladder.service.exchange import frameworks
from jade_ladder.service.exchange.framework_import import undo_framework_import
from jade_ladder.service.exchange.outcome_lists import import_outcome_list, preview_outcome_list
from jade_ladder.service.mastery import wall as mastery
from jade_ladder.service.outcomes import outcomes, strands
from jade_ladder.service.outcomes.outcomes import OutcomeWords
from jade_ladder.service.shared.caller import Teacher
from tests.builders import Small, everything, small


def words(made: Small) -> list[tuple[str, str, str, str | None, bool]]:
    found = outcomes.outcomes_of_class(made.caller, made.class_id)
    titles = {strand.id: strand.title for strand in found.strands}
    return sorted(
        (
            row.code,
            row.title,
            row.description,
            titles.get(row.strand_id or 0),
            row.active_until is None,
        )
        for row in found.outcomes
    )


def test_a_list_says_and_does_what_is_new_changed_and_gone_and_is_taken_back(
    caller: Teacher,
) -> None:
    made = small(caller)
    made.mark(made.students[0], 3, 3)
    retired = outcomes.add_outcome(caller, made.class_id, OutcomeWords("W9", "Old", "", None))
    outcomes.retire_outcome(caller, made.class_id, retired, True)
    before, wall = words(made), mastery.wall(caller, made.class_id).cells
    table = read_table("Code;Title;Strand\nw1;I can W1 well;Ways\nW3;I can W3;ways\nW9;Old;\n")
    preview = preview_outcome_list(caller, made.class_id, table)
    assert [str(read.status) for read in preview.lines] == ["changes", "new", "joins"]
    assert preview.was[2].title == "I can W1"
    assert [one.code for one in preview.gone] == ["W2"]
    assert preview.new_strands == ("Ways",)
    assert words(made) == before
    entry = import_outcome_list(caller, made.class_id, table, retire_gone=True).entry
    assert words(made) == [
        ("W1", "I can W1 well", "", "Ways", True),
        ("W2", "I can W2", "", None, False),
        ("W3", "I can W3", "", "Ways", True),
        ("W9", "Old", "", None, True),
    ]
    undo_framework_import(caller, made.class_id, entry)
    assert words(made) == before
    assert mastery.wall(caller, made.class_id).cells == wall


def test_what_goes_out_comes_in_without_a_change(caller: Teacher) -> None:
    made = small(caller)
    parent = strands.add_strand(caller, "Ways")
    nested = strands.add_strand(caller, "On the ground", parent)
    text = '=2+2, "quoted"\nand a line'
    outcomes.add_outcome(caller, made.class_id, OutcomeWords("N1", "-1 step", text, nested))
    table = read_table(
        decode(write_outcome_list(frameworks.class_framework(caller, made.class_id)))
    )
    before = everything(caller.database)
    preview = preview_outcome_list(caller, made.class_id, table)
    assert (preview.adding, preview.changing, preview.gone) == ([], [], ())
    with pytest.raises(Refused, match="there already"):
        import_outcome_list(caller, made.class_id, table)
    assert everything(caller.database) == before


@pytest.mark.parametrize(
    ("headings", "row", "expected"),
    [
        ("Code,Title", "N1,New title", ("N1", "New title", "Kept", "Ways", True)),
        ("Code,Title,Description", "N1,New title,", ("N1", "New title", "", "Ways", True)),
        ("Code,Title,Strand", "N1,New title,", ("N1", "New title", "Kept", None, True)),
    ],
)
def test_what_a_list_has_no_column_for_stays(
    caller: Teacher, headings: str, row: str, expected: tuple[object, ...]
) -> None:
    made = small(caller)
    strand = strands.add_strand(caller, "Ways")
    outcomes.add_outcome(caller, made.class_id, OutcomeWords("N1", "Title", "Kept", strand))
    import_outcome_list(caller, made.class_id, read_table(f"{headings}\n{row}\n"))
    assert words(made)[0] == expected


def test_a_line_with_a_problem_keeps_all_out(caller: Teacher) -> None:
    made = small(caller)
    before = everything(caller.database)
    table = read_table("Code,Title\nN1,New\nn1,Twice\nN2,\n")
    preview = preview_outcome_list(caller, made.class_id, table)
    assert [str(read.status) for read in preview.lines] == ["new", "problem", "problem"]
    with pytest.raises(RefusedMany) as refused:
        import_outcome_list(caller, made.class_id, table)
    assert [problem.field for problem in refused.value.problems] == ["line 3", "line 4"]
    assert everything(caller.database) == before


def test_evidence_stays_when_an_outcome_taught_elsewhere_is_changed(caller: Teacher) -> None:
    """It is the same outcome: its words are new in both classes."""
    made = small(caller)
    made.mark(made.students[0], 3, 3)
    other = classes.make_class(caller, "Other", date(2026, 9, 1), date(2027, 6, 1))
    outcomes.teach_outcomes(caller, other, [made.outcomes[0]])
    import_outcome_list(caller, made.class_id, read_table("Code,Title\nW1,Said anew\n"))
    rows = outcomes.outcomes_of_class(caller, other).outcomes
    assert [row.title for row in rows] == ["Said anew"]
    assert mastery.wall(caller, made.class_id).cells[1][0].mastery.value == 300
