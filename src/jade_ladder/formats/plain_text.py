"""What can stand in a text, a file's name and a JSON document that come from outside."""

from __future__ import annotations

import re
import unicodedata

DEEPEST_JSON = 24
"""The deepest body of ours nests eight deep; a file of outcomes in the open standard five."""

# Soft line and page breaks, as word processors put them on the clipboard.
_BREAKS = str.maketrans({"\v": "\n", "\f": "\n"})
_NOT_TEXT = re.compile("[\x00-\x08\x0e-\x1f\x7f-\x9f\ud800-\udfff]")
_ESCAPED = re.compile(rb"\\.", re.DOTALL)
_ALL_BUT_BRACKETS = bytes(set(range(256)) - set(b"[]{}"))
_REPLACEMENT = "\ufffd"
# Control characters, marks of direction and others without a shape, halves of characters.
_HIDDEN = ("Cc", "Cf", "Cs")


def with_plain_breaks(text: str) -> str:
    """Give a text with line breaks in place of the soft line and page breaks of word processors."""
    return text.translate(_BREAKS)


def fault_of(text: str) -> str:
    """Say why a text cannot be kept; empty when it can: control characters and halves of characters
    are no text.
    """
    found = _NOT_TEXT.search(text)
    if found is None:
        return ""
    place = found.start() + 1
    return f"Character {place} is a control character or half a character: delete it"


def cleaned(text: str) -> str:
    """Give the text of a file with the replacement character for what cannot be kept."""
    if text.isprintable():
        return text
    return _NOT_TEXT.sub(_REPLACEMENT, with_plain_breaks(text))


def is_too_deep(document: bytes) -> bool:
    """Whether a JSON document nests deeper than DEEPEST_JSON. Told before it is parsed, since
    parsers call themselves for every level.
    """
    if b"\\" in document:
        document = _ESCAPED.sub(b"", document)
    # Without escaped ones, every other part between quotation marks stands outside of strings.
    outside = b"".join(document.split(b'"')[::2])
    depth = 0
    for bracket in outside.translate(None, _ALL_BUT_BRACKETS):
        depth += 1 if bracket in b"[{" else -1
        if depth > DEEPEST_JSON:
            return True
    return False


def has_hidden_marks(text: str) -> bool:
    """Whether there are characters in a text that are not seen, as marks of direction, by which it
    can look like another one.
    """
    return any(unicodedata.category(character) in _HIDDEN for character in text)


def with_marks_shown(text: str) -> str:
    """Give a text with what is not seen in it named: ⟨U+202E⟩."""
    return "".join(
        f"⟨U+{ord(character):04X}⟩" if unicodedata.category(character) in _HIDDEN else character
        for character in text
    )


def safe_file_name(name: str, fallback: str = "file") -> str:
    """Give a file's name without path, control and direction-changing characters, at most 120 long:
    it can neither lead elsewhere nor look like another kind of file.
    """
    plain = "".join(
        " " if character in '/\\:*?"<>|' else character
        for character in name
        if unicodedata.category(character) not in _HIDDEN
    )
    plain = " ".join(plain.split()).strip(". ")
    if len(plain) > 120:
        stem, dot, ending = plain.rpartition(".")
        plain = f"{stem[: 119 - len(ending)]}.{ending}" if dot and len(ending) < 12 else plain[:120]
    return plain or fallback
