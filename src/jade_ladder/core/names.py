"""Names of people."""

from __future__ import annotations

import unicodedata
from functools import lru_cache


@lru_cache(maxsize=4096)
def folded(name: str) -> str:
    """A name to sort by where no language is at hand: without marks and capitals, so that Å stands
    with A and Ç with C.
    """
    plain = unicodedata.normalize("NFKD", name)
    return "".join(sign for sign in plain if not unicodedata.combining(sign)).casefold()


def compare_names(one: str, other: str) -> int:
    """Say which of two names comes first: below, at or above 0."""
    first, second = folded(one), folded(other)
    return (first > second) - (first < second)


class Named:
    """Somebody with a given and a family name, of which one may be empty."""

    __slots__ = ()

    given_name: str
    family_name: str

    @property
    def name(self) -> str:
        """Given and family name as one."""
        return f"{self.given_name} {self.family_name}".strip()

    @property
    def sort_name(self) -> str:
        """Family before given name, as names are sorted."""
        return f"{self.family_name} {self.given_name}".strip()
