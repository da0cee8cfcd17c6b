"""Browsers in which somebody signed in before: no guesser at their address keeps them out."""

from __future__ import annotations

import secrets
from datetime import datetime, timedelta

from jade_ladder.service.people.sessions import token_hash
from jade_ladder.store.people import devices as store
from jade_ladder.store.shared.connection import Database

KNOWN_FOR = timedelta(days=400)
"""Since somebody signed in there last; browsers keep cookies no longer."""


def is_known(database: Database, token: str, now: datetime) -> bool:
    """Whether somebody signed in before in the browser that has a token."""
    with database.looking() as db:
        return store.is_known(db, token_hash(token), now - KNOWN_FOR)


def remember(database: Database, token: str | None, now: datetime) -> str:
    """Know a browser by its token, or by a new one; gives it. Whose it is, is not kept."""
    with database.transaction() as db:
        if token is None or not store.is_known(db, token_hash(token), now - KNOWN_FOR):
            token = secrets.token_urlsafe(32)
        store.see(db, token_hash(token), now, now - KNOWN_FOR)
        return token
