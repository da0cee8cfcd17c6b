"""The process that converts a file, with limits: python -m jade_ladder.outside.converter.

It imports no more than it needs: it begins anew for every file.
"""

from __future__ import annotations

import json
import os
import resource
import sys
from collections.abc import Callable
from pathlib import Path
from types import ModuleType
from typing import Any

from jade_ladder.core.errors import JadeLadderError

SECONDS = 30
"""Of a processor's time."""
NICENESS = 10
RESULT = "result.json"
DRAWN, MARKED = "drawn.pdf", "marked.pdf"
_MEMORY = 1_500_000_000
_LARGEST_FILE = 200_000_000
_OPEN_FILES = 32


def _main(what: str, source: Path, folder: Path, *more: str) -> None:
    _limit()
    if what not in _OF_OUR_OWN:
        # No process of its own; what counts all of an account's is told by the system, if it does.
        resource.setrlimit(resource.RLIMIT_NPROC, (0, 0))
    try:
        answer = _DOES[what](source, folder, *more)
    except JadeLadderError as error:
        answer = {
            "refused": getattr(error, "message", str(error)),
            "field": getattr(error, "field", ""),
        }
    (folder / RESULT).write_text(json.dumps(answer), "utf-8")


def _document(source: Path, folder: Path) -> dict[str, Any]:
    _without_network()
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


def _markdown(source: Path, folder: Path) -> dict[str, Any]:
    from jade_ladder.formats.files.document import shown_markdown

    shown = shown_markdown(source)
    left_out = list(shown.left_out)
    return {"html": shown.html, "words": shown.words, "left_out": left_out, "pictures": 0}


def _spreadsheet(source: Path, folder: Path, wanted: str = "") -> dict[str, Any]:
    from jade_ladder.formats.spreadsheet import read_sheet

    sheet = read_sheet(source.read_bytes(), wanted)
    return {"text": sheet.text, "name": sheet.name, "names": sheet.names}


def _without_network() -> None:
    """Let nothing in this process open an address: what would do that is not loaded, which is also
    a fifth of the time it takes to begin.
    """
    closed = ModuleType("urllib.request")

    def urlopen(*_: object, **__: object) -> None:
        raise OSError("Nothing is fetched here")

    closed.urlopen = urlopen  # type: ignore[attr-defined]
    sys.modules["urllib.request"] = closed


def _picture(source: Path, folder: Path, media_type: str) -> dict[str, Any]:
    from jade_ladder.formats.files.picture import upright

    return {"made": upright(source, media_type, folder / "picture")}


def _remarks(source: Path, folder: Path) -> dict[str, Any]:
    from jade_ladder.formats.paper.setting import set_marked_work

    set_marked_work(json.loads(source.read_text("utf-8")), folder / DRAWN)
    return {}


def _marked(source: Path, folder: Path) -> dict[str, Any]:
    _without_network()
    from jade_ladder.formats.paper.laying_over import lay_over

    pages = lay_over(json.loads(source.read_text("utf-8")), folder / DRAWN, folder / MARKED)
    return {"pages": pages}


_DOES: dict[str, Callable[..., dict[str, Any]]] = {
    "document": _document,
    "markdown": _markdown,
    "spreadsheet": _spreadsheet,
    "picture": _picture,
    "remarks": _remarks,
    "marked": _marked,
}
# What reads nothing that a stranger made, and may have threads.
_OF_OUR_OWN = {"remarks"}


def _limit() -> None:
    # It yields to the server, and to what the server works out for somebody who waits.
    os.nice(NICENESS)
    resource.setrlimit(resource.RLIMIT_AS, (_MEMORY, _MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (SECONDS, SECONDS))
    resource.setrlimit(resource.RLIMIT_FSIZE, (_LARGEST_FILE, _LARGEST_FILE))
    resource.setrlimit(resource.RLIMIT_NOFILE, (_OPEN_FILES, _OPEN_FILES))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))


if __name__ == "__main__":
    _main(sys.argv[1], Path(sys.argv[2]), Path(sys.argv[3]), *sys.argv[4:])
