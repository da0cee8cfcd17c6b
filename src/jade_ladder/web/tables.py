"""Tables that come in by upload or pasted: one form for all of them."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Annotated

from fastapi import Depends, Form, UploadFile

from jade_ladder.core.errors import Refused
from jade_ladder.formats.table import Table, decode, read_table


@dataclass(frozen=True, slots=True)
class SentTable:
    """A table with the headings chosen for its fields, and its text to be shown and mended."""

    table: Table
    text: str
    columns: dict[str, str]


def sent_table(
    text: Annotated[str, Form()] = "",
    file: UploadFile | None = None,
    columns: Annotated[str, Form(description="JSON: field to heading")] = "{}",
) -> SentTable:
    """Read what was sent: a file, or else the text."""
    content = decode(file.file.read()) if file is not None else text
    try:
        chosen = json.loads(columns)
    except ValueError:
        raise Refused("The choice of columns is not JSON", "columns") from None
    if not isinstance(chosen, dict) or not all(isinstance(v, str) for v in chosen.values()):
        raise Refused("The choice of columns gives a heading for each field", "columns")
    return SentTable(read_table(content), content, chosen)


Sent = Annotated[SentTable, Depends(sent_table)]
