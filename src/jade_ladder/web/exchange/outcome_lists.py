"""Lists of outcomes that come in as tables."""

from __future__ import annotations

from typing import Annotated

from fastapi import Form

from jade_ladder.service.exchange import outcome_lists as service
from jade_ladder.web.shared.bodies import FILE_LIMIT, body_up_to, router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.heavy import heavy
from jade_ladder.web.shared.tables import (
    ImportedOut,
    ListLineOut,
    ListOut,
    Sent,
    left_out,
    line_fields,
    list_fields,
)

router = router_of("outcomes", "/classes/{class_id:int}/outcomes/list")


class OutcomeListLineOut(ListLineOut):
    """A line of a list of outcomes and what it would do; `was` is the title it would change."""

    code: str
    title: str
    description: str
    strand: str
    was: str | None


class OutcomeListOut(ListOut):
    """A list of outcomes as it was read, the strands it would make, and the codes of outcomes that
    the class teaches and the list has not.
    """

    lines: list[OutcomeListLineOut]
    new_strands: list[str]
    gone: list[str]


@router.post("/preview")
@body_up_to(FILE_LIMIT)
@heavy
def preview_outcome_list(class_id: int, sent: Sent, caller: AsTeacher) -> OutcomeListOut:
    """Read a list of outcomes and say what it would do; nothing is changed."""
    preview = service.preview_outcome_list(caller, class_id, sent.table, sent.choices)
    lines = [
        OutcomeListLineOut(
            **line_fields(read),
            was=was.title if (was := preview.was.get(read.line.number)) else None,
        )
        for read in preview.lines
    ]
    return OutcomeListOut(
        **list_fields(sent, preview),
        lines=lines,
        new_strands=list(preview.new_strands),
        gone=[one.code for one in preview.gone],
    )


@router.post("", status_code=201)
@body_up_to(FILE_LIMIT)
def import_outcome_list(
    class_id: int,
    sent: Sent,
    caller: AsTeacher,
    retire_gone: Annotated[bool, Form()] = False,
    leave_out: Annotated[bool, Form()] = False,
) -> ImportedOut:
    """Add and change a list's outcomes and strands: all or none, or, with `leave_out`, all but
    lines with problems. Undone as the import of a framework is.
    """
    done = service.import_outcome_list(
        caller, class_id, sent.table, sent.choices, retire_gone, leave_out
    )
    lines = [
        (line.code, line.title, line.description, line.strand, read.problem)
        for read in done.left_out
        for line in [read.line]
    ]
    headings = ("Code", "Title", "Description", "Strand", "Problem")
    return ImportedOut(id=done.entry, added=done.added, left_out=left_out(headings, lines))
