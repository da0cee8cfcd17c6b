"""Proficiency scales."""

from __future__ import annotations

from pydantic import BaseModel

from jade_ladder.core.scale import CutPreset, Scale, ScaleLevel, preset_cuts
from jade_ladder.service.outcomes import scales as service
from jade_ladder.store.outcomes.scales import StoredScale
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Text, Whole
from jade_ladder.web.shared.models import Made
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


@router.delete("/scales/{scale_id:int}", status_code=204)
def remove_scale(scale_id: int, caller: AsTeacher) -> None:
    """Remove a scale that nothing uses."""
    service.remove_scale(caller, scale_id)


@router.put("/classes/{class_id:int}/scale", status_code=204)
def choose_class_scale(class_id: int, body: ClassScaleIn, caller: AsTeacher) -> None:
    """Choose the scale that new outcomes of a class take."""
    service.choose_class_scale(caller, class_id, body.version, body.scale_id)
