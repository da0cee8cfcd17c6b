"""Converting a file in a process of its own, with limits: python -m jade_ladder.outside.conversion.

What a stranger made may take for ever, or all memory; then this process ends, and nothing else.
"""

from __future__ import annotations

import json
import resource
import subprocess
import sys
import threading
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from jade_ladder.core.errors import JadeLadderError, Refused, Unavailable

_SECONDS = 30
_MEMORY = 1_500_000_000
_LARGEST_FILE = 200_000_000
_OPEN_FILES = 32
# Each can take a core and some hundred megabytes.
_AT_ONCE = threading.BoundedSemaphore(2)
_RESULT = "result.json"


@dataclass(frozen=True, slots=True)
class ConvertedDocument:
    """A document as HTML, how many words it has, what is not shown, and its pictures in order."""

    html: str
    words: int
    left_out: tuple[str, ...]
    pictures: tuple[Path, ...]


def convert_document(source: Path, folder: Path) -> ConvertedDocument:
    """Convert a document; its pictures are in the folder after that.

    Raises Refused, in a line for its reader, when it cannot be shown.
    """
    result = _run("document", source, folder)
    return ConvertedDocument(
        result["html"],
        result["words"],
        tuple(result["left_out"]),
        tuple(folder / f"{number}" for number in range(1, result["pictures"] + 1)),
    )


def convert_picture(source: Path, media_type: str, folder: Path) -> Path | None:
    """Write a picture upright and without what the camera wrote into it; gives where, or None
    where it is too large for that. Raises Refused when it is damaged.
    """
    result = _run("picture", source, folder, media_type)
    return folder / "picture" if result["made"] else None


def _run(what: str, source: Path, folder: Path, *more: str) -> dict[str, Any]:
    module = "jade_ladder.outside.conversion"
    call = [sys.executable, "-I", "-m", module, what, str(source), str(folder), *more]
    with _AT_ONCE:
        try:
            done = subprocess.run(
                call,
                timeout=_SECONDS,
                capture_output=True,
                check=False,
                stdin=subprocess.DEVNULL,
                cwd=folder,
            )
        except subprocess.TimeoutExpired:
            raise Refused("It takes too long to be made ready: download it", "file") from None
        except OSError as error:
            raise Unavailable("The server cannot begin another process now") from error
    result = folder / _RESULT
    if done.returncode or not result.is_file():
        raise Refused("It cannot be made ready to be shown: download it", "file")
    answer: dict[str, Any] = json.loads(result.read_text("utf-8"))
    if "refused" in answer:
        raise Refused(str(answer["refused"]), "file")
    return answer


def _main(what: str, source: Path, folder: Path, *more: str) -> None:
    _limit()
    try:
        answer = _DOES[what](source, folder, *more)
    except JadeLadderError as error:
        answer = {"refused": getattr(error, "message", str(error))}
    (folder / _RESULT).write_text(json.dumps(answer), "utf-8")


def _document(source: Path, folder: Path) -> dict[str, Any]:
    from jade_ladder.formats.files.document import shown_document

    count = 0

    def keep(number: int, content: bytes) -> None:
        nonlocal count
        (folder / f"{number}").write_bytes(content)
        count = number

    with source.open("rb") as file:
        shown = shown_document(file, keep)
    return {
        "html": shown.html,
        "words": shown.words,
        "left_out": list(shown.left_out),
        "pictures": count,
    }


def _picture(source: Path, folder: Path, media_type: str) -> dict[str, Any]:
    from jade_ladder.formats.files.picture import upright

    return {"made": upright(source, media_type, folder / "picture")}


_DOES: dict[str, Callable[..., dict[str, Any]]] = {"document": _document, "picture": _picture}


def _limit() -> None:
    resource.setrlimit(resource.RLIMIT_AS, (_MEMORY, _MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (_SECONDS, _SECONDS))
    resource.setrlimit(resource.RLIMIT_FSIZE, (_LARGEST_FILE, _LARGEST_FILE))
    resource.setrlimit(resource.RLIMIT_NOFILE, (_OPEN_FILES, _OPEN_FILES))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    # No process of its own; what counts all of an account's is told by the system, if it does.
    resource.setrlimit(resource.RLIMIT_NPROC, (0, 0))


if __name__ == "__main__":
    _main(sys.argv[1], Path(sys.argv[2]), Path(sys.argv[3]), *sys.argv[4:])
