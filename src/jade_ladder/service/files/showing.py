"""What is shown of a file where it is marked."""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.core.handing_in import count_words
from jade_ladder.formats.files.document import CONVERTER
from jade_ladder.formats.files.kind import DOWNLOAD, FileKind, picture_type
from jade_ladder.formats.markdown import to_html
from jade_ladder.formats.plain_text import cleaned
from jade_ladder.formats.table import decode
from jade_ladder.outside.conversion import convert_document
from jade_ladder.store.files import files as store
from jade_ladder.store.files.contents import Contents
from jade_ladder.store.files.files import FileRow, ShownRow
from jade_ladder.store.shared.connection import Database

MOST_SHOWN = 1_000_000
"""Bytes of a text that are shown; the rest is there to download."""
MOST_ROWS, MOST_CELLS = 500, 60


@dataclass(frozen=True, slots=True)
class Shown:
    """What is shown of a file: safe HTML of a document or of Markdown, a text, or the rows of a
    table; `notes` say what is not shown, `problem` why nothing is.
    """

    html: str = ""
    text: str = ""
    rows: tuple[tuple[str, ...], ...] = ()
    words: int | None = None
    notes: tuple[str, ...] = ()
    problem: str = ""


def shown_of(database: Database, row: FileRow, now: datetime) -> Shown:
    """Give what is shown of a file that is text or a document; nothing of any other."""
    if row.kind is FileKind.DOCUMENT:
        return _document(database, row, now)
    if row.kind not in (FileKind.TEXT, FileKind.MARKDOWN, FileKind.TABLE):
        return Shown()
    with Contents.of(database).path(row.hash).open("rb") as file:
        content = file.read(MOST_SHOWN)
    if row.size > len(content):
        content = _whole_characters(content)
    notes: tuple[str, ...] = ()
    if row.size > MOST_SHOWN:
        notes = ("Only the beginning is shown: download it for the whole",)
    try:
        text = cleaned(decode(content))
    except Refused:
        return Shown(problem="This text cannot be read here: download it")
    if row.kind is FileKind.MARKDOWN:
        return Shown(html=to_html(text), words=count_words(text), notes=notes)
    if row.kind is FileKind.TABLE:
        return _table(text, notes)
    return Shown(text=text, words=count_words(text), notes=notes)


def _whole_characters(content: bytes) -> bytes:
    """Give the beginning of a text without the part of a character at its end."""
    end = max(content.rfind(b"\n"), content.rfind(b" "))
    return content[:end] if end > 0 else content


def _document(database: Database, row: FileRow, now: datetime) -> Shown:
    with database.reading() as db:
        found = store.shown_document(db, row.id)
    if found is None or found.converter != CONVERTER:
        found = work_out_shown(database, row, now)
    return Shown(
        html=found.html,
        words=None if found.problem else found.words,
        notes=found.left_out,
        problem=found.problem,
    )


def _table(text: str, notes: tuple[str, ...]) -> Shown:
    head = text[:4000]
    separator = max("\t;,", key=lambda one: head.count(one))
    try:
        rows: list[tuple[str, ...]] = []
        for row in csv.reader(io.StringIO(text, newline=""), delimiter=separator):
            if len(rows) == MOST_ROWS:
                notes = (f"Only the first {MOST_ROWS} lines are shown",)
                break
            rows.append(tuple(row[:MOST_CELLS]))
    except csv.Error:
        return Shown(text=text, notes=notes)
    return Shown(rows=tuple(rows), notes=notes)


def work_out_shown(database: Database, row: FileRow, now: datetime) -> ShownRow:
    """Convert a document, once for each version of the converter, and keep what is shown of it; a
    document that cannot be shown is kept as that.
    """
    contents = Contents.of(database)
    with contents.beside() as folder:
        made_of: tuple[Path, ...] = ()
        try:
            made = convert_document(contents.path(row.hash), folder)
            shown = ShownRow(CONVERTER, made.html, made.words, made.left_out, "")
            made_of = made.pictures
        except Refused as error:
            shown = ShownRow(CONVERTER, "", 0, (), error.message)
        pictures: list[tuple[str, int, str]] = []
        for path in made_of:
            size = path.stat().st_size
            with path.open("rb") as file:
                media_type = picture_type(file.read(64)) or DOWNLOAD.media_type
            pictures.append((contents.keep(path), size, media_type))
        with database.transaction() as db:
            numbers = [
                store.add_file(db, hash, size, FileKind.PICTURE, media_type, now).id
                for hash, size, media_type in pictures
            ]
            store.keep_shown(db, row.id, shown, numbers)
    return shown


def picture_of(database: Database, row: FileRow, number: int) -> FileRow:
    """Give a picture of a document. Raises NotFound where it has none of that number."""
    with database.reading() as db:
        found = store.document_picture(db, row.id, number)
    if found is None:
        raise NotFound("There is no such picture in this document")
    return found
