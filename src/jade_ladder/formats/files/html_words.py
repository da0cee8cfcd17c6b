"""The words of what is shown as HTML, as places in them are counted."""

from __future__ import annotations

import re
from dataclasses import dataclass
from html.parser import HTMLParser

# As the front end has them (shared/passages/words.ts).
_HEADINGS = frozenset(f"h{number}" for number in range(1, 7))
_BLOCKS = _HEADINGS | {
    *("p", "div", "li", "tr", "td", "th", "pre", "blockquote"),
    *("table", "ul", "ol", "dt", "dd", "hr", "br"),
}
_UNFIT = re.compile("[\x00-\x08\x0b-\x1f\x7f-\x9f\ud800-\udfff]")


@dataclass(frozen=True, slots=True)
class HtmlWords:
    """The text, a line break where a block or a line of its own begins, and from which character to
    before which other one headings stand.
    """

    text: str
    headings: tuple[tuple[int, int], ...]


def words_of_html(html: str) -> HtmlWords:
    """Read the words of HTML that is safe to show (docs/calculations.md, “Passages”)."""
    reader = _Reader()
    reader.feed(html)
    reader.close()
    return HtmlWords(_UNFIT.sub(" ", "".join(reader.pieces)), tuple(reader.headings))


class _Reader(HTMLParser):
    def __init__(self) -> None:
        super().__init__(convert_charrefs=True)
        self.pieces: list[str] = []
        self.headings: list[tuple[int, int]] = []
        self._length = 0
        self._parted = False
        self._heading = 0

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self._parted = self._parted or tag in _BLOCKS
        self._heading += tag in _HEADINGS

    def handle_endtag(self, tag: str) -> None:
        self._heading -= tag in _HEADINGS

    def handle_data(self, data: str) -> None:
        if self._parted and self.pieces and not self.pieces[-1][-1:].isspace():
            self._add("\n")
        self._parted = False
        if self._heading > 0:
            self.headings.append((self._length, self._length + len(data)))
        self._add(data)

    def _add(self, data: str) -> None:
        self.pieces.append(data)
        self._length += len(data)
