"""Rubrics and their editor."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from pydantic import BaseModel, Field

from jade_ladder.core.numbers import round_half_up
from jade_ladder.formats.grid import LARGEST_GRID, grid_of
from jade_ladder.formats.rubric_grid import RubricGrid, read_rubric_grid
from jade_ladder.service.rubrics import rubrics as service
from jade_ladder.service.rubrics.library import library
from jade_ladder.service.rubrics.rubrics import RubricView
from jade_ladder.store.rubrics.rubrics import RubricRow
from jade_ladder.web.rubrics.criteria import CriterionIn, CriterionOut, OwnOutcomeOut
from jade_ladder.web.shared.bodies import FILE_LIMIT, body_up_to, router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Text, Whole, YesNo
from jade_ladder.web.shared.models import Made
from jade_ladder.web.shared.numbers import ShortNumber, Value
from jade_ladder.web.shared.problems import FieldProblem

router = router_of("rubrics", "/rubrics")


class TitleIn(BaseModel):
    """A rubric's title."""

    title: Text


class DraftIn(BaseModel):
    """A whole draft, with the version it was based on."""

    version: Whole
    title: Text
    criteria: list[CriterionIn]
    points_shown: YesNo = True


class VersionIn(BaseModel):
    """The version an operation is based on."""

    version: Whole


class ShareIn(VersionIn):
    """How to give weights: share out what is missing, or all equal."""

    how: Literal["missing", "equal"]


class GridIn(BaseModel):
    """Cells as text (tabs between cells) or as an HTML table; what is not said is found out."""

    text: Text = Field(max_length=LARGEST_GRID)
    levels_in_first_row: YesNo | None = None
    best_first: YesNo | None = None


class GridLevelOut(BaseModel):
    """A level of a criterion of the grid."""

    name: str
    points: ShortNumber
    descriptor: str


class GridCriterionOut(BaseModel):
    """A criterion of the grid, its levels lowest first."""

    title: str
    weight: ShortNumber | None
    levels: list[GridLevelOut]


class GridOut(BaseModel):
    """A grid read as criteria, how it was read, and what about it was odd. `text` is the grid with
    tabs between cells, to be mended.
    """

    text: str
    criteria: list[GridCriterionOut]
    levels_in_first_row: bool
    best_first: bool
    notes: list[str]

    @classmethod
    def of(cls, grid: RubricGrid) -> GridOut:
        """Show a grid."""
        return cls(
            text=grid.text,
            criteria=[
                GridCriterionOut(
                    title=one.title,
                    weight=one.weight,
                    levels=[
                        GridLevelOut(
                            name=level.name, points=level.points, descriptor=level.descriptor
                        )
                        for level in one.levels
                    ],
                )
                for one in grid.criteria
            ],
            levels_in_first_row=grid.levels_in_first_row,
            best_first=grid.best_first,
            notes=list(grid.notes),
        )


class OwnRubricLineOut(BaseModel):
    """A rubric in the list; `in_force` is the number of the revision that tasks are set with."""

    id: int
    title: str
    final: bool
    in_force: int | None
    criteria: int
    tasks: int
    changed_at: datetime
    shared: bool
    archived: bool
    tags: list[str]

    @classmethod
    def of(cls, row: RubricRow, tags: list[str]) -> OwnRubricLineOut:
        """Show a line."""
        return cls(
            id=row.id,
            title=row.title,
            final=row.final_at is not None,
            in_force=row.final_number,
            criteria=row.criteria,
            tasks=row.tasks,
            changed_at=row.changed_at,
            shared=row.shared,
            archived=row.archived_at is not None,
            tags=tags,
        )


class ReachOut(BaseModel):
    """How strongly the rubric reaches an outcome: by how many criteria, with what share of all
    alignment weight (per cent), and the highest value it can give.
    """

    outcome_id: int
    criteria: int
    share: ShortNumber
    lifts_to: Value | None
    lifts_to_mastery: bool


class UseOut(BaseModel):
    """A task that uses the rubric."""

    id: int
    title: str
    class_name: str
    revision: int


