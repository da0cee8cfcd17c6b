"""Frameworks of outcomes and rubrics as they are exchanged by CASE 1.0, the open standard for
competency frameworks: reading is in case_in.py, writing in case_out.py.

What CASE has no place for (scales, alignments of one criterion to several outcomes, cells by hand)
stands under "extensions", which other programs pass over.
"""

from __future__ import annotations

from dataclasses import dataclass

from jade_ladder.core.alignment import Cell
from jade_ladder.core.rubric import Criterion
from jade_ladder.core.scale import Scale

EXTENSION = "jade_ladder"
STRAND_TYPE, OUTCOME_TYPE = "Strand", "Learning Outcome"


@dataclass(frozen=True, slots=True)
class FrameworkStrand:
    """A strand; `parent` is the identifier of the strand it is within."""

    guid: str
    title: str
    parent: str | None = None


@dataclass(frozen=True, slots=True)
class FrameworkOutcome:
    """An outcome; `strand` is an identifier, `scale` the name of one of the framework's scales."""

    guid: str
    code: str
    title: str
    description: str = ""
    strand: str | None = None
    scale: str | None = None


@dataclass(frozen=True, slots=True)
class FrameworkAlignment:
    """The tie of a criterion to an outcome; `by_hand` holds a cell where somebody wrote one, and
    None where the default map holds, lowest level first.
    """

    outcome: str
    weight: int
    by_hand: tuple[Cell | None, ...]


@dataclass(frozen=True, slots=True)
class FrameworkRubric:
    """A rubric with its criteria and their alignments."""

    guid: str
    title: str
    criteria: tuple[tuple[Criterion, tuple[FrameworkAlignment, ...]], ...]


@dataclass(frozen=True, slots=True)
class Framework:
    """A document of outcomes in strands, the scales they are on, and rubrics aligned to them.

    Strands and outcomes stand in order, each strand before those within it. `notes` tell what a
    reader had to adapt.
    """

    guid: str
    title: str
    creator: str
    strands: tuple[FrameworkStrand, ...] = ()
    outcomes: tuple[FrameworkOutcome, ...] = ()
    rubrics: tuple[FrameworkRubric, ...] = ()
    scales: tuple[tuple[str, Scale], ...] = ()
    notes: tuple[str, ...] = ()
