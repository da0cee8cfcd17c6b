"""How criteria, their levels and their alignments are written and shown."""

from __future__ import annotations

from pydantic import BaseModel, Field

from jade_ladder.core.alignment import Basis, Cell
from jade_ladder.core.rubric import Criterion, CriterionKind, CriterionLevel
from jade_ladder.service.rubrics.drafts import AlignmentDraft, CriterionDraft
from jade_ladder.store.outcomes.outcomes import OwnOutcome
from jade_ladder.store.rubrics.criteria import StoredAlignment, StoredCriterion
from jade_ladder.web.shared.fields import Text, Whole, YesNo
from jade_ladder.web.shared.numbers import ShortNumber, Value, WrittenNumber


class HandCell(BaseModel):
    """A cell the teacher wrote: a value, or none where the level says nothing."""

    value: WrittenNumber | None

    def cell(self) -> Cell:
        """Give it as the core knows it."""
        return Cell(self.value, by_hand=True)


class AlignmentIn(BaseModel):
    """An alignment; a cell is null where the default holds; one per level, lowest first."""

    outcome_id: Whole
    weight: Whole = 1
    cells: list[HandCell | None]


class CriterionLevelIn(BaseModel):
    """A level of a criterion as typed."""

    key: Text = Field(min_length=1, max_length=60)
    name: Text = Field(max_length=120)
    points: WrittenNumber
    descriptor: Text


class CriterionIn(BaseModel):
    """A criterion as typed; weight null: the rubric has no weights."""

    key: Text = Field(min_length=1, max_length=60)
    title: Text
    kind: CriterionKind
    bonus: YesNo
    half_way: YesNo
    weight: WrittenNumber | None
    remarks: YesNo = True
    any_order: YesNo = False
    levels: list[CriterionLevelIn]
    alignments: list[AlignmentIn]

    def draft(self) -> CriterionDraft:
        """Give it as the service knows it."""
        levels = tuple(
            CriterionLevel(level.key, level.name.strip(), level.points, level.descriptor)
            for level in self.levels
        )
        criterion = Criterion(
            self.key,
            self.title.strip(),
            levels,
            self.kind,
            self.bonus,
            self.half_way,
            self.weight,
            self.remarks,
            self.any_order,
        )
        ties = tuple(
            AlignmentDraft(
                tie.outcome_id,
                tie.weight,
                tuple(cell.cell() if cell else None for cell in tie.cells),
            )
            for tie in self.alignments
        )
        return CriterionDraft(criterion, ties)


class CellOut(BaseModel):
    """What a level is evidence of."""

    value: Value | None
    by_hand: bool


class AlignmentOut(BaseModel):
    """An alignment with its map and how the defaults came about."""

    outcome_id: int
    weight: int
    basis: Basis
    cells: list[CellOut]

    @classmethod
    def of(cls, tie: StoredAlignment) -> AlignmentOut:
        """Show an alignment."""
        return cls(
            outcome_id=tie.outcome_id,
            weight=tie.weight,
            basis=tie.map.basis,
            cells=[CellOut(value=cell.value, by_hand=cell.by_hand) for cell in tie.map.cells],
        )


class CriterionLevelOut(BaseModel):
    """A level of a criterion."""

    id: int
    key: str
    name: str
    points: ShortNumber
    descriptor: str


class CriterionOut(BaseModel):
    """A criterion, its levels lowest first."""

    id: int
    key: str
    title: str
    kind: CriterionKind
    bonus: bool
    half_way: bool
    weight: ShortNumber | None
    remarks: bool
    any_order: bool
    points_fall: bool
    levels: list[CriterionLevelOut]
    alignments: list[AlignmentOut]

    @classmethod
    def of(cls, stored: StoredCriterion) -> CriterionOut:
        """Show a criterion."""
        criterion = stored.criterion
        return cls(
            id=stored.id,
            key=criterion.key,
            title=criterion.title,
            kind=criterion.kind,
            bonus=criterion.bonus,
            half_way=criterion.half_way,
            weight=criterion.weight,
            remarks=criterion.remarks,
            any_order=criterion.any_order,
            points_fall=criterion.points_fall,
            levels=[
                CriterionLevelOut(
                    id=number,
                    key=level.key,
                    name=level.name,
                    points=level.points,
                    descriptor=level.descriptor,
                )
                for number, level in zip(stored.level_ids, criterion.levels, strict=True)
            ],
            alignments=[AlignmentOut.of(tie) for tie in stored.alignments],
        )


class OwnOutcomeOut(BaseModel):
    """An outcome that can be aligned."""

    id: int
    code: str
    title: str
    scale_id: int
    active: bool

    @classmethod
    def of(cls, outcome: OwnOutcome) -> OwnOutcomeOut:
        """Show an outcome."""
        return cls(
            id=outcome.id,
            code=outcome.code,
            title=outcome.title,
            scale_id=outcome.scale_id,
            active=outcome.active,
        )
