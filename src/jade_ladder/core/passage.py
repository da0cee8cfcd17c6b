"""Passages of work that a remark is on: words, pages, and what is drawn on a page or a picture
(docs/calculations.md, “Passages”).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from enum import StrEnum

from jade_ladder.core.errors import Refused

LONGEST_QUOTE = 5_000
LONGEST_CONTEXT = 64
MOST_PIECES = 100
MOST_RECTS = 2_000
# No page and no picture is larger; what is drawn lies in it.
LARGEST_SIDE = 100_000.0


class ShapeKind(StrEnum):
    """What is drawn."""

    BOX = "box"
    ARROW = "arrow"


def _check_numbers(*numbers: float) -> None:
    if not all(math.isfinite(one) and 0 <= one <= LARGEST_SIDE for one in numbers):
        raise Refused("This lies outside of the page", "place")


@dataclass(frozen=True, slots=True)
class Rect:
    """A rectangle on a page, in the page's units from its upper left corner."""

    x: float
    y: float
    width: float
    height: float

    def __post_init__(self) -> None:
        _check_numbers(self.x, self.y, self.width, self.height)


@dataclass(frozen=True, slots=True)
class Quote:
    """Words as they stand, with what stands before and after them."""

    exact: str
    prefix: str = ""
    suffix: str = ""

    def __post_init__(self) -> None:
        if not self.exact.strip():
            raise Refused("Select the words that the remark is on", "place")
        if len(self.exact) > LONGEST_QUOTE:
            raise Refused(f"A passage has at most {LONGEST_QUOTE:,} characters", "place")
        if max(len(self.prefix), len(self.suffix)) > LONGEST_CONTEXT:
            raise Refused("Too much stands around the passage", "place")


@dataclass(frozen=True, slots=True)
class Span:
    """From one character to before another, counted in Unicode code points from 0."""

    start: int
    end: int

    def __post_init__(self) -> None:
        if not 0 <= self.start < self.end:
            raise Refused("The passage ends before it begins", "place")


@dataclass(frozen=True, slots=True)
class Piece:
    """What a passage covers of one page, from 1: its place in the words of the page, and the
    rectangles around them in units of the page.
    """

    page: int
    span: Span
    rects: tuple[Rect, ...]

    def __post_init__(self) -> None:
        _check_page(self.page)


@dataclass(frozen=True, slots=True)
class Shape:
    """A box between two opposite corners, or an arrow from the first point to the second, on a page
    (from 1; a picture has the one) that is `width` by `height` units large.
    """

    kind: ShapeKind
    page: int
    x1: float
    y1: float
    x2: float
    y2: float
    width: float
    height: float

    def __post_init__(self) -> None:
        _check_page(self.page)
        _check_numbers(self.x1, self.y1, self.x2, self.y2, self.width, self.height)
        if max(self.x1, self.x2) > self.width or max(self.y1, self.y2) > self.height:
            raise Refused("This lies outside of the page", "place")
        if (self.x1, self.y1) == (self.x2, self.y2):
            raise Refused("This has no extent: draw it larger", "place")


def _check_page(page: int) -> None:
    if not 1 <= page <= 100_000:
        raise Refused("There is no such page", "place")


@dataclass(frozen=True, slots=True)
class Place:
    """Where a passage is: words with their `span`, of a PDF with a piece for each page that they
    cover; or a shape.
    """

    quote: Quote | None = None
    span: Span | None = None
    pieces: tuple[Piece, ...] = field(default=())
    shape: Shape | None = None

    def __post_init__(self) -> None:
        if (self.quote is None) == (self.shape is None):
            raise Refused("A passage is words, or something drawn", "place")
        if (self.quote is not None) != (self.span is not None or bool(self.pieces)):
            raise Refused("Where the words of the passage are is missing", "place")
        if self.span is not None and self.pieces:
            raise Refused("A passage is of a text, or of pages", "place")
        if len(self.pieces) > MOST_PIECES or sum(len(p.rects) for p in self.pieces) > MOST_RECTS:
            raise Refused("This passage is too long: make several", "place")
        pages = [piece.page for piece in self.pieces]
        if pages != sorted(set(pages)):
            raise Refused("The pages of the passage are out of order", "place")

    @property
    def order(self) -> tuple[int, float, float]:
        """Where it comes among the passages of a part: by page, from top to bottom, from left to
        right; in a text by where it begins, and of two the shorter first.
        """
        if self.shape is not None:
            one = self.shape
            return one.page, min(one.y1, one.y2), min(one.x1, one.x2)
        if self.pieces:
            first = self.pieces[0]
            if not first.rects:
                return first.page, 0.0, float(first.span.start)
            top = first.rects[0]
            return first.page, top.y, top.x
        assert self.span is not None, "a passage without pages and shape has a span"
        return 1, float(self.span.start), float(self.span.end)


def in_reading_order(passages: Sequence[tuple[str, int, Place]], parts: Sequence[int]) -> list[str]:
    """Give the keys of passages, each with the part that it is in, in the order of their numbers:
    part by part, as they are read (docs/calculations.md, “Passages”).
    """
    at = {part: place for place, part in enumerate(parts)}
    ordered = sorted(passages, key=lambda one: (at.get(one[1], len(at)), one[2].order, one[0]))
    return [key for key, _, _ in ordered]
