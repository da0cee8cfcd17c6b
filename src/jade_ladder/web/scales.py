"""Proficiency scales."""

from __future__ import annotations

from fastapi import APIRouter
from pydantic import BaseModel

from jade_ladder.core.scale import CutPreset, Scale, ScaleLevel, preset_cuts
from jade_ladder.service import scales as service
from jade_ladder.store.scales import StoredScale
from jade_ladder.web.classes import Made
from jade_ladder.web.numbers import ShortNumber, Value, WrittenNumber
from jade_ladder.web.sign_in import Teacher

router = APIRouter(prefix="/scales", tags=["scales"])


class LevelIn(BaseModel):
    """A level as typed."""

    name: str
    code: str
    value: WrittenNumber
    cut: WrittenNumber


class ScaleIn(BaseModel):
    """A scale as typed; `mastery_level` is the place of the mastery level, 0 the lowest."""

    name: str
    levels: list[LevelIn]
    mastery_level: int

    def scale(self) -> Scale:
        """Give it as the core knows it, or refuse what is not a scale."""
        levels = tuple(
            ScaleLevel(level.name.strip(), level.code.strip(), level.value, level.cut)
            for level in self.levels
        )
        return Scale(levels, self.mastery_level)


class ScaleChange(ScaleIn):
    """A change, with the version it was based on."""

    version: int


class LevelOut(BaseModel):
    """A level of a scale."""

    name: str
    code: str
    value: ShortNumber
    cut: Value


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
            levels=[
                LevelOut(name=level.name, code=level.code, value=level.value, cut=level.cut)
                for level in scale.levels
            ],
        )


class CutsIn(BaseModel):
    """Level values as typed, and the preset to cut them by."""

    values: list[WrittenNumber]
    preset: CutPreset


class CutsOut(BaseModel):
    """Cut scores, lowest first."""

    cuts: list[Value]


@router.get("")
def read_scales(caller: Teacher) -> list[ScaleOut]:
    """List the school's scales."""
    return [ScaleOut.of(stored) for stored in service.scales(caller)]


@router.post("", status_code=201)
def add_scale(body: ScaleIn, caller: Teacher) -> Made:
    """Add a scale."""
    return Made(id=service.add_scale(caller, body.name, body.scale()))


@router.put("/{scale_id}", status_code=204)
def change_scale(scale_id: int, body: ScaleChange, caller: Teacher) -> None:
    """Change a scale; alignment cells that follow it move with it."""
    service.change_scale(caller, scale_id, body.version, body.name, body.scale())


@router.post("/cuts")
def work_out_cuts(body: CutsIn, caller: Teacher) -> CutsOut:
    """Work out cut scores by a preset; nothing is changed."""
    return CutsOut(cuts=list(preset_cuts(body.values, body.preset)) if body.values else [])
