"""Proficiency scales."""

from __future__ import annotations

from pydantic import BaseModel

from jade_ladder.core.numbers import Hundredths
from jade_ladder.core.scale import CutPreset, Scale, ScaleLevel, preset_cuts
from jade_ladder.service.changes import scales as changes
from jade_ladder.service.changes.scales import AskedCell, CellKey
from jade_ladder.service.changes.what_if import Effects
from jade_ladder.service.outcomes import scales as service
from jade_ladder.store.outcomes.scales import StoredScale
from jade_ladder.web.classes.classes import LevelChangeOut, Made
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Text, Whole
from jade_ladder.web.shared.heavy import heavy
from jade_ladder.web.shared.numbers import ShortNumber, Value, WrittenNumber

router = router_of("scales")


class LevelIn(BaseModel):
    """A level as typed."""

    name: Text
    code: Text
    value: WrittenNumber
    cut: WrittenNumber
    description: Text = ""


class ScaleIn(BaseModel):
    """A scale as typed; `mastery_level` is the place of the mastery level, 0 the lowest."""

    name: Text
    levels: list[LevelIn]
    mastery_level: Whole

    def scale(self) -> Scale:
        """Give it as the core knows it, or refuse what is not a scale."""
        levels = tuple(
            ScaleLevel(
                level.name.strip(),
                level.code.strip(),
                level.value,
                level.cut,
                level.description.strip(),
            )
            for level in self.levels
        )
        return Scale(levels, self.mastery_level)


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
    cells: list[CellIn] = []

    def decided(self) -> dict[CellKey, Hundredths]:
        """Give the decisions as the service knows them."""
        return {
            CellKey(one.rubric_id, one.criterion, one.level, one.outcome_id, one.was): one.value
            for one in self.cells
        }


class LevelOut(BaseModel):
    """A level of a scale."""

    name: str
    code: str
    value: ShortNumber
    cut: Value
    description: str


def _levels(scale: Scale) -> list[LevelOut]:
    return [
        LevelOut(
            name=level.name,
            code=level.code,
            value=level.value,
            cut=level.cut,
            description=level.description,
        )
        for level in scale.levels
    ]


class ScaleOut(BaseModel):
    """A scale of the library, lowest level first."""

    id: int
    name: str
    version: int
    mastery_level: int
    mastery_cut: Value
    cuts_at_values: bool
    levels: list[LevelOut]

    @classmethod
    def of(cls, stored: StoredScale) -> ScaleOut:
        """Show a scale."""
        scale = stored.scale
        return cls(
            id=stored.id,
            name=stored.name,
            version=stored.version,
            mastery_level=scale.mastery_level,
            mastery_cut=scale.mastery_cut,
            cuts_at_values=scale.cuts_at_values,
            levels=_levels(scale),
        )


class CutsIn(BaseModel):
    """Level values as typed, and the preset to cut them by."""

    values: list[WrittenNumber]
    preset: CutPreset


class CutsOut(BaseModel):
    """Cut scores, lowest first."""

    cuts: list[Value]


class ScaleInLibraryOut(ScaleOut):
    """A scale with its use: by how many outcomes, and of how many classes new outcomes take it;
    `own`: the caller's, and not the school's.
    """

    outcomes: int
    classes: int
    changeable: bool
    own: bool


class PresetOut(BaseModel):
    """A ready scale to begin from, lowest level first."""

    mastery_level: int
    levels: list[LevelOut]


class ClassLevelChangesOut(BaseModel):
    """Whose level would change in one of one's classes."""

    class_id: int
    class_name: str
    changes: list[LevelChangeOut]

    @classmethod
    def all_of(cls, effects: Effects) -> list[ClassLevelChangesOut]:
        """Show what a change would do, class by class."""
        return [
            cls(
                class_id=klass.id,
                class_name=klass.name,
                changes=[LevelChangeOut.of(change) for change in changes],
            )
            for klass, changes in effects.classes
        ]


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


class ClassScaleIn(BaseModel):
    """The scale that new outcomes of a class take, with the version of the class it is based on."""

    scale_id: Whole
    version: Whole


@router.get("/scales")
def read_scales(caller: AsTeacher) -> list[ScaleInLibraryOut]:
    """List the school's scales."""
    return [
        ScaleInLibraryOut(
            **dict(ScaleOut.of(one.stored)),
            outcomes=one.use.outcomes,
            classes=one.use.classes,
            changeable=one.changeable,
            own=one.stored.owner_id == caller.person_id,
        )
        for one in service.scales(caller)
    ]


@router.get("/scales/presets")
def read_presets(_: AsTeacher) -> list[PresetOut]:
    """List the ready scales, of two levels and more."""
    return [
        PresetOut(mastery_level=scale.mastery_level, levels=_levels(scale))
        for scale in service.preset_scales()
    ]


@router.post("/scales", status_code=201)
def add_scale(body: ScaleIn, caller: AsTeacher) -> Made:
    """Add a scale."""
    return Made(id=service.add_scale(caller, body.name, body.scale()))


@router.post("/scales/cuts")
def work_out_cuts(body: CutsIn, _: AsTeacher) -> CutsOut:
    """Work out cut scores by a preset; nothing is changed."""
    return CutsOut(cuts=list(preset_cuts(body.values, body.preset)) if body.values else [])


@router.put("/scales/{scale_id:int}", status_code=204)
def change_scale(scale_id: int, body: ScaleChange, caller: AsTeacher) -> None:
    """Change a scale; alignment cells that follow it move with it."""
    changes.change_scale(caller, scale_id, body.version, body.name, body.scale(), body.decided())


@router.delete("/scales/{scale_id:int}", status_code=204)
def remove_scale(scale_id: int, caller: AsTeacher) -> None:
    """Remove a scale that nothing uses."""
    service.remove_scale(caller, scale_id)


@router.post("/scales/{scale_id:int}/preview")
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


@router.put("/classes/{class_id:int}/scale", status_code=204)
def choose_class_scale(class_id: int, body: ClassScaleIn, caller: AsTeacher) -> None:
    """Choose the scale that new outcomes of a class take."""
    service.choose_class_scale(caller, class_id, body.version, body.scale_id)
