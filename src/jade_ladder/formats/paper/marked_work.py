"""A student's PDF with its remarks: what is laid over its pages, and the pages behind them."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Sequence
from dataclasses import asdict, dataclass, field
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
class MarkedWork:
    """PDF files, by their paths, each with the passages in it, and what is said of them."""

    files: tuple[tuple[str, tuple[NumberedPlace, ...]], ...]
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
    """Give what has to be drawn as plain data: the paths of the files, the layers in the order of
    their pages, and the remarks, with every text in paragraphs that can be set.
    """
    layers: dict[tuple[int, int], _Layer] = {}

    def layer(file: int, page: int) -> _Layer:
        return layers.setdefault((file, page), _Layer(file, page))

    for file, (_, places) in enumerate(work.files):
        for one in places:
            if one.place.shape is not None:
                layer(file, one.place.shape.page).add(one.number, (), one.place.shape)
            last = len(one.place.pieces) - 1
            for at, piece in enumerate(one.place.pieces):
                rects = [(rect.x, rect.y, rect.width, rect.height) for rect in piece.rects]
                if rects:
                    layer(file, piece.page).add(one.number if at == last else None, rects)
    return {
        "files": [path for path, _ in work.files],
        "layers": [asdict(layers[key]) for key in sorted(layers)],
        "remarks": _set(asdict(work.remarks)),
    }


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
