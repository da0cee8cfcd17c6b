"""Changing a scale, and seeing first whose level that moves."""

from __future__ import annotations

from pydantic import BaseModel, Field

from jade_ladder.core.numbers import Hundredths
from jade_ladder.service.changes import scales as changes
from jade_ladder.service.changes.scales import AskedCell, CellKey
from jade_ladder.web.changes.level_changes import ClassLevelChangesOut
from jade_ladder.web.outcomes.scales import ScaleIn
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Text, Whole
from jade_ladder.web.shared.heavy import heavy
from jade_ladder.web.shared.numbers import Value, WrittenNumber

router = router_of("scales", "/scales/{scale_id:int}")


class CellIn(BaseModel):
    """What a cell written by hand is evidence of on the changed scale; `was` is its value now."""

    rubric_id: Whole
    criterion: Text
    level: Text
    outcome_id: Whole
    was: WrittenNumber
    value: WrittenNumber


class ScaleChange(ScaleIn):
    """A change, with the version it was based on, and what was decided on cells by hand."""

    version: Whole
    cells: list[CellIn] = Field(default=[])

    def decided(self) -> dict[CellKey, Hundredths]:
        """Give the decisions as the service knows them."""
        return {
            CellKey(one.rubric_id, one.criterion, one.level, one.outcome_id, one.was): one.value
            for one in self.cells
        }


class AskedCellOut(BaseModel):
    """A cell by hand that would mean another level: `criterion` and `level` are keys, `offered` has
    the same place between the ends of the changed scale.
    """

    rubric_id: int
    rubric: str
    criterion: str
    criterion_title: str
    level: str
    level_name: str
    outcome_id: int
    was: Value
    was_level: str
    offered: Value

    @classmethod
    def of(cls, cell: AskedCell, was_level: str) -> AskedCellOut:
        """Show a cell."""
        return cls(
            rubric_id=cell.key.rubric_id,
            rubric=cell.rubric,
            criterion=cell.key.criterion,
            criterion_title=cell.criterion,
            level=cell.key.level,
            level_name=cell.level,
            outcome_id=cell.key.outcome_id,
            was=cell.key.value,
            was_level=was_level,
            offered=cell.offered,
        )


class ScaleEffectsOut(BaseModel):
    """What changing a scale would do: to levels in one's classes, to how many in classes of other
    teachers, to how many cells of alignment maps, and to how many that other teachers wrote;
    `asked` are one's own cells by hand that have to be decided.
    """

    classes: list[ClassLevelChangesOut]
    elsewhere: int
    cells: int
    asked: list[AskedCellOut]
    cells_elsewhere: int


@router.put("", status_code=204)
def change_scale(scale_id: int, body: ScaleChange, caller: AsTeacher) -> None:
    """Change a scale; alignment cells that follow it move with it."""
    changes.change_scale(caller, scale_id, body.version, body.name, body.scale(), body.decided())


@router.post("/preview")
@heavy
def preview_scale(scale_id: int, body: ScaleChange, caller: AsTeacher) -> ScaleEffectsOut:
    """Say whose level a change of a scale would move; nothing is changed."""
    found = changes.preview_scale(
        caller, scale_id, body.version, body.name, body.scale(), body.decided()
    )
    return ScaleEffectsOut(
        classes=ClassLevelChangesOut.all_of(found.effects),
        elsewhere=found.effects.elsewhere,
        cells=found.cells,
        asked=[
            AskedCellOut.of(one, found.before.levels[found.before.level_of(one.key.value)].name)
            for one in found.asked
        ],
        cells_elsewhere=found.elsewhere,
    )
