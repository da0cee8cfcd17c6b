"""Reading a CASE 1.0 package (JSON), whoever wrote it.

Items that hold others and stand at most two deep are strands; all others are outcomes, in the
nearest such strand. What is missing is made up and told; what cannot be is refused by name.
"""

from __future__ import annotations

import json
from collections import Counter
from dataclasses import dataclass, field
from decimal import Decimal, InvalidOperation
from typing import Any

from jade_ladder.core.alignment import Cell
from jade_ladder.core.errors import Problem, Refused, RefusedMany
from jade_ladder.core.numbers import Hundredths, parse_hundredths
from jade_ladder.core.rubric import WHOLE, Criterion, CriterionKind, CriterionLevel
from jade_ladder.core.scale import Scale, ScaleLevel
from jade_ladder.formats.case import (
    EXTENSION,
    STRAND_TYPE,
    Framework,
    FrameworkAlignment,
    FrameworkOutcome,
    FrameworkRubric,
    FrameworkStrand,
)
from jade_ladder.formats.outcome_list import LONGEST_CODE, LONGEST_DESCRIPTION, LONGEST_TITLE

MOST_PROBLEMS = 20
Json = dict[str, Any]


def read_framework(content: bytes) -> Framework:
    """Read a CASE package.

    Raises Refused for what is not JSON or not a package, and RefusedMany naming the items that
    are their own ancestors or share an identifier (the first twenty).
    """
    package = _parse(content)
    document = _object(package.get("CFDocument"))
    guid = _text(document, "identifier")
    items = _objects(package.get("CFItems"))
    if not guid or not items:
        raise Refused(
            "This is JSON, but not a CASE package: it needs a CFDocument with an identifier, and "
            "CFItems",
            "file",
        )
    reading = _Reading(guid, {})
    reading.take_items(items)
    reading.take_parents(_objects(package.get("CFAssociations")))
    strands, outcomes = reading.strands_and_outcomes()
    rubrics = reading.rubrics(_objects(package.get("CFRubrics")), {one.guid for one in outcomes})
    return Framework(
        guid,
        _text(document, "title") or "A framework without a title",
        _text(document, "creator"),
        tuple(strands),
        tuple(outcomes),
        tuple(rubrics),
        tuple(_scales(_own(document))),
        tuple(reading.notes),
    )


def _parse(content: bytes) -> Json:
    try:
        package = json.loads(content.decode("utf-8-sig"), parse_constant=_no_constant)
    except UnicodeDecodeError:
        raise Refused("This is not a text file in UTF-8, as JSON is", "file") from None
    except json.JSONDecodeError as error:
        raise Refused(f"This is not JSON: line {error.lineno}: {error.msg}", "file") from None
    except (ValueError, RecursionError):
        raise Refused("This is not JSON that can be read", "file") from None
    if not isinstance(package, dict):
        raise Refused("This is JSON, but not a CASE package", "file")
    return package


def _no_constant(name: str) -> float:
    raise ValueError(name)


