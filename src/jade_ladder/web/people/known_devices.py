"""Browsers in which somebody signed in before, known by a random cookie that says nothing else."""

from __future__ import annotations

from fastapi import Request, Response

from jade_ladder.outside import clock
from jade_ladder.service.people import devices
from jade_ladder.service.people.sessions import token_hash
from jade_ladder.store.shared.connection import Database

DEVICE_COOKIE = "jade_ladder_device"


def known_device(request: Request) -> str | None:
    """Give what a browser is counted by in which somebody signed in before; None for any other."""
    token = request.cookies.get(DEVICE_COOKIE)
    database: Database = request.app.state.settings.database
    if not token or not devices.is_known(database, token, clock.now()):
        return None
    return f"device {token_hash(token)}"


def remember_device(request: Request, response: Response, database: Database) -> None:
    """Know the browser from now on, in which somebody has just signed in."""
    token = devices.remember(database, request.cookies.get(DEVICE_COOKIE), clock.now())
    response.set_cookie(
        DEVICE_COOKIE,
        token,
        max_age=int(devices.KNOWN_FOR.total_seconds()),
        httponly=True,
        samesite="lax",
        secure=request.url.scheme == "https",
        path="/api/session",
    )
