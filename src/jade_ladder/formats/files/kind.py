"""What kind of file something is, told by its content and not by its name."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import filetype

HEAD = 8192
"""How much of the beginning of a file its kind is told by."""


class FileKind(StrEnum):
    """How a file is shown where it is marked; `other` is there to download."""

    TEXT = "text"
    MARKDOWN = "markdown"
    TABLE = "table"
    DOCUMENT = "document"
    PDF = "pdf"
    PICTURE = "picture"
    AUDIO = "audio"
    VIDEO = "video"
    OTHER = "other"


@dataclass(frozen=True, slots=True)
class FileType:
    """A kind, and the media type that it is sent as: one that no browser runs anything of."""

    kind: FileKind
    media_type: str


DOWNLOAD = FileType(FileKind.OTHER, "application/octet-stream")
_PICTURES = {"png": "image/png", "jpg": "image/jpeg", "webp": "image/webp"}
_AUDIO = {
    "mp3": "audio/mpeg",
    "m4a": "audio/mp4",
    "aac": "audio/aac",
    "ogg": "audio/ogg",
    "flac": "audio/flac",
    "wav": "audio/wav",
}
_VIDEO = {"mp4": "video/mp4", "m4v": "video/mp4", "webm": "video/webm", "mov": "video/quicktime"}
_BY_ENDING = {
    "md": FileKind.MARKDOWN,
    "markdown": FileKind.MARKDOWN,
    "csv": FileKind.TABLE,
    "tsv": FileKind.TABLE,
}
_UTF_16 = (b"\xff\xfe", b"\xfe\xff")


def type_of(head: bytes, name: str) -> FileType:
    """Tell what a file is by its first HEAD bytes. Only what kind of text it is, which no content
    tells, is taken from its name.
    """
    ending = name.rpartition(".")[2].lower()
    found = filetype.guess_extension(head)
    if found in _PICTURES:
        return FileType(FileKind.PICTURE, _PICTURES[found])
    if found == "pdf":
        return FileType(FileKind.PDF, "application/pdf")
    if found in _AUDIO:
        return FileType(FileKind.AUDIO, _AUDIO[found])
    if found in _VIDEO or head.startswith(b"\x1aE\xdf\xa3"):
        # A recording of a browser: sound alone has the same beginning as a film.
        if b"A_OPUS" in head and b"V_" not in head:
            return FileType(FileKind.AUDIO, "audio/webm")
        return FileType(FileKind.VIDEO, _VIDEO.get(found or "webm", "video/webm"))
    if head.startswith(b"PK\x03\x04") and (found == "docx" or ending in ("docx", "docm")):
        return FileType(FileKind.DOCUMENT, "application/octet-stream")
    if found is None and _is_text(head):
        return FileType(_BY_ENDING.get(ending, FileKind.TEXT), "application/octet-stream")
    return DOWNLOAD


def picture_type(head: bytes) -> str | None:
    """Give the media type of a picture that may be shown, or None where it is none."""
    return _PICTURES.get(filetype.guess_extension(head) or "")


def _is_text(head: bytes) -> bool:
    if head.startswith(_UTF_16):
        return True
    if b"\0" in head:
        return False
    controls = sum(byte < 9 or 13 < byte < 27 for byte in head)
    return controls == 0
