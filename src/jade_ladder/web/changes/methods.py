"""Changing methods, and seeing first whose level that moves."""

from __future__ import annotations

from pydantic import BaseModel

from jade_ladder.core.evidence import Combining
from jade_ladder.service.changes import methods as method_changes
from jade_ladder.service.changes.combining import change_combining, combining_effects
from jade_ladder.service.outcomes import methods
from jade_ladder.web.changes.level_changes import LevelChangeOut, MovesOut
from jade_ladder.web.outcomes.methods import MethodIn
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Day, Whole
from jade_ladder.web.shared.heavy import heavy

router = router_of("classes", "/classes/{class_id:int}/method")


class MethodChange(BaseModel):
    """A new method for the class, with the version of the class it was based on: from a day on, or
    (null) altogether.
    """

    method: MethodIn
    version: Whole
    since: Day | None = None


class OutcomeVersion(BaseModel):
    """An outcome, with its version that a change is based on."""

    id: Whole
    version: Whole


class OutcomeMethods(BaseModel):
    """A method (null: the class's) for outcomes, from a day on, or (null) altogether."""

    outcomes: list[OutcomeVersion]
    method: MethodIn | None
    since: Day | None = None


class MethodEntries(BaseModel):
    """Changes of method by their numbers in the log, by which they are undone."""

    entries: list[Whole]


class HardCutOut(BaseModel):
    """What mastery cut at the value means under an averaging method."""

    scale_id: int
    scale: str
    below: str
    level: str
    pieces: int | None


class MethodPreviewOut(BaseModel):
    """What a method would change."""

    changes: list[LevelChangeOut]
    hard_cuts: list[HardCutOut]

    @classmethod
    def of(cls, preview: method_changes.MethodPreview) -> MethodPreviewOut:
        """Show a preview."""
        return cls(
            changes=[LevelChangeOut.of(change) for change in preview.changes],
            hard_cuts=[
                HardCutOut(
                    scale_id=cut.scale_id,
                    scale=cut.scale_name,
                    below=cut.below,
                    level=cut.level,
                    pieces=cut.pieces,
                )
                for cut in preview.hard_cuts
            ],
        )


@router.put("")
def change_class_method(class_id: int, body: MethodChange, caller: AsTeacher) -> MethodEntries:
    """Change how the class's mastery is worked out; no evidence is touched."""
    entry = methods.change_class_method(
        caller, class_id, body.version, body.method.method(), body.since
    )
    return MethodEntries(entries=[] if entry is None else [entry])


@router.put("/outcomes")
def change_outcome_methods(class_id: int, body: OutcomeMethods, caller: AsTeacher) -> MethodEntries:
    """Give outcomes a method of their own in the class, or the class's again."""
    entries = methods.change_outcome_methods(
        caller,
        class_id,
        {one.id: one.version for one in body.outcomes},
        body.method.method() if body.method else None,
        body.since,
    )
    return MethodEntries(entries=entries)


@router.post("/undo", status_code=204)
def undo_method_changes(class_id: int, body: MethodEntries, caller: AsTeacher) -> None:
    """Undo changes of method that one made, unless they were changed again since."""
    methods.undo_method_changes(caller, class_id, body.entries)


class CombiningIn(BaseModel):
    """How the criteria of an attempt are combined for one outcome."""

    combining: Combining


class CombiningChange(CombiningIn):
    """The same, based on a version of the class."""

    version: Whole


@router.post("/combining/preview")
@heavy
def preview_combining(class_id: int, body: CombiningIn, caller: AsTeacher) -> MovesOut:
    """Say whose level would change if criteria were combined in this way; nothing is changed."""
    return MovesOut.of(combining_effects(caller, class_id, body.combining))


@router.put("/combining", status_code=204)
def change_combining_of_class(class_id: int, body: CombiningChange, caller: AsTeacher) -> None:
    """Combine the criteria of an attempt in another way, in all tasks of the class."""
    change_combining(caller, class_id, body.version, body.combining)


@router.post("/preview")
@heavy
def preview_class_method(class_id: int, body: MethodIn, caller: AsTeacher) -> MethodPreviewOut:
    """Say whose level a method would change; nothing is changed."""
    return MethodPreviewOut.of(method_changes.preview_class_method(caller, class_id, body.method()))
