"""Names of people."""

from __future__ import annotations


class Named:
    """Somebody with a given and a family name, of which one may be empty."""

    __slots__ = ()

    given_name: str
    family_name: str

    @property
    def name(self) -> str:
        """Given and family name as one."""
        return f"{self.given_name} {self.family_name}".strip()
