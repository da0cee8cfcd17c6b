"""Reading a CASE 1.0 package (JSON), whoever wrote it.

Items that hold others and stand at most two deep are strands; all others are outcomes, in the
nearest such strand. What is missing is made up and told; what cannot be is refused by name.
"""

from __future__ import annotations

import json
from collections import Counter
from dataclasses import dataclass, field
from decimal import Decimal

from jade_ladder.core.errors import Problem, Refused, RefusedMany
from jade_ladder.formats.case import (
    STRAND_TYPE,
    Framework,
    FrameworkOutcome,
    FrameworkStrand,
)
from jade_ladder.formats.case_json import (
    Json,
    as_object,
    as_objects,
    decimal_of,
    own_part,
    text_of,
)
from jade_ladder.formats.case_rubrics_in import read_rubrics, read_scales
from jade_ladder.formats.outcome_list import LONGEST_CODE, LONGEST_DESCRIPTION, LONGEST_TITLE
from jade_ladder.formats.plain_text import DEEPEST_JSON, is_too_deep

MOST_PROBLEMS = 20


def read_framework(content: bytes) -> Framework:
    """Read a CASE package.

    Raises Refused for what is not JSON or not a package, and RefusedMany naming the items that
    are their own ancestors or share an identifier (the first twenty).
    """
    package = _parse(content)
    document = as_object(package.get("CFDocument"))
    guid = text_of(document, "identifier")
    items = as_objects(package.get("CFItems"))
    if not guid or not items:
        raise Refused(
            "This is JSON, but not a CASE package: it needs a CFDocument with an identifier, and "
            "CFItems",
            "file",
        )
    reading = _Reading(guid, {})
    reading.take_items(items)
    reading.take_parents(as_objects(package.get("CFAssociations")))
    strands, outcomes = reading.strands_and_outcomes()
    known = {one.guid for one in outcomes}
    rubrics, left_out = read_rubrics(as_objects(package.get("CFRubrics")), known)
    return Framework(
        guid,
        text_of(document, "title") or "A framework without a title",
        text_of(document, "creator"),
        tuple(strands),
        tuple(outcomes),
        tuple(rubrics),
        tuple(read_scales(own_part(document))),
        (*reading.notes, *left_out),
    )


def _parse(content: bytes) -> Json:
    try:
        if is_too_deep(content):
            raise Refused(f"This nests deeper than {DEEPEST_JSON} levels", "file")
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
            identifier = text_of(item, "identifier")
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
            child = text_of(as_object(association.get("originNodeURI")), "identifier")
            parent = text_of(as_object(association.get("destinationNodeURI")), "identifier")
            if child not in self.items or child in self.parents:
                continue
            self.sequence[child] = decimal_of(association.get("sequenceNumber"))
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
            is_strand = bool(below) or text_of(item, "CFItemType") == STRAND_TYPE
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
            written = text_of(item, "humanCodingScheme") or text_of(item, "listEnumeration")
            code = (written or str(place))[:LONGEST_CODE]
            while taken[code.casefold()]:
                taken[code.casefold()] += 1
                mark = f" ({taken[code.casefold()]})"
                code = f"{code[: LONGEST_CODE - len(mark)]}{mark}"
            made_up += code != written
            taken[code.casefold()] = 1
            title, description = _words(item)
            scale = own_part(item).get("scale")
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


def _words(item: Json) -> tuple[str, str]:
    """Give title and description: the short statement if there is one, and then the full one."""
    full, short = text_of(item, "fullStatement"), text_of(item, "abbreviatedStatement")
    title = short or full or "No statement"
    parts = [full if title != full else "", text_of(item, "notes")]
    if len(title) > LONGEST_TITLE:
        parts = [title, *parts]
        title = f"{title[: LONGEST_TITLE - 1]}…"
    return title, "\n\n".join(part for part in parts if part)[:LONGEST_DESCRIPTION]


def _title(item: Json) -> str:
    for name in ("abbreviatedStatement", "fullStatement", "humanCodingScheme"):
        if found := text_of(item, name):
            return found
    return "No statement"


def _items(count: int) -> str:
    return "1 item" if count == 1 else f"{count} items"


def _refuse(problems: list[Problem]) -> None:
    if problems:
        raise RefusedMany(problems[0].message, problems[:MOST_PROBLEMS])
