"""Tables as teachers have them: separators, encodings, headings, hostile cells."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jade_ladder.core.errors import Refused
from jade_ladder.formats.class_list import read_class_list, split_name
from jade_ladder.formats.outcome_list import read_outcome_list
from jade_ladder.formats.table import decode, read_table

HEADED = "Given name{0}Family name{0}Identifier\nRūta{0}Jankauskė{0}T909\n"


@pytest.mark.parametrize("separator", [",", ";", "\t", "|"])
@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16"])
def test_separators_and_encodings(separator: str, encoding: str) -> None:
    content = HEADED.format(separator).encode(encoding)
    _, (line,) = read_class_list(read_table(decode(content)))
    assert (line.name, line.identifier, line.number) == ("Rūta Jankauskė", "T909", 2)


def test_an_old_windows_file_is_read() -> None:
    content = "Name;E-Mail\nOdhrán Uasal;odhran@tern.example\n".encode("cp1252")
    _, (line,) = read_class_list(read_table(decode(content)))
    assert (line.given_name, line.family_name, line.email) == (
        "Odhrán",
        "Uasal",
        "odhran@tern.example",
    )


@pytest.mark.parametrize(
    "content",
    [
        b"PK\x03\x04rest of a spreadsheet",
        b"\x89PNG\r\n\x1a\n\0\0",
        b"a\0b,c\0d",
        b"\xff\xfea",
        b"x" * 2_000_001,
    ],
)
def test_what_is_no_text_is_refused_with_the_way_out(content: bytes) -> None:
    with pytest.raises(Refused) as refused:
        decode(content)
    assert refused.value.field == "file"


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "nothing in it"),
        ("\n\n  \n", "nothing in it"),
        ("Name,ID\n", "only one line"),
        ('Name,ID\n"torn,1\n', "Line 2"),
        ("Name\n" + "x\n" * 5001, "More than 5000"),
        ("Colour,Size\nred,3\n", "No column is headed"),
    ],
)
def test_what_is_no_class_list_is_refused(text: str, says: str) -> None:
    with pytest.raises(Refused, match=says):
        read_class_list(read_table(text))


@pytest.mark.parametrize(
    ("row", "problem", "field"),
    [
        ("Eirik,Solheim,T1,eirik@tern.example", "", ""),
        (",Solheim,,", "", ""),
        (",,T1,", "There is no name", "given_name"),
        ("Eirik,Solheim,T1,eirik", "“eirik” is not an e-mail", "email"),
        ("Eirik,Solheim,T1,@", "“@” is not an e-mail", "email"),
        ("E" * 121 + ",Solheim,,", "More than 120 characters", "given_name"),
        ("Eirik", "", ""),
    ],
)
def test_each_line_says_what_is_wrong_with_it(row: str, problem: str, field: str) -> None:
    table = read_table(f"Given name,Family name,ID,E-mail\n{row}\n")
    _, (line,) = read_class_list(table)
    assert (line.problem, line.field) == (problem, field)


def test_columns_can_be_chosen_over_the_headings() -> None:
    table = read_table("Given name,Called,Family name\nWilhelmina,Mina,Abara\n")
    found, (line,) = read_class_list(table, {"given_name": "Called"})
    assert line.given_name == "Mina"
    assert found == {"given_name": "Called", "family_name": "Family name"}


@pytest.mark.parametrize(
    ("name", "parts"),
    [
        ("Solheim, Eirik", ("Eirik", "Solheim")),
        ("Thị Mai Phan", ("Thị Mai", "Phan")),
        ("Noor", ("Noor", "")),
        ("", ("", "")),
    ],
)
def test_a_whole_name_is_split(name: str, parts: tuple[str, str]) -> None:
    assert split_name(name) == parts


def test_line_numbers_count_lines_of_the_file_and_not_rows() -> None:
    text = 'Code,Title,Description\nW1,Plot,"one\ntwo"\n\nW2,,\n'
    _, lines = read_outcome_list(read_table(text))
    assert [line.number for line in lines] == [2, 5]
    assert lines[1].problem == "The title is missing"


def test_a_cell_guarded_against_formulas_is_itself_again() -> None:
    _, (line,) = read_outcome_list(read_table("Code,Title\n'=W1,'tis noted\n"))
    assert (line.code, line.title) == ("=W1", "'tis noted")


@given(st.text(max_size=300))
def test_any_text_is_read_or_refused(text: str) -> None:
    try:
        table = read_table(text)
    except Refused:
        return
    assert table.rows
