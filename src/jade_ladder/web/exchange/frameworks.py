"""Outcomes and rubrics as files: CASE 1.0 (JSON) in and out, CSV out."""

from __future__ import annotations

from typing import Annotated

from fastapi import Depends, Form, Response, UploadFile
from pydantic import BaseModel

from jade_ladder.formats.case import FrameworkOutcome
from jade_ladder.formats.case_in import read_framework
from jade_ladder.formats.case_out import write_framework
from jade_ladder.formats.outcome_list import write_outcome_list
from jade_ladder.formats.plain_text import safe_file_name
from jade_ladder.service.exchange import framework_import
from jade_ladder.service.exchange import frameworks as service
from jade_ladder.service.exchange.frameworks import ChangedOutcome, FrameworkComparison
from jade_ladder.web.shared.bodies import FILE_LIMIT, body_up_to, router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.heavy import heavy
from jade_ladder.web.shared.models import Made

router = router_of("frameworks", "/classes/{class_id:int}")
MOST_SHOWN = 300


class FrameworkOutcomeOut(BaseModel):
    """An outcome of the file."""

    code: str
    title: str

    @classmethod
    def of(cls, one: FrameworkOutcome) -> FrameworkOutcomeOut:
        """Show an outcome."""
        return cls(code=one.code, title=one.title)


class ChangedOutcomeOut(FrameworkOutcomeOut):
    """An outcome of the file that is there with other words."""

    was_code: str
    was_title: str

    @classmethod
    def of_change(cls, one: ChangedOutcome) -> ChangedOutcomeOut:
        """Show what changes."""
        return cls(
            code=one.now.code, title=one.now.title, was_code=one.was.code, was_title=one.was.title
        )


class ComparisonOut(BaseModel):
    """A framework held against a class; of each kind the first few hundred are listed. What is
    `kept` is a colleague's or the school's, and keeps its words.
    """

    title: str
    creator: str
    notes: list[str]
    new: int
    joining: int
    changed: int
    kept: int
    same: int
    gone: int
    new_outcomes: list[FrameworkOutcomeOut]
    joining_outcomes: list[FrameworkOutcomeOut]
    changed_outcomes: list[ChangedOutcomeOut]
    kept_outcomes: list[ChangedOutcomeOut]
    gone_outcomes: list[FrameworkOutcomeOut]
    new_strands: list[str]
    new_rubrics: list[str]

    @classmethod
    def of(cls, found: FrameworkComparison) -> ComparisonOut:
        """Show a comparison."""
        return cls(
            title=found.framework.title,
            creator=found.framework.creator,
            notes=list(found.framework.notes),
            new=len(found.new),
            joining=len(found.joining),
            changed=len(found.changed),
            kept=len(found.kept),
            same=found.same,
            gone=len(found.gone),
            new_outcomes=[FrameworkOutcomeOut.of(one) for one in found.new[:MOST_SHOWN]],
            joining_outcomes=[
                FrameworkOutcomeOut.of(one.now) for one in found.joining[:MOST_SHOWN]
            ],
            changed_outcomes=[
                ChangedOutcomeOut.of_change(one) for one in found.changed[:MOST_SHOWN]
            ],
            kept_outcomes=[ChangedOutcomeOut.of_change(one) for one in found.kept[:MOST_SHOWN]],
            gone_outcomes=[
                FrameworkOutcomeOut(code=one.code, title=one.title)
                for one in found.gone[:MOST_SHOWN]
            ],
            new_strands=[strand.title for strand in found.new_strands],
            new_rubrics=[rubric.title for rubric in found.new_rubrics],
        )


class UndoneImportOut(BaseModel):
    """What undoing an import left alone, since it was used or changed after it came."""

    outcomes_kept: int
    rubrics_kept: int


def file_bytes(file: UploadFile) -> bytes:
    """Give the bytes of the file that was sent."""
    return file.file.read()


FileBytes = Annotated[bytes, Depends(file_bytes)]


@router.get("/outcomes.csv", response_class=Response)
@heavy
def read_outcomes_csv(class_id: int, caller: AsTeacher) -> Response:
    """Give a class's outcomes as a CSV file, which can be imported again."""
    framework = service.class_framework(caller, class_id)
    return _file(write_outcome_list(framework), "text/csv; charset=utf-8", "outcomes.csv")


@router.get("/framework.json", response_class=Response)
@heavy
def read_framework_file(class_id: int, caller: AsTeacher) -> Response:
    """Give a class's outcomes and rubrics as a CASE 1.0 package."""
    content = write_framework(service.class_framework(caller, class_id), caller.now)
    return _file(content, "application/json", "outcomes-case.json")


def _file(content: bytes, kind: str, name: str) -> Response:
    headers = {"content-disposition": f'attachment; filename="{safe_file_name(name)}"'}
    return Response(content, media_type=kind, headers=headers)


@router.post("/framework/preview")
@body_up_to(FILE_LIMIT)
@heavy
def preview_framework(class_id: int, content: FileBytes, caller: AsTeacher) -> ComparisonOut:
    """Hold a CASE 1.0 package against what the class teaches; nothing is changed."""
    framework = read_framework(content)
    return ComparisonOut.of(service.compare_framework(caller, class_id, framework))


@router.post("/framework", status_code=201)
@body_up_to(FILE_LIMIT)
def import_framework(
    class_id: int,
    content: FileBytes,
    caller: AsTeacher,
    retire_gone: Annotated[bool, Form()] = False,
) -> Made:
    """Bring a CASE 1.0 package in, all or nothing; gives the number to take it back by."""
    framework = read_framework(content)
    return Made(id=framework_import.import_framework(caller, class_id, framework, retire_gone))


@router.delete("/framework/{entry_id:int}")
def undo_framework_import(class_id: int, entry_id: int, caller: AsTeacher) -> UndoneImportOut:
    """Undo the import of a package; what was used or changed since is kept."""
    kept = framework_import.undo_framework_import(caller, class_id, entry_id)
    return UndoneImportOut(outcomes_kept=kept.outcomes_kept, rubrics_kept=kept.rubrics_kept)
