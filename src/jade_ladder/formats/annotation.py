"""Passages in the terms of the W3C Web Annotation Data Model: a target's selectors, and pages of
annotations for other programs.
"""

from __future__ import annotations

import json
from collections.abc import Iterable
from xml.etree.ElementTree import Element, SubElement, fromstring, tostring

from jade_ladder.core.passage import Piece, Place, Quote, Rect, Shape, ShapeKind, Span

# How the model says that a fragment names a page of a PDF (RFC 3778).
PDF_FRAGMENT = "http://tools.ietf.org/rfc/rfc3778"
_SVG = "http://www.w3.org/2000/svg"

Selector = dict[str, object]


def write_place(place: Place) -> str:
    """Write where a passage is, as a JSON array of selectors."""
    return json.dumps(selectors(place), ensure_ascii=False, separators=(",", ":"))


def selectors(place: Place) -> list[Selector]:
    """Give the selectors of a place."""
    if place.shape is not None:
        return [_page(place.shape.page, [_svg_of_shape(place.shape)])]
    found: list[Selector] = []
    if place.quote is not None:
        quote = place.quote
        found.append(
            {
                "type": "TextQuoteSelector",
                "exact": quote.exact,
                "prefix": quote.prefix,
                "suffix": quote.suffix,
            }
        )
    if place.span is not None:
        found.append(_position(place.span))
    found += [
        _page(piece.page, [_position(piece.span), _svg_of_rects(piece.rects)])
        for piece in place.pieces
    ]
    return found


def _position(span: Span) -> Selector:
    return {"type": "TextPositionSelector", "start": span.start, "end": span.end}


def _page(page: int, within: list[Selector]) -> Selector:
    return {
        "type": "FragmentSelector",
        "conformsTo": PDF_FRAGMENT,
        "value": f"page={page}",
        "refinedBy": within,
    }


def _svg(content: Element) -> Selector:
    return {"type": "SvgSelector", "value": tostring(content, encoding="unicode")}


def _exact(number: float) -> str:
    """Hundredths of a unit are finer than a screen."""
    return f"{number:.2f}".rstrip("0").rstrip(".")


def _numbers(**numbers: float) -> dict[str, str]:
    return {name: _exact(number) for name, number in numbers.items()}


def _svg_of_rects(rects: Iterable[Rect]) -> Selector:
    svg = Element("svg", xmlns=_SVG)
    for one in rects:
        sides = _numbers(x=one.x, y=one.y, width=one.width, height=one.height)
        SubElement(svg, "rect", sides)
    return _svg(svg)


def _svg_of_shape(shape: Shape) -> Selector:
    sides = f"0 0 {_exact(shape.width)} {_exact(shape.height)}"
    svg = Element("svg", {"xmlns": _SVG, "viewBox": sides})
    if shape.kind is ShapeKind.BOX:
        left, right = sorted((shape.x1, shape.x2))
        top, foot = sorted((shape.y1, shape.y2))
        SubElement(svg, "rect", _numbers(x=left, y=top, width=right - left, height=foot - top))
    else:
        ends = _numbers(x1=shape.x1, y1=shape.y1, x2=shape.x2, y2=shape.y2)
        SubElement(svg, "line", {**ends, "marker-end": "url(#arrow)"})
    return _svg(svg)


def read_place(written: str) -> Place:
    """Read what `write_place` wrote."""
    quote: Quote | None = None
    span: Span | None = None
    pieces: list[Piece] = []
    for selector in json.loads(written):
        kind = selector["type"]
        if kind == "TextQuoteSelector":
            quote = Quote(selector["exact"], selector["prefix"], selector["suffix"])
        elif kind == "TextPositionSelector":
            span = Span(selector["start"], selector["end"])
        else:
            page = int(selector["value"].removeprefix("page="))
            *within, drawn = selector["refinedBy"]
            # It was written here, from numbers: nothing a stranger wrote is parsed.
            svg = fromstring(drawn["value"])
            if not within:
                return Place(shape=_shape(svg, page))
            pieces.append(Piece(page, Span(within[0]["start"], within[0]["end"]), _rects(svg)))
    return Place(quote, span, tuple(pieces))


def _float(element: Element, name: str) -> float:
    return float(element.get(name, "0"))


def _rects(svg: Element) -> tuple[Rect, ...]:
    return tuple(
        Rect(*(_float(one, name) for name in ("x", "y", "width", "height"))) for one in svg
    )


def _shape(svg: Element, page: int) -> Shape:
    width, height = (float(one) for one in svg.get("viewBox", "").split()[2:])
    drawn = svg[0]
    if drawn.tag.endswith("rect"):
        x, y = _float(drawn, "x"), _float(drawn, "y")
        far = x + _float(drawn, "width"), y + _float(drawn, "height")
        return Shape(
            ShapeKind.BOX, page, x, y, min(far[0], width), min(far[1], height), width, height
        )
    x1, y1, x2, y2 = (_float(drawn, name) for name in ("x1", "y1", "x2", "y2"))
    return Shape(ShapeKind.ARROW, page, x1, y1, x2, y2, width, height)
