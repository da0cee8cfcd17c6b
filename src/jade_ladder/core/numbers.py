"""Exact numbers, rounded once (docs/calculations.md, top).

Everything that is a mark or a value is a whole number of hundredths; weights are whole hundredths
of a per cent. Steps in between are fractions; a result is rounded half up exactly once.
"""

from __future__ import annotations

import re
from fractions import Fraction
from functools import lru_cache
from typing import TypeAlias

from jade_ladder.core.errors import Refused

Hundredths: TypeAlias = int
"""A value, points or a share as a whole number of hundredths: 2.85 is 285."""

LARGEST: Hundredths = 1_000_000
"""10,000.00: points and values beyond this are taken for a slip of the keyboard."""

_NUMBER = re.compile(r"([+-]?)(\d{1,9})(?:[.,](\d{0,9}))?|([+-]?)[.,](\d{1,9})", re.ASCII)


def round_half_up(value: Fraction) -> Hundredths:
    """Round an exact value, in units, to whole hundredths; a half goes up."""
    return half_up(value.numerator * 100, value.denominator)


def half_up(numerator: int, denominator: int) -> int:
    """Round `numerator / denominator` to a whole number; a half goes up (to the larger number).

    `denominator` must be positive.
    """
    return (2 * numerator + denominator) // (2 * denominator)


def to_fraction(value: Hundredths) -> Fraction:
    """Give the exact value in units that so many hundredths are."""
    return Fraction(value, 100)


def parse_hundredths(text: str, field: str = "value") -> Hundredths:
    """Read a written number with at most two decimals, point or comma, as hundredths.

    Raises Refused, naming `field`, for anything else: words, three decimals, absurd sizes.
    """
    written = text.strip()
    match = _NUMBER.fullmatch(written)
    if match is None:
        raise Refused(f"“{written}” is not a number", field)
    sign = match[1] or match[4]
    decimals = match[3] or match[5] or ""
    if len(decimals) > 2:
        raise Refused(f"“{written}” has more than two decimals", field)
    size = int(match[2] or 0) * 100 + int(decimals.ljust(2, "0") or 0)
    if size > LARGEST:
        raise Refused(f"“{written}” is larger than 10,000", field)
    return -size if sign == "-" else size


# A wall writes the same few hundred values ten thousand times.
@lru_cache(maxsize=10_000)
def write_hundredths(value: Hundredths) -> str:
    """Write hundredths with two decimals: 285 is "2.85"."""
    sign = "-" if value < 0 else ""
    return f"{sign}{abs(value) // 100}.{abs(value) % 100:02d}"


def write_short(value: Hundredths) -> str:
    """Write hundredths without needless zeros: 300 is "3", 250 is "2.5"."""
    return write_hundredths(value).rstrip("0").rstrip(".")


def write_exact(value: Fraction, most_decimals: int = 6) -> str:
    """Write an exact value in full where its decimals end, else cut short with an ellipsis."""
    scaled = value * 10**most_decimals
    digits = abs(scaled.numerator) // scaled.denominator
    whole, part = divmod(digits, 10**most_decimals)
    decimals = f"{part:0{most_decimals}d}"
    ends = scaled.denominator == 1
    text = f"{whole}.{decimals}".rstrip("0").rstrip(".") if ends else f"{whole}.{decimals}…"
    return f"-{text}" if value < 0 else text


def cut_short(value: Fraction, decimals: int) -> Fraction:
    """Give the value that stands there when so many decimals of it are written, and no more."""
    return Fraction(value.numerator * 10**decimals // value.denominator, 10**decimals)


def write_in_full(value: Fraction) -> str:
    """Write a value whose decimals end, with all of them: one over 2s and 5s only."""
    decimals = 0
    while (value * 10**decimals).denominator != 1:
        decimals += 1
    return write_exact(value, decimals)
