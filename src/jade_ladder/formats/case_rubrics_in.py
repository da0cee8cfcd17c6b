"""Rubrics and scales of a CASE 1.0 package, read."""

from __future__ import annotations

from decimal import Decimal

from jade_ladder.core.alignment import Cell
from jade_ladder.core.rubric import WHOLE, Criterion, CriterionKind, CriterionLevel
from jade_ladder.core.scale import Scale, ScaleLevel
from jade_ladder.formats.case import FrameworkAlignment, FrameworkRubric
from jade_ladder.formats.case_json import (
    Json,
    as_object,
    as_objects,
    decimal_of,
    hundredths_of,
    own_part,
    position_of,
    text_of,
)
from jade_ladder.formats.outcome_list import LONGEST_TITLE

_NONE, _NEARLY = Decimal(0), Decimal("0.005")


def read_rubrics(
    written: list[Json], outcomes: set[str]
) -> tuple[list[FrameworkRubric], list[str]]:
    """Read the rubrics, aligned to these outcomes where they name them; and notes on those that
    were left out.
    """
    rubrics: list[FrameworkRubric] = []
    notes: list[str] = []
    for rubric in written:
        guid = text_of(rubric, "identifier")
        if not guid:
            notes.append("A rubric without an identifier was left out")
            continue
        criteria = sorted(as_objects(rubric.get("CFRubricCriteria")), key=position_of)
        weights = _weights(criteria)
        read = [
            _criterion(criterion, outcomes, weight)
            for criterion, weight in zip(criteria, weights, strict=True)
        ]
        title = text_of(rubric, "title") or text_of(rubric, "description") or "Rubric"
        rubrics.append(FrameworkRubric(guid, title[:200], tuple(read)))
    return rubrics, notes


def _weights(criteria: list[Json]) -> list[int | None]:
    """Give the weights of criteria in hundredths of a per cent. The standard does not say what a
    weight is a part of: those that come to 1 are shares of it, others are per cent. What rounding
    leaves of shares goes to the first.
    """
    written = [one.get("weight") for one in criteria]
    given = [decimal_of(weight) for weight in written if weight is not None]
    # What this program has written is in per cent, and a draft's may come to 1.
    ours = any(own_part(one) for one in criteria)
    shared = (
        not ours and all(0 <= one <= 1 for one in given) and abs(sum(given, _NONE) - 1) <= _NEARLY
    )
    if not given or not shared:
        return [None if one is None else max(0, min(hundredths_of(one), WHOLE)) for one in written]
    shares = [None if one is None else int(decimal_of(one) * WHOLE) for one in written]
    first = next(place for place, one in enumerate(shares) if one is not None)
    shares[first] = WHOLE - sum(one for one in shares[first + 1 :] if one is not None)
    return shares


def _title(written: Json) -> str:
    """Give a criterion's title: what it is, under its category where it has one."""
    parts = [text_of(written, "category"), text_of(written, "description")]
    return ": ".join(dict.fromkeys(filter(None, parts)))[:LONGEST_TITLE]


def _criterion(
    written: Json, outcomes: set[str], weight: int | None
) -> tuple[Criterion, tuple[FrameworkAlignment, ...]]:
    own = own_part(written)
    levels = tuple(
        CriterionLevel(
            text_of(level, "identifier"),
            (text_of(level, "quality") or text_of(level, "score"))[:200],
            hundredths_of(level.get("score")),
            text_of(level, "description"),
        )
        for level in _levels(written, own)
    )
    yes_no = own.get("kind") == CriterionKind.YES_NO
    criterion = Criterion(
        text_of(written, "identifier"),
        _title(written),
        levels,
        CriterionKind.YES_NO if yes_no else CriterionKind.LEVELS,
        own.get("bonus") is True,
        own.get("half_way") is True,
        weight,
        own.get("remarks") is not False,
        own.get("any_order") is True,
    )
    return criterion, tuple(_alignments(written, own, outcomes, len(levels)))


def _levels(written: Json, own: Json) -> list[Json]:
    """Give a criterion's levels, the lowest first: a file of ours numbers them so; in others the
    score tells, since the standard does not say which way they are numbered.
    """
    levels = sorted(as_objects(written.get("CFRubricCriterionLevels")), key=position_of)
    return levels if own else sorted(levels, key=lambda level: decimal_of(level.get("score")))


def _alignments(
    written: Json, own: Json, outcomes: set[str], levels: int
) -> list[FrameworkAlignment]:
    item = text_of(as_object(written.get("CFItemURI")), "identifier")
    plain = [FrameworkAlignment(item, 1, (None,) * levels)] if item in outcomes else []
    if "alignments" not in own:
        return plain
    found = []
    for tie in as_objects(own["alignments"]):
        cells = tie.get("by_hand")
        by_hand = tuple(map(_cell, cells)) if isinstance(cells, list) else (None,) * levels
        outcome, weight = text_of(tie, "outcome"), tie.get("weight")
        if outcome in outcomes and len(by_hand) == levels:
            if not isinstance(weight, int) or not 1 <= weight <= 100:
                weight = 1
            found.append(FrameworkAlignment(outcome, weight, by_hand))
    return found


def _cell(written: object) -> Cell | None:
    if not isinstance(written, dict):
        return None
    value = written.get("value")
    return Cell(None if value is None else hundredths_of(value), by_hand=True)


def read_scales(own: Json) -> list[tuple[str, Scale]]:
    """Read the scales that outcomes are on; raises Refused for what is not a scale."""
    scales = []
    for written in as_objects(own.get("scales")):
        levels = tuple(
            ScaleLevel(
                text_of(level, "name"),
                text_of(level, "code"),
                hundredths_of(level.get("value")),
                hundredths_of(level.get("cut")),
                text_of(level, "description"),
            )
            for level in as_objects(written.get("levels"))
        )
        mastery = written.get("mastery_level")
        scales.append(
            (text_of(written, "name"), Scale(levels, mastery if isinstance(mastery, int) else 0))
        )
    return scales