@dataclass(slots=True)
class _Reading:
    """What is read so far: items by identifier in the order of the file, and who holds whom."""

    document: str
    items: dict[str, Json]
    parents: dict[str, str] = field(default_factory=dict)
    sequence: dict[str, Decimal] = field(default_factory=dict)
    notes: list[str] = field(default_factory=list)

    def take_items(self, items: list[Json]) -> None:
        """Take the items in; each has an identifier of its own."""
        problems = []
        for place, item in enumerate(items, start=1):
            identifier = _text(item, "identifier")
            if not identifier:
                problems.append(Problem(f"item {place}", f"Item {place} has no identifier"))
            elif identifier in self.items or identifier == self.document:
                problems.append(
                    Problem(f"item {place}", f"The identifier {identifier} stands twice")
                )
            self.items[identifier] = item
        _refuse(problems)

    def take_parents(self, associations: list[Json]) -> None:
        """Take in who is a child of whom; the first of several parents holds."""
        lost = 0
        for association in associations:
            if association.get("associationType") != "isChildOf":
                continue
            child = _text(_object(association.get("originNodeURI")), "identifier")
            parent = _text(_object(association.get("destinationNodeURI")), "identifier")
            if child not in self.items or child in self.parents:
                continue
            self.sequence[child] = _decimal(association.get("sequenceNumber"))
            if parent in self.items:
                self.parents[child] = parent
            elif parent != self.document:
                lost += 1
        self._refuse_circles()
        if lost:
            self.notes.append(
                f"{_items(lost)} had a parent that is not in the file: put at the top"
            )

    def _refuse_circles(self) -> None:
        sound: set[str] = set()
        problems = []
        for start in self.parents:
            path: dict[str, None] = {}
            at: str | None = start
            while at is not None and at not in sound and at not in path:
                path[at] = None
                at = self.parents.get(at)
            if at in path:
                title = _title(self.items[start])
                problems.append(Problem(start, f"“{title}” is among its own parents ({start})"))
            sound.update(path)
        _refuse(problems)

    def strands_and_outcomes(self) -> tuple[list[FrameworkStrand], list[FrameworkOutcome]]:
        """Part the items into strands, each before those within it, and outcomes in order."""
        children: dict[str | None, list[str]] = {}
        for guid in self.items:
            children.setdefault(self.parents.get(guid), []).append(guid)
        for of_one in children.values():
            of_one.sort(key=lambda guid: self.sequence.get(guid, Decimal("Infinity")))
        strands: list[FrameworkStrand] = []
        found: list[tuple[str, str | None]] = []
        # Depth first, without recursion: a file may nest as deep as it likes.
        open_items = [(guid, None, 1) for guid in reversed(children.get(None, []))]
        stack: list[tuple[str, str | None, int]] = list(open_items)
        flattened = 0
        while stack:
            guid, strand, depth = stack.pop()
            item = self.items[guid]
            below = children.get(guid, [])
            is_strand = bool(below) or _text(item, "CFItemType") == STRAND_TYPE
            if is_strand and depth <= 2:
                strands.append(FrameworkStrand(guid, _title(item)[:200], strand))
                strand = guid
            else:
                found.append((guid, strand))
                flattened += is_strand
            stack += [(child, strand, depth + 1) for child in reversed(below)]
        if flattened:
            self.notes.append(
                f"{_items(flattened)} with others below, more than two deep: made outcomes beside "
                "them"
            )
        # As they are listed everywhere: by strand, those in none last.
        place = {strand.guid: number for number, strand in enumerate(strands)}
        found.sort(key=lambda pair: place.get(pair[1] or "", len(place)))
        return strands, self._outcomes(found)

    def _outcomes(self, found: list[tuple[str, str | None]]) -> list[FrameworkOutcome]:
        taken: Counter[str] = Counter()
        outcomes = []
        made_up = 0
        for place, (guid, strand) in enumerate(found, start=1):
            item = self.items[guid]
            written = _text(item, "humanCodingScheme") or _text(item, "listEnumeration")
            code = (written or str(place))[:LONGEST_CODE]
            while taken[code.casefold()]:
                taken[code.casefold()] += 1
                mark = f" ({taken[code.casefold()]})"
                code = f"{code[: LONGEST_CODE - len(mark)]}{mark}"
            made_up += code != written
            taken[code.casefold()] = 1
            title, description = _words(item)
            scale = _own(item).get("scale")
            outcomes.append(
                FrameworkOutcome(
                    guid,
                    code,
                    title,
                    description,
                    strand,
                    scale if isinstance(scale, str) else None,
                )
            )
        if made_up:
            self.notes.append(
                f"{_items(made_up)} had no code of its own, or too long a one: given one"
            )
        return outcomes

    def rubrics(self, written: list[Json], outcomes: set[str]) -> list[FrameworkRubric]:
        """Read the rubrics; a criterion that cannot be read is left out, and told."""
        rubrics = []
        for rubric in written:
            guid = _text(rubric, "identifier")
            if not guid:
                self.notes.append("A rubric without an identifier was left out")
                continue
            criteria = sorted(_objects(rubric.get("CFRubricCriteria")), key=_position)
            read = [_criterion(criterion, outcomes) for criterion in criteria]
            title = _text(rubric, "title") or _text(rubric, "description") or "Rubric"
            rubrics.append(FrameworkRubric(guid, title[:200], tuple(read)))
        return rubrics


def _criterion(
    written: Json, outcomes: set[str]
) -> tuple[Criterion, tuple[FrameworkAlignment, ...]]:
    own = _own(written)
    levels = tuple(
        CriterionLevel(
            _text(level, "identifier"),
            (_text(level, "quality") or _text(level, "score"))[:200],
            _hundredths(level.get("score")),
            _text(level, "description"),
        )
        for level in _levels(written, own)
    )
    yes_no = own.get("kind") == CriterionKind.YES_NO
    weight = written.get("weight")
    criterion = Criterion(
        _text(written, "identifier"),
        (_text(written, "description") or _text(written, "category"))[:LONGEST_TITLE],
        levels,
        CriterionKind.YES_NO if yes_no else CriterionKind.LEVELS,
        own.get("bonus") is True,
        own.get("half_way") is True,
        None if weight is None else min(_hundredths(weight), WHOLE),
        own.get("remarks") is not False,
        own.get("any_order") is True,
    )
    return criterion, tuple(_alignments(written, own, outcomes, len(levels)))


