"""Methods as they are sent and shown."""

from __future__ import annotations

from pydantic import BaseModel

from jade_ladder.core.methods import Method, MethodKind
from jade_ladder.web.shared.fields import Whole


class MethodIn(BaseModel):
    """A method with its settings: newest in whole per cent, last in pieces."""

    kind: MethodKind
    newest: Whole = 60
    last: Whole = 3

    def method(self) -> Method:
        """Give it as the core knows it."""
        return Method(self.kind, self.newest, self.last)


class MethodOut(BaseModel):
    """A method with its settings and in words."""

    kind: MethodKind
    newest: int
    last: int
    name: str

    @classmethod
    def of(cls, method: Method) -> MethodOut:
        """Show a method."""
        return cls(kind=method.kind, newest=method.newest, last=method.last, name=method.name)
