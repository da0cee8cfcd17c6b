"""What is shown of a file where it is marked."""

from __future__ import annotations

import csv
import io
import sqlite3
from dataclasses import dataclass
from pathlib import Path

from jade_ladder.core.errors import BeingPrepared, NotFound, Refused
from jade_ladder.core.handing_in import count_words
from jade_ladder.formats.files.document import CONVERTER, beginning_of
from jade_ladder.formats.files.kind import FileKind
from jade_ladder.service.shared.caller import Caller
from jade_ladder.store.files import files as store
from jade_ladder.store.files import preparation
from jade_ladder.store.files.contents import Contents
from jade_ladder.store.files.files import FileRow
from jade_ladder.store.shared.connection import Database

CONVERTED = frozenset((FileKind.DOCUMENT, FileKind.MARKDOWN))
"""What is shown as HTML, which is made of it once."""
MOST_ROWS, MOST_CELLS = 500, 60


@dataclass(frozen=True, slots=True)
class Shown:
    """What is shown of a file: safe HTML of a document or of Markdown, a text, or the rows of a
    table; `notes` say what is not shown, `problem` why nothing is, `preparing` that nothing is yet.
    """

    html: str = ""
    text: str = ""
    rows: tuple[tuple[str, ...], ...] = ()
    words: int | None = None
    notes: tuple[str, ...] = ()
    problem: str = ""
    preparing: bool = False


def shown_of(caller: Caller, row: FileRow) -> Shown:
    """Give what is shown of a file that is text or a document, or that it is being prepared, at
    once; nothing of any other.
    """
    database = caller.database
    if row.kind is FileKind.PICTURE:
        with database.reading() as db:
            return Shown(preparing=preparation.is_waiting(db, row.id))
    if row.kind in CONVERTED:
        return _converted(caller, row)
    if row.kind not in (FileKind.TEXT, FileKind.TABLE):
        return Shown()
    try:
        text, notes = beginning_of(Contents.of(database).path(row.hash))
    except Refused:
        return Shown(problem="This text cannot be read here: download it")
    if row.kind is FileKind.TABLE:
        return _table(text, notes)
    return Shown(text=text, words=count_words(text), notes=notes)


def _converted(caller: Caller, row: FileRow) -> Shown:
    with caller.reading() as db:
        found = store.shown_document(db, row.id)
    if found is None or found.converter != CONVERTER:
        with caller.transaction() as db:
            preparation.ask(db, row.id, caller.person_id, caller.now)
        return Shown(preparing=True)
    if found.problem and row.kind is FileKind.MARKDOWN:
        # As it is written, then.
        text, notes = beginning_of(Contents.of(caller.database).path(row.hash))
        return Shown(text=text, words=count_words(text), notes=notes)
    return Shown(
        html=found.html,
        words=None if found.problem else found.words,
        notes=found.left_out,
        problem=found.problem,
    )


def ready_path(database: Database, row: FileRow) -> Path:
    """Give where a file lies that may be served: a picture is not before it is written anew.

    Raises BeingPrepared until then.
    """
    if row.kind is FileKind.PICTURE:
        with database.reading() as db:
            check_ready(db, row)
    return Contents.of(database).path(row.hash)


def check_ready(db: sqlite3.Connection, row: FileRow) -> None:
    """Raise BeingPrepared for a picture that is not written anew yet. Part of a reading."""
    if row.kind is FileKind.PICTURE and preparation.is_waiting(db, row.id):
        raise BeingPrepared("This picture is being prepared. Try again in a moment.")


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


def picture_of(database: Database, row: FileRow, number: int) -> FileRow:
    """Give a picture of a document. Raises NotFound where it has none of that number."""
    with database.reading() as db:
        found = store.document_picture(db, row.id, number)
    if found is None:
        raise NotFound("There is no such picture in this document")
    return found
