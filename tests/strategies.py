"""Hypothesis strategies for the things of the core, in one place."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta

from hypothesis import strategies as st

from jade_ladder.core.alignment import Cell
from jade_ladder.core.evidence import AttemptEvidence, EvidenceKey, SourceKind
from jade_ladder.core.methods import Method, MethodKind
from jade_ladder.core.passage import Piece, Place, Quote, Rect, Shape, ShapeKind, Span
from jade_ladder.core.rubric import Criterion, CriterionKind, CriterionLevel
from jade_ladder.core.scale import CutPreset, Scale, ScaleLevel, preset_cuts
from jade_ladder.formats.case import (
    Framework,
    FrameworkAlignment,
    FrameworkOutcome,
    FrameworkRubric,
    FrameworkStrand,
)
from jade_ladder.service.rubrics.drafts import AlignmentDraft, CriterionDraft

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
def scales(draw: st.DrawFn, levels: int | None = None) -> Scale:
    """Any scale: so many levels, or 2 to 10, with rising values, either preset, any mastery
    level.
    """
    fewest, most = (levels, levels) if levels else (2, 10)
    steps = draw(st.lists(st.integers(1, 300), min_size=fewest, max_size=most))
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


guids = st.uuids(version=4).map(str)
words = st.text(st.characters(codec="utf-8", exclude_categories=["Cc", "Cs", "Zs"]), max_size=20)
some_words = words.filter(bool)


@st.composite
def frameworks(draw: st.DrawFn) -> Framework:
    """Any framework: strands one deep, outcomes on a scale, rubrics aligned to them by hand or by
    default.
    """
    fresh = iter(draw(st.lists(guids, min_size=60, max_size=60, unique=True)))
    scale = draw(scales())
    strands: list[FrameworkStrand] = []
    for title in draw(st.lists(some_words, max_size=3)):
        top = FrameworkStrand(next(fresh), title)
        strands.append(top)
        if draw(st.booleans()):
            strands.append(FrameworkStrand(next(fresh), draw(some_words), top.guid))
    codes = draw(st.lists(some_words, min_size=1, max_size=6, unique_by=str.casefold))
    places = st.sampled_from([None, *(strand.guid for strand in strands)])
    outcomes = [
        FrameworkOutcome(next(fresh), code, draw(some_words), draw(words), draw(places), "Scale")
        for code in codes
    ]
    rubrics = [
        FrameworkRubric(
            next(fresh),
            draw(some_words),
            tuple(
                draw(_criteria(fresh, scale, [outcome.guid for outcome in outcomes]))
                for _ in range(draw(st.integers(1, 2)))
            ),
        )
        for _ in range(draw(st.integers(0, 2)))
    ]
    return Framework(
        next(fresh),
        draw(some_words),
        draw(words),
        tuple(strands),
        _in_order(strands, outcomes),
        tuple(rubrics),
        (("Scale", scale),),
    )


def _in_order(
    strands: list[FrameworkStrand], outcomes: list[FrameworkOutcome]
) -> tuple[FrameworkOutcome, ...]:
    """As a class lists them: by strand, those in none last."""
    order = [strand.guid for strand in strands]
    return tuple(
        sorted(outcomes, key=lambda one: order.index(one.strand) if one.strand else len(order))
    )


@st.composite
def _criteria(
    draw: st.DrawFn, fresh: Iterator[str], scale: Scale, outcomes: list[str]
) -> tuple[Criterion, tuple[FrameworkAlignment, ...]]:
    yes_no = draw(st.booleans())
    points = draw(
        st.lists(st.integers(0, 10_000), min_size=2, max_size=2 if yes_no else 6, unique=True)
    )
    levels = tuple(
        CriterionLevel(next(fresh), draw(some_words), value, draw(words)) for value in points
    )
    bonus = draw(st.booleans())
    criterion = Criterion(
        next(fresh),
        draw(some_words),
        levels,
        CriterionKind.YES_NO if yes_no else CriterionKind.LEVELS,
        bonus,
        draw(st.booleans()),
        None if bonus else draw(st.none() | st.integers(0, 10_000)),
        draw(st.booleans()),
        draw(st.booleans()),
    )
    cell = st.none() | st.builds(
        Cell, st.none() | st.integers(scale.lowest, scale.highest), by_hand=st.just(True)
    )
    ties = tuple(
        FrameworkAlignment(outcome, draw(st.integers(1, 100)), tuple(draw(cell) for _ in levels))
        for outcome in draw(st.lists(st.sampled_from(outcomes), max_size=3, unique=True))
    )
    return criterion, ties


@dataclass(frozen=True)
class MarkPlan:
    """A mark to give: per criterion a level (-1: not assessed) and half-way, or nothing."""

    choices: tuple[tuple[int, bool] | None, ...]
    remark: str
    finish: bool


@st.composite
def mark_plans(draw: st.DrawFn) -> MarkPlan:
    """A mark on two criteria of four levels, mostly whole and finished."""
    choice = st.tuples(st.integers(-1, 3), st.booleans())
    some = choice if draw(st.integers(0, 3)) else st.none() | choice
    return MarkPlan(
        (draw(some), draw(some)), draw(st.sampled_from(["", "Good"])), draw(st.integers(0, 4)) > 0
    )


@st.composite
def revised_drafts(
    draw: st.DrawFn, base: list[CriterionDraft], outcomes: Sequence[int]
) -> list[CriterionDraft]:
    """Criteria changed in any way that can be final: levels added, moved and taken away, points,
    kinds, alignments and maps; criteria added, moved and taken away.
    """
    kept = draw(st.lists(st.sampled_from(base), min_size=1, unique_by=lambda d: d.criterion.key))
    new = [_new_criterion(key) for key in draw(st.sampled_from([[], [], ["n"], ["n", "o"]]))]
    changed = [draw(_changed_draft(one, outcomes)) for one in (*kept, *new)]
    if all(one.criterion.bonus for one in changed):
        changed[0] = replace(changed[0], criterion=replace(changed[0].criterion, bonus=False))
    return changed


def _new_criterion(key: str) -> CriterionDraft:
    levels = tuple(CriterionLevel(f"{key}{n}", f"New {n}", n * 100) for n in range(3))
    return CriterionDraft(Criterion(key, f"Criterion {key}", levels), ())


@st.composite
def _changed_draft(draw: st.DrawFn, one: CriterionDraft, outcomes: Sequence[int]) -> CriterionDraft:
    if draw(st.booleans()):
        return one
    spare = CriterionLevel(f"{one.criterion.key}x", "Between", 250)
    levels = draw(
        st.lists(
            st.sampled_from([*one.criterion.levels, spare]),
            min_size=2,
            unique_by=lambda level: level.key,
        )
        | st.just(list(one.criterion.levels))
    )
    levels = [replace(level, points=draw(st.sampled_from([level.points, 700]))) for level in levels]
    criterion = replace(
        one.criterion,
        levels=tuple(levels),
        half_way=draw(st.booleans()),
        bonus=draw(st.integers(0, 4)) == 0,
        any_order=True,
    )
    cell = st.none() | st.builds(Cell, st.none() | st.integers(100, 400), by_hand=st.just(True))
    ties = tuple(
        AlignmentDraft(outcome, draw(st.integers(1, 3)), tuple(draw(cell) for _ in levels))
        for outcome in draw(st.lists(st.sampled_from(list(outcomes)), unique=True))
    )
    return CriterionDraft(criterion, ties)


_sides = st.floats(0, 500, allow_nan=False).map(lambda number: round(number, 2))
_spans = st.builds(lambda at, long: Span(at, at + long), st.integers(0, 999), st.integers(1, 99))
_quotes = st.builds(
    Quote,
    st.text(min_size=1, max_size=40).filter(lambda text: bool(text.strip())),
    st.text(max_size=32),
    st.text(max_size=32),
)
_pieces = st.dictionaries(
    st.integers(1, 9), st.tuples(_spans, st.lists(st.builds(Rect, *[_sides] * 4), max_size=3))
).map(
    lambda found: tuple(
        Piece(page, span, tuple(rects)) for page, (span, rects) in sorted(found.items())
    )
)
_shapes = st.builds(
    lambda kind, page, ends: Shape(kind, page, *ends, 500, 500),
    st.sampled_from(list(ShapeKind)),
    st.integers(1, 9),
    st.tuples(_sides, _sides, _sides, _sides).filter(lambda ends: ends[:2] != ends[2:]),
)
places: st.SearchStrategy[Place] = st.one_of(
    st.builds(lambda quote, span: Place(quote, span), _quotes, _spans),
    st.builds(lambda quote, pieces: Place(quote, pieces=pieces), _quotes, _pieces.filter(bool)),
    st.builds(lambda shape: Place(shape=shape), _shapes),
)
"""Any place of a passage: words of a text, words of pages, a box or an arrow."""
