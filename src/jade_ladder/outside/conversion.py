"""Converting a file in a process of its own (`converter`): what a stranger made may take for ever,
or all memory; then that process ends, and nothing else.
"""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from jade_ladder.core.errors import Refused, Unavailable
from jade_ladder.formats.paper.marked_work import MarkedWork, job_of
from jade_ladder.formats.spreadsheet import Sheet, check_parts
from jade_ladder.outside.converter import MARKED, RESULT

LONGEST_WAIT = 120.0
"""Seconds by the clock; of a processor's time it has fewer (`converter.SECONDS`)."""
LOOKED_AT = 0.25


@dataclass(frozen=True, slots=True)
class ConvertedDocument:
    """A document as HTML, how many words it has, what is not shown, and its pictures in order."""

    html: str
    words: int
    left_out: tuple[str, ...]
    pictures: tuple[Path, ...]


def convert_document(
    source: Path,
    folder: Path,
    markdown: bool = False,
    cancelled: Callable[[], bool] = lambda: False,
) -> ConvertedDocument:
    """Convert a document, or a text in Markdown; its pictures are in the folder after that.

    Raises Refused, in a line for its reader, when it cannot be shown, and Unavailable where it is
    `cancelled` meanwhile.
    """
    what = "markdown" if markdown else "document"
    result = _run(what, source, folder, cancelled=cancelled)
    return ConvertedDocument(
        result["html"],
        result["words"],
        tuple(result["left_out"]),
        tuple(folder / f"{number}" for number in range(1, result["pictures"] + 1)),
    )


def convert_picture(
    source: Path,
    media_type: str,
    folder: Path,
    cancelled: Callable[[], bool] = lambda: False,
) -> Path | None:
    """Write a picture upright and without what the camera wrote into it; gives where, or None
    where it is too large for that. Raises Refused when it is damaged, Unavailable where it is
    `cancelled` meanwhile.
    """
    result = _run("picture", source, folder, media_type, cancelled=cancelled)
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


def convert_spreadsheet(content: bytes, wanted: str) -> Sheet:
    """Read the cells of a sheet, as `formats.spreadsheet.read_sheet` does.

    Raises Refused for what is no spreadsheet, or larger than a list can be.
    """
    check_parts(content)
    with tempfile.TemporaryDirectory() as made:
        source = Path(made) / "book.xlsx"
        source.write_bytes(content)
        result = _run("spreadsheet", source, Path(made), wanted)
    return Sheet(result["text"], result["name"], tuple(result["names"]))


def render_markdown(text: str) -> str:
    """Give a text in Markdown as HTML that is safe to show. Raises Refused where it takes longer
    than anybody's text.
    """
    with tempfile.TemporaryDirectory() as made:
        source = Path(made) / "text.md"
        source.write_text(text, "utf-8")
        return convert_document(source, Path(made), markdown=True).html


def _run(
    what: str,
    source: Path,
    folder: Path,
    *more: str,
    cancelled: Callable[[], bool] = lambda: False,
) -> dict[str, Any]:
    module = "jade_ladder.outside.converter"
    call = [sys.executable, "-I", "-m", module, what, str(source), str(folder), *more]
    quiet = subprocess.DEVNULL
    try:
        process = subprocess.Popen(call, stdin=quiet, stdout=quiet, stderr=quiet, cwd=folder)
    except OSError as error:
        raise Unavailable("The server cannot begin another process now") from error
    try:
        if not _ended(process, cancelled):
            raise Refused("It takes too long to be made ready: download it", "file")
    finally:
        if process.poll() is None:
            process.kill()
            process.wait()
    result = folder / RESULT
    if process.returncode or not result.is_file():
        raise Refused("It cannot be made ready to be shown: download it", "file")
    answer: dict[str, Any] = json.loads(result.read_text("utf-8"))
    if "refused" in answer:
        raise Refused(str(answer["refused"]), str(answer.get("field", "file")))
    return answer


def _ended(process: subprocess.Popen[bytes], cancelled: Callable[[], bool]) -> bool:
    """Wait for a process; False where it takes too long. Raises Unavailable where nobody waits for
    it any more.
    """
    until = time.monotonic() + LONGEST_WAIT
    while time.monotonic() < until:
        if cancelled():
            raise Unavailable("The server is being stopped")
        try:
            process.wait(LOOKED_AT)
        except subprocess.TimeoutExpired:
            continue
        return True
    return False
