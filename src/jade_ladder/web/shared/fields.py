"""The kinds of fields that bodies have: what is declared is what is taken, nothing is converted."""

from __future__ import annotations

import re
from datetime import date, datetime
from typing import Annotated

from pydantic import AfterValidator, BeforeValidator, Field, WithJsonSchema

from jade_ladder.formats.plain_text import fault_of, with_plain_breaks


def _text(text: str) -> str:
    text = with_plain_breaks(text)
    fault = fault_of(text)
    if fault:
        raise ValueError(fault)
    return text


# What the document says of it; half a character cannot be written in it at all.
_PATTERN = r"^[^\u0000-\u0008\u000e-\u001f\u007f-\u009f]*$"

Text = Annotated[str, AfterValidator(_text), Field(json_schema_extra={"pattern": _PATTERN})]
"""A text without control characters and halves of characters; a number is not one."""

LARGEST_NUMBER = 2**53
"""Beyond this a browser's numbers are not whole any more; no record comes near it."""


def _whole(value: object) -> object:
    """Take 5.0 as 5: JSON knows no difference."""
    return int(value) if isinstance(value, float) and value.is_integer() else value


Whole = Annotated[
    int,
    Field(strict=True, ge=-LARGEST_NUMBER, le=LARGEST_NUMBER),
    BeforeValidator(_whole, json_schema_input_type=int),
]
"""A whole number, and neither a text nor yes/no that could be read as one."""

YesNo = Annotated[bool, Field(strict=True)]
"""True or false, and nothing that could be read as it."""

_DAY = re.compile(r"\d{4}-\d\d-\d\d", re.ASCII)
_MOMENT = re.compile(
    r"\d{4}-\d\d-\d\d[Tt ]\d\d:\d\d(:\d\d(\.\d{1,9})?)?([Zz]|[+-]\d\d:\d\d)?", re.ASCII
)


def _written_as(form: re.Pattern[str], example: str) -> BeforeValidator:
    def check(value: object) -> object:
        if isinstance(value, str) and not form.fullmatch(value):
            raise ValueError(f"This is written like {example}")
        if isinstance(value, int | float):
            raise ValueError(f"This is written like {example}, as a text")
        return value

    return BeforeValidator(check)


Day = Annotated[
    date, _written_as(_DAY, "2026-11-25"), WithJsonSchema({"type": "string", "format": "date"})
]
"""A day, written 2026-11-25; a number of seconds is not one."""

Moment = Annotated[
    datetime,
    _written_as(_MOMENT, "2026-11-25T10:00"),
    WithJsonSchema({"type": "string", "format": "date-time"}),
]
"""A time, written 2026-11-25T10:00, by the school's clock where it has no zone."""
