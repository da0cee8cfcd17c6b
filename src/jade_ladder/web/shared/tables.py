"""Tables that come in by upload or pasted: one form for all of them."""

from __future__ import annotations

import json
from dataclasses import asdict, dataclass
from typing import Annotated, Any, cast

from fastapi import Depends, Form, UploadFile
from pydantic import BaseModel

from jade_ladder.core.errors import Refused
from jade_ladder.formats.plain_text import is_too_deep
from jade_ladder.formats.table import Table, decode, read_table
from jade_ladder.service.shared.list_preview import LineStatus, LineT, ListPreview, ReadLine
from jade_ladder.web.shared.fields import Text


@dataclass(frozen=True, slots=True)
class SentTable:
    """A table with the headings chosen for its fields, and its text to be shown and mended."""

    table: Table
    text: str
    columns: dict[str, str]


def sent_table(
    text: Annotated[Text, Form()] = "",
    file: UploadFile | None = None,
    columns: Annotated[Text, Form(description="JSON: field to heading")] = "{}",
) -> SentTable:
    """Read what was sent: a file, or else the text."""
    content = decode(file.file.read()) if file is not None else text
    if is_too_deep(columns.encode("utf-8", "surrogatepass")):
        raise Refused("The choice of columns gives a heading for each field", "columns")
    try:
        chosen = json.loads(columns)
    except ValueError:
        raise Refused("The choice of columns is not JSON", "columns") from None
    if not isinstance(chosen, dict) or not all(isinstance(v, str) for v in chosen.values()):
        raise Refused("The choice of columns gives a heading for each field", "columns")
    return SentTable(read_table(content), content, chosen)


class ListLineOut(BaseModel):
    """A line of a list and what it would do."""

    number: int
    status: LineStatus
    problem: str
    field: str


class ListOut(BaseModel):
    """A list as it was read; `columns` gives the heading taken for each field."""

    text: str
    headings: list[str]
    columns: dict[str, str]
    adding: int
    changing: int
    problems: int


def line_fields(read: ReadLine[LineT]) -> dict[str, Any]:
    """Give a read line's fields: those of the line, over which lies what it would do."""
    own = asdict(cast(Any, read.line))
    return {**own, "status": read.status, "problem": read.problem, "field": read.field}


def list_fields(sent: SentTable, preview: ListPreview[LineT]) -> dict[str, Any]:
    """Give what every list that was read has in common."""
    return {
        "text": sent.text,
        "headings": list(preview.headings),
        "columns": preview.columns,
        "adding": len(preview.adding),
        "changing": len(preview.changing),
        "problems": len(preview.problems),
    }


Sent = Annotated[SentTable, Depends(sent_table)]
