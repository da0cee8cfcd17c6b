"""Making files ready to be shown, one after the other, apart from who sent them and who waits."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from pathlib import Path

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.formats.files.document import CONVERTER
from jade_ladder.formats.files.kind import DOWNLOAD, FileKind, picture_type
from jade_ladder.outside.conversion import convert_document, convert_picture
from jade_ladder.store.files import files as store
from jade_ladder.store.files import preparation
from jade_ladder.store.files.contents import Contents
from jade_ladder.store.files.files import FileRow, ShownRow
from jade_ladder.store.shared.connection import Database

Cancelled = Callable[[], bool]


def waiting(database: Database) -> dict[int, FileRow]:
    """Give the next file of each person whose files wait to be made ready, by person."""
    with database.reading() as db:
        return preparation.next_of_each(db)


def prepare(
    database: Database, row: FileRow, now: datetime, cancelled: Cancelled = lambda: False
) -> None:
    """Make a file ready: HTML of a document, once for each version of the converter; a picture
    upright and without what the camera wrote into it, in the place of what was sent. What cannot be
    is there to be downloaded. Done again, as after a kill, it is the same.

    Raises Unavailable where it is `cancelled`, or nothing can be written: it waits on.
    """
    if row.kind is FileKind.PICTURE:
        _picture(database, row, cancelled)
    else:
        _document(database, row, now, cancelled)


def prepare_all(database: Database, now: datetime) -> None:
    """Make everything ready that waits."""
    while found := waiting(database):
        for row in found.values():
            prepare(database, row, now)


def _picture(database: Database, row: FileRow, cancelled: Cancelled) -> None:
    contents = Contents.of(database)
    with contents.beside() as folder:
        try:
            source = contents.path(row.hash)
            made = convert_picture(source, row.media_type, folder, cancelled)
        except (Refused, NotFound):
            made = None
        size = 0 if made is None else made.stat().st_size
        hash = None if made is None else contents.keep(made)
    with database.transaction() as db:
        if hash is None:
            preparation.only_to_download(db, row.id)
        else:
            preparation.put_in_place(db, row.id, hash, size)
        preparation.done(db, row.id)


def _document(database: Database, row: FileRow, now: datetime, cancelled: Cancelled) -> None:
    contents = Contents.of(database)
    with contents.beside() as folder:
        made_of: tuple[Path, ...] = ()
        try:
            source = contents.path(row.hash)
            is_markdown = row.kind is FileKind.MARKDOWN
            made = convert_document(source, folder, is_markdown, cancelled)
            shown = ShownRow(CONVERTER, made.html, made.words, made.left_out, "")
            made_of = made.pictures
        except (Refused, NotFound) as error:
            shown = ShownRow(CONVERTER, "", 0, (), str(error))
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
            preparation.done(db, row.id)
