"""Passwords: how they are hashed and held against what is kept."""

from __future__ import annotations

import secrets
from functools import cache

from pwdlib import PasswordHash

from jade_ladder.core.errors import Refused

SHORTEST_PASSWORD, LONGEST_PASSWORD = 10, 200


@cache
def _hasher() -> PasswordHash:
    return PasswordHash.recommended()


@cache
def _decoy() -> str:
    return hashed(secrets.token_hex())


def hashed(password: str) -> str:
    """Give what is kept of a password."""
    return _hasher().hash(password)


def is_right(password: str, kept: str | None) -> bool:
    """Whether a password is the one of which `kept` is kept; where nothing is kept, saying so
    takes as long.
    """
    return _hasher().verify(password, kept or _decoy()) and kept is not None


def check_length(password: str) -> None:
    """Refuse a password that is too short or too long."""
    if not SHORTEST_PASSWORD <= len(password) <= LONGEST_PASSWORD:
        raise Refused(f"A password has at least {SHORTEST_PASSWORD} characters", "password")
