"""Tables that come in by upload or pasted: one form for all of them."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import asdict, dataclass
from typing import Annotated, Any, Literal, cast

from fastapi import Depends, Form, Request, UploadFile
from fastapi.concurrency import run_in_threadpool
from pydantic import BaseModel, TypeAdapter, ValidationError

from jade_ladder.core.errors import Refused
from jade_ladder.formats.plain_text import is_too_deep
from jade_ladder.formats.spreadsheet import is_spreadsheet
from jade_ladder.formats.table import Choices, Table, decode, read_table, write_table
from jade_ladder.outside.conversion import convert_spreadsheet
from jade_ladder.service.shared.list_preview import LineStatus, LineT, ListPreview, ReadLine
from jade_ladder.web.shared.apart import apart
from jade_ladder.web.shared.fields import Text

_COLUMNS = TypeAdapter(dict[str, Text])
_MENDED = TypeAdapter(dict[int, dict[str, Text]])


@dataclass(frozen=True, slots=True)
class SentTable:
    """A table with what was chosen of it, its text to be shown, and, of a spreadsheet, its sheet
    and which others there are.
    """

    table: Table
    text: str
    choices: Choices
    sheet: str = ""
    sheets: tuple[str, ...] = ()


async def sent_table(
    request: Request,
    text: Annotated[Text, Form()] = "",
    file: UploadFile | None = None,
    sheet: Annotated[Text, Form(description="Which sheet of a spreadsheet")] = "",
    columns: Annotated[Text, Form(description="JSON: field to heading, empty for none")] = "{}",
    headed: Annotated[
        Literal["", "yes", "no"], Form(description="Whether the first line holds headings")
    ] = "",
    names: Annotated[
        Literal["", "given-first", "family-first"], Form(description="The order of whole names")
    ] = "",
    mended: Annotated[Text, Form(description="JSON: line to field to cell")] = "{}",
) -> SentTable:
    """Read what was sent: a file (a spreadsheet in a process of its own), or else the text."""
    content, name = text, ""
    sheets: tuple[str, ...] = ()
    if file is not None:
        sent = await file.read()
        if is_spreadsheet(sent):
            read = await apart(request, lambda: convert_spreadsheet(sent, sheet))
            content, name, sheets = read.text, read.name, read.names
        else:
            content = decode(sent)
    choices = Choices(
        _parsed(_COLUMNS, columns, "columns", "The choice of columns gives a heading for each"),
        {"yes": True, "no": False}.get(headed),
        names,
        _parsed(_MENDED, mended, "mended", "What was mended gives the cells for each line"),
    )
    table = await run_in_threadpool(read_table, content)
    return SentTable(table, content, choices, name, sheets)


def _parsed(adapter: TypeAdapter[Any], text: str, field: str, says: str) -> Any:
    if is_too_deep(text.encode("utf-8", "surrogatepass")):
        raise Refused(says, field)
    try:
        return adapter.validate_python(json.loads(text))
    except (ValueError, ValidationError):
        raise Refused(says, field) from None


class ListLineOut(BaseModel):
    """A line of a list and what it would do."""

    number: int
    status: LineStatus
    problem: str
    field: str


class ListOut(BaseModel):
    """A list as it was read: `columns` gives the heading taken for each field, `samples` the first
    values under each heading, `above` the lines passed over above the headings, `needed` what has
    to be chosen yet. Of a spreadsheet, `sheet` is the one read, of `sheets`.
    """

    text: str
    sheet: str
    sheets: list[str]
    headings: list[str]
    samples: list[list[str]]
    above: list[str]
    columns: dict[str, str]
    needed: str
    adding: int
    changing: int
    problems: int


def line_fields(read: ReadLine[LineT]) -> dict[str, Any]:
    """Give a read line's fields: those of the line, over which lies what it would do."""
    own = asdict(cast(Any, read.line))
    return {**own, "status": read.status, "problem": read.problem, "field": read.field}


def list_fields(sent: SentTable, preview: ListPreview[LineT]) -> dict[str, Any]:
    """Give what every list that was read has in common."""
    read = preview.read
    return {
        "text": sent.text,
        "sheet": sent.sheet,
        "sheets": list(sent.sheets),
        "headings": list(read.headings),
        "samples": [list(values) for values in read.samples],
        "above": list(read.above),
        "columns": dict(read.taken),
        "needed": read.needed,
        "adding": len(preview.adding),
        "changing": len(preview.changing),
        "problems": len(preview.problems),
    }


class ImportedOut(BaseModel):
    """An import: the number by which it is undone, how many lines it added, and, as CSV, the lines
    that it left out with what is wrong with each; empty: none.
    """

    id: int
    added: int
    left_out: str


def left_out(headings: Sequence[str], lines: Sequence[Sequence[str]]) -> str:
    """Write lines that were left out as a table to be mended and imported again."""
    return write_table(headings, lines) if lines else ""


Sent = Annotated[SentTable, Depends(sent_table)]
