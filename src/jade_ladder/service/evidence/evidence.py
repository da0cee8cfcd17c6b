"""Gathering evidence: from finished marks and alignments to the pieces the core works with."""

from __future__ import annotations

import sqlite3
from collections.abc import Container, Iterable, Iterator, Mapping, Sequence
from datetime import datetime
from itertools import groupby, product
from operator import itemgetter
from typing import NamedTuple, TypeAlias

from jade_ladder.core.evidence import (
    AttemptEvidence,
    AttemptsRule,
    Combining,
    EvidenceKey,
    Part,
    SourceKind,
    combine_by_outcome,
    note_value,
    part_of,
)
from jade_ladder.core.numbers import Hundredths
from jade_ladder.store.evidence import choices as store
from jade_ladder.store.notes.notes import NoteEvidence

AttemptsRules: TypeAlias = dict[tuple[SourceKind, int], AttemptsRule]
Chosen: TypeAlias = tuple[int, int, int, int]
"""criterion, level (the numbers of the rows), half-way, carried over from an earlier attempt (0 or
1).
"""

_COMBININGS: dict[str, Combining] = {one.value: one for one in Combining}


class TaskRule(NamedTuple):
    """Whether a task is practice, and which of its attempts count."""

    practice: bool
    attempts_rule: AttemptsRule


class Evidence(NamedTuple):
    """All evidence of some students, by student and outcome in order, and the attempts rules of
    the tasks it comes from. Nothing is filtered yet.
    """

    attempts: dict[tuple[int, int], list[AttemptEvidence]]
    rules: AttemptsRules

    def without(self, attempt_ids: Container[int]) -> Evidence:
        """Leave the evidence of some attempts out."""
        return self._replace(
            attempts={
                place: [
                    one
                    for one in attempts
                    if one.key.kind is SourceKind.NOTE or one.key.source not in attempt_ids
                ]
                for place, attempts in self.attempts.items()
            }
        )

    def expecting(self, attempt_ids: Container[int]) -> Evidence:
        """Let some attempts not be excused."""

        def expected(one: AttemptEvidence) -> AttemptEvidence:
            chosen = one.key.kind is SourceKind.ATTEMPT and one.key.source in attempt_ids
            return one._replace(excused=False) if chosen else one

        return self._replace(
            attempts={place: [expected(one) for one in of] for place, of in self.attempts.items()}
        )

    def at_times(self, times: Mapping[int, datetime]) -> Evidence:
        """Let some attempts have been done at other times."""

        def timed(one: AttemptEvidence) -> AttemptEvidence:
            when = times.get(one.key.source) if one.key.kind is SourceKind.ATTEMPT else None
            return one if when is None else one._replace(done_at=when)

        return self._replace(
            attempts={
                place: sorted(map(timed, of), key=lambda one: one.order)
                for place, of in self.attempts.items()
            }
        )

    def with_notes(
        self, notes: Iterable[NoteEvidence], scales: Mapping[int, Sequence[Hundredths]]
    ) -> Evidence:
        """Give it with observation notes, each at its place in the order; `scales` are the values
        of the scales that outcomes are on, by outcome, where it is not the one they have now.
        """
        attempts = dict(self.attempts)
        for note in notes:
            values = scales.get(note.outcome_id)
            value = (
                note.value
                if values is None
                else note_value(note.level, note.levels, bool(note.half_way), values)
            )
            piece = AttemptEvidence(
                EvidenceKey(SourceKind.NOTE, note.id, note.outcome_id),
                (SourceKind.NOTE, note.id),
                1,
                value,
                datetime.fromisoformat(note.seen_at),
                datetime.fromisoformat(note.written_at),
                set_aside=bool(note.set_aside),
            )
            place = note.student_id, note.outcome_id
            there = sorted([*attempts.get(place, ()), piece], key=lambda one: one.order)
            attempts[place] = there
        return self._replace(attempts=attempts)

    def by_rules(self, tasks: Mapping[int, TaskRule]) -> Evidence:
        """Let what comes of some tasks count by other rules."""
        rules = {
            **self.rules,
            **{(SourceKind.ATTEMPT, task): rule.attempts_rule for task, rule in tasks.items()},
        }

        def ruled(one: AttemptEvidence) -> AttemptEvidence:
            rule = tasks.get(one.origin[1]) if one.origin[0] is SourceKind.ATTEMPT else None
            return one if rule is None else one._replace(practice=rule.practice)

        attempts = {place: [ruled(one) for one in of] for place, of in self.attempts.items()}
        return Evidence(attempts, rules)


