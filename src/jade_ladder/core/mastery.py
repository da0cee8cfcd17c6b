"""Mastery: value, state and judgement (“Mastery”)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from jade_ladder.core.evidence import AttemptEvidence, EvidenceKey
from jade_ladder.core.methods import Method, mastery_value
from jade_ladder.core.numbers import Hundredths, half_up
from jade_ladder.core.scale import Scale


class State(StrEnum):
    """What can be said of one student and outcome."""

    NO_EVIDENCE = "no-evidence"
    NEEDS_EVIDENCE = "needs-evidence"
    NOT_YET = "not-yet"
    MASTERED = "mastered"


@dataclass(frozen=True, slots=True)
class Rules:
    """By what one outcome in one class is worked out."""

    method: Method
    scale: Scale
    minimum: int = 1


Seen = tuple[tuple[EvidenceKey, Hundredths], ...]
"""Counted evidence as a judgement remembers it: keys and values, in order."""


@dataclass(frozen=True, slots=True)
class Judgement:
    """A level (an index of the scale that the outcome has now) set by the teacher, with a reason,
    from a time until one, or until lifted (None); `seen` is the counted evidence that the teacher
    judged by, in order, so that a later change of it raises a sign (None: nobody asks for it).
    """

    level: int
    reason: str
    since: datetime
    until: datetime | None
    seen: Seen | None = None

    def holds_at(self, moment: datetime) -> bool:
        """Whether it holds at a time."""
        return self.since <= moment and (self.until is None or moment < self.until)


@dataclass(frozen=True, slots=True)
class Mastery:
    """The value, level (an index of the scale) and state; None where there is no evidence.

    Under a judgement these are its level's, `calculated` is the value worked out beside it, and
    `evidence_changed` says that the counted evidence is not what the teacher judged by.
    """

    state: State
    value: Hundredths | None
    level: int | None
    pieces: int
    judged: bool = False
    calculated: Hundredths | None = None
    evidence_changed: bool = False

    @property
    def counts(self) -> bool:
        """Whether roll-ups take it in."""
        return self.state in (State.MASTERED, State.NOT_YET)


def state_of(rules: Rules, value: Hundredths, sources: int) -> State:
    """Give the state of a value that rests on evidence from so many different tasks or notes."""
    if sources < rules.minimum:
        return State.NEEDS_EVIDENCE
    return State.MASTERED if value >= rules.scale.mastery_cut else State.NOT_YET


def mastery_of(pieces: Sequence[AttemptEvidence], rules: Rules) -> Mastery:
    """Work out mastery from evidence in order."""
    sources = len({piece.origin for piece in pieces})
    return mastery_of_values([piece.value for piece in pieces], sources, rules)


def mastery_of_values(values: Sequence[Hundredths], sources: int, rules: Rules) -> Mastery:
    """Work out mastery from the values of evidence in order, which is from so many sources."""
    if not values:
        return Mastery(State.NO_EVIDENCE, None, None, 0)
    value = mastery_value(rules.method, rules.scale, values)
    state = state_of(rules, value, sources)
    return Mastery(state, value, rules.scale.level_of(value), len(values), calculated=value)


def judged(
    mastery: Mastery, judgement: Judgement, scale: Scale, counted: Seen | None = None
) -> Mastery:
    """Put a judgement over the calculation: it needs no evidence and counts everywhere. The sign is
    raised where `counted`, the counted evidence of today, is not what the teacher judged by.
    """
    mastered = judgement.level >= scale.mastery_level
    return Mastery(
        State.MASTERED if mastered else State.NOT_YET,
        scale.levels[judgement.level].value,
        judgement.level,
        mastery.pieces,
        judged=True,
        calculated=mastery.value,
        evidence_changed=None not in (counted, judgement.seen) and judgement.seen != counted,
    )


def counted_evidence(pieces: Sequence[AttemptEvidence]) -> Seen:
    """Give what a judgement remembers of the evidence it was made by."""
    return tuple((piece.key, piece.value) for piece in pieces)


def level_on(level: int, levels: int, scale: Scale) -> int:
    """Give the level of a scale at the place that a level (0 the lowest) has among so many, as a
    judgement takes it: as it is where there are as many.
    """
    if len(scale.levels) == levels:
        return level
    return half_up(level * (len(scale.levels) - 1), levels - 1)
