"""A student's work with its remarks on pages: what is laid over those of a PDF, what is set of
other parts, and the pages behind them.
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Sequence
from dataclasses import asdict, dataclass, field
from itertools import pairwise
from typing import Any

from jade_ladder.core.passage import Place, Shape

# So long a word is broken: it would leave the page.
_LONGEST_WORD = re.compile(r"\S{40}(?=\S)")
_ROOM = 30.0


@dataclass(frozen=True, slots=True)
class NumberedPlace:
    """A passage that has a place on pages, with the number of its remark."""

    number: int
    place: Place


@dataclass(frozen=True, slots=True)
class Said:
    """Something that is said: words, what they are on (“” where that is plain), and the number that
    stands for them in the work (None: they are on no passage).
    """

    words: str
    where: str = ""
    number: int | None = None


@dataclass(frozen=True, slots=True)
class CriterionSaid:
    """A criterion as it is given back: the name and the words of its level and of the next one up,
    and its ladder: the level's index (None: not assessed), how many there are, and from which one
    on it is met.
    """

    title: str
    level_name: str
    words: str
    next_words: str
    level: int | None
    levels: int
    met_level: int
    said: tuple[Said, ...] = ()


@dataclass(frozen=True, slots=True)
class RemarkPages:
    """What stands behind the pages of the work. `about` says whose it is and when, in lines;
    `total` is empty where only levels are given back, `total_lines` are a reason and an amount.
    """

    title: str
    about: tuple[str, ...]
    said: tuple[Said, ...]
    criteria: tuple[CriterionSaid, ...]
    total: str = ""
    total_lines: tuple[tuple[str, str], ...] = ()
    foot: str = ""


@dataclass(frozen=True, slots=True)
class PdfPart:
    """A PDF, by its path."""

    path: str
    places: tuple[NumberedPlace, ...] = ()


@dataclass(frozen=True, slots=True)
class TextPart:
    """A text, or the words of a document, with where its headings stand."""

    title: str
    text: str
    places: tuple[NumberedPlace, ...] = ()
    headings: tuple[tuple[int, int], ...] = ()
    note: str = ""


@dataclass(frozen=True, slots=True)
class PicturePart:
    """A picture, by its path; `form` is png, jpg or webp."""

    title: str
    path: str
    form: str
    places: tuple[NumberedPlace, ...] = ()


Part = PdfPart | TextPart | PicturePart


@dataclass(frozen=True, slots=True)
class MarkedWork:
    """The parts of a work in their order, each with the passages in it, and what is said of it."""

    parts: tuple[Part, ...]
    remarks: RemarkPages


@dataclass(slots=True)
class _Layer:
    """What is laid over one page of a file; it is as large as what is drawn asks for."""

    file: int
    page: int
    width: float = 0.0
    height: float = 0.0
    drawn: list[dict[str, Any]] = field(default_factory=list)

    def add(
        self, number: int | None, boxes: Sequence[tuple[float, ...]], shape: Shape | None = None
    ) -> None:
        """Draw a passage; the number stands where it ends, None where it goes on."""
        ends = [(x + wide, y + high) for x, y, wide, high in boxes]
        drawn: dict[str, Any] = {"number": number, "rects": list(boxes), "shape": None}
        if shape is not None:
            ends += [(shape.x1, shape.y1), (shape.x2, shape.y2)]
            drawn["shape"] = {"kind": shape.kind, "from": ends[0], "to": ends[1]}
        self.drawn.append(drawn)
        self.width = max(self.width, *(x + _ROOM for x, _ in ends))
        self.height = max(self.height, *(y + _ROOM for _, y in ends))


def job_of(work: MarkedWork) -> dict[str, Any]:
    """Give what has to be drawn as plain data: the paths of the PDF files, the layers in the order
    of their pages, what is set of the other parts, in which order they all come, and the remarks,
    with every text in paragraphs that can be set.
    """
    files: list[str] = []
    layers: dict[tuple[int, int], _Layer] = {}
    sets: list[dict[str, Any]] = []
    order: list[tuple[str, int]] = []
    for part in work.parts:
        if isinstance(part, PdfPart):
            order.append(("file", len(files)))
            _add_layers(layers, len(files), part.places)
            files.append(part.path)
        else:
            order.append(("set", len(sets)))
            sets.append(_set_part(part))
    return {
        "files": files,
        "layers": [asdict(layers[key]) for key in sorted(layers)],
        "sets": sets,
        "order": order,
        "remarks": _set(asdict(work.remarks)),
    }


def _add_layers(
    layers: dict[tuple[int, int], _Layer], file: int, places: Sequence[NumberedPlace]
) -> None:
    def layer(page: int) -> _Layer:
        return layers.setdefault((file, page), _Layer(file, page))

    for one in places:
        if one.place.shape is not None:
            layer(one.place.shape.page).add(one.number, (), one.place.shape)
        last = len(one.place.pieces) - 1
        for at, piece in enumerate(one.place.pieces):
            rects = [(rect.x, rect.y, rect.width, rect.height) for rect in piece.rects]
            if rects:
                layer(piece.page).add(one.number if at == last else None, rects)


def _set_part(part: TextPart | PicturePart) -> dict[str, Any]:
    title = paragraphs(part.title) or paragraphs("–")
    if isinstance(part, TextPart):
        lines = marked_lines(part.text, part.places, part.headings)
        return {"title": title, "lines": lines, "note": paragraphs(part.note)}
    shapes = [(one.number, one.place.shape) for one in part.places if one.place.shape is not None]
    drawn = [
        {
            "number": number,
            "kind": shape.kind,
            # In shares of the picture, however large it is set.
            "from": (shape.x1 / shape.width, shape.y1 / shape.height),
            "to": (shape.x2 / shape.width, shape.y2 / shape.height),
        }
        for number, shape in shapes
    ]
    return {"title": title, "path": part.path, "form": part.form, "drawn": drawn}


def marked_lines(
    text: str,
    places: Sequence[NumberedPlace],
    headings: Sequence[tuple[int, int]] = (),
) -> list[dict[str, Any]]:
    """Give the lines of a text, each with its direction, whether it is a heading, and its words in
    runs: whether they are in a passage, and the numbers of those that end with them.
    """
    found = [(one.number, stretch) for one in places if (stretch := _stretch(text, one.place))]
    edges = {0, len(text), *(edge for _, stretch in found for edge in stretch)}
    edges |= {at for at, one in enumerate(text) if one == "\n"}
    edges |= {at + 1 for at, one in enumerate(text) if one == "\n"}
    lines: list[dict[str, Any]] = [{"runs": [], "heading": False}]
    marks = sorted(edges)
    for start, end in pairwise(marks):
        words = text[start:end]
        numbers = [number for number, stretch in found if stretch[1] == end]
        if words == "\n":
            if numbers:
                lines[-1]["runs"].append({"text": "", "marked": False, "numbers": numbers})
            lines.append({"runs": [], "heading": False})
            continue
        marked = any(stretch[0] <= start < stretch[1] for _, stretch in found)
        run = {"text": _LONGEST_WORD.sub("\\g<0>\u200b", words), "marked": marked}
        lines[-1]["runs"].append({**run, "numbers": numbers})
        lines[-1]["heading"] |= any(first <= start < last for first, last in headings)
    for line in lines:
        line["dir"] = _direction("".join(run["text"] for run in line["runs"]))
    return lines


def _stretch(text: str, place: Place) -> tuple[int, int] | None:
    """Say where the words of a passage are: where they were, else at the nearest place that has
    them, else nowhere.
    """
    span, quote = place.span, place.quote
    if span is None or quote is None:
        return None
    if text[span.start : span.end] == quote.exact:
        return span.start, span.end
    at = [one.start() for one in re.finditer(re.escape(quote.exact), text)]
    nearest = min(at, key=lambda one: abs(one - span.start), default=None)
    return None if nearest is None else (nearest, nearest + len(quote.exact))


_WORDS = {"title", "about", "where", "words", "next_words", "level_name", "total_lines", "foot"}


def _set(value: Any, name: str = "") -> Any:
    """Make paragraphs of the texts of a plain value."""
    if isinstance(value, dict):
        return {key: _set(one, key) for key, one in value.items()}
    if isinstance(value, (list, tuple)):
        return [_set(one, name) for one in value]
    return paragraphs(value) if isinstance(value, str) and name in _WORDS else value


def paragraphs(text: str) -> list[dict[str, str]]:
    """Give the lines of a text, each with the direction it is read in, told by its first letter
    that has one, and with places where words longer than a line break.
    """
    return [
        {"text": _LONGEST_WORD.sub("\\g<0>\u200b", line), "dir": _direction(line)}
        for line in text.splitlines()
        if line.strip()
    ]


def _direction(line: str) -> str:
    for character in line:
        kind = unicodedata.bidirectional(character)
        if kind in ("R", "AL"):
            return "rtl"
        if kind == "L":
            break
    return "ltr"
