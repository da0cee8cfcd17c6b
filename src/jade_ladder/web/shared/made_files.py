"""Sending files that are made when they are asked for, and gone once they are sent."""

from __future__ import annotations

from contextlib import AbstractContextManager, ExitStack
from pathlib import Path

from fastapi.responses import FileResponse
from starlette.background import BackgroundTask


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
