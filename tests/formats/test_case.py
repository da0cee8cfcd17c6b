"""CASE packages: what is written is read again, a stranger's is read, a bad one is refused."""

from __future__ import annotations

import json
from datetime import UTC, datetime
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jade_ladder.core.errors import Refused, RefusedMany
from jade_ladder.formats.case import Framework
from jade_ladder.formats.case_in import read_framework
from jade_ladder.formats.case_out import write_framework
from jade_ladder.formats.outcome_list import read_outcome_list, write_outcome_list
from jade_ladder.formats.table import decode, read_table
from tests.strategies import frameworks

NOW = datetime(2026, 11, 25, 12, 0, tzinfo=UTC)


@given(frameworks())
@settings(max_examples=60)
def test_what_is_written_is_read_again(framework: Framework) -> None:
    content = write_framework(framework, NOW)
    assert read_framework(content) == framework
    assert write_framework(read_framework(content), NOW) == content


@given(frameworks())
@settings(max_examples=30)
def test_outcomes_as_csv_are_read_again(framework: Framework) -> None:
    _, lines = read_outcome_list(read_table(decode(write_outcome_list(framework))))
    titles = {strand.guid: strand.title for strand in framework.strands}
    assert [(line.code, line.title, line.description, line.strand) for line in lines] == [
        (one.code, one.title, one.description, titles.get(one.strand or "", ""))
        for one in framework.outcomes
    ]


def item(number: int, **more: object) -> dict[str, Any]:
    identifier = f"00000000-0000-4000-8000-{number:012d}"
    return {"identifier": identifier, "fullStatement": f"Statement {number}", **more}


def child(number: int, of: int | str, sequence: int | None = None) -> dict[str, Any]:
    parent = of if isinstance(of, str) else item(of)["identifier"]
    found = {
        "associationType": "isChildOf",
        "originNodeURI": {"identifier": item(number)["identifier"]},
        "destinationNodeURI": {"identifier": parent},
    }
    return found if sequence is None else {**found, "sequenceNumber": sequence}


def package(
    items: list[dict[str, Any]], associations: list[dict[str, Any]], **more: object
) -> bytes:
    document = {"identifier": "doc", "title": "Framework", "creator": "A district"}
    written = {"CFDocument": document, "CFItems": items, "CFAssociations": associations, **more}
    return json.dumps(written).encode()


def test_a_package_by_hand_from_the_data_model_of_the_standard_is_read() -> None:
    """As the standard's data model has it: a document, a tree of items with sequence numbers, and
    a rubric whose criterion names one item and whose levels have quality, score and position.
    """
    items = [
        item(1, abbreviatedStatement="Finding the way"),
        item(2, abbreviatedStatement="By compass"),
        item(3, humanCodingScheme="W.1", fullStatement="Plot and follow a bearing", notes="Both"),
        item(4, humanCodingScheme="W.2", abbreviatedStatement="Variation"),
        item(5, listEnumeration="a"),
        item(6),
    ]
    associations = [
        child(1, "doc", 1),
        child(2, 1),
        child(4, 2, 1),
        child(3, 2, 2),
        child(5, 4),
        child(6, "doc", 2),
        {"associationType": "isRelatedTo", "originNodeURI": {"identifier": "x"}},
    ]
    levels = [
        {"identifier": f"l{n}", "quality": quality, "score": score, "position": n}
        for n, (quality, score) in enumerate([("Strong", 4), ("Sound", 2.5), ("Weak", 0)], start=1)
    ]
    criterion = {
        "identifier": "c1",
        "category": "Bearings",
        "CFItemURI": {"identifier": item(3)["identifier"]},
        "weight": 100,
        "CFRubricCriterionLevels": levels,
    }
    rubrics = [{"identifier": "r1", "title": "Route", "CFRubricCriteria": [criterion]}]
    found = read_framework(package(items, associations, CFRubrics=rubrics))
    assert [(one.title, one.parent) for one in found.strands] == [
        ("Finding the way", None),
        ("By compass", found.strands[0].guid),
    ]
    assert [(one.code, one.title, one.description) for one in found.outcomes] == [
        ("W.2", "Variation", "Statement 4"),
        ("a", "Statement 5", ""),
        ("W.1", "Plot and follow a bearing", "Both"),
        ("4", "Statement 6", ""),
    ]
    assert [one.strand for one in found.outcomes] == [found.strands[1].guid] * 3 + [None]
    (rubric,) = found.rubrics
    ((read, ties),) = rubric.criteria
    assert (rubric.title, read.title, read.weight) == ("Route", "Bearings", 10_000)
    assert [(level.name, level.points) for level in read.levels] == [
        ("Weak", 0),
        ("Sound", 250),
        ("Strong", 400),
    ]
    assert [tie.outcome for tie in ties] == [item(3)["identifier"]]
    assert found.notes == (
        "1 item with others below, more than two deep: made outcomes beside them",
        "1 item had no code of its own, or too long a one: given one",
    )


