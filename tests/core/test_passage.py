"""Passages: what a place can be, and the order of their numbers."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jade_ladder.core.errors import Refused
from jade_ladder.core.passage import (
    LONGEST_QUOTE,
    Piece,
    Place,
    Quote,
    Rect,
    Shape,
    ShapeKind,
    Span,
    in_reading_order,
)
from jade_ladder.formats.annotation import read_place, selectors, write_place
from tests.strategies import places

WORDS = Quote("the old quay", "behind ", " at low")
SPAN = Span(7, 19)


def box(x1: float, y1: float, x2: float, y2: float, page: int = 1) -> Shape:
    return Shape(ShapeKind.BOX, page, x1, y1, x2, y2, 600, 800)


@pytest.mark.parametrize(
    ("make", "says"),
    [
        (lambda: Quote("  \n"), "Select the words"),
        (lambda: Quote("x" * (LONGEST_QUOTE + 1)), "at most 5,000 characters"),
        (lambda: Quote("x", prefix="y" * 65), "Too much stands around"),
        (lambda: Span(5, 5), "ends before it begins"),
        (lambda: Span(-1, 5), "ends before it begins"),
        (lambda: Place(WORDS), "Where the words of the passage are"),
        (lambda: Place(span=SPAN), "words, or something drawn"),
        (lambda: Place(WORDS, SPAN, shape=box(1, 1, 2, 2)), "words, or something drawn"),
        (lambda: Place(WORDS, SPAN, (Piece(1, SPAN, ()),)), "of a text, or of pages"),
        (lambda: Place(WORDS, pieces=(Piece(2, SPAN, ()), Piece(1, SPAN, ()))), "out of order"),
        (lambda: Place(WORDS, pieces=(Piece(0, SPAN, ()),)), "no such page"),
        (lambda: box(1, 1, 601, 2), "outside of the page"),
        (lambda: box(-1, 1, 60, 2), "outside of the page"),
        (lambda: box(float("nan"), 1, 60, 2), "outside of the page"),
        (lambda: box(7, 7, 7, 7), "no extent"),
        (lambda: Rect(0, 0, float("inf"), 1), "outside of the page"),
    ],
)
def test_what_is_no_place_is_refused(make: object, says: str) -> None:
    assert callable(make)
    with pytest.raises(Refused, match=says):
        make()


def test_numbers_follow_the_order_of_reading() -> None:
    """Part by part; in a text by beginning, of two the shorter first; on pages from the top."""
    rect = Rect(50, 300, 100, 12)
    passages = [
        ("replaced", 9, Place(WORDS, Span(0, 2))),
        ("picture", 3, Place(shape=box(10, 10, 20, 20))),
        ("page-2", 2, Place(shape=box(5, 5, 9, 9, page=2))),
        ("lower", 2, Place(WORDS, pieces=(Piece(1, SPAN, (rect,)),))),
        ("upper-right", 2, Place(shape=box(400, 40, 300, 90))),
        ("upper-left", 2, Place(shape=box(20, 40, 60, 90))),
        ("longer", 1, Place(WORDS, Span(4, 30))),
        ("shorter", 1, Place(WORDS, Span(4, 20))),
        ("first", 1, Place(WORDS, Span(0, 90))),
    ]
    assert in_reading_order(passages, [1, 2, 3]) == [
        "first",
        "shorter",
        "longer",
        "upper-left",
        "upper-right",
        "lower",
        "page-2",
        "picture",
        "replaced",
    ]


@given(places)
def test_a_place_is_written_and_read_again(place: Place) -> None:
    """In the selectors of the open standard; a shape keeps hundredths of a unit."""
    written = write_place(place)
    assert write_place(read_place(written)) == written
    read = read_place(written)
    assert (read.quote, read.span) == (place.quote, place.span)
    assert [(one.page, one.span) for one in read.pieces] == [
        (one.page, one.span) for one in place.pieces
    ]
    if place.shape is not None:
        assert read.shape is not None
        assert read.shape.kind is place.shape.kind
        assert abs(read.shape.x2 + read.shape.x1 - place.shape.x1 - place.shape.x2) < 0.05
    assert {one["type"] for one in selectors(place)} <= {
        "TextQuoteSelector",
        "TextPositionSelector",
        "FragmentSelector",
    }


@given(st.lists(places, min_size=1, max_size=8), st.randoms())
def test_numbers_do_not_depend_on_the_order_in_which_passages_were_made(
    found: list[Place], chance: object
) -> None:
    passages = [(f"key-{n}", n % 3, place) for n, place in enumerate(found)]
    shuffled = list(passages)
    chance.shuffle(shuffled)  # type: ignore[attr-defined]
    assert in_reading_order(passages, [2, 0]) == in_reading_order(shuffled, [2, 0])
