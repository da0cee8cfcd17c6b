"""The school: what holds for all of its classes."""

from __future__ import annotations

from jade_ladder.core.errors import Refused
from jade_ladder.core.signs import THIN_LEAST, THIN_MOST
from jade_ladder.service.shared.caller import Administrator
from jade_ladder.store.people import people as store


def set_thin(caller: Administrator, thin: int) -> None:
    """Say from how many different sources evidence is no longer thin, in every class."""
    if not THIN_LEAST <= thin <= THIN_MOST:
        raise Refused(f"Choose a number from {THIN_LEAST} to {THIN_MOST}", "thin")
    with caller.transaction() as db:
        school = store.school(db)
        if school is not None and school.thin != thin:
            store.set_thin(db, thin)
            caller.log(db, "thin", 1, school.thin, thin)
