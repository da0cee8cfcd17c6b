"""JSON of anybody's making, read without trust: what is missing or of another kind is empty."""

from __future__ import annotations

from decimal import Decimal, InvalidOperation
from typing import Any, TypeAlias

from jade_ladder.core.errors import Refused
from jade_ladder.core.numbers import Hundredths, parse_hundredths
from jade_ladder.formats.case import EXTENSION
from jade_ladder.formats.plain_text import cleaned

Json: TypeAlias = dict[str, Any]


def own_part(written: Json) -> Json:
    """Give what a program of ours wrote under "extensions", if it did."""
    return as_object(as_object(written.get("extensions")).get(EXTENSION))


def as_object(value: object) -> Json:
    """Give an object as it is, and anything else as an empty one."""
    return value if isinstance(value, dict) else {}


def as_objects(value: object) -> list[Json]:
    """Give the objects of a list; none for anything else."""
    return [one for one in value if isinstance(one, dict)] if isinstance(value, list) else []


def text_of(item: Json, name: str) -> str:
    """Give a text without blanks around it, what no text has replaced; a number as text, anything
    else as empty.
    """
    value = item.get(name)
    if isinstance(value, str):
        return cleaned(value).strip()
    return str(value) if isinstance(value, int | float) and not isinstance(value, bool) else ""


def decimal_of(value: object) -> Decimal:
    """Give a number to order by; what is none comes last."""
    try:
        found = Decimal(str(value))
    except InvalidOperation:
        return Decimal("Infinity")
    return found if found.is_finite() else Decimal("Infinity")


def hundredths_of(value: object) -> Hundredths:
    """Read a number as whole hundredths, what is finer rounded; 0 for what is none."""
    try:
        return parse_hundredths(str(round(Decimal(str(value)), 2)))
    except (InvalidOperation, Refused):
        return 0


def position_of(written: Json) -> Decimal:
    """Give where something stands among its like."""
    return decimal_of(written.get("position"))