Cells: TypeAlias = Mapping[tuple[int, int], int | None]
"""Values of cells that would be other ones, by the criterion level's record and the outcome."""


class Alignments:
    """The alignments to some outcomes: what each choice says is worked out once, at the start."""

    def __init__(self, cells: Sequence[store.AlignedCell]) -> None:
        """Work out what each choice says by these cells."""
        self._cells = cells
        self._said: dict[Chosen, list[tuple[int, Part]]] = {}
        ties: dict[tuple[int, int, int], list[tuple[int, int | None]]] = {}
        for criterion, outcome, weight, level, value in cells:
            ties.setdefault((criterion, outcome, weight), []).append((level, value))
        for (criterion, outcome, weight), of_levels in ties.items():
            for (level, half, carried), part in _parts(of_levels, weight):
                said = self._said.setdefault((criterion, level, half, carried), [])
                said.append((outcome, part))

    @classmethod
    def load(cls, db: sqlite3.Connection, outcome_ids: Iterable[int]) -> Alignments:
        """Load every alignment to these outcomes, of whatever rubric."""
        return cls(store.aligned_cells(db, outcome_ids))

    def otherwise(self, cells: Cells) -> Alignments:
        """Give the alignments with some cells at other values."""
        return Alignments(
            [
                (criterion, outcome, weight, level, cells.get((level, outcome), value))
                for criterion, outcome, weight, level, value in self._cells
            ]
        )

    def evidence(self, choices: Iterable[Chosen], combining: Combining) -> dict[int, int]:
        """Make the evidence of one attempt, by outcome, of its choices; several criteria are
        combined as the class of the task does. Of what is only carried over there is none.
        """
        said = self._said
        return combine_by_outcome(
            (one for choice in choices for one in said.get(choice, ())), combining
        )


def _parts(
    of_levels: list[tuple[int, int | None]], weight: int
) -> Iterator[tuple[tuple[int, int, int], Part]]:
    """Give what each level says, and half-way up from it, chosen anew and carried over."""
    cells = [value for _, value in of_levels]
    for place, (level, _) in enumerate(of_levels):
        for half, carried in product((0, 1), (0, 1)):
            if place + half < len(cells):
                part = part_of(cells, place, bool(half), weight, bool(carried))
                if part is not None:
                    yield (level, half, carried), part


def evidence_of(
    choices: Sequence[store.ChoiceOfAttempt],
    alignments: Alignments,
    aside: Container[tuple[int, int]] = frozenset(),
    combined: Mapping[int, Combining] | None = None,
) -> Evidence:
    """Make evidence of the finished choices of some students, which stand in its order; `aside` are
    the attempts and outcomes of which it is set aside, `combined` how some tasks combine criteria
    in place of how their class does.
    """
    otherwise = combined or {}
    attempts: dict[tuple[int, int], list[AttemptEvidence]] = {}
    rules: AttemptsRules = {}
    times: dict[str, datetime] = {}
    for _, of_attempt in groupby(choices, key=itemgetter(2)):
        rows = list(of_attempt)
        student, task, attempt, number, _, _, _, _, done, finished, excused, practice, *of_task = (
            rows[0]
        )
        rule, combining = of_task
        source = (SourceKind.ATTEMPT, task)
        if rule != AttemptsRule.LATEST:
            rules[source] = AttemptsRule(rule)
        done_at, finished_at = _time(done, times), _time(finished, times)
        how = otherwise.get(task) or _COMBININGS[combining]
        said = alignments.evidence((row[4:8] for row in rows), how)
        for outcome, value in said.items():
            piece = AttemptEvidence(
                EvidenceKey(SourceKind.ATTEMPT, attempt, outcome),
                source,
                number,
                value,
                done_at,
                finished_at,
                excused=bool(excused),
                practice=bool(practice),
                set_aside=(attempt, outcome) in aside,
            )
            attempts.setdefault((student, outcome), []).append(piece)
    return Evidence(attempts, rules)


def _time(text: str, known: dict[str, datetime]) -> datetime:
    found = known.get(text)
    if found is None:
        found = known[text] = datetime.fromisoformat(text)
    return found
