"""Names of people."""

from __future__ import annotations

import re
import unicodedata
from functools import lru_cache


@lru_cache(maxsize=4096)
def folded(name: str) -> str:
    """A name to sort by where no language is at hand: without marks and capitals, so that Å stands
    with A and Ç with C.
    """
    plain = unicodedata.normalize("NFKD", name)
    return "".join(sign for sign in plain if not unicodedata.combining(sign)).casefold()


_ACCENTS = re.compile(
    "[\u0300-\u036f\u064b-\u0655\u0670\u1ab0-\u1aff\u1dc0-\u1dff\u20d0-\u20ff\ufe20-\ufe2f]"
)
_APOSTROPHES = re.compile("['`´ʹʻʼʽˈ‘’‛′＇]")
_LETTERS = str.maketrans(
    {
        "ß": "ss",
        "æ": "ae",
        "œ": "oe",
        "ø": "o",
        "đ": "d",
        "ð": "d",
        "þ": "th",
        "ł": "l",
        "ħ": "h",
        "ı": "i",
        "ς": "σ",
    }
)


def searchable(text: str) -> list[str]:
    """Split a text into words as they are searched, and files matched to students: without regard
    to case, accents and apostrophes, in every script. The front end has the same function
    (design/search.ts); a test holds both against one table.
    """
    plain = _without_accents(_APOSTROPHES.sub("", text)).lower()
    letters = _without_accents(plain).translate(_LETTERS)
    parted = (one if unicodedata.category(one)[0] in "LNM" else " " for one in letters)
    return "".join(parted).split()


def _without_accents(text: str) -> str:
    return _ACCENTS.sub("", unicodedata.normalize("NFKD", text))


def level_words(name: str, half_way: bool) -> str:
    """Say a level, or half-way up from it to the next."""
    return f"{name}, half-way up" if half_way else name


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
