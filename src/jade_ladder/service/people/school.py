"""The school: what holds for all of its classes."""

from __future__ import annotations

import re

from jade_ladder.core.errors import Refused
from jade_ladder.core.signs import THIN_LEAST, THIN_MOST
from jade_ladder.service.shared.caller import Administrator
from jade_ladder.store.people import people as store
from jade_ladder.store.shared.log import LogSubject


def change_school(
    caller: Administrator, thin: int | None = None, language: str | None = None
) -> None:
    """Say from how many different sources evidence is no longer thin, in every class, and by which
    language's rules names are sorted, as a BCP 47 tag ("sv", "pt-BR"); None stays as it is. Raises
    Refused for either, and then changes neither.
    """
    if thin is not None and not THIN_LEAST <= thin <= THIN_MOST:
        raise Refused(f"Choose a number from {THIN_LEAST} to {THIN_MOST}", "thin")
    if language is not None:
        check_language(language)
    with caller.transaction() as db:
        school = store.school(db)
        if school is None:
            return
        if thin is not None and school.thin != thin:
            store.set_thin(db, thin)
            caller.log(db, LogSubject.THIN, 1, school.thin, thin)
        if language is not None and school.language != language:
            store.set_language(db, language)
            caller.log(db, LogSubject.LANGUAGE, 1, school.language, language)


def check_language(language: str) -> None:
    """Refuse what is no language tag."""
    if not re.fullmatch(r"[a-z]{2,3}(-[A-Za-z0-9]{2,8}){0,3}", language):
        raise Refused(f"“{language}” is not the code of a language", "language")
