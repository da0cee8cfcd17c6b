"""Waiting for a process of its own without holding a thread that a save needs."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

import anyio
from anyio import to_thread
from fastapi import FastAPI, Request

from jade_ladder.core.errors import Unavailable

AT_ONCE, MOST_WAITING = 2, 40
Made = TypeVar("Made")


def begin_apart(app: FastAPI) -> None:
    """Begin to count what is done apart, as the application begins to answer."""
    app.state.apart = anyio.CapacityLimiter(AT_ONCE)


async def apart(request: Request, work: Callable[[], Made]) -> Made:
    """Do what waits for a process, in its turn, a few at a time and in threads of their own.

    Raises Unavailable where too many wait already.
    """
    limiter: anyio.CapacityLimiter = request.app.state.apart
    if limiter.statistics().tasks_waiting >= MOST_WAITING:
        raise Unavailable("Too many files are being read at once. Try again in a moment.", 5)
    return await to_thread.run_sync(work, limiter=limiter)
