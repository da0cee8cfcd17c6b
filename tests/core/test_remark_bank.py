"""The remark bank: names become fields, and fields names."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jade_ladder.core.errors import Refused
from jade_ladder.core.names import folded
from jade_ladder.core.remark_bank import FullName, check_fields, filled, with_fields

OWN = FullName("Thị Mai", "Phan")
OTHERS = [
    FullName("Goran", "Petrov"),
    FullName("An", "Lê"),
    FullName("Jean-Luc", "de Vries"),
    FullName("Mark", "Phan"),
    FullName("", "Ōta"),
]


@pytest.mark.parametrize(
    ("text", "kept"),
    [
        ("Thị Mai, name the quay", "{given name}, name the quay"),
        ("thi mai names it", "{given name} names it"),
        ("Mai names it", "{given name} names it"),
        ("Well seen, Thị Mai Phan!", "Well seen, {name}!"),
        ("PHAN Thị Mai: again", "{name}: again"),
        ("Phan’s map", "{family name}’s map"),
        ("As Goran did", "As {another student} did"),
        ("as gorán petrov did", "as {another student} did"),
        ("with Goran's and Jean Luc’s", "with {another student}'s and {another student}’s"),
        ("Work with Vries", "Work with {another student}"),
        # Names of up to three letters are found as they are written.
        ("An says so, and an island is one", "{another student} says so, and an island is one"),
        ("Ōta and ota", "{another student} and ota"),
        # Whole words only.
        ("The Phantom of Gorania", "The Phantom of Gorania"),
        ("{given name} is told so", "{given name} is told so"),
        ("{another student} and Goran", "{another student} and {another student}"),
        ("", ""),
    ],
)
def test_names_become_fields(text: str, kept: str) -> None:
    assert with_fields(text, OWN, OTHERS) == kept
    assert with_fields(kept, OWN, OTHERS) == kept, "and stay fields"


@pytest.mark.parametrize(
    ("text", "reads"),
    [
        ("{given name}, name it", "Goran, name it"),
        ("{name} and {another student}: {family name}", "Goran Petrov and …: Petrov"),
        ("{shoe size}", "{shoe size}"),
        ("{}", "{}"),
    ],
)
def test_fields_are_filled_for_a_student(text: str, reads: str) -> None:
    assert filled(text, FullName("Goran", "Petrov")) == reads


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("{shoe size} fits", r"There is no field \{shoe size\}: there are \{given name\}"),
        ("{Given Name}!", "There is no field"),
        ("ab", "At least 3"),
        ("x" * 5001, "At most 5000"),
    ],
)
def test_what_the_bank_does_not_take_is_refused(text: str, says: str) -> None:
    with pytest.raises(Refused, match=says):
        check_fields(text)


LETTERS = st.text("abéøŁmnotř", min_size=4, max_size=7).map(str.capitalize)
NAMES = st.builds(FullName, LETTERS, LETTERS)


@given(
    st.lists(NAMES, min_size=1, max_size=4),
    NAMES,
    st.lists(st.sampled_from(["the", "old", "quay.", "(again)", "–", "map"]), max_size=4),
    st.data(),
)
def test_no_name_of_the_class_is_left_however_it_is_written(
    others: list[FullName], own: FullName, words: list[str], data: st.DataObject
) -> None:
    """In any case, without accents, alone or together, anywhere in a text."""
    everybody = [*others, own]
    names = [name for one in everybody for name in (one.given, one.family)]
    written = data.draw(
        st.lists(
            st.builds(
                lambda name, how: how(name),
                st.sampled_from(names),
                st.sampled_from([str, str.lower, str.upper, folded]),
            ),
            min_size=1,
            max_size=4,
        )
    )
    text = " ".join(data.draw(st.permutations([*written, *words])))
    left = folded(with_fields(text, own, others))
    for name in names:
        assert folded(name) not in left.split()
    for word in words:
        assert word in left
