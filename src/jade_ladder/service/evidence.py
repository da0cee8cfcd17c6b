"""Gathering evidence: from finished marks and alignments to the pieces the core works with."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable
from datetime import datetime
from fractions import Fraction
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
from jade_ladder.store.evidence import ChoiceOfAttempt

Rules: TypeAlias = dict[tuple[SourceKind, int], AttemptsRule]
Choice: TypeAlias = tuple[int, int, bool]
"""criterion, level, half-way: the numbers of the rows."""


class _Tie(NamedTuple):
    """What a criterion says about one outcome: the exact value of each choice of level."""

    outcome_id: int
    weight: int
    values: dict[tuple[int, int], Fraction | None]


class Evidence(NamedTuple):
    """All evidence of some students, by student and outcome in order, and the attempts rules of
    the tasks it comes from. Nothing is filtered yet.
    """

    attempts: dict[tuple[int, int], list[AttemptEvidence]]
    rules: Rules


class Alignments:
    """The alignments to some outcomes, ready to turn choices into values."""

    def __init__(self, db: sqlite3.Connection, outcome_ids: Iterable[int]) -> None:
        """Load every alignment to these outcomes, of whatever rubric."""
        cells: dict[tuple[int, int, int], list[tuple[int, int | None]]] = {}
        for criterion, outcome, weight, level, value in store.aligned_cells(db, outcome_ids):
            cells.setdefault((criterion, outcome, weight), []).append((level, value))
        self._ties: dict[int, list[_Tie]] = {}
        for (criterion, outcome, weight), of_levels in cells.items():
            self._ties.setdefault(criterion, []).append(_Tie(outcome, weight, _values(of_levels)))

    def evidence(self, choices: Iterable[Choice], combining: Combining) -> dict[int, int]:
        """Make the evidence of one attempt, by outcome, of its choices."""
        parts: dict[int, list[Part]] = {}
        for criterion, level, half_way in choices:
            for tie in self._ties.get(criterion, ()):
                value = tie.values.get((level, half_way))
                if value is not None:
                    parts.setdefault(tie.outcome_id, []).append(Part(value, tie.weight))
        combined = ((outcome, combine(said, combining)) for outcome, said in parts.items())
        return {outcome: value for outcome, value in combined if value is not None}


def _values(of_levels: list[tuple[int, int | None]]) -> dict[tuple[int, int], Fraction | None]:
    cells = [value for _, value in of_levels]
    values: dict[tuple[int, int], Fraction | None] = {}
    for place, (level, _) in enumerate(of_levels):
        values[level, 0] = chosen_value(cells, place)
        if place + 1 < len(cells):
            values[level, 1] = chosen_value(cells, place, half_way=True)
    return values


def gather_evidence(
    db: sqlite3.Connection,
    student_ids: Iterable[int],
    alignments: Alignments,
    combining: Combining,
) -> Evidence:
    """Gather what the finished marks of these students say, in whatever class they were given."""
    attempts: dict[tuple[int, int], list[AttemptEvidence]] = {}
    rules: Rules = {}
    times: dict[str, datetime] = {}
    waiting: list[ChoiceOfAttempt] = []

    def flush() -> None:
        first = waiting[0]
        choices = ((row[4], row[5], bool(row[6])) for row in waiting)
        said = alignments.evidence(choices, combining)
        for outcome_id, value in said.items():
            attempts.setdefault((first[0], outcome_id), []).append(
                _attempt(first, outcome_id, value, times)
            )

    for row in store.finished_choices(db, student_ids):
        if waiting and row[2] != waiting[0][2]:
            flush()
            waiting.clear()
        waiting.append(row)
        if row[11] != AttemptsRule.LATEST:
            rules[SourceKind.ATTEMPT, row[1]] = AttemptsRule(row[11])
    if waiting:
        flush()
    return Evidence(attempts, rules)


def _attempt(
    row: ChoiceOfAttempt, outcome_id: int, value: int, times: dict[str, datetime]
) -> AttemptEvidence:
    _, task_id, attempt_id, number, _, _, _, done, finished, excused, practice, _ = row
    for text in (done, finished):
        if text not in times:
            times[text] = datetime.fromisoformat(text)
    return AttemptEvidence(
        EvidenceKey(SourceKind.ATTEMPT, attempt_id, outcome_id),
        (SourceKind.ATTEMPT, task_id),
        number,
        value,
        times[done],
        times[finished],
        excused=bool(excused),
        practice=bool(practice),
    )
