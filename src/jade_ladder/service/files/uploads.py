"""Bringing a file in: begun, sent in pieces that can be resumed, and then kept."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, contextmanager
from dataclasses import dataclass
from pathlib import Path

from jade_ladder.core.errors import NotFound, Refused, Stale
from jade_ladder.formats.files.archive import Archive, leads_elsewhere
from jade_ladder.formats.files.kind import HEAD, FileKind, FileType, type_of
from jade_ladder.formats.plain_text import safe_file_name
from jade_ladder.service.files.showing import CONVERTED
from jade_ladder.service.shared.caller import Caller
from jade_ladder.service.shared.forms import check_key
from jade_ladder.store.files import files as store
from jade_ladder.store.files import preparation
from jade_ladder.store.files.contents import Contents, hash_of, write_hashed
from jade_ladder.store.files.files import FileRow, UploadRow

LARGEST_FILE = 100_000_000
LARGEST_ARCHIVE = 250_000_000
LARGEST_UNPACKED = 1_000_000_000
MOST_AT_ONCE = 200
MOST_BYTES_AT_ONCE = 600_000_000
Taking = AbstractContextManager[Callable[[bytes], None]]


@dataclass(frozen=True, slots=True)
class Upload:
    """A file on its way in, and how many of its bytes have arrived."""

    row: UploadRow
    received: int

    @property
    def whole(self) -> bool:
        """Whether all of it has arrived."""
        return self.received >= self.row.size


@dataclass(frozen=True, slots=True)
class BroughtIn:
    """A file that is kept and that nothing names yet, under its cleaned name, with the hash of what
    was sent. A photograph is made ready once it is named: until then nobody is served it.
    """

    hash: str
    size: int
    type: FileType
    name: str
    sent_hash: str

    def named(self, db: sqlite3.Connection, caller: Caller) -> FileRow:
        """Name it, as part of the transaction that puts it where it belongs, and let it be made
        ready where it has to be.
        """
        known = store.file_of_hash(db, self.hash)
        row = store.add_file(
            db, self.hash, self.size, self.type.kind, self.type.media_type, caller.now
        )
        if (row.kind is FileKind.PICTURE and known is None) or (
            row.kind in CONVERTED and store.shown_document(db, row.id) is None
        ):
            preparation.ask(db, row.id, caller.person_id, caller.now)
        return row


def begin_upload(caller: Caller, key: str, name: str, size: int) -> Upload:
    """Begin to bring a file of so many bytes in, under a key of the sender's; begun twice, it is
    one. Raises Refused for what is empty or too large, before any of it arrives.
    """
    check_key(key)
    largest = LARGEST_ARCHIVE if name.lower().endswith(".zip") else LARGEST_FILE
    if size < 1:
        raise Refused(f"“{safe_file_name(name)}” is empty", "size")
    if size > largest:
        raise Refused(f"“{safe_file_name(name)}” is larger than {largest // 1_000_000} MB", "size")
    with caller.transaction() as db:
        found = store.upload_of_key(db, caller.person_id, key)
        if found is not None:
            return _standing(caller, found)
        count, waiting = store.open_uploads(db, caller.person_id)
        if count >= MOST_AT_ONCE or waiting + size > MOST_BYTES_AT_ONCE:
            raise Refused("Too many files are on their way at once: let some of them arrive")
        row = store.add_upload(db, caller.person_id, key, safe_file_name(name), size, caller.now)
        Contents.of(caller.database).forget(row.id)
    return Upload(row, 0)


def standing_upload(caller: Caller, upload_id: int) -> Upload:
    """Say how much of an upload of the caller's has arrived; NotFound for any other."""
    with caller.reading() as db:
        return _standing(caller, _own_upload(store.upload(db, caller.person_id, upload_id)))


def _whole_upload(caller: Caller, upload_id: int) -> Upload:
    upload = standing_upload(caller, upload_id)
    if not upload.whole:
        raise Stale("The file has not arrived whole yet", upload.received)
    return upload


def _standing(caller: Caller, row: UploadRow) -> Upload:
    return Upload(row, Contents.of(caller.database).received(row.id))


def _own_upload(found: UploadRow | None) -> UploadRow:
    if found is None:
        raise NotFound("This file is not on its way: choose it again")
    return found


def receive(caller: Caller, upload_id: int, at: int) -> tuple[Upload, Taking]:
    """Get ready to take an upload's bytes from a place on; gives it, and what opens it: a function
    that takes a piece. Opening raises Stale where more or less has arrived than the sender knows.
    """
    upload = standing_upload(caller, upload_id)
    return upload, Contents.of(caller.database).receiving(upload.row.id, at)


def give_up(caller: Caller, upload_id: int) -> None:
    """Give an upload up: nothing of it is kept."""
    with caller.transaction() as db:
        row = _own_upload(store.upload(db, caller.person_id, upload_id))
        store.delete_upload(db, row.id)
    Contents.of(caller.database).forget(row.id)


def bring_in(caller: Caller, upload_id: int) -> BroughtIn:
    """Keep an upload that has arrived whole. Its row goes in the transaction that puts the file
    where it belongs (`end_upload`), so that this can be repeated.
    """
    upload = _whole_upload(caller, upload_id)
    contents = Contents.of(caller.database)
    with contents.beside() as folder:
        # Linked, so that a call that is repeated finds it again.
        source = folder / "sent"
        source.hardlink_to(contents.incoming(upload.row.id))
        return _keep(contents, source, upload.row.name, hash_of(source))


@contextmanager
def archive_in(caller: Caller, upload_id: int) -> Iterator[Archive]:
    """Look through an archive that has arrived. Raises Refused, with its name, for what is none,
    and Stale for what has not arrived whole.
    """
    upload = _whole_upload(caller, upload_id)
    path = Contents.of(caller.database).incoming(upload.row.id)
    with path.open("rb") as file:
        try:
            archive = Archive(file, LARGEST_UNPACKED)
        except Refused as error:
            message = f"“{upload.row.name}”: {error.message}"
            raise Refused(message, "upload_ids") from error
        yield archive


def bring_in_entry(caller: Caller, upload_id: int, number: int) -> BroughtIn:
    """Keep a file of an archive that has arrived, by its number from 1. NotFound where it has none
    of that number; Refused where it is damaged, or more than it says.
    """
    contents = Contents.of(caller.database)
    with archive_in(caller, upload_id) as archive, contents.beside() as folder:
        if not 1 <= number <= len(archive.entries):
            raise NotFound("There is no such file in this archive")
        entry = archive.entries[number - 1]
        if leads_elsewhere(entry.name) or not 0 < entry.size <= LARGEST_FILE:
            raise Refused(f"“{entry.file_name}” cannot be taken out of this archive", "file")
        source = folder / "sent"
        hash = write_hashed(source, archive.read(entry))
        return _keep(contents, source, entry.file_name, hash)


def end_upload(caller: Caller, upload_id: int) -> None:
    """End an upload, as part of the transaction that puts its file where it belongs; its bytes, of
    which the kept file is another name, are swept.
    """
    with caller.transaction() as db:
        store.delete_upload(db, upload_id)


def _keep(contents: Contents, source: Path, name: str, sent_hash: str) -> BroughtIn:
    """Keep a file that lies in a folder to work in. The source is gone after that."""
    with source.open("rb") as file:
        found = type_of(file.read(HEAD), name)
    size = source.stat().st_size
    kept = contents.keep(source, sent_hash)
    return BroughtIn(kept, size, found, safe_file_name(name), sent_hash)
