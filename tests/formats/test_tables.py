"""Tables as teachers have them: separators, encodings, headings, hostile cells."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jade_ladder.core.errors import Refused
from jade_ladder.formats.class_list import read_class_list, split_name
from jade_ladder.formats.outcome_list import read_outcome_list
from jade_ladder.formats.table import Choices, decode, read_table

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
        ("Name\n" + "x\n" * 5012, "More than 5000"),
        (",".join(["Name"] * 101) + "\nBo Lund\n", "More than 100 columns"),
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
    read, (line,) = read_class_list(table, Choices({"given_name": "Called"}))
    assert line.given_name == "Mina"
    assert read.taken == {"given_name": "Called", "family_name": "Family name"}
    # An empty heading says that there is none.
    read, (line,) = read_class_list(table, Choices({"given_name": ""}))
    assert (line.given_name, line.family_name) == ("", "Abara")


@pytest.mark.parametrize(
    ("headings", "row", "name", "identifier"),
    [
        ("Nachname;Rufname;Matrikel", "Özdemir;Bo;7", ("Bo", "Özdemir"), "7"),
        ("Name;Vorname", "Lund;Bo", ("Bo", "Lund"), ""),
        ("Nom,Prénom,Matricule", "Lund,Bo,7", ("Bo", "Lund"), "7"),
        ("Nom,Courriel", "Bo Lund,bo@tern.example", ("Bo", "Lund"), ""),
        ("Nombre,Apellidos", "Bo,Lund Ibarra", ("Bo", "Lund Ibarra"), ""),
        ("Cognome,Nome", "Lund,Bo", ("Bo", "Lund"), ""),
        ("Förnamn,Efternamn,E-post", "Bo,Lund,bo@tern.example", ("Bo", "Lund"), ""),
        ("Imię;Nazwisko;Numer", "Bo;Lund;7", ("Bo", "Lund"), "7"),
        ("Soyadı,Adı,Öğrenci no", "Lund,Bo,7", ("Bo", "Lund"), "7"),
        ("Фамилия,Имя", "Lund,Bo", ("Bo", "Lund"), ""),
        ("Nachname, Vorname\tNr.", "Lund, Bo\t7", ("Bo", "Lund"), "7"),
        ("First and Last Name;No", "Bo Lund;7", ("Bo", "Lund"), "7"),
        ("STUDENT ID,Full Name", "7,Bo Lund", ("Bo", "Lund"), "7"),
    ],
)
def test_headings_of_many_languages(
    headings: str, row: str, name: tuple[str, str], identifier: str
) -> None:
    _, (line,) = read_class_list(read_table(f"{headings}\n{row}\n"))
    assert (line.given_name, line.family_name, line.identifier) == (*name, identifier)


def test_unknown_headings_are_offered_with_their_first_values() -> None:
    table = read_table("Colour,Who,Who\nred,Bo Lund,7\n,Kai Nord,8\n")
    read, lines = read_class_list(table)
    assert (read.needed, lines) == ("Choose the column that holds the names", [])
    assert read.headings == ("Colour", "Who", "Who (2)")
    assert read.samples == (("red",), ("Bo Lund", "Kai Nord"), ("7", "8"))
    read, lines = read_class_list(table, Choices({"name": "Who", "identifier": "Who (2)"}))
    assert [(one.name, one.identifier) for one in lines] == [("Bo Lund", "7"), ("Kai Nord", "8")]
    read, lines = read_outcome_list(table, Choices({"code": "Colour"}))
    assert (read.needed, lines) == ("Choose the column that holds the titles", [])


@pytest.mark.parametrize(
    ("text", "above", "numbers"),
    [
        ("Class 9 B;;\n;;\nName;ID;\nBo Lund;7;\n", ("Class 9 B",), [4]),
        (
            "Winds;1 September\nName;ID\nBo Lund;7\n",
            ("Winds 1 September",),
            [3],
        ),
        ("Name;ID\nName;7\n", (), [2]),
    ],
)
def test_titles_above_the_headings_are_passed_over(
    text: str, above: tuple[str, ...], numbers: list[int]
) -> None:
    read, lines = read_class_list(read_table(text))
    assert (read.above, [line.number for line in lines]) == (above, numbers)


def test_a_list_without_headings_has_columns_by_letter() -> None:
    table = read_table("Bo Lund,7\nKai Nord,8\n")
    choices = Choices({"name": "Column A", "identifier": "Column B"}, headed=False)
    read, lines = read_class_list(table, choices)
    assert read.headings == ("Column A", "Column B")
    assert [line.name for line in lines] == ["Bo Lund", "Kai Nord"]


def test_more_cells_than_headings_are_a_problem_until_the_line_is_mended() -> None:
    """An unquoted comma in a name would cut it without a word."""
    table = read_table("Name,ID\nOkafor, Chidi,7\nLund,8,,\n")
    _, (bad, good) = read_class_list(table)
    assert "3 cells under 2 headings" in bad.problem
    assert (good.problem, good.name) == ("", "Lund")
    mended = {2: {"given_name": "Chidi", "family_name": "Okafor", "identifier": "7"}}
    _, (line, _) = read_class_list(table, Choices(mended=mended))
    assert (line.problem, line.name, line.identifier) == ("", "Chidi Okafor", "7")


@pytest.mark.parametrize(
    ("name", "order", "parts"),
    [
        ("Solheim, Eirik", "", ("Eirik", "Solheim")),
        ("Thị Mai Phan", "", ("Thị Mai", "Phan")),
        ("Phan Thị Mai", "family-first", ("Thị Mai", "Phan")),
        ("Solheim, Eirik", "given-first", ("Eirik", "Solheim")),
        ("Noor", "", ("Noor", "")),
        ("", "family-first", ("", "")),
    ],
)
def test_a_whole_name_is_split(name: str, order: str, parts: tuple[str, str]) -> None:
    assert split_name(name, order) == parts


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
