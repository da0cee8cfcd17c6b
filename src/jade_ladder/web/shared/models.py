"""Models that every room answers with."""

from __future__ import annotations

from pydantic import BaseModel

from jade_ladder.web.shared.fields import Whole


class Made(BaseModel):
    """The number of what was made."""

    id: int


class OrderIn(BaseModel):
    """Numbers in the order wanted, each once."""

    order: list[Whole]


class Removed(BaseModel):
    """How many were removed."""

    removed: int


class Added(BaseModel):
    """How many were added."""

    added: int
