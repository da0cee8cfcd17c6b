"""Numbers on the wire: decimal texts, never floats."""

from __future__ import annotations

from typing import Annotated

from pydantic import BeforeValidator, PlainSerializer, WithJsonSchema

from jade_ladder.core.errors import Refused
from jade_ladder.core.numbers import (
    Hundredths,
    parse_hundredths,
    write_hundredths,
    write_short,
)
from jade_ladder.formats.plain_text import fault_of


def _read(value: object) -> Hundredths:
    if not isinstance(value, str):
        raise ValueError('A number is sent as a text, such as "2.5"')
    if fault := fault_of(value):
        raise ValueError(fault)
    try:
        return parse_hundredths(value)
    except Refused as error:
        raise ValueError(error.message) from None


WrittenNumber = Annotated[
    int,
    BeforeValidator(_read),
    WithJsonSchema({"type": "string", "description": "A number with at most two decimals"}),
]
"""What a person typed: "2.5" or "2,5", read as hundredths."""

Value = Annotated[int, PlainSerializer(write_hundredths, return_type=str)]
"""Hundredths shown with two decimals: "2.50"."""

ShortNumber = Annotated[int, PlainSerializer(write_short, return_type=str)]
"""Hundredths shown without needless zeros: "2.5"."""
