"""Gathering evidence: from finished marks and alignments to the pieces the core works with."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable
from datetime import datetime
from fractions import Fraction
from itertools import groupby
from operator import itemgetter
from typing import NamedTuple, TypeAlias

from jade_ladder.core.alignment import chosen_value
from jade_ladder.core.evidence import (
    AttemptEvidence,
    AttemptsRule,
    Combining,
    EvidenceKey,
    Part,
    SourceKind,
    combine,
)
from jade_ladder.store import evidence as store

Rules: TypeAlias = dict[tuple[SourceKind, int], AttemptsRule]
Choice: TypeAlias = tuple[int, int, int]
"""criterion, level, half-way: the numbers of the rows, and 0 or 1."""


class _Said(NamedTuple):
    """What one choice says about one outcome, and the evidence it is when it stands alone."""

    outcome_id: int
    part: Part
    alone: int


class Evidence(NamedTuple):
    """All evidence of some students, by student and outcome in order, and the attempts rules of
    the tasks it comes from. Nothing is filtered yet.
    """

    attempts: dict[tuple[int, int], list[AttemptEvidence]]
    rules: Rules


class Alignments:
    """The alignments to some outcomes: what each choice says is worked out once, at the start."""

    def __init__(
        self, db: sqlite3.Connection, outcome_ids: Iterable[int], combining: Combining
    ) -> None:
        """Load every alignment to these outcomes, of whatever rubric."""
        self._combining = combining
        self._said: dict[Choice, list[_Said]] = {}
        cells: dict[tuple[int, int, int], list[tuple[int, int | None]]] = {}
        for criterion, outcome, weight, level, value in store.aligned_cells(db, outcome_ids):
            cells.setdefault((criterion, outcome, weight), []).append((level, value))
        for (criterion, outcome, weight), of_levels in cells.items():
            for (level, half), exact in _values(of_levels).items():
                part = Part(exact, weight)
                said = _Said(outcome, part, combine([part], combining) or 0)
                self._said.setdefault((criterion, level, half), []).append(said)

    def evidence(self, choices: Iterable[Choice]) -> dict[int, int]:
        """Make the evidence of one attempt, by outcome, of its choices."""
        found: dict[int, list[_Said]] = {}
        for choice in choices:
            for said in self._said.get(choice, ()):
                found.setdefault(said.outcome_id, []).append(said)
        return {outcome: self._combined(said) for outcome, said in found.items()}

    def _combined(self, said: list[_Said]) -> int:
        if len(said) == 1:
            return said[0].alone
        return combine([one.part for one in said], self._combining) or 0


def _values(of_levels: list[tuple[int, int | None]]) -> dict[tuple[int, int], Fraction]:
    """Give the exact value of each level, and of half-way up from it, where there is one."""
    cells = [value for _, value in of_levels]
    values: dict[tuple[int, int], Fraction] = {}
    for place, (level, _) in enumerate(of_levels):
        for half in (0, 1):
            if place + half < len(cells):
                exact = chosen_value(cells, place, half_way=bool(half))
                if exact is not None:
                    values[level, half] = exact
    return values


def gather_evidence(
    db: sqlite3.Connection, student_ids: Iterable[int], alignments: Alignments
) -> Evidence:
    """Gather what the finished marks of these students say, in whatever class they were given."""
    attempts: dict[tuple[int, int], list[AttemptEvidence]] = {}
    rules: Rules = {}
    times: dict[str, datetime] = {}
    choices = store.finished_choices(db, student_ids)
    for _, of_attempt in groupby(choices, key=itemgetter(2)):
        rows = list(of_attempt)
        student, task, attempt, number, _, _, _, done, finished, excused, practice, rule = rows[0]
        source = (SourceKind.ATTEMPT, task)
        if rule != AttemptsRule.LATEST:
            rules[source] = AttemptsRule(rule)
        done_at, finished_at = _time(done, times), _time(finished, times)
        for outcome, value in alignments.evidence(row[4:7] for row in rows).items():
            piece = AttemptEvidence(
                EvidenceKey(SourceKind.ATTEMPT, attempt, outcome),
                source,
                number,
                value,
                done_at,
                finished_at,
                excused=bool(excused),
                practice=bool(practice),
            )
            attempts.setdefault((student, outcome), []).append(piece)
    return Evidence(attempts, rules)


def _time(text: str, known: dict[str, datetime]) -> datetime:
    found = known.get(text)
    if found is None:
        found = known[text] = datetime.fromisoformat(text)
    return found
