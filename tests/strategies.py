"""Hypothesis strategies for the things of the core, in one place."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

from hypothesis import strategies as st

from jade_ladder.core.evidence import AttemptEvidence, EvidenceKey, SourceKind
from jade_ladder.core.methods import Method, MethodKind
from jade_ladder.core.scale import CutPreset, Scale, ScaleLevel, preset_cuts

START = datetime(2026, 9, 1, tzinfo=UTC)

values = st.integers(100, 400)
many_values = st.lists(values, min_size=1, max_size=30)
newest = st.integers(50, 95)
methods = st.builds(
    Method, st.sampled_from(list(MethodKind)), newest=newest, last=st.integers(2, 20)
)


def scale_of(level_values: list[int], preset: CutPreset, mastery: int) -> Scale:
    cuts = preset_cuts(level_values, preset)
    levels = tuple(
        ScaleLevel(f"Level {n}", f"L{n}", value, cut)
        for n, (value, cut) in enumerate(zip(level_values, cuts, strict=True))
    )
    return Scale(levels, mastery)


@st.composite
def scales(draw: st.DrawFn) -> Scale:
    """Any scale: 2 to 10 levels with rising values, either preset, any mastery level."""
    steps = draw(st.lists(st.integers(1, 300), min_size=2, max_size=10))
    at = draw(st.integers(0, 200))
    level_values = []
    for step in steps:
        at += step
        level_values.append(at)
    preset = draw(st.sampled_from(list(CutPreset)))
    return scale_of(level_values, preset, draw(st.integers(0, len(steps) - 1)))


four_levels = scale_of([100, 200, 300, 400], CutPreset.THREE_QUARTERS, 2)
four_at_values = scale_of([100, 200, 300, 400], CutPreset.AT_THE_VALUE, 2)


def piece(
    value: int,
    day: int = 0,
    source: int | None = None,
    number: int = 1,
    record: int | None = None,
    **flags: bool,
) -> AttemptEvidence:
    """One piece of evidence on outcome 1; by default each day is a task of its own."""
    source = day if source is None else source
    record = day * 10 + number if record is None else record
    at = START + timedelta(days=day)
    return AttemptEvidence(
        EvidenceKey(SourceKind.ATTEMPT, record, 1),
        (SourceKind.ATTEMPT, source),
        number,
        value,
        at,
        at + timedelta(hours=5),
        **flags,
    )


@st.composite
def pieces(draw: st.DrawFn) -> list[AttemptEvidence]:
    """Evidence over a term: several attempts at some tasks, some on one day."""
    count = draw(st.integers(0, 12))
    made: list[AttemptEvidence] = []
    attempts: dict[int, int] = {}
    day = 0
    for record in range(count):
        day += draw(st.integers(0, 3))
        source = draw(st.integers(1, 5))
        attempts[source] = attempts.get(source, 0) + 1
        made.append(piece(draw(values), day, source=source, number=attempts[source], record=record))
    return made
