"""Writing a framework as a CASE 1.0 package (JSON)."""

from __future__ import annotations

import json
from datetime import UTC, datetime
from typing import Any
from uuid import NAMESPACE_URL, UUID, uuid5

from jade_ladder.core.alignment import Cell
from jade_ladder.core.numbers import Hundredths, write_short
from jade_ladder.core.rubric import Criterion, CriterionLevel
from jade_ladder.core.scale import Scale
from jade_ladder.formats.case import (
    EXTENSION,
    OUTCOME_TYPE,
    STRAND_TYPE,
    Framework,
    FrameworkAlignment,
    FrameworkRubric,
)

Json = dict[str, Any]


def write_framework(framework: Framework, now: datetime) -> bytes:
    """Write a framework as one CASE 1.0 package; `now` is the time of its last change."""
    return json.dumps(_Writer(framework, now).package(), ensure_ascii=False, indent=1).encode()


def uuid_of(text: str) -> str:
    """Give a lasting UUID for any key: itself if it is one, else one made of it."""
    try:
        return str(UUID(text))
    except ValueError:
        return str(uuid5(NAMESPACE_URL, f"urn:jade-ladder:{text}"))


class _Writer:
    def __init__(self, framework: Framework, now: datetime) -> None:
        self.framework = framework
        self.changed = now.astimezone(UTC).strftime("%Y-%m-%dT%H:%M:%S+00:00")
        self.titles = {one.guid: one.title for one in framework.strands}
        self.titles |= {one.guid: one.title for one in framework.outcomes}
        self.titles[framework.guid] = framework.title

    def package(self) -> Json:
        framework = self.framework
        package: Json = {
            "CFDocument": {
                **self._head(framework.guid),
                "creator": framework.creator,
                "title": framework.title,
                "caseVersion": "1.0",
                "CFPackageURI": self._link(framework.guid),
            },
            "CFItems": self._items(),
            "CFAssociations": self._associations(),
        }
        if framework.scales:
            scales = [_scale(name, scale) for name, scale in framework.scales]
            package["CFDocument"]["extensions"] = {EXTENSION: {"scales": scales}}
        if framework.rubrics:
            package["CFRubrics"] = [self._rubric(rubric) for rubric in framework.rubrics]
        return package

    def _head(self, guid: str) -> Json:
        return {
            "identifier": guid,
            "uri": f"urn:uuid:{guid}",
            "lastChangeDateTime": self.changed,
        }

    def _link(self, guid: str) -> Json:
        return {
            "title": self.titles.get(guid, ""),
            "identifier": guid,
            "uri": f"urn:uuid:{guid}",
        }

    def _items(self) -> list[Json]:
        items: list[Json] = [
            {
                **self._head(strand.guid),
                "fullStatement": strand.title,
                "CFItemType": STRAND_TYPE,
                "CFDocumentURI": self._link(self.framework.guid),
            }
            for strand in self.framework.strands
        ]
        for outcome in self.framework.outcomes:
            item: Json = {
                **self._head(outcome.guid),
                "fullStatement": outcome.title,
                "humanCodingScheme": outcome.code,
                "CFItemType": OUTCOME_TYPE,
                "CFDocumentURI": self._link(self.framework.guid),
            }
            if outcome.description:
                item["notes"] = outcome.description
            if outcome.scale is not None:
                item["extensions"] = {EXTENSION: {"scale": outcome.scale}}
            items.append(item)
        return items

    def _associations(self) -> list[Json]:
        framework = self.framework
        parents = [(one.guid, one.parent) for one in framework.strands]
        parents += [(one.guid, one.strand) for one in framework.outcomes]
        return [
            {
                **self._head(uuid_of(f"{framework.guid} child {guid}")),
                "associationType": "isChildOf",
                "sequenceNumber": number,
                "originNodeURI": self._link(guid),
                "destinationNodeURI": self._link(parent or framework.guid),
                "CFDocumentURI": self._link(framework.guid),
            }
            for number, (guid, parent) in enumerate(parents, start=1)
        ]

    def _rubric(self, rubric: FrameworkRubric) -> Json:
        return {
            **self._head(rubric.guid),
            "title": rubric.title,
            "CFRubricCriteria": [
                self._criterion(rubric, position, criterion, alignments)
                for position, (criterion, alignments) in enumerate(rubric.criteria, start=1)
            ],
        }

    def _criterion(
        self,
        rubric: FrameworkRubric,
        position: int,
        criterion: Criterion,
        alignments: tuple[FrameworkAlignment, ...],
    ) -> Json:
        guid = uuid_of(criterion.key)
        written: Json = {
            **self._head(guid),
            "description": criterion.title,
            "position": position,
            "rubricId": rubric.guid,
            "CFRubricCriterionLevels": [
                self._level(guid, place, level)
                for place, level in enumerate(criterion.levels, start=1)
            ],
            "extensions": {
                EXTENSION: {
                    "kind": criterion.kind,
                    "bonus": criterion.bonus,
                    "half_way": criterion.half_way,
                    "remarks": criterion.remarks,
                    "any_order": criterion.any_order,
                    "alignments": [
                        {
                            "outcome": tie.outcome,
                            "weight": tie.weight,
                            "by_hand": [_cell(cell) for cell in tie.by_hand],
                        }
                        for tie in alignments
                    ],
                }
            },
        }
        if criterion.weight is not None:
            written["weight"] = _number(criterion.weight)
        if alignments:
            written["CFItemURI"] = self._link(alignments[0].outcome)
        return written

    def _level(self, criterion_guid: str, position: int, level: CriterionLevel) -> Json:
        return {
            **self._head(uuid_of(level.key)),
            "quality": level.name,
            "description": level.descriptor,
            "score": _number(level.points),
            "position": position,
            "rubricCriterionId": criterion_guid,
        }


def _number(value: Hundredths) -> int | float:
    """Write hundredths as a JSON number, which has at most two decimals."""
    return value // 100 if value % 100 == 0 else float(write_short(value))


def _cell(cell: Cell | None) -> Json | None:
    if cell is None:
        return None
    return {"value": None if cell.value is None else write_short(cell.value)}


def _scale(name: str, scale: Scale) -> Json:
    return {
        "name": name,
        "mastery_level": scale.mastery_level,
        "levels": [
            {
                "name": level.name,
                "code": level.code,
                "value": write_short(level.value),
                "cut": write_short(level.cut),
                "description": level.description,
            }
            for level in scale.levels
        ],
    }
