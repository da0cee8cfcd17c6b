"""Guests: who opens a link that was made for one student."""

from __future__ import annotations

from datetime import datetime

from jade_ladder.core.errors import NotFound
from jade_ladder.service.people.sessions import token_hash
from jade_ladder.service.shared.caller import Guest
from jade_ladder.store.people import guests as store
from jade_ladder.store.shared.connection import Database


def guest_of_link(database: Database, token: str, now: datetime) -> Guest:
    """Give the guest who has the secret of a link; NotFound where it leads nowhere (any more),
    without saying why.
    """
    with database.looking() as db:
        link = store.guest_link(db, token_hash(token), now)
    if link is None:
        raise NotFound("This link leads nowhere any more: ask for a new one")
    return Guest(database, link, now)
