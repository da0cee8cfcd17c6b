"""Sending files that are made when they are asked for, and gone once they are sent."""

from __future__ import annotations

from contextlib import AbstractContextManager, ExitStack
from pathlib import Path
from urllib.parse import quote

from fastapi.responses import FileResponse
from starlette.background import BackgroundTask

from jade_ladder.formats.plain_text import safe_file_name


def attachment(name: str) -> dict[str, str]:
    """Give the headers by which a file is kept under a name; the plain one in them is for what does
    not read the other.
    """
    name = safe_file_name(name)
    plain = name.encode("ascii", "replace").decode().replace("?", "_")
    names = f"filename=\"{plain}\"; filename*=UTF-8''{quote(name)}"
    return {"content-disposition": f"attachment; {names}"}


def sent_once(
    made: AbstractContextManager[tuple[Path, str]],
    media_type: str,
    headers: dict[str, str] | None = None,
) -> FileResponse:
    """Send a file that is there while `made` is open, under its name, and close that after it."""
    stack = ExitStack()
    path, name = stack.enter_context(made)
    return FileResponse(
        path,
        media_type=media_type,
        filename=name,
        headers=headers,
        background=BackgroundTask(stack.close),
    )