def _alignments(
    written: Json, own: Json, outcomes: set[str], levels: int
) -> list[FrameworkAlignment]:
    item = _text(_object(written.get("CFItemURI")), "identifier")
    plain = [FrameworkAlignment(item, 1, (None,) * levels)] if item in outcomes else []
    if "alignments" not in own:
        return plain
    found = []
    for tie in _objects(own["alignments"]):
        cells = tie.get("by_hand")
        by_hand = tuple(map(_cell, cells)) if isinstance(cells, list) else (None,) * levels
        outcome, weight = _text(tie, "outcome"), tie.get("weight")
        if outcome in outcomes and len(by_hand) == levels:
            if not isinstance(weight, int) or not 1 <= weight <= 100:
                weight = 1
            found.append(FrameworkAlignment(outcome, weight, by_hand))
    return found


def _cell(written: object) -> Cell | None:
    if not isinstance(written, dict):
        return None
    value = written.get("value")
    return Cell(None if value is None else _hundredths(value), by_hand=True)


def _scales(own: Json) -> list[tuple[str, Scale]]:
    scales = []
    for written in _objects(own.get("scales")):
        levels = tuple(
            ScaleLevel(
                _text(level, "name"),
                _text(level, "code"),
                _hundredths(level.get("value")),
                _hundredths(level.get("cut")),
                _text(level, "description"),
            )
            for level in _objects(written.get("levels"))
        )
        mastery = written.get("mastery_level")
        scales.append(
            (_text(written, "name"), Scale(levels, mastery if isinstance(mastery, int) else 0))
        )
    return scales


def _words(item: Json) -> tuple[str, str]:
    """Give title and description: the short statement if there is one, and then the full one."""
    full, short = _text(item, "fullStatement"), _text(item, "abbreviatedStatement")
    title = short or full or "No statement"
    parts = [full if title != full else "", _text(item, "notes")]
    if len(title) > LONGEST_TITLE:
        parts = [title, *parts]
        title = f"{title[: LONGEST_TITLE - 1]}…"
    return title, "\n\n".join(part for part in parts if part)[:LONGEST_DESCRIPTION]


def _title(item: Json) -> str:
    for name in ("abbreviatedStatement", "fullStatement", "humanCodingScheme"):
        if found := _text(item, name):
            return found
    return "No statement"


def _items(count: int) -> str:
    return "1 item" if count == 1 else f"{count} items"


def _own(written: Json) -> Json:
    return _object(_object(written.get("extensions")).get(EXTENSION))


def _object(value: object) -> Json:
    return value if isinstance(value, dict) else {}


def _objects(value: object) -> list[Json]:
    return [one for one in value if isinstance(one, dict)] if isinstance(value, list) else []


def _text(item: Json, name: str) -> str:
    value = item.get(name)
    if isinstance(value, str):
        return value.strip()
    return str(value) if isinstance(value, int | float) and not isinstance(value, bool) else ""


def _decimal(value: object) -> Decimal:
    try:
        found = Decimal(str(value))
    except InvalidOperation:
        return Decimal("Infinity")
    return found if found.is_finite() else Decimal("Infinity")


def _hundredths(value: object) -> Hundredths:
    """Read a number as whole hundredths, what is finer rounded; 0 for what is none."""
    try:
        return parse_hundredths(str(round(Decimal(str(value)), 2)))
    except (InvalidOperation, Refused):
        return 0


def _position(written: Json) -> Decimal:
    return _decimal(written.get("position"))


def _levels(written: Json, own: Json) -> list[Json]:
    """Give a criterion's levels, the lowest first: a file of ours numbers them so; in others the
    score tells, since the standard does not say which way they are numbered.
    """
    levels = sorted(_objects(written.get("CFRubricCriterionLevels")), key=_position)
    return levels if own else sorted(levels, key=lambda level: _decimal(level.get("score")))


def _refuse(problems: list[Problem]) -> None:
    if problems:
        raise RefusedMany(problems[0].message, problems[:MOST_PROBLEMS])
