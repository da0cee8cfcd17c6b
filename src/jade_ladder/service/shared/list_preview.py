"""Lists that are imported: each line held against what is there, then all of it or nothing."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import Generic, Protocol, TypeVar

from jade_ladder.core.errors import Problem, Refused, RefusedMany
from jade_ladder.formats.table import ReadColumns


class NumberedLine(Protocol):
    """A line of a list, which knows the line it begins on."""

    @property
    def number(self) -> int:
        """The line's number in the file, from 1."""


LineT = TypeVar("LineT", bound=NumberedLine)


class LineStatus(StrEnum):
    """What a line would do: add something new, let somebody known join, change what is there,
    nothing, or it is bad.
    """

    NEW = "new"
    JOINS = "joins"
    CHANGES = "changes"
    ALREADY_THERE = "already-there"
    PROBLEM = "problem"


@dataclass(frozen=True, slots=True)
class ReadLine(Generic[LineT]):
    """A line held against what is there; `problem` says what is wrong with it, `field` where."""

    line: LineT
    status: LineStatus
    known_id: int | None = None
    problem: str = ""
    field: str = ""


@dataclass(frozen=True)
class Imported(Generic[LineT]):
    """An import: the number by which it can be undone, how many lines it added, and those that it
    left out.
    """

    entry: int
    added: int
    left_out: tuple[ReadLine[LineT], ...]


def bad(line: LineT, problem: str, field: str) -> ReadLine[LineT]:
    """Make a line with a problem."""
    return ReadLine(line, LineStatus.PROBLEM, problem=problem, field=field)


@dataclass(frozen=True)
class ListPreview(Generic[LineT]):
    """What a list would do, line by line, and how its columns were taken."""

    read: ReadColumns
    lines: tuple[ReadLine[LineT], ...]

    @property
    def problems(self) -> list[Problem]:
        """The lines that keep the list from being imported."""
        return [Problem(f"line {read.line.number}", read.problem) for read in self.bad_lines]

    @property
    def bad_lines(self) -> tuple[ReadLine[LineT], ...]:
        """The lines with a problem."""
        return tuple(read for read in self.lines if read.status is LineStatus.PROBLEM)

    @property
    def adding(self) -> list[ReadLine[LineT]]:
        """The lines that would add something."""
        return [read for read in self.lines if read.status in (LineStatus.NEW, LineStatus.JOINS)]

    @property
    def changing(self) -> list[ReadLine[LineT]]:
        """The lines that would change what is there."""
        return [read for read in self.lines if read.status is LineStatus.CHANGES]

    def refuse_problems(self, leave_out: bool = False) -> None:
        """Raise Refused while a column has yet to be chosen, and RefusedMany, naming each line,
        when there is a problem, unless those lines are to be left out.
        """
        if self.read.needed:
            raise Refused(self.read.needed, "columns")
        if self.problems and not leave_out:
            raise RefusedMany("Some lines have problems; nothing was added", self.problems)