class RubricOut(BaseModel):
    """A rubric with all that its editor shows: what is `missing` keeps it from being final, a note
    only tells.
    """

    id: int
    title: str
    version: int
    number: int
    final: bool
    points_shown: bool
    changed_at: datetime
    criteria: list[CriterionOut]
    points: ShortNumber
    weighted: bool
    weights_sum: ShortNumber
    missing: list[FieldProblem]
    notes: list[FieldProblem]
    outcomes: list[OwnOutcomeOut]
    reaches: list[ReachOut]
    tasks: list[UseOut]

    @classmethod
    def of(cls, view: RubricView) -> RubricOut:
        """Show a rubric."""
        weights = [s.criterion.weight for s in view.criteria if not s.criterion.bonus]
        return cls(
            id=view.row.id,
            title=view.row.edited_title,
            version=view.row.version,
            number=view.row.number,
            final=view.row.final_at is not None,
            points_shown=view.row.points_shown,
            changed_at=view.row.changed_at,
            criteria=[CriterionOut.of(stored) for stored in view.criteria],
            points=view.points,
            weighted=any(weight is not None for weight in weights),
            weights_sum=sum(weight or 0 for weight in weights),
            missing=[FieldProblem(field=p.field, message=p.message) for p in view.missing],
            notes=[FieldProblem(field=n.field, message=n.message) for n in view.notes],
            outcomes=[OwnOutcomeOut.of(outcome) for outcome in view.outcomes],
            reaches=[
                ReachOut(
                    outcome_id=reach.outcome.id,
                    criteria=reach.criteria,
                    share=round_half_up(reach.share * 100),
                    lifts_to=reach.lifts_to,
                    lifts_to_mastery=reach.lifts_to is not None
                    and view.scales[reach.outcome.scale_id].is_mastery(reach.lifts_to),
                )
                for reach in view.reaches
            ],
            tasks=[
                UseOut(
                    id=use.task_id,
                    title=use.title,
                    class_name=use.class_name,
                    revision=use.revision,
                )
                for use in view.tasks
            ],
        )


@router.get("")
def read_rubrics(caller: AsTeacher) -> list[OwnRubricLineOut]:
    """List one's rubrics, archived ones too, the last changed first."""
    found = library(caller)
    return [OwnRubricLineOut.of(row, found.tags.get(row.id, [])) for row in found.own]


@router.post("", status_code=201)
def make_rubric(body: TitleIn, caller: AsTeacher) -> Made:
    """Begin a draft."""
    return Made(id=service.make_rubric(caller, body.title))


@router.post("/grid")
@body_up_to(FILE_LIMIT)
def read_grid(body: GridIn, _: AsTeacher) -> GridOut:
    """Read a grid of cells, pasted from a spreadsheet or a table, as criteria; nothing is kept."""
    grid = grid_of(body.text)
    return GridOut.of(read_rubric_grid(grid, body.levels_in_first_row, body.best_first))


@router.get("/{rubric_id:int}")
def read_rubric(rubric_id: int, caller: AsTeacher) -> RubricOut:
    """Give one rubric."""
    return RubricOut.of(service.get_rubric(caller, rubric_id))


@router.put("/{rubric_id:int}")
@body_up_to(FILE_LIMIT)
def save_draft(rubric_id: int, body: DraftIn, caller: AsTeacher) -> RubricOut:
    """Save a draft as it stands; gives it with its maps worked out."""
    drafts = [criterion.draft() for criterion in body.criteria]
    return RubricOut.of(
        service.save_draft(caller, rubric_id, body.version, body.title, drafts, body.points_shown)
    )


@router.post("/{rubric_id:int}/weights")
def share_weights(rubric_id: int, body: ShareIn, caller: AsTeacher) -> RubricOut:
    """Share out the missing weight, or make all equal."""
    equally = body.how == "equal"
    return RubricOut.of(service.share_weights(caller, rubric_id, body.version, equally))


@router.post("/{rubric_id:int}/final")
def make_final(rubric_id: int, body: VersionIn, caller: AsTeacher) -> RubricOut:
    """Make a draft final, so that tasks can use it."""
    return RubricOut.of(service.make_final(caller, rubric_id, body.version))


@router.post("/{rubric_id:int}/copy", status_code=201)
def copy_rubric(rubric_id: int, caller: AsTeacher) -> Made:
    """Copy a rubric into a new draft."""
    return Made(id=service.copy_rubric(caller, rubric_id))


@router.delete("/{rubric_id:int}", status_code=204)
def delete_rubric(rubric_id: int, caller: AsTeacher) -> None:
    """Delete a rubric that no task uses."""
    service.delete_rubric(caller, rubric_id)
