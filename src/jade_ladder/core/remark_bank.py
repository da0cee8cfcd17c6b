"""Names and fields in the remarks of a bank (docs/calculations.md, “The remark bank”)."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from enum import StrEnum

from jade_ladder.core.errors import Refused
from jade_ladder.core.names import folded

LONGEST = 5_000
# Shorter texts are not worth offering.
SHORTEST = 3
# A name of so few letters is found only as it is written: “An” is a name, “an” is not.
_SHORT_NAME = 3
_WORD = re.compile(r"[^\W\d_](?:[^\W\d_]|[\u0300-\u036f])*")
_FIELD = re.compile(r"\{([^{}]*)\}")
_TIES = re.compile(r"[\s\-\u2010-\u2012.]{1,3}")


class Field(StrEnum):
    """What a remark leaves open, to be filled for each student."""

    GIVEN_NAME = "given name"
    FAMILY_NAME = "family name"
    NAME = "name"
    ANOTHER = "another student"

    @property
    def written(self) -> str:
        """How it stands in a text."""
        return f"{{{self.value}}}"


@dataclass(frozen=True, slots=True)
class FullName:
    """A student's names."""

    given: str
    family: str


def with_fields(text: str, own: FullName | None, others: Iterable[FullName]) -> str:
    """Put fields in place of names: the student's own, and those of others in the class."""
    names = _Names()
    for other in others:
        for name in (f"{other.given} {other.family}", f"{other.family} {other.given}"):
            names.add(name, Field.ANOTHER)
        for name in (other.given, other.family):
            names.add_parts(name, Field.ANOTHER)
    if own is not None:
        # What is their own goes before what another has, too.
        names.add_parts(own.family, Field.FAMILY_NAME)
        names.add_parts(own.given, Field.GIVEN_NAME)
        names.add(f"{own.family} {own.given}", Field.NAME)
        names.add(f"{own.given} {own.family}", Field.NAME)
    return names.replaced_in(text)


def filled(text: str, own: FullName) -> str:
    """Fill the fields for a student; another's name is left to be written: “…”."""
    values = {
        Field.GIVEN_NAME: own.given,
        Field.FAMILY_NAME: own.family,
        Field.NAME: f"{own.given} {own.family}".strip(),
        Field.ANOTHER: "…",
    }

    def value(match: re.Match[str]) -> str:
        try:
            return values[Field(match[1])]
        except ValueError:
            return match[0]

    return _FIELD.sub(value, text)


def check_fields(text: str) -> None:
    """Refuse a text of the bank that is too short or too long, or has a field that is none."""
    if len(text) < SHORTEST:
        raise Refused(f"At least {SHORTEST} characters", "text")
    if len(text) > LONGEST:
        raise Refused(f"At most {LONGEST} characters", "text")
    for found in _FIELD.findall(text):
        if found not in set(Field):
            there = ", ".join(field.written for field in Field)
            raise Refused(f"There is no field {{{found}}}: there are {there}", "text")


class _Names:
    """Names as sequences of words, the longest found first."""

    def __init__(self) -> None:
        self._fields: dict[tuple[str, ...], Field] = {}
        self._exact: dict[tuple[str, ...], Field] = {}
        self._longest = 0

    def add(self, name: str, field: Field) -> None:
        words = tuple(unicodedata.normalize("NFC", one) for one in _WORD.findall(name))
        if not words:
            return
        self._longest = max(self._longest, len(words))
        if len(words) == 1 and len(words[0]) <= _SHORT_NAME:
            self._exact[words] = field
        else:
            self._fields[tuple(folded(one) for one in words)] = field

    def add_parts(self, name: str, field: Field) -> None:
        for part in _WORD.findall(name):
            self.add(part, field)
        self.add(name, field)

    def replaced_in(self, text: str) -> str:
        words = list(_WORD.finditer(text))
        fields = [(match.start(), match.end()) for match in _FIELD.finditer(text)]
        written = [unicodedata.normalize("NFC", one[0]) for one in words]
        plain = [folded(one) for one in written]
        found: list[str] = []
        at = place = 0
        while place < len(words):
            count, field = self._at(text, words, written, plain, place)
            start, end = words[place].start(), words[max(place, place + count - 1)].end()
            inside = any(begins <= start < ends for begins, ends in fields)
            if field is None or inside:
                place += 1
                continue
            found += [text[at:start], field.written]
            at = end
            place += count
        return "".join([*found, text[at:]])

    def _at(
        self,
        text: str,
        words: Sequence[re.Match[str]],
        written: Sequence[str],
        plain: Sequence[str],
        place: int,
    ) -> tuple[int, Field | None]:
        """How many words from here on are a name, and what field it becomes."""
        most = 1
        while (
            most < self._longest
            and place + most < len(words)
            and _TIES.fullmatch(text[words[place + most - 1].end() : words[place + most].start()])
        ):
            most += 1
        for count in range(most, 0, -1):
            field = self._fields.get(tuple(plain[place : place + count]))
            field = field or self._exact.get(tuple(written[place : place + count]))
            if field is not None:
                return count, field
        return 1, None
