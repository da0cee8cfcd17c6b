"""Converting a file in a process of its own (`converter`): what a stranger made may take for ever,
or all memory; then that process ends, and nothing else.
"""

from __future__ import annotations

import json
import subprocess
import sys
import threading
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from jade_ladder.core.errors import Refused, Unavailable
from jade_ladder.formats.paper.marked_work import MarkedWork, job_of
from jade_ladder.outside.converter import MARKED, RESULT, SECONDS

# Each can take a core and some hundred megabytes.
_AT_ONCE = threading.BoundedSemaphore(2)


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


def mark_work(work: MarkedWork, folder: Path) -> Path:
    """Write PDFs with their remarks into one; gives where, in the folder. What is drawn is set by
    one process, and laid over what strangers made by another, with more limits.

    Raises Refused, in a line for its reader, when one cannot be read or it is too much.
    """
    job = folder / "job.json"
    job.write_text(json.dumps(job_of(work)), "utf-8")
    for what in ("remarks", "marked"):
        _run(what, job, folder)
    return folder / MARKED


def _run(what: str, source: Path, folder: Path, *more: str) -> dict[str, Any]:
    module = "jade_ladder.outside.converter"
    call = [sys.executable, "-I", "-m", module, what, str(source), str(folder), *more]
    with _AT_ONCE:
        try:
            done = subprocess.run(
                call,
                timeout=SECONDS,
                capture_output=True,
                check=False,
                stdin=subprocess.DEVNULL,
                cwd=folder,
            )
        except subprocess.TimeoutExpired:
            raise Refused("It takes too long to be made ready: download it", "file") from None
        except OSError as error:
            raise Unavailable("The server cannot begin another process now") from error
    result = folder / RESULT
    if done.returncode or not result.is_file():
        raise Refused("It cannot be made ready to be shown: download it", "file")
    answer: dict[str, Any] = json.loads(result.read_text("utf-8"))
    if "refused" in answer:
        raise Refused(str(answer["refused"]), "file")
    return answer
