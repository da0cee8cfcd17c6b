"""Class lists: read, previewed, imported."""

from __future__ import annotations

from typing import Annotated

from fastapi import Form

from jade_ladder.service.classes import class_list
from jade_ladder.web.shared.bodies import FILE_LIMIT, body_up_to, router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.heavy import heavy
from jade_ladder.web.shared.models import Removed
from jade_ladder.web.shared.tables import (
    ImportedOut,
    ListLineOut,
    ListOut,
    Sent,
    left_out,
    line_fields,
    list_fields,
)

router = router_of("students", "/classes/{class_id:int}/students/list")


class ClassListLineOut(ListLineOut):
    """A line of a class list and what it would do."""

    given_name: str
    family_name: str
    identifier: str
    email: str


class ClassListOut(ListOut):
    """A class list as it was read."""

    lines: list[ClassListLineOut]


@router.post("/preview")
@body_up_to(FILE_LIMIT)
@heavy
def preview_class_list(class_id: int, sent: Sent, caller: AsTeacher) -> ClassListOut:
    """Read a class list and say what it would do; nothing is changed."""
    preview = class_list.preview_class_list(caller, class_id, sent.table, sent.choices)
    lines = [ClassListLineOut(**line_fields(read)) for read in preview.lines]
    return ClassListOut(
        **list_fields(sent, preview),
        lines=lines,
    )


@router.post("", status_code=201)
@body_up_to(FILE_LIMIT)
def import_class_list(
    class_id: int, sent: Sent, caller: AsTeacher, leave_out: Annotated[bool, Form()] = False
) -> ImportedOut:
    """Add a class list's students: all or none; with `leave_out`, all but lines with problems."""
    done = class_list.import_class_list(caller, class_id, sent.table, sent.choices, leave_out)
    lines = [
        (line.given_name, line.family_name, line.identifier, line.email, read.problem)
        for read in done.left_out
        for line in [read.line]
    ]
    headings = ("Given name", "Family name", "Identifier", "E-mail", "Problem")
    return ImportedOut(id=done.entry, added=done.added, left_out=left_out(headings, lines))


@router.delete("/{entry_id:int}")
def undo_class_list(class_id: int, entry_id: int, caller: AsTeacher) -> Removed:
    """Undo the import of a class list, as long as nobody on it has work or a mark."""
    return Removed(removed=class_list.undo_class_list(caller, class_id, entry_id))