REFUSED: dict[str, tuple[bytes, str]] = {
    "nothing": (b"", "not JSON: line 1"),
    "not json": (b'{"CFDocument": ', "not JSON: line 1"),
    "not text": (b"\xff\xfe\x00", "not a text file in UTF-8"),
    "a list": (b"[]", "not a CASE package"),
    "no items": (package([], []), "needs a CFDocument"),
    "no document": (b'{"CFItems": [{"identifier": "a"}]}', "needs a CFDocument"),
    "not a number": (b'{"a": NaN}', "not JSON that can be read"),
    "very deep": (b"[" * 200_000, "nests deeper than"),
    "twice": (package([item(1), item(1)], []), "stands twice"),
    "no identifier": (package([{"fullStatement": "x"}], []), "Item 1 has no identifier"),
    "itself": (package([item(1)], [child(1, 1)]), "among its own parents"),
    "a circle": (
        package([item(1), item(2), item(3)], [child(1, 2), child(2, 3), child(3, 1)]),
        "“Statement 1” is among its own parents",
    ),
}


@pytest.mark.parametrize("case", REFUSED)
def test_what_is_no_framework_is_refused_with_what_is_wrong(case: str) -> None:
    content, message = REFUSED[case]
    with pytest.raises(Refused, match=message):
        read_framework(content)


def test_only_the_first_of_many_problems_are_told() -> None:
    with pytest.raises(RefusedMany) as refused:
        read_framework(package([item(1)] * 50, []))
    assert len(refused.value.problems) == 20


def test_an_item_without_a_known_parent_stands_at_the_top_and_it_is_told() -> None:
    found = read_framework(package([item(1), item(2)], [child(1, "elsewhere")]))
    assert [(one.title, one.strand) for one in found.outcomes] == [
        ("Statement 1", None),
        ("Statement 2", None),
    ]
    assert "1 item had a parent that is not in the file: put at the top" in found.notes


def test_codes_are_made_different_and_long_statements_kept_whole() -> None:
    long = "word " * 200
    items = [
        item(1, humanCodingScheme="A"),
        item(2, humanCodingScheme="a"),
        item(3, humanCodingScheme="B" * 60, fullStatement=long),
    ]
    found = read_framework(package(items, []))
    assert [one.code for one in found.outcomes] == ["A", "a (2)", "B" * 30]
    assert len(found.outcomes[2].title) == 300
    assert found.outcomes[2].description == long.strip()


anything: st.SearchStrategy[Any] = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats(allow_nan=False) | st.text(max_size=5),
    lambda inner: (
        st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=5), inner, max_size=3)
    ),
    max_leaves=8,
)
KEYS = [
    "identifier", "fullStatement", "humanCodingScheme", "CFItemType", "notes", "extensions",
    "score", "position", "quality", "description", "weight", "CFItemURI", "title",
]  # fmt: skip
entries = st.lists(
    st.dictionaries(st.sampled_from(KEYS), anything, max_size=5) | anything, max_size=4
)


@given(entries, entries, entries, anything)
@settings(max_examples=80)
def test_a_hostile_package_is_read_or_refused_and_never_breaks(
    items: list[Any], associations: list[Any], rubrics: list[Any], own: object
) -> None:
    written = {
        "CFDocument": {"identifier": "doc", "extensions": {"jade_ladder": own}},
        "CFItems": [item(1), *items],
        "CFAssociations": associations,
        "CFRubrics": [
            {
                "identifier": "r",
                "CFRubricCriteria": [{"CFRubricCriterionLevels": rubrics}, *rubrics],
            }
        ],
    }
    try:
        found = read_framework(json.dumps(written).encode())
    except Refused:
        return
    assert len({one.code.casefold() for one in found.outcomes}) == len(found.outcomes)


def test_a_chain_of_thousands_is_read_in_good_time() -> None:
    many = 5_000
    items = [item(n) for n in range(many)]
    found = read_framework(package(items, [child(n, n - 1) for n in range(1, many)]))
    assert len(found.strands) == 2
    assert len(found.outcomes) == many - 2


@pytest.mark.parametrize(
    ("weights", "read"),
    [
        ([0.5, 0.5], [5_000, 5_000]),
        ([0.333, 0.333, 0.333], [3_340, 3_330, 3_330]),
        ([1, 0], [10_000, 0]),
        ([25, 75], [2_500, 7_500]),
        ([0.5, 0.2], [50, 20]),
        ([1.5, -0.5], [150, 0]),
        (["none", None], [0, None]),
    ],
)
def test_weights_that_come_to_one_are_shares(weights: list[object], read: list[int | None]) -> None:
    criteria = [
        {"identifier": f"c{n}", "category": "Content", "description": f"Part {n}", "weight": weight}
        for n, weight in enumerate(weights)
    ]
    rubrics = [{"identifier": "r1", "title": "Route", "CFRubricCriteria": criteria}]
    (rubric,) = read_framework(package([item(1)], [], CFRubrics=rubrics)).rubrics
    assert [criterion.weight for criterion, _ in rubric.criteria] == read
    assert rubric.criteria[0][0].title == "Content: Part 0"
