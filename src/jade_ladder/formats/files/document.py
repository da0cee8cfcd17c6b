"""Word-processor documents (DOCX) as HTML that is safe to show. Made for a process of its own."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import IO, Any

from jade_ladder.core.errors import Refused
from jade_ladder.core.handing_in import count_words
from jade_ladder.formats.files.archive import Archive
from jade_ladder.formats.files.kind import picture_type
from jade_ladder.formats.plain_text import cleaned
from jade_ladder.formats.table import decode

CONVERTER = 1
"""Counted up whenever the same document would be shown in another way."""
LARGEST_UNPACKED = 120_000_000
LARGEST_PART = 30_000_000
MOST_PICTURES = 200
LARGEST_HTML = 4_000_000
MOST_SHOWN = 1_000_000
"""Bytes of a text that are shown; the rest is there to download."""

_TAGS = {
    *("p", "br", "strong", "em", "s", "u", "sup", "sub", "blockquote", "a", "img"),
    *("h2", "h3", "h4", "h5", "h6", "ul", "ol", "li"),
    *("table", "thead", "tbody", "tr", "th", "td"),
}
_ATTRIBUTES = {
    "a": {"href"},
    # Which of the document's own pictures; the page fetches it by that, never by an address.
    "img": {"data-picture", "alt"},
    "td": {"colspan", "rowspan"},
    "th": {"colspan", "rowspan"},
}
# Headings begin below that of the page.
_STYLES = """
p[style-name='Title'] => h2:fresh
p[style-name='Heading 1'] => h2:fresh
p[style-name='Heading 2'] => h3:fresh
p[style-name='Heading 3'] => h4:fresh
p[style-name='Heading 4'] => h5:fresh
u => u
"""
_DAMAGED = "This document is damaged, or none: it can be downloaded, and not shown"
_DECLARES = re.compile(rb"<!\s*(DOCTYPE|ENTITY)", re.IGNORECASE)
# What mammoth passes over without a word, by what it is called for a reader.
_PASSED_OVER = (
    ("equation", re.compile(rb"<m:oMath[ >]")),
    ("drawing or chart", re.compile(rb"<(?:c:chart|wps:wsp|v:shape|dgm:relIds)[ >]")),
    ("embedded file", re.compile(rb"<o:OLEObject[ >]")),
    ("comment", re.compile(rb"<w:commentReference[ />]")),
    ("tracked deletion", re.compile(rb"<w:del [^>]*>")),
)


@dataclass(frozen=True, slots=True)
class ShownDocument:
    """A document as it is shown: its HTML with numbered pictures in it, how many words, and what is
    not shown, a line each.
    """

    html: str
    words: int
    left_out: tuple[str, ...]


def shown_document(file: IO[bytes], keep: Callable[[int, bytes], None]) -> ShownDocument:
    """Read a document; `keep` is given each picture, numbered from 1. Nothing in it is run and
    nothing outside of it is opened.

    Raises Refused for what is no document, damaged, or larger unpacked than anybody writes.
    """
    # Imported here: what only looks at a file's kind need not load them.
    import mammoth
    import nh3

    left_out = _looked_through(file)
    pictures: list[int] = []

    def as_number(image: Any) -> dict[str, str]:
        try:
            with image.open() as opened:
                content = opened.read(LARGEST_PART)
        except Exception:
            # One that is somewhere else: nothing is fetched.
            left_out.append("A picture that is not in the document itself is not shown")
            return {}
        if picture_type(content[:64]) is None or len(pictures) >= MOST_PICTURES:
            left_out.append("A picture in a format that browsers do not show is left out")
            return {}
        pictures.append(len(pictures) + 1)
        keep(pictures[-1], content)
        return {"data-picture": str(pictures[-1])}

    try:
        file.seek(0)
        result = mammoth.convert_to_html(
            file, convert_image=mammoth.images.img_element(as_number), style_map=_STYLES
        )
    except Exception as error:
        # mammoth trusts what it reads: what is torn or made up fails in any of these ways.
        raise Refused(_DAMAGED, "file") from error
    if len(result.value) > LARGEST_HTML:
        raise Refused("This document is too long to be shown here: download it", "file")
    html = nh3.clean(
        result.value,
        tags=_TAGS,
        attributes=_ATTRIBUTES,
        url_schemes={"http", "https", "mailto"},
        link_rel="noopener noreferrer",
    )
    words = count_words(re.sub(r"<[^>]*>", " ", html))
    return ShownDocument(html, words, tuple(dict.fromkeys(left_out)))


def shown_markdown(source: Path) -> ShownDocument:
    """Read a text in Markdown, or its beginning."""
    from jade_ladder.formats.markdown import to_html

    text, notes = beginning_of(source)
    html = to_html(text)
    if len(html) > LARGEST_HTML:
        raise Refused("This text is too long to be shown here: download it", "file")
    return ShownDocument(html, count_words(text), notes)


def beginning_of(source: Path) -> tuple[str, tuple[str, ...]]:
    """Give the text of a file as far as it is shown, and a note where that is its beginning.

    Raises Refused for what is no text.
    """
    with source.open("rb") as file:
        content = file.read(MOST_SHOWN + 1)
    if len(content) <= MOST_SHOWN:
        return cleaned(decode(content)), ()
    content = content[:MOST_SHOWN]
    # Without the part of a character at its end.
    end = max(content.rfind(b"\n"), content.rfind(b" "))
    text = cleaned(decode(content[:end] if end > 0 else content))
    return text, ("Only the beginning is shown: download it for the whole",)


def _looked_through(file: IO[bytes]) -> list[str]:
    """Look through a document before anything reads it; gives what will not be shown."""
    try:
        archive = Archive(file, LARGEST_UNPACKED)
    except Refused as error:
        raise Refused(_DAMAGED, "file") from error
    left_out: list[str] = []
    names = {entry.name for entry in archive.entries}
    if "[Content_Types].xml" not in names:
        raise Refused(_DAMAGED, "file")
    for entry in archive.entries:
        if entry.size > LARGEST_PART:
            raise Refused("This document is too large to be shown here: download it", "file")
        if not entry.name.endswith((".xml", ".rels")):
            continue
        content = b"".join(archive.read(entry))
        if _DECLARES.search(content):
            raise Refused(_DAMAGED, "file")
        if entry.name == "word/document.xml":
            left_out += _not_shown(content)
    if any(name.endswith("vbaProject.bin") for name in names):
        left_out.append("It has macros, which are not run")
    if any(re.match(r"word/(header|footer)\d*\.xml$", name) for name in names):
        left_out.append("Page headers and footers are not shown")
    return left_out


def _not_shown(document: bytes) -> list[str]:
    found = []
    for what, pattern in _PASSED_OVER:
        times = len(pattern.findall(document))
        if times:
            found.append(
                f"1 {what} is not shown" if times == 1 else f"{times} {_plural(what)} are not shown"
            )
    return found


def _plural(what: str) -> str:
    return "drawings or charts" if what == "drawing or chart" else f"{what}s"
