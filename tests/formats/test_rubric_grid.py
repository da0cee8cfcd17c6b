"""Grids pasted from spreadsheets and word processors, read as rubrics."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jade_ladder.core.errors import Refused
from jade_ladder.formats.grid import Grid, grid_of
from jade_ladder.formats.rubric_grid import RubricGrid, read_rubric_grid

PLAIN = "\tWeak\tSound\tStrong\nReads contours\tGuesses\tReads\tExplains\nPlots\tOff\tNear\tOn\n"


def read(text: str, **how: bool) -> RubricGrid:
    return read_rubric_grid(grid_of(text), **how)


def levels(grid: RubricGrid, row: int = 0) -> list[tuple[str, int, str]]:
    return [(one.name, one.points, one.descriptor) for one in grid.criteria[row].levels]


def test_a_grid_from_a_spreadsheet_becomes_criteria_and_levels() -> None:
    grid = read(PLAIN)
    assert [one.title for one in grid.criteria] == ["Reads contours", "Plots"]
    assert levels(grid) == [
        ("Weak", 100, "Guesses"),
        ("Sound", 200, "Reads"),
        ("Strong", 300, "Explains"),
    ]
    assert (grid.levels_in_first_row, grid.best_first, grid.notes) == (True, False, ())


HEADS: dict[str, list[tuple[str, int]]] = {
    "Strong (4)\tSound (2,5)\tWeak (0)": [("Weak", 0), ("Sound", 250), ("Strong", 400)],
    "4 – Strong\t3 – Sound\t1 – Weak": [("Weak", 100), ("Sound", 300), ("Strong", 400)],
    "1 point: Weak\t2 points: Sound\t3 points: Strong": [
        ("Weak", 100),
        ("Sound", 200),
        ("Strong", 300),
    ],
    "Weak 1 pt\tSound 2 pts\tStrong 3 pts": [("Weak", 100), ("Sound", 200), ("Strong", 300)],
    "Level 1\tLevel 2\tLevel 3": [("Level 1", 100), ("Level 2", 200), ("Level 3", 300)],
    "1\t2\t3": [("1", 100), ("2", 200), ("3", 300)],
    "Weak\tSound\tStrong": [("Weak", 100), ("Sound", 200), ("Strong", 300)],
}


@pytest.mark.parametrize("heads", HEADS)
def test_points_in_the_headings_are_read_and_tell_which_end_is_best(heads: str) -> None:
    grid = read(f"Criterion\t{heads}\nPlots\ta\tb\tc\n")
    assert [(name, points) for name, points, _ in levels(grid)] == HEADS[heads]


def test_it_can_be_said_how_a_grid_is_to_be_read() -> None:
    grid = read(PLAIN, best_first=True)
    assert levels(grid)[0] == ("Strong", 100, "Explains")
    grid = read(PLAIN, levels_in_first_row=False)
    assert [one.title for one in grid.criteria] == ["", "Reads contours", "Plots"]
    assert levels(grid, 1)[0] == ("Level 1", 100, "Guesses")
    assert not read("Plots\toff\ton\nReads\tno\tyes\n").levels_in_first_row


def test_a_column_of_weights_is_taken_as_weights() -> None:
    grid = read("Criterion\tWeight\tWeak\tStrong\nPlots\t40%\toff\ton\nReads\t60\tno\tyes\n")
    assert [one.weight for one in grid.criteria] == [4000, 6000]
    assert [one.name for one in grid.criteria[0].levels] == ["Weak", "Strong"]


def test_a_short_row_is_filled_with_blanks_and_told_and_a_long_one_refused() -> None:
    grid = read("\tWeak\tStrong\nPlots\toff\n")
    assert levels(grid) == [("Weak", 100, "off"), ("Strong", 200, "")]
    assert grid.notes == ("Row 2 is short: the rest of it is left blank",)
    with pytest.raises(Refused, match="Row 2 has 4 cells, but there are 2 levels"):
        read("\tWeak\tStrong\nPlots\toff\ton\tbeyond\n")


TABLE = """<html><style>td {color: red}</style><table><tr><th></th><th>Weak</th>
<th>Strong</th></tr><tr><td>Plots<br>a leg</td><td><p>Is off</p><p>by far</p></td>
<td colspan="1">On it</td></tr>{more}</table><p>after</p></html>"""


def test_a_table_from_a_word_processor_is_read_with_its_lines() -> None:
    grid = read(TABLE.replace("{more}", ""))
    assert [one.title for one in grid.criteria] == ["Plots a leg"]
    assert levels(grid) == [("Weak", 100, "Is off\nby far"), ("Strong", 200, "On it")]
    assert grid.text == '\tWeak\tStrong\n"Plots\na leg"\t"Is off\nby far"\tOn it\n'
    assert read(grid.text).criteria == grid.criteria


def test_merged_cells_are_taken_apart_and_told() -> None:
    rows = (
        '<tr><td rowspan="2">Reads</td><td colspan="2">Half</td></tr><tr><td>a</td><td>b</td></tr>'
    )
    grid = read(TABLE.replace("{more}", rows))
    assert [one.title for one in grid.criteria] == ["Plots a leg", "Reads", ""]
    assert [text for _, _, text in levels(grid, 1)] == ["Half", ""]
    assert [text for _, _, text in levels(grid, 2)] == ["a", "b"]
    assert grid.notes[0].startswith("2 merged cells were taken apart")


REFUSED = {
    "": "no grid",
    "just words": "no grid",
    "one\ncolumn\nonly\n": "no grid",
    "<table></table>": "no grid",
    "\tWeak\tStrong\n": "only a row of level names",
    "a\tb\n": "this grid has 1 columns",
    "\t".join(["x"] * 12): "this grid has 11 columns",
    "\n".join(["a\tb\tc"] * 121): "more than 120 rows",
}


@pytest.mark.parametrize("text", REFUSED)
def test_what_is_no_rubric_is_refused_with_what_is_wrong(text: str) -> None:
    with pytest.raises(Refused, match=REFUSED[text]):
        read(text)


cells = st.text(
    st.characters(codec="utf-8", exclude_categories=["Cc", "Cs", "Zs", "Zl", "Zp"]), max_size=6
)


@given(st.lists(st.lists(cells, min_size=2, max_size=6), min_size=1, max_size=6))
@settings(max_examples=150)
def test_any_grid_written_as_text_is_the_same_grid(rows: list[list[str]]) -> None:
    full = tuple(tuple(row) for row in rows if any(row))
    if full:
        assert grid_of(Grid(full).text).rows == full


@given(
    st.text(max_size=300) | st.text(alphabet='<>/tabledhr ="0123456789cospanw\t\n', max_size=300)
)
@settings(max_examples=300)
def test_hostile_text_is_read_or_refused(text: str) -> None:
    try:
        grid = read(f"<table>{text}" if "<" in text else text)
    except Refused:
        return
    assert all(2 <= len(one.levels) <= 10 for one in grid.criteria)


@pytest.mark.parametrize(
    ("text", "headed"),
    [
        ("Art\tStark\tSchwach\nRechnet\tRechnet ohne Fehler\tRechnet mit Fehlern\n", True),
        ("Work\tStrong (2)\tWeak (1)\nCounts\tgood\tbad\n", True),
        ("Counts\tgood\tbad\nDraws\tgood\tbad\n", False),
        ("Counts\tCounts without a mistake\tCounts with many\nDraws\tgood\tbad\n", False),
    ],
)
def test_a_heading_row_is_seen_without_a_known_corner(text: str, headed: bool) -> None:
    assert len(read(text).criteria) == (1 if headed else 2)
