"""The library of rubrics: tags, archiving, sharing, and copies that fit a class."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel

from jade_ladder.service.rubrics import library as service
from jade_ladder.service.rubrics.library import Fit
from jade_ladder.store.rubrics.library import SharedRubric
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Text, YesNo
from jade_ladder.web.shared.models import Made

router = router_of("library")


class TagsIn(BaseModel):
    """The tags a rubric is to have."""

    tags: list[Text]


class ArchivedIn(BaseModel):
    """Whether a rubric is archived."""

    archived: YesNo


class SharedIn(BaseModel):
    """Whether colleagues may copy a rubric."""

    shared: YesNo


class SharedRubricLineOut(BaseModel):
    """A rubric that a colleague shares."""

    id: int
    title: str
    owner: str
    criteria: int
    changed_at: datetime

    @classmethod
    def of(cls, row: SharedRubric) -> SharedRubricLineOut:
        """Show a shared rubric."""
        return cls(
            id=row.id,
            title=row.title,
            owner=row.owner,
            criteria=row.criteria,
            changed_at=row.changed_at,
        )


class CriterionHeadOut(BaseModel):
    """A criterion of a rubric by its key, which is the same in every revision."""

    key: str
    title: str
    bonus: bool


class FitOut(BaseModel):
    """How a rubric fits a class: codes of outcomes that the class teaches, that are matched by
    code with one of its own, and that it has nothing for. `criteria` are the rubric's own.
    """

    taught: list[str]
    matched: list[str]
    unmatched: list[str]
    criteria: list[CriterionHeadOut]

    @classmethod
    def of(cls, fit: Fit) -> FitOut:
        """Show a fit."""
        return cls(
            taught=list(fit.taught),
            matched=list(fit.matched),
            unmatched=list(fit.unmatched),
            criteria=[
                CriterionHeadOut(key=one.key, title=one.title, bonus=one.bonus)
                for one in fit.criteria
            ],
        )


class CopiedOut(Made):
    """A copy made for a class, and how it fits."""

    fit: FitOut


@router.get("/rubrics/shared")
def read_shared_rubrics(caller: AsTeacher) -> list[SharedRubricLineOut]:
    """List the rubrics that colleagues share."""
    return [SharedRubricLineOut.of(row) for row in service.library(caller).shared]


@router.put("/rubrics/{rubric_id:int}/tags", status_code=204)
def set_tags(rubric_id: int, body: TagsIn, caller: AsTeacher) -> None:
    """Give a rubric these tags and no others."""
    service.set_tags(caller, rubric_id, body.tags)


@router.put("/rubrics/{rubric_id:int}/archived", status_code=204)
def archive_rubric(rubric_id: int, body: ArchivedIn, caller: AsTeacher) -> None:
    """Archive a rubric, or restore it."""
    service.archive_rubric(caller, rubric_id, body.archived)


@router.put("/rubrics/{rubric_id:int}/shared", status_code=204)
def share_rubric(rubric_id: int, body: SharedIn, caller: AsTeacher) -> None:
    """Let colleagues copy a rubric, or no longer."""
    service.share_rubric(caller, rubric_id, body.shared)


@router.get("/classes/{class_id:int}/rubrics/{rubric_id:int}/fit")
def read_fit(class_id: int, rubric_id: int, caller: AsTeacher) -> FitOut:
    """Say how a rubric fits what a class teaches; nothing is changed."""
    return FitOut.of(service.fit_rubric(caller, class_id, rubric_id))


@router.post("/classes/{class_id:int}/rubrics/{rubric_id:int}/copy", status_code=201)
def copy_for_class(class_id: int, rubric_id: int, caller: AsTeacher) -> CopiedOut:
    """Copy a rubric, or a shared one, into a draft aligned to the outcomes of a class."""
    number, fit = service.copy_for_class(caller, class_id, rubric_id)
    return CopiedOut(id=number, fit=FitOut.of(fit))
