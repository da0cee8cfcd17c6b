"""Archives from outside (ZIP), looked through before anything is unpacked."""

from __future__ import annotations

import struct
import unicodedata
import zipfile
import zlib
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass
from typing import IO

from jade_ladder.core.errors import Refused

LARGEST_DIRECTORY = 2_000_000
MOST_ENTRIES = 5000
_END = b"PK\x05\x06"
_END_SIZE = 22
_LONGEST_COMMENT = 65_535
_CENTRAL = b"PK\x01\x02"
_CENTRAL_SIZE = 46
_LOCAL_SIZE = 30
_UTF_8 = 0x800
CHUNK = 1 << 20
_TORN = (
    zipfile.BadZipFile,
    zlib.error,
    struct.error,
    NotImplementedError,
    EOFError,
    OSError,
    RuntimeError,
)


@dataclass(frozen=True, slots=True)
class Entry:
    """A file in an archive: its name with the folders before it, as it was written, and how many
    bytes it says it has.
    """

    name: str
    size: int
    info: zipfile.ZipInfo

    @property
    def file_name(self) -> str:
        """Its name without folders."""
        return self.name.rpartition("/")[2]

    @property
    def folder(self) -> str:
        """The folder that it stands in, or nothing."""
        return self.name.rpartition("/")[0].rpartition("/")[2]


class Archive:
    """A ZIP file whose directory was looked through: bounded, and no two files in one place."""

    def __init__(self, file: IO[bytes], most_bytes: int) -> None:
        """Look through an archive of files that come to `most_bytes` at most, unpacked.

        Raises Refused for what is no archive, or one that nobody packs by hand.
        """
        self._left = most_bytes
        self._most = most_bytes
        _check_directory(file)
        try:
            self._zip = zipfile.ZipFile(file)
        except (*_TORN, ValueError):
            raise Refused("This archive is damaged, so nothing of it was read", "file") from None
        infos = self._zip.infolist()
        _check_places(infos)
        if sum(info.file_size for info in infos) > most_bytes:
            raise _too_much(most_bytes)
        self.entries = [
            Entry(_name(info), info.file_size, info) for info in infos if not _is_passed_over(info)
        ]

    def read(self, entry: Entry) -> Iterator[bytes]:
        """Give the content of a file in pieces, counted while it is unpacked, over all that are
        read. Raises Refused where it is more than it said, encrypted or damaged.
        """
        if entry.info.flag_bits & 1:
            raise Refused(f"“{entry.name}” is packed with a password", "file")
        try:
            with self._zip.open(entry.info) as packed:
                while piece := packed.read(CHUNK):
                    self._left -= len(piece)
                    if self._left < 0:
                        raise _too_much(self._most)
                    yield piece
        except _TORN as error:
            raise Refused(f"“{entry.name}” is damaged in this archive", "file") from error


def _check_directory(file: IO[bytes]) -> None:
    """Count the directory's entries, before anything makes an object of each."""
    file.seek(0, 2)
    whole = file.tell()
    file.seek(max(0, whole - _LONGEST_COMMENT - _END_SIZE))
    tail = file.read()
    at = tail.rfind(_END)
    if at < 0 or len(tail) - at < _END_SIZE:
        raise Refused("This is no ZIP archive", "file")
    _, _, _, _, declared, size, start, _ = struct.unpack("<4s4H2IH", tail[at : at + _END_SIZE])
    end = max(0, whole - len(tail)) + at
    if size > LARGEST_DIRECTORY or declared > MOST_ENTRIES or start + size > end:
        raise Refused(f"This archive names more than {MOST_ENTRIES:,} files", "file")
    # The directory ends where its end record begins, whatever that says of where it starts.
    file.seek(end - size)
    directory = file.read(size)
    place, entries = 0, 0
    while directory[place : place + 4] == _CENTRAL and place + _CENTRAL_SIZE <= size:
        name, extra, comment = struct.unpack_from("<3H", directory, place + 28)
        place += _CENTRAL_SIZE + name + extra + comment
        entries += 1
    if entries != declared or place != size:
        raise Refused("This archive is damaged, so nothing of it was read", "file")
    file.seek(0)


def _check_places(infos: list[zipfile.ZipInfo]) -> None:
    """Refuse files that lie over each other: a few bytes would unpack to gigabytes."""
    end = 0
    for info in sorted(infos, key=lambda one: one.header_offset):
        if info.header_offset < end or info.compress_size < 0:
            raise Refused("This archive is damaged, so nothing of it was read", "file")
        end = info.header_offset + _LOCAL_SIZE + info.compress_size


def _name(info: zipfile.ZipInfo) -> str:
    """Give a name as it was meant: UTF-8 where it is that, whatever the flag says, else the old
    code page; in composed characters.
    """
    name = info.orig_filename
    if not info.flag_bits & _UTF_8:
        with suppress(UnicodeError):
            name = name.encode("cp437").decode("utf-8")
    return unicodedata.normalize("NFC", name.replace("\\", "/"))


def _is_passed_over(info: zipfile.ZipInfo) -> bool:
    """Whether an entry is none of what somebody packed: folders, and what systems leave behind."""
    name = _name(info)
    parts = [part for part in name.split("/") if part]
    if info.is_dir() or name.endswith("/") or not parts:
        return True
    return "__MACOSX" in parts or parts[-1] in (".DS_Store", "Thumbs.db", "desktop.ini")


def leads_elsewhere(name: str) -> bool:
    """Whether a name in an archive leads out of the folder that it is unpacked in."""
    return name.startswith("/") or ".." in name.split("/") or name[1:2] == ":"


def _too_much(most: int) -> Refused:
    return Refused(f"This archive unpacks to more than {most // 1_000_000} MB", "file")
