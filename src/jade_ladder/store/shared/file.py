"""The database's file: whether it is one, how it comes about, and who may read it."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

from jade_ladder.core.errors import StoreError
from jade_ladder.store.shared.migrations import APPLICATION_ID

FILE_NAME = "jade-ladder.sqlite3"
_MAGIC = b"SQLite format 3\0"
# Where SQLite keeps the application id and the version in a file's first page.
_VERSION, _APPLICATION = slice(60, 64), slice(68, 72)


def check_file(path: Path) -> bool:
    """Tell whether there is a database of ours at `path`; False where there is nothing.

    Raises StoreError, in one line, for anything else that stands there.
    """
    try:
        with path.open("rb") as file:
            head = file.read(100)
    except FileNotFoundError:
        return False
    except OSError as error:
        raise StoreError(f"The database {path} cannot be read: {error.strerror}") from None
    if not head:
        raise StoreError(
            f"The database {path} is empty: put a backup in its place (jade-ladder restore), or "
            "delete it to begin anew"
        )
    if not head.startswith(_MAGIC):
        raise StoreError(f"{path} cannot be used: it is not a database")
    application = int.from_bytes(head[_APPLICATION], "big")
    version = int.from_bytes(head[_VERSION], "big")
    # The first versions of this program wrote no application id.
    if application != APPLICATION_ID and (application or not version):
        raise StoreError(f"{path} cannot be used: it is a database of another program")
    return True


def make_file(path: Path, make: Callable[[Path], None]) -> None:
    """Make a database beside `path` and put it in place whole: an interrupted first start leaves
    nothing there. When another process was quicker, its file stays.
    """
    if not path.parent.exists():
        path.parent.mkdir(mode=0o700, parents=True)
    with made_beside(path) as made:
        make(made)
        with suppress(FileExistsError):
            os.link(made, path)


@contextmanager
def made_beside(path: Path) -> Iterator[Path]:
    """Give an empty file beside `path` that only its owner can read; it is removed at the end
    unless it was renamed. What an earlier run left there when it was killed is swept away.
    """
    for left in path.parent.glob(f".{path.name}.*.new"):
        process = left.suffixes[-2][1:]
        if process.isdecimal() and not _runs(int(process)):
            remove_database(left)
    made = path.with_name(f".{path.name}.{os.getpid()}.new")
    try:
        os.close(os.open(made, os.O_CREAT | os.O_TRUNC | os.O_RDWR, 0o600))
        yield made
    finally:
        remove_database(made)


def _runs(process: int) -> bool:
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    except PermissionError:
        return True
    return True


def remove_database(path: Path) -> None:
    """Remove a database's file with what SQLite keeps beside it."""
    for name in (path.name, f"{path.name}-wal", f"{path.name}-shm", f"{path.name}-journal"):
        path.with_name(name).unlink(missing_ok=True)


def protect(path: Path) -> None:
    """Let nobody but the account the program runs under read the data: the file is 0600, and a
    folder that holds nothing else 0700.
    """
    for name in (path.name, f"{path.name}-wal", f"{path.name}-shm"):
        with suppress(FileNotFoundError):
            _tighten(path.with_name(name), 0o600)
    ours = all(entry.name.lstrip(".").startswith("jade-ladder") for entry in path.parent.iterdir())
    if ours:
        _tighten(path.parent, 0o700)


def _tighten(path: Path, mode: int) -> None:
    """Take rights away; where the account may not, the file is not its own to protect."""
    now = path.stat().st_mode & 0o777
    if now & ~mode:
        with suppress(PermissionError):
            path.chmod(now & mode)


def sync(path: Path) -> None:
    """Wait until a file, or the names in a folder, are on the disk."""
    number = os.open(path, os.O_RDONLY)
    try:
        os.fsync(number)
    finally:
        os.close(number)
