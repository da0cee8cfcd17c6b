"""What stands in files, beside the database: by the hash of it, written and on the disk before
anything names it.
"""

from __future__ import annotations

import errno
import fcntl
import hashlib
import os
import shutil
import tempfile
from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import Future, ThreadPoolExecutor
from contextlib import contextmanager
from dataclasses import dataclass
from functools import partial
from pathlib import Path

from jade_ladder.core.errors import NotFound, Stale, Unavailable
from jade_ladder.store.shared.connection import Database
from jade_ladder.store.shared.file import sync

FOLDER = "jade-ladder-files"
_PIECE = 1 << 20
_NOT_NOW = {
    errno.ENOSPC: "the disk is full",
    errno.EDQUOT: "the disk is full",
    errno.EROFS: "the disk cannot be written to",
    errno.EIO: "the disk cannot be written or read",
    errno.EMFILE: "the server is busy",
    errno.ENFILE: "the server is busy",
}


@dataclass(frozen=True, slots=True)
class Contents:
    """The folder of a database's files: `incoming` holds what is on its way, and each file lies
    under the first two letters of its hash.
    """

    folder: Path

    @classmethod
    def of(cls, database: Database) -> Contents:
        """Give the folder that belongs to a database."""
        return cls(database.path.parent / FOLDER)

    def path(self, hash: str) -> Path:
        """Give where a file lies. Raises NotFound where it is not there."""
        path = self.place(hash)
        if not path.is_file():
            raise NotFound("This file is not in the data folder any more")
        return path

    def place(self, hash: str) -> Path:
        """Give the place of a file, there or not."""
        return self.folder / hash[:2] / hash

    def incoming(self, upload_id: int) -> Path:
        """Give where an upload is written while it arrives."""
        return self.folder / "incoming" / f"{upload_id}"

    def received(self, upload_id: int) -> int:
        """Say how many bytes of an upload have arrived."""
        try:
            return self.incoming(upload_id).stat().st_size
        except FileNotFoundError:
            return 0

    @contextmanager
    def receiving(self, upload_id: int, at: int) -> Iterator[Callable[[bytes], None]]:
        """Open an upload to be written on from a place on, alone: gives a function that takes the
        next piece. What was written is kept, however this ends.

        Raises Stale where more or less has arrived, and Unavailable while another one writes on it,
        or the disk takes nothing.
        """
        with told_as_ours():
            path = self.incoming(upload_id)
            path.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
            number = os.open(path, os.O_CREAT | os.O_WRONLY, 0o600)
            try:
                _lock(number)
                # Looked at again under the lock: what has arrived is never written over, since a
                # file that is kept may be another name of it.
                arrived = os.lseek(number, 0, os.SEEK_END)
                if arrived != at:
                    raise Stale("Another part of this file is expected", arrived)
                yield partial(_write, number)
            finally:
                os.close(number)

    def forget(self, upload_id: int) -> None:
        """Remove what has arrived of an upload."""
        self.incoming(upload_id).unlink(missing_ok=True)

    def keep(self, source: Path, known: str | None = None) -> str:
        """Put a whole file in its place and see it on the disk; gives the hash of its content,
        which may be known. The source is gone after that.
        """
        with told_as_ours():
            hash = hash_of(source) if known is None else known
            place = self.place(hash)
            with self._changing():
                if place.is_file() and place.stat().st_size == source.stat().st_size:
                    # It is named anew: it must not be swept before its row is there.
                    os.utime(place)
                    source.unlink()
                    return hash
                new = not place.parent.is_dir()
                place.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
                source.chmod(0o600)
                sync(source)
                source.rename(place)
                # The folder's names with the file's: a folder that is new is named in its own.
                sync(place.parent)
                if new:
                    sync(self.folder)
            return hash

    @contextmanager
    def beside(self) -> Iterator[Path]:
        """Give a folder to work in, on the same disk, that is gone afterwards."""
        with told_as_ours():
            incoming = self.folder / "incoming"
            incoming.mkdir(mode=0o700, parents=True, exist_ok=True)
            with tempfile.TemporaryDirectory(dir=incoming, prefix="work-") as made:
                yield Path(made)

    def hashes(self) -> Iterator[str]:
        """List the files that lie here, by hash."""
        if not self.folder.is_dir():
            return
        for under in sorted(self.folder.iterdir()):
            if len(under.name) == 2:
                yield from sorted(one.name for one in under.iterdir() if one.name[0] != ".")

    @contextmanager
    def unswept(self) -> Iterator[None]:
        """Let nothing be swept meanwhile, as while a backup is made."""
        with self._changing():
            yield

    @contextmanager
    def _changing(self, alone: bool = False) -> Iterator[None]:
        self.folder.mkdir(mode=0o700, parents=True, exist_ok=True)
        number = os.open(self.folder, os.O_RDONLY)
        try:
            fcntl.flock(number, (fcntl.LOCK_EX | fcntl.LOCK_NB) if alone else fcntl.LOCK_SH)
            yield
        finally:
            os.close(number)

    def sweep(self, named: Iterable[str], uploads: Iterable[int], before: float) -> int:
        """Remove what nothing names and nobody has touched since `before` (seconds since 1970);
        gives how many files. Nothing is removed while a backup is made.
        """
        if not self.folder.is_dir():
            return 0
        keep, going = set(named), {f"{number}" for number in uploads}
        swept = 0
        try:
            with self._changing(alone=True):
                for hash in list(self.hashes()):
                    place = self.place(hash)
                    if hash not in keep and place.stat().st_mtime < before:
                        place.unlink()
                        swept += 1
                incoming = self.folder / "incoming"
                for left in list(incoming.iterdir()) if incoming.is_dir() else ():
                    if left.name in going or left.stat().st_mtime >= before:
                        continue
                    # What a conversion that was killed worked in is a folder.
                    _remove(left)
                    swept += 1
        except BlockingIOError:
            return 0
        return swept


def _remove(path: Path) -> None:
    if path.is_dir():
        shutil.rmtree(path, ignore_errors=True)
    else:
        path.unlink()


def hash_of(path: Path) -> str:
    """Give the SHA-256 of what stands in a file."""
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def write_hashed(path: Path, pieces: Iterable[bytes]) -> str:
    """Write a file and see it on the disk; gives the SHA-256 of what it holds. Another thread works
    that out meanwhile, which takes longer than the disk does.
    """
    hash = hashlib.sha256()
    with told_as_ours(), ThreadPoolExecutor(1) as beside, path.open("wb") as target:
        going: Future[None] | None = None
        for piece in pieces:
            before, going = going, beside.submit(hash.update, piece)
            target.write(piece)
            # No more than a piece or two wait, however large the file is.
            if before is not None:
                before.result()
        target.flush()
        os.fsync(target.fileno())
    return hash.hexdigest()


def _write(number: int, piece: bytes) -> None:
    with told_as_ours():
        view = memoryview(piece)
        while view:
            view = view[os.write(number, view) :]


@contextmanager
def told_as_ours() -> Iterator[None]:
    """Raise what the disk says of the moment as Unavailable."""
    try:
        yield
    except OSError as error:
        if error.errno not in _NOT_NOW:
            raise
        raise Unavailable(
            f"Nothing of this was kept, since {_NOT_NOW[error.errno]}. Try again in a moment."
        ) from error


def _lock(number: int) -> None:
    try:
        fcntl.flock(number, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        raise Unavailable("This file is being sent already, in another tab") from None
