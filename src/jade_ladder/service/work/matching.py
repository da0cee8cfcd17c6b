"""Whose a file is, by the identifier or the name in what it, or the folder it is in, is called."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

from jade_ladder.core.names import searchable
from jade_ladder.store.classes.students import StudentRow

_SHORTEST_GLUED = 6


@dataclass(frozen=True, slots=True)
class Match:
    """Whose a file may be, the likeliest first; `sure` when one identifier, or one whole name, says
    so and nothing speaks for anybody else; `by_identifier` when it was an identifier.
    """

    student_ids: tuple[int, ...]
    sure: bool
    by_identifier: bool = False


NOBODY = Match((), False)


def match_file(name: str, folder: str, students: Sequence[StudentRow]) -> Match:
    """Match a file to a student. The folder is asked first, which holds all of a student's files;
    a part of a name alone (only the family name) makes it likely, never sure.
    """
    stem = name.rpartition(".")[0] or name
    found = [_match(text, students) for text in (folder, stem) if text]
    for sure in (True, False):
        for match in found:
            if match.student_ids and match.sure is sure:
                return match
    return NOBODY


def _match(text: str, students: Sequence[StudentRow]) -> Match:
    tokens = _tokens(text)
    glued = "".join(tokens)
    identified = [one.id for one in students if _has(tokens, _tokens(one.identifier or ""))]
    if identified:
        return Match(tuple(identified), len(identified) == 1, by_identifier=True)
    named = [one for one in students if _is_named(tokens, glued, one)]
    # Of “Ann Lee” and “Mary Ann Lee”, the longer name says more.
    longest = max((len(_name(one)) for one in named), default=0)
    named = [one for one in named if len(_name(one)) == longest]
    if named:
        return Match(tuple(one.id for one in named), len(named) == 1)
    likely = [
        one.id
        for one in students
        if _has(tokens, _tokens(one.family_name)) or _has(tokens, _tokens(one.given_name))
    ]
    return Match(tuple(likely), False)


def _name(student: StudentRow) -> list[str]:
    return _tokens(f"{student.given_name} {student.family_name}")


def _is_named(tokens: list[str], glued: str, student: StudentRow) -> bool:
    wanted = _name(student)
    if wanted and set(wanted) <= set(tokens):
        return True
    given, family = "".join(_tokens(student.given_name)), "".join(_tokens(student.family_name))
    ways = (given + family, family + given)
    return len(ways[0]) >= _SHORTEST_GLUED and any(way in glued for way in ways)


def _has(tokens: list[str], wanted: list[str]) -> bool:
    """Whether tokens hold others, one after the other."""
    size = len(wanted)
    return size > 0 and any(tokens[at : at + size] == wanted for at in range(len(tokens)))


@lru_cache(maxsize=2048)
def _tokens(text: str) -> list[str]:
    """Split a text into words as they are searched; NasserFarida is two. Kept, since every file is
    held against every name.
    """
    return searchable(re.sub(r"(?<=[a-zà-þ])(?=[A-ZÀ-Þ])", " ", unicodedata.normalize("NFC", text)))
