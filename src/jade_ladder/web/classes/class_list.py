"""Class lists: read, previewed, imported."""

from __future__ import annotations

from jade_ladder.service.classes import class_list
from jade_ladder.web.shared.bodies import FILE_LIMIT, body_up_to, router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.heavy import heavy
from jade_ladder.web.shared.models import Added
from jade_ladder.web.shared.tables import ListLineOut, ListOut, Sent, line_fields, list_fields

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
    preview = class_list.preview_class_list(caller, class_id, sent.table, sent.columns)
    lines = [ClassListLineOut(**line_fields(read)) for read in preview.lines]
    return ClassListOut(
        **list_fields(sent, preview),
        lines=lines,
    )


@router.post("", status_code=201)
@body_up_to(FILE_LIMIT)
def import_class_list(class_id: int, sent: Sent, caller: AsTeacher) -> Added:
    """Add a class list's students, all or none."""
    added = class_list.import_class_list(caller, class_id, sent.table, sent.columns)
    return Added(added=added)
